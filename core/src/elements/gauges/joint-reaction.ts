import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { COMPONENT, gauge, part } from './gauge';

export const jointReaction = gauge({
  kind: 'reaction', label: 'Joint load',
  help: 'Force or moment a joint passes from its first body to its second, drives of the joint included.',
  fields: {
    joint: ref('joints', 'Joint', 'The joint read.'),
    of: choice({ force: 'force', moment: 'moment' }, 'Reads', 'Force, or moment about the place of the joint on the second body.'),
    component: COMPONENT,
    axes: choice({ ground: 'ground axes', joint: 'joint axes (z is its axis)' }, 'Axes', 'Axes of the components; joint axes are fixed in the first body.'),
  },
  channel(v, m) {
    const j = m.joint(v.joint);
    const { a, b, sb, fa } = j.sides;
    const driven = m.drivesOn(v.joint);
    const rows = [...j.constraints, ...driven].flatMap((c) => Array.from({ length: c.rows }, (_, k) => c.row + k));
    const g = new Float64Array(6), f = new Float64Array(3), p = new Float64Array(3);
    return {
      dim: v.of === 'force' ? D.force : D.torque,
      positive: v.component === 'magnitude'
        ? `Size of the ${v.of} on ${j.bodies[1]}, never negative.`
        : `Acts on ${j.bodies[1]}, positive along ${v.component} of ${v.axes === 'joint' ? 'the joint' : 'the ground'}.`,
      read({ K, G, multipliers }) {
        // the load on the second body, or on the first with the sign turned when the second is the ground
        const onGround = b === K.bodies;
        const side = onGround ? 0 : 6, body = onGround ? a : b, sign = onGround ? 1 : -1;
        g.fill(0);
        for (const r of rows) for (let k = 0; k < 6; k++) g[k] = g[k]! + sign * multipliers[r]! * G[12 * r + side + k]!;
        const A = K.A, q = 9 * body;
        if (v.of === 'force') for (let k = 0; k < 3; k++) f[k] = g[k]!;
        else {
          for (let k = 0; k < 3; k++) f[k] = A[q + 3 * k]! * g[3]! + A[q + 3 * k + 1]! * g[4]! + A[q + 3 * k + 2]! * g[5]!;
          // from the centre of mass to the joint's place on the second body
          for (let k = 0; k < 3; k++) {
            const e = 9 * b + 3 * k;
            p[k] = K.r[3 * b + k]! + A[e]! * sb[0] + A[e + 1]! * sb[1] + A[e + 2]! * sb[2] - K.r[3 * body + k]!;
          }
          f[0] = f[0]! - (p[1]! * g[2]! - p[2]! * g[1]!);
          f[1] = f[1]! - (p[2]! * g[0]! - p[0]! * g[2]!);
          f[2] = f[2]! - (p[0]! * g[1]! - p[1]! * g[0]!);
        }
        if (v.axes === 'joint') {
          const e = 9 * a;
          for (let k = 0; k < 3; k++) p[k] = A[e + k]! * f[0]! + A[e + 3 + k]! * f[1]! + A[e + 6 + k]! * f[2]!;
          for (let k = 0; k < 3; k++) f[k] = fa[k]! * p[0]! + fa[3 + k]! * p[1]! + fa[6 + k]! * p[2]!;
        }
        return part(v.component, f[0]!, f[1]!, f[2]!);
      },
    };
  },
});
