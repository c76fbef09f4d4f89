import { Reaction } from '../../equations/reaction';
import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { column } from '../../geometry/vector';
import { COMPONENT, axisOf, gauge, part } from './gauge';

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
    const reaction = new Reaction(a, b, sb, [...j.constraints, ...m.drivesOn(v.joint)]);
    const vector = v.of === 'force' ? reaction.force : reaction.moment;
    const f = new Float64Array(3), p = new Float64Array(3);
    return {
      sign: { at: { body: b, at: sb }, carrier: v.axes === 'joint' ? a : m.index(m.ground), ...(v.component === 'magnitude' ? {} : { direction: v.axes === 'joint' ? column(fa, 'xyz'.indexOf(v.component) as 0 | 1 | 2) : axisOf(v.component).direction! }), ...(v.of === 'moment' ? { turning: true as const } : {}) },
      loads: true,
      dim: v.of === 'force' ? D.force : D.torque,
      positive: v.component === 'magnitude'
        ? `Size of the ${v.of} on ${j.bodies[1]}, never negative.`
        : `Acts on ${j.bodies[1]}, positive along ${v.component} of ${v.axes === 'joint' ? 'the joint' : 'the ground'}.`,
      read({ K, G, multipliers }) {
        reaction.measure(K, G, multipliers);
        f.set(vector);
        if (v.axes === 'joint') {
          const A = K.A, e = 9 * a;
          for (let k = 0; k < 3; k++) p[k] = A[e + k]! * f[0]! + A[e + 3 + k]! * f[1]! + A[e + 6 + k]! * f[2]!;
          for (let k = 0; k < 3; k++) f[k] = fa[k]! * p[0]! + fa[3 + k]! * p[1]! + fa[6 + k]! * p[2]!;
        }
        return part(v.component, f[0]!, f[1]!, f[2]!);
      },
    };
  },
});
