import { JOINT, MEET_WORDS, joint, meet } from './joint';

export const spherical = joint({
  kind: 'spherical', label: 'Spherical',
  help: 'A ball joint: the bodies share a point and turn about it in any direction.',
  fields: JOINT,
  freedoms: [],
  leaves: 3,
  holds: MEET_WORDS,
  equations: (s) => [meet(s)],
});
