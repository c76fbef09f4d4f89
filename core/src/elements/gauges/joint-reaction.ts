import { Reaction } from '../../equations/reaction';
import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { column } from '../../geometry/vector';
import { type Force, placeAt, wholeForce } from '../../equations/forces';
import { COMPONENT, axisOf, gauge, inAxes, part } from './gauge';

export const jointReaction = gauge({
  kind: 'reaction',
  label: 'Joint load',
  help: 'Force or moment a joint passes from its first body to its second, or back, drives of the joint and friction in it included.',
  fields: {
    joint: ref('joints', 'Joint', 'The joint read.'),
    of: choice({ force: 'force', moment: 'moment' }, 'Reads', 'Force, or moment about the place of the joint on the body it acts on.'),
    on: choice(
      { second: 'its second body', first: 'its first body' },
      'Acts on',
      'On which of its two bodies the load is read: what one feels, the other feels the other way round.',
    ),
    component: COMPONENT,
    axes: choice(
      { ground: 'ground axes', joint: 'joint axes (z is its axis)', body: 'axes of a body' },
      'Axes',
      'Axes of the components; joint axes are fixed in the first body.',
    ),
    along: ref('bodies', 'Axes of', 'The body along whose axes the components are taken.', { when: { field: 'axes', is: ['body'] } }),
  },
  channel(v, m) {
    const j = m.joint(v.joint);
    const { a, b, sa, sb, fa } = j.sides;
    const onFirst = v.on === 'first',
      c = v.axes === 'joint' ? a : m.index(v.axes === 'body' ? v.along : m.ground);
    const name = j.bodies[onFirst ? 0 : 1],
      axes = v.axes === 'joint' ? 'the joint' : v.axes === 'body' ? v.along : 'the ground';
    const reaction = new Reaction(a, b, sb, [...j.constraints, ...m.drivesOn(v.joint)]);
    const vector = v.of === 'force' ? reaction.force : reaction.moment;
    let frictions: readonly Force[] | undefined;
    const F = new Float64Array(6 * (m.bodies.length + 1));
    const f = new Float64Array(3),
      p = new Float64Array(3);
    return {
      sign: {
        at: onFirst ? { body: a, at: sa } : { body: b, at: sb },
        carrier: c,
        ...(v.component === 'magnitude'
          ? {}
          : { direction: v.axes === 'joint' ? column(fa, 'xyz'.indexOf(v.component) as 0 | 1 | 2) : axisOf(v.component).direction! }),
        ...(v.of === 'moment' ? { turning: true as const } : {}),
      },
      loads: true,
      dim: v.of === 'force' ? D.force : D.torque,
      positive:
        v.component === 'magnitude'
          ? `Size of the ${v.of} on ${name}, never negative.`
          : `Acts on ${name}, positive along ${v.component} of ${axes}.`,
      read({ t, K, G, multipliers }) {
        reaction.measure(K, G, multipliers);
        frictions ??= m.frictionsOn(v.joint);
        if (frictions.length > 0) {
          F.fill(0);
          for (const force of frictions) wholeForce(force, K, t, { multipliers, G }, F);
          reaction.add(K, F);
        }
        f.set(vector);
        if (onFirst) {
          // the same pair of forces seen from the other side, its moment about the place there
          if (v.of === 'moment') {
            const F = reaction.force;
            for (let k = 0; k < 3; k++) p[k] = placeAt(K, b, sb, k) - placeAt(K, a, sa, k);
            f[0] = f[0]! + p[1]! * F[2]! - p[2]! * F[1]!;
            f[1] = f[1]! + p[2]! * F[0]! - p[0]! * F[2]!;
            f[2] = f[2]! + p[0]! * F[1]! - p[1]! * F[0]!;
          }
          for (let k = 0; k < 3; k++) f[k] = -f[k]!;
        }
        inAxes(K.A, c, f, p);
        if (v.axes === 'joint') for (let k = 0; k < 3; k++) f[k] = fa[k]! * p[0]! + fa[3 + k]! * p[1]! + fa[6 + k]! * p[2]!;
        else f.set(p);
        return part(v.component, f[0]!, f[1]!, f[2]!);
      },
    };
  },
});
