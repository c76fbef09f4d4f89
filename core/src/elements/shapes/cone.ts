import { refuse } from '../../diagnosis';
import { polygon } from '../../geometry/outline';
import { revolved } from '../../geometry/sweeps';
import { quantity } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { ON_AXIS, axisOf } from './axis';
import { shape } from './shape';

export const cone = shape({
  kind: 'cone',
  label: 'Cone',
  help: 'A cone, or a truncated one, between two points.',
  fields: {
    ...ON_AXIS,
    radius: quantity(D.length, 'Radius at first', 'Radius where it begins.', { range: 'not negative' }),
    end: quantity(D.length, 'Radius at second', 'Radius where it ends; zero for a tip.', { range: 'not negative', default: 0 }),
  },
  solid(v, drawing) {
    const { frame, origin, length } = axisOf(v, drawing, 'cone');
    if (v.radius === 0 && v.end === 0) refuse({ code: 'shape-flat', message: 'Both radii are zero.' });
    return revolved(
      polygon([
        [0, 0],
        [v.radius, 0],
        [v.end, length],
        [0, length],
      ]),
      frame,
      origin,
    );
  },
});
