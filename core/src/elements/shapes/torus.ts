import { circle } from '../../geometry/outline';
import { revolved } from '../../geometry/sweeps';
import { apply, triad } from '../../geometry/vector';
import { quantity, ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { inside } from './axis';
import { SHAPE, shape } from './shape';

export const torus = shape({
  kind: 'torus', label: 'Torus',
  help: 'A ring of round section.',
  fields: {
    ...SHAPE,
    centre: ref('points', 'Centre', 'Middle of the ring.'),
    axis: vector(D.none, 'Axis', 'Direction of the ring’s axis, in the body’s axes.', { direction: true, default: [0, 0, 1] }),
    radius: quantity(D.length, 'Ring radius', 'From the axis to the middle of the section.', { range: 'positive' }),
    section: quantity(D.length, 'Section radius', 'Radius of the section.', { range: 'positive' }),
  },
  solid(v, drawing) {
    inside(v.section, v.radius, 'The section radius', 'the ring radius');
    return revolved(circle([v.radius, 0], v.section), triad(apply(drawing.body(v.body).turn, v.axis)), drawing.point(v.centre));
  },
});
