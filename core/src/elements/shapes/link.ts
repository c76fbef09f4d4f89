import { refuse } from '../../diagnosis';
import { apply, norm, sub } from '../../geometry/vector';
import { linkBar } from '../../geometry/solid';
import { quantity, ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { SHAPE, shape } from './shape';

export const link = shape({
  kind: 'link',
  label: 'Link bar',
  noun: 'bar',
  help: 'A flat bar with round ends between two points.',
  fields: {
    ...SHAPE,
    from: ref('points', 'From', 'Centre of one end.'),
    to: ref('points', 'To', 'Centre of the other end.'),
    width: quantity(D.length, 'Width', 'Across the bar; also the diameter of its ends.', { range: 'positive', default: '20 mm' }),
    thickness: quantity(D.length, 'Thickness', 'Along the pins.', { range: 'positive', default: '8 mm' }),
    flat: vector(D.none, 'Pin direction', 'Direction of the thickness, in the body’s axes.', { direction: true, default: [0, 1, 0] }),
  },
  solid(v, drawing) {
    const [a, b] = [drawing.point(v.from), drawing.point(v.to)];
    if (norm(sub(b, a)) < 1e-9)
      refuse({ code: 'shape-flat', message: `The link bar has no length: “${v.from}” and “${v.to}” are the same place.` });
    return linkBar(a, b, v.width, v.thickness, apply(drawing.body(v.body).turn, v.flat));
  },
});
