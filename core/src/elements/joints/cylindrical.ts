import { AXIS_JOINT, ON_AXIS_WORDS, PARALLEL_WORDS, joint, onAxis, parallel } from './joint';
import { SLEEVE } from '../../model/symbol';

export const cylindrical = joint({
  kind: 'cylindrical',
  label: 'Cylindrical',
  handed: true,
  help: 'The second body turns about the axis and slides along it.',
  fields: AXIS_JOINT,
  freedoms: ['rotation', 'translation'],
  leaves: 2,
  symbol: SLEEVE,
  holds: [...ON_AXIS_WORDS, ...PARALLEL_WORDS],
  equations: (s) => [...onAxis(s), ...parallel(s)],
});
