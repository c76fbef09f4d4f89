import { JOINT, PARALLEL_WORDS, joint, noTurn, parallel } from './joint';
import { TRIADS } from '../../model/symbol';

export const sameOrientation = joint({
  kind: 'same-orientation',
  label: 'Same orientation',
  help: 'The bodies do not turn against each other, and are free to move apart.',
  fields: JOINT,
  freedoms: [],
  leaves: 3,
  symbol: TRIADS,
  holds: [...PARALLEL_WORDS, 'turning about its axis'],
  equations: (s) => [...parallel(s), noTurn(s)],
});
