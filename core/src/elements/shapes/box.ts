import { box as boxSolid } from '../../geometry/solid';
import { quantity, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { SHAPE, shape } from './shape';

export const box = shape({
  kind: 'box',
  label: 'Box',
  help: 'A box round a point, its edges along the axes of its body.',
  fields: {
    ...SHAPE,
    centre: ref('points', 'Centre', 'Middle of the box.'),
    length: quantity(D.length, 'Length x', 'Along the body’s x.', { range: 'positive' }),
    depth: quantity(D.length, 'Depth y', 'Along the body’s y.', { range: 'positive' }),
    height: quantity(D.length, 'Height z', 'Along the body’s z.', { range: 'positive' }),
  },
  solid: (v, drawing) => boxSolid(drawing.point(v.centre), [v.length, v.depth, v.height], drawing.body(v.body).turn),
});
