import { Gravity } from '../../equations/forces';
import { vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const gravity = load({
  kind: 'gravity', label: 'Gravity',
  help: 'Acts on every body.',
  fields: {
    acceleration: vector(D.acceleration, 'Acceleration', 'Of free fall, ground axes.', { default: [0, 0, '-9.80665 m/s^2'] }),
  },
  force: (v, m) => new Gravity(m.bodies.map((b) => b.mass), v.acceleration),
  outline: (v) => ({ type: 'field', direction: v.acceleration }),
});
