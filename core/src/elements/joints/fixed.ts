import { JOINT, MEET_WORDS, PARALLEL_WORDS, joint, meet, noTurn, parallel } from './joint';
import { WELD } from '../../model/symbol';

export const fixed = joint({
  kind: 'fixed',
  label: 'Fixed',
  help: 'Holds two bodies rigidly together as drawn.',
  fields: JOINT,
  freedoms: [],
  leaves: 0,
  symbol: WELD,
  holds: [...MEET_WORDS, ...PARALLEL_WORDS, 'turning about its axis'],
  equations: (s) => [meet(s), ...parallel(s), noTurn(s)],
});
