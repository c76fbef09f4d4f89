import { type Vec3, cross, scale } from '../../geometry/vector';
import { choice, ref } from '../../model/fields';
import { D, multiply } from '../../quantity/dimension';
import { COMPONENT, gauge, part } from './gauge';

const LINEAR = multiply(D.mass, D.speed),
  ANGULAR = multiply(LINEAR, D.length);

function add(to: Float64Array, x: Vec3): void {
  for (let k = 0; k < 3; k++) to[k] = to[k]! + x[k]!;
}

export const momentum = gauge({
  kind: 'momentum',
  label: 'Momentum',
  help: 'Momentum, or angular momentum about the ground origin, of a body or of the whole machine, with its beams that have mass.',
  fields: {
    body: ref('bodies', 'Of', 'The body read. Left out: the whole machine.', { optional: true }),
    of: choice({ linear: 'momentum', angular: 'angular momentum' }, 'Reads', 'Which of the two.'),
    component: COMPONENT,
  },
  reads: { choose: 'of', cases: { linear: LINEAR, angular: ANGULAR } },
  channel(v, m) {
    const only = v.body === undefined ? -1 : m.index(v.body);
    const p = new Float64Array(3),
      l = new Float64Array(3);
    return {
      unit: v.of === 'linear' ? 'kg*m/s' : 'kg*m^2/s',
      positive: v.component === 'magnitude' ? 'Length of the vector, never negative.' : `Positive along ${v.component} of the ground.`,
      read({ K }) {
        p.fill(0);
        l.fill(0);
        for (let i = 0; i < m.bodies.length; i++) {
          if (only >= 0 && i !== only) continue;
          const { mass, inertia: J } = m.bodies[i]!,
            a = 3 * i;
          const [x, y, z] = [mass * K.v[a]!, mass * K.v[a + 1]!, mass * K.v[a + 2]!];
          p[0] = p[0]! + x;
          p[1] = p[1]! + y;
          p[2] = p[2]! + z;
          const wx = K.w[a]!,
            wy = K.w[a + 1]!,
            wz = K.w[a + 2]!;
          const hx = J[0] * wx + J[1] * wy + J[2] * wz,
            hy = J[3] * wx + J[4] * wy + J[5] * wz,
            hz = J[6] * wx + J[7] * wy + J[8] * wz;
          for (let k = 0; k < 3; k++) l[k] = l[k]! + K.A[9 * i + 3 * k]! * hx + K.A[9 * i + 3 * k + 1]! * hy + K.A[9 * i + 3 * k + 2]! * hz;
          l[0] = l[0]! + K.r[a + 1]! * z - K.r[a + 2]! * y;
          l[1] = l[1]! + K.r[a + 2]! * x - K.r[a]! * z;
          l[2] = l[2]! + K.r[a]! * y - K.r[a + 1]! * x;
        }
        for (const { masses } of only >= 0 ? [] : m.carried) {
          const [centre] = masses;
          add(p, scale(centre!.speed(K), centre!.inertia));
          for (const c of masses) add(l, scale(cross(c.at(K), c.speed(K)), c.inertia));
        }
        const d = v.of === 'linear' ? p : l;
        return part(v.component, d[0]!, d[1]!, d[2]!);
      },
    };
  },
});
