import { Perpendicular } from '../../equations/constraints';
import { column } from '../../geometry/vector';
import { vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { AXIS_JOINT, joint } from './joint';
import { ARROWS_SQUARE } from '../../model/symbol';

export const perpendicularAxes = joint({
  kind: 'perpendicular-axes',
  label: 'Perpendicular axes',
  help: 'A direction of one body stays square to a direction of the other.',
  fields: {
    ...AXIS_JOINT,
    cross: vector(D.none, 'Second axis', 'Direction fixed in the second body, as drawn; square to the axis, which is fixed in the first.', {
      direction: true,
      default: [1, 0, 0],
    }),
  },
  freedoms: [],
  leaves: 5,
  symbol: ARROWS_SQUARE,
  holds: ['turning of one axis towards the other'],
  equations: (s) => [new Perpendicular(s.a, column(s.fa, 2), s.b, s.second!)],
});
