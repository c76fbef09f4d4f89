import { AXIS_JOINT, MEET_WORDS, PARALLEL_WORDS, joint, meet, parallel } from './joint';
import { PIN } from '../../model/symbol';

export const revolute = joint({
  kind: 'revolute',
  label: 'Revolute',
  help: 'A pin: the bodies share a point and an axis and turn about it.',
  fields: AXIS_JOINT,
  freedoms: ['rotation'],
  leaves: 1,
  symbol: PIN,
  holds: [...MEET_WORDS, ...PARALLEL_WORDS],
  equations: (s) => [meet(s), ...parallel(s)],
});
