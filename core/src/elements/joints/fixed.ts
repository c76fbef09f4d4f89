import { JOINT, MEET_WORDS, PARALLEL_WORDS, joint, meet, noTurn, parallel } from './joint';

export const fixed = joint({
  kind: 'fixed', label: 'Fixed',
  help: 'Holds two bodies rigidly together as drawn.',
  fields: JOINT,
  freedoms: [],
  leaves: 0,
  holds: [...MEET_WORDS, ...PARALLEL_WORDS, 'turning about its axis'],
  equations: (s) => [meet(s), ...parallel(s), noTurn(s)],
});
