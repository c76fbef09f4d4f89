import { refuse } from '../../diagnosis';
import { norm, sub } from '../../geometry/vector';
import { cylinder as cylinderSolid } from '../../geometry/solid';
import { quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { SHAPE, shape } from './shape';

export const cylinder = shape({
  kind: 'cylinder',
  label: 'Cylinder',
  help: 'A solid cylinder between two points.',
  fields: {
    ...SHAPE,
    from: ref('points', 'From', 'Centre of one face.'),
    to: ref('points', 'To', 'Centre of the other face.'),
    radius: quantity(D.length, 'Radius', 'Radius of the cylinder.', { range: 'positive' }),
  },
  solid(v, drawing) {
    const [a, b] = [drawing.point(v.from), drawing.point(v.to)];
    if (norm(sub(b, a)) < 1e-9)
      refuse({ code: 'shape-flat', message: `The cylinder has no length: “${v.from}” and “${v.to}” are the same place.` });
    return cylinderSolid(a, b, v.radius);
  },
});
