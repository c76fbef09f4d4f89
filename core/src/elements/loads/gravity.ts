import { changingWeight, changingWeightWithShares, weight, weightWithShares } from '../../equations/laws/on-body';
import { StatedForce, taken } from '../../equations/laws/stated-force';
import { type Vec3, add, scale } from '../../geometry/vector';
import { quantity, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const gravity = load({
  kind: 'gravity',
  label: 'Gravity',
  help: 'Acts on every body, and on beams that have mass.',
  weighs: 'acceleration',
  fields: {
    acceleration: vector(D.acceleration, 'Acceleration', 'Of free fall, ground axes.', { default: [0, 0, '-9.80665 m/s^2'] }),
    factor: quantity(D.none, 'Factor', 'A formula of time by which it is multiplied, such as `smoothstep(0 s, 1 s, t)`.', {
      time: true,
      optional: true,
    }),
  },
  force(v, m) {
    const given = (i: number) => ({ bodies: [i] }),
      factor = v.factor && [taken(m.magnitude(v.factor))];
    if (m.carried.length === 0) {
      const bodies = m.bodies.map(({ mass }, i) => ({ ...given(i), values: [mass, ...v.acceleration] }));
      return factor ? new StatedForce(changingWeight, bodies, factor) : new StatedForce(weight, bodies);
    }
    const shares = m.carried.flatMap(({ masses: [centre] }) => [centre!.first, centre!.second].map((s) => ({ ...s, m: centre!.inertia }))),
      bodies = m.bodies.map(({ mass }, i) => {
        const own = shares.filter((s) => s.body === i),
          moment = own.reduce<Vec3>((sum, { u, m }) => add(sum, scale(u, m)), [0, 0, 0]);
        return { ...given(i), values: [own.reduce((sum, { of, m }) => sum + of * m, mass), ...moment, ...v.acceleration] };
      });
    return factor ? new StatedForce(changingWeightWithShares, bodies, factor) : new StatedForce(weightWithShares, bodies);
  },
  outline: (v) => ({ type: 'field', direction: v.acceleration }),
});
