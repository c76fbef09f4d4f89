import { JOINT, MEET_WORDS, joint, meet } from './joint';
import { BALL } from '../../model/symbol';

export const spherical = joint({
  kind: 'spherical',
  label: 'Spherical',
  help: 'A ball joint: the bodies share a point and turn about it in any direction.',
  fields: JOINT,
  freedoms: [],
  leaves: 3,
  symbol: BALL,
  holds: MEET_WORDS,
  equations: (s) => [meet(s)],
});
