import { AXIS_JOINT, PARALLEL_WORDS, inPlane, joint, parallel } from './joint';
import { PLATES } from '../../model/symbol';

export const planar = joint({
  kind: 'planar',
  label: 'Planar',
  help: 'The second body slides and turns on a plane square to the axis.',
  fields: AXIS_JOINT,
  freedoms: ['rotation'],
  leaves: 3,
  symbol: PLATES,
  holds: ['translation along its axis', ...PARALLEL_WORDS],
  equations: (s) => [inPlane(s), ...parallel(s)],
});
