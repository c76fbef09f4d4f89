import { choice } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { gauge } from './gauge';

export const energy = gauge({
  kind: 'energy', label: 'Energy',
  help: 'Energy of the whole mechanism.',
  fields: {
    of: choice({ total: 'total', kinetic: 'kinetic', potential: 'potential' }, 'Reads', 'Kinetic, potential (gravity and springs), or both.'),
  },
  channel(v, m) {
    const masses = m.bodies.map((b) => b.mass);
    const J = m.bodies.map((b) => b.inertia);
    return {
      dim: D.energy,
      unit: 'J',
      positive: 'Height counts from the ground origin.',
      read({ K, t }) {
        let e = 0;
        if (v.of !== 'potential') {
          for (let i = 0; i < masses.length; i++) {
            const [x, y, z] = [K.w[3 * i]!, K.w[3 * i + 1]!, K.w[3 * i + 2]!];
            const [a, b, c] = [K.v[3 * i]!, K.v[3 * i + 1]!, K.v[3 * i + 2]!];
            const I = J[i]!;
            e += 0.5 * masses[i]! * (a * a + b * b + c * c);
            e += 0.5 * (I[0] * x * x + I[4] * y * y + I[8] * z * z) + I[1] * x * y + I[2] * x * z + I[5] * y * z;
          }
        }
        if (v.of !== 'kinetic') for (const f of m.forces) e += f.force.energy?.(K, t) ?? 0;
        return e;
      },
    };
  },
});
