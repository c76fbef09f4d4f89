import { circle } from '../../geometry/outline';
import { revolved } from '../../geometry/sweeps';
import { quantity } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { ON_CENTRE, frameOn, inside } from './axis';
import { shape } from './shape';

export const torus = shape({
  kind: 'torus',
  label: 'Torus',
  help: 'A ring of round section.',
  fields: {
    ...ON_CENTRE,
    radius: quantity(D.length, 'Ring radius', 'From the axis to the middle of the section.', { range: 'positive' }),
    section: quantity(D.length, 'Section radius', 'Radius of the section.', { range: 'positive' }),
  },
  solid(v, drawing) {
    inside(v.section, v.radius, 'The section radius', 'the ring radius');
    return revolved(circle([v.radius, 0], v.section), frameOn(v, drawing), drawing.point(v.centre));
  },
});
