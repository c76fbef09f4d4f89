import { Thread } from '../../equations/constraints';
import { quantity } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { AXIS_JOINT, ON_AXIS_WORDS, PARALLEL_WORDS, joint, onAxis, parallel } from './joint';
import { column } from '../../geometry/vector';
import { THREAD } from '../../model/symbol';

export const screw = joint({
  kind: 'screw',
  label: 'Screw',
  handed: true,
  help: 'The second body turns about the axis and moves along it by the lead at every turn.',
  fields: {
    ...AXIS_JOINT,
    lead: quantity(D.length, 'Lead', 'Travel along the axis per turn; negative for a left-hand thread.'),
  },
  freedoms: ['rotation', 'translation'],
  leaves: 1,
  symbol: THREAD,
  holds: [...ON_AXIS_WORDS, ...PARALLEL_WORDS, 'travel against turning'],
  equations: (s, v) => [...onAxis(s), ...parallel(s), new Thread(s.a, s.fa, s.sa, s.b, column(s.fb, 0), s.sb, v.lead)],
});
