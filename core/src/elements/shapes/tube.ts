import { polygon } from '../../geometry/outline';
import { revolved } from '../../geometry/sweeps';
import { quantity } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { ON_AXIS, axisOf, inside } from './axis';
import { shape } from './shape';

export const tube = shape({
  kind: 'tube',
  label: 'Tube',
  help: 'A round tube between two points.',
  fields: {
    ...ON_AXIS,
    radius: quantity(D.length, 'Outer radius', 'Outer radius.', { range: 'positive' }),
    bore: quantity(D.length, 'Inner radius', 'Radius of the bore.', { range: 'positive' }),
  },
  solid(v, drawing) {
    const { frame, origin, length } = axisOf(v, drawing, 'tube');
    inside(v.bore, v.radius, 'The inner radius', 'the outer one');
    return revolved(
      polygon([
        [v.bore, 0],
        [v.radius, 0],
        [v.radius, length],
        [v.bore, length],
      ]),
      frame,
      origin,
    );
  },
});
