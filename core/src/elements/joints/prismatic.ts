import { AXIS_JOINT, ON_AXIS_WORDS, PARALLEL_WORDS, joint, noTurn, onAxis, parallel } from './joint';
import { SLIDE } from '../../model/symbol';

export const prismatic = joint({
  kind: 'prismatic',
  label: 'Prismatic',
  help: 'A slide: the second body moves along the axis without turning.',
  fields: AXIS_JOINT,
  freedoms: ['translation'],
  leaves: 1,
  symbol: SLIDE,
  holds: [...ON_AXIS_WORDS, ...PARALLEL_WORDS, 'turning about its axis'],
  equations: (s) => [...onAxis(s), ...parallel(s), noTurn(s)],
});
