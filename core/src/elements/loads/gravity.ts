import { changingWeight, weight } from '../../equations/laws/on-body';
import { StatedForce, taken } from '../../equations/laws/stated-force';
import { quantity, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const gravity = load({
  kind: 'gravity',
  label: 'Gravity',
  help: 'Acts on every body.',
  weighs: 'acceleration',
  fields: {
    acceleration: vector(D.acceleration, 'Acceleration', 'Of free fall, ground axes.', { default: [0, 0, '-9.80665 m/s^2'] }),
    factor: quantity(D.none, 'Factor', 'A formula of time by which it is multiplied, such as `smoothstep(0 s, 1 s, t)`.', {
      time: true,
      optional: true,
    }),
  },
  force(v, m) {
    const bodies = m.bodies.map(({ mass }, i) => ({ bodies: [i], values: [mass, ...v.acceleration] }));
    return v.factor ? new StatedForce(changingWeight, bodies, [taken(m.magnitude(v.factor))]) : new StatedForce(weight, bodies);
  },
  outline: (v) => ({ type: 'field', direction: v.acceleration }),
});
