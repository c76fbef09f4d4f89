import { Gravity } from '../../equations/forces';
import { ChangingGravity } from '../../equations/applied-forces';
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
  force: (v, m) =>
    v.factor
      ? new ChangingGravity(
          m.bodies.map((b) => b.mass),
          v.acceleration,
          m.magnitude(v.factor),
        )
      : new Gravity(
          m.bodies.map((b) => b.mass),
          v.acceleration,
        ),
  outline: (v) => ({ type: 'field', direction: v.acceleration }),
});
