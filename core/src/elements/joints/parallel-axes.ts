import { AXIS_JOINT, PARALLEL_WORDS, joint, parallel } from './joint';
import { ARROWS_PARALLEL } from '../../model/symbol';

export const parallelAxes = joint({
  kind: 'parallel-axes',
  label: 'Parallel axes',
  help: 'A direction of each body stays parallel to that of the other.',
  fields: AXIS_JOINT,
  freedoms: ['rotation'],
  leaves: 4,
  symbol: ARROWS_PARALLEL,
  holds: PARALLEL_WORDS,
  equations: parallel,
});
