import { AXIS_JOINT, PARALLEL_WORDS, joint, parallel } from './joint';

export const parallelAxes = joint({
  kind: 'parallel-axes', label: 'Parallel axes',
  help: 'A direction of each body stays parallel to that of the other.',
  fields: AXIS_JOINT,
  freedoms: ['rotation'],
  leaves: 4,
  holds: PARALLEL_WORDS,
  equations: parallel,
});
