import { sphere as sphereSolid } from '../../geometry/solid';
import { quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { SHAPE, shape } from './shape';

export const sphere = shape({
  kind: 'sphere',
  label: 'Sphere',
  help: 'A solid sphere round a point.',
  fields: {
    ...SHAPE,
    centre: ref('points', 'Centre', 'Middle of the sphere.'),
    radius: quantity(D.length, 'Radius', 'Radius of the sphere.', { range: 'positive' }),
  },
  solid: (v, drawing) => sphereSolid(drawing.point(v.centre), v.radius),
});
