import { revolved } from '../../geometry/sweeps';
import { quantity } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { ON_AXIS, axisOf } from './axis';
import { shape } from './shape';

const QUARTER = 1.5707963267948966;

export const capsule = shape({
  kind: 'capsule',
  label: 'Capsule',
  help: 'A cylinder with a half ball at each end, the balls round its two points.',
  fields: { ...ON_AXIS, radius: quantity(D.length, 'Radius', 'Radius of the cylinder and of its ends.', { range: 'positive' }) },
  solid(v, drawing) {
    const { frame, origin, length } = axisOf(v, drawing, 'capsule');
    const r = v.radius;
    return revolved(
      [
        { type: 'arc', centre: [0, 0], radius: r, from: -QUARTER, to: 0 },
        { type: 'line', from: [r, 0], to: [r, length] },
        { type: 'arc', centre: [0, length], radius: r, from: 0, to: QUARTER },
        { type: 'line', from: [0, length + r], to: [0, -r] },
      ],
      frame,
      origin,
    );
  },
});
