import { choice, ref } from '../../model/fields';
import { wholeForce } from '../../equations/forces';
import { D } from '../../quantity/dimension';
import { COMPONENT, axisOf, gauge, inAxes, part } from './gauge';

export const loadForce = gauge({
  kind: 'load-force',
  label: 'Force of a load',
  help: 'What a spring, bushing, damper or any other load does to a body: force, or moment about the body’s centre of mass.',
  fields: {
    load: ref('loads', 'Load', 'The load read.'),
    body: ref('bodies', 'On', 'The body on which it acts.'),
    of: choice({ force: 'force', moment: 'moment' }, 'Reads', 'Force, or moment about the centre of mass.'),
    component: COMPONENT,
    axes: ref('bodies', 'Axes of', 'The body along whose axes the components are taken. Left out: the ground.', { optional: true }),
  },
  channel(v, m) {
    const known = m.forces.find((f) => f.name === v.load);
    const i = m.index(v.body),
      c = m.index(v.axes ?? m.ground);
    const F = new Float64Array(6 * (m.bodies.length + 1)),
      d = new Float64Array(3),
      out = new Float64Array(3);
    return {
      sign: {
        at: { body: i, at: [0, 0, 0] },
        carrier: c,
        ...axisOf(v.component),
        ...(v.of === 'moment' ? { turning: true as const } : {}),
      },
      loads: true,
      dim: v.of === 'force' ? D.force : D.torque,
      positive:
        v.component === 'magnitude'
          ? `Size of the ${v.of} on ${v.body}, never negative.`
          : `Acts on ${v.body}, positive along ${v.component} of ${v.axes ?? 'the ground'}.`,
      read({ K, t, multipliers, G }) {
        F.fill(0);
        if (known) wholeForce(known.force, K, t, { multipliers, G }, F);
        if (v.of === 'force') for (let k = 0; k < 3; k++) d[k] = F[6 * i + k]!;
        else
          for (let k = 0; k < 3; k++)
            d[k] = K.A[9 * i + 3 * k]! * F[6 * i + 3]! + K.A[9 * i + 3 * k + 1]! * F[6 * i + 4]! + K.A[9 * i + 3 * k + 2]! * F[6 * i + 5]!;
        inAxes(K.A, c, d, out);
        return part(v.component, out[0]!, out[1]!, out[2]!);
      },
    };
  },
});
