import { Perpendicular } from '../../equations/constraints';
import { column } from '../../geometry/vector';
import { vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { AXIS_JOINT, MEET_WORDS, joint, meet } from './joint';
import { CROSS } from '../../model/symbol';

export const universal = joint({
  kind: 'universal',
  label: 'Universal',
  help: 'A cross joint (Hooke, Cardan): each body turns about its own arm of the cross, and the arms stay square.',
  fields: {
    ...AXIS_JOINT,
    cross: vector(
      D.none,
      'Other arm',
      'Direction of the arm held by the second body, as drawn; square to the axis, which is the arm held by the first.',
      { direction: true, default: [1, 0, 0] },
    ),
  },
  freedoms: [],
  leaves: 2,
  symbol: CROSS,
  holds: [...MEET_WORDS, 'twist between the arms of the cross'],
  equations: (s) => [meet(s), new Perpendicular(s.a, column(s.fa, 2), s.b, s.second!)],
});
