import type { Kinematics } from '../../equations/kinematics';
import { seenFrom, spin } from '../../equations/stated/body';
import { type ValueLaw, readAlone } from '../../equations/values';
import { minus } from '../../expressions/vectors';
import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { mul, quaternion, transpose } from '../../geometry/vector';
import { atan2 } from '../../quantity/elementary';
import type { Snapshot } from '../declarations';
import { COMPONENT, axisOf, byComponent, gauge, inAxes, part, partOf } from './gauge';

/** The product of two unit quaternions (w x y z) that begin at `i` and `j`; with a sign of −1 the conjugate is meant. */
function compose(p: Float64Array, i: number, sp: 1 | -1, q: Float64Array, j: number, sq: 1 | -1, out: Float64Array): void {
  const a = p[i]!,
    b = sp * p[i + 1]!,
    c = sp * p[i + 2]!,
    d = sp * p[i + 3]!,
    e = q[j]!,
    f = sq * q[j + 1]!,
    g = sq * q[j + 2]!,
    h = sq * q[j + 3]!;
  out[0] = a * e - b * f - c * g - d * h;
  out[1] = a * f + b * e + c * h - d * g;
  out[2] = a * g - b * h + c * e + d * f;
  out[3] = a * h + b * g - c * f + d * e;
}

/** Of the first body as seen from the second, along axes of the third. */
const VELOCITY = byComponent((component): ValueLaw => ({
  name: `angular velocity, ${component}`,
  bodies: 3,
  numbers: 0,
  of: (g, [i, o, c]) => partOf(g, component, seenFrom(g, c!, minus(g, spin(g, i!), spin(g, o!)))),
}));

export const bodyMotion = gauge({
  kind: 'body',
  label: 'Body rotation',
  help: 'How far a body has turned, its angular velocity or angular acceleration, as seen from the ground or from another body.',
  fields: {
    body: ref('bodies', 'Body', 'The body read.'),
    of: choice(
      { velocity: 'angular velocity', acceleration: 'angular acceleration', angle: 'angle turned' },
      'Reads',
      'The angle counts from the posture as drawn, within half a turn either way; of a component, it is the turn about that axis alone.',
    ),
    component: COMPONENT,
    seenFrom: ref('bodies', 'Seen from', 'The body at rest for the observer. Left out: the ground.', { optional: true }),
    axes: ref('bodies', 'Axes of', 'The body along whose axes the components are taken. Left out: the observer’s.', { optional: true }),
  },
  reads: { choose: 'of', cases: { velocity: D.angularSpeed, angle: D.angle } },
  channel(v, m) {
    const i = m.index(v.body),
      o = m.index(v.seenFrom ?? m.ground),
      along = v.axes ?? v.seenFrom ?? m.ground,
      c = m.index(along);
    const d = new Float64Array(3),
      w = new Float64Array(3),
      out = new Float64Array(3);
    /** A body vector in ground axes. */
    const ground = (A: Float64Array, j: number, x: number, y: number, z: number, to: Float64Array) => {
      for (let k = 0; k < 3; k++) to[k] = A[9 * j + 3 * k]! * x + A[9 * j + 3 * k + 1]! * y + A[9 * j + 3 * k + 2]! * z;
    };
    const q = new Float64Array(3);
    // as drawn: how the body is turned from the observer's axes
    const drawn = Float64Array.from(quaternion(mul(transpose(m.body(v.seenFrom ?? m.ground).turn), m.body(v.body).turn))),
      seen = new Float64Array(4),
      turned = new Float64Array(4);
    /**
     * Turn since drawn as the observer sees it, q̄ₒ ∘ qᵢ ∘ q̄_drawn = (cos θ/2, u sin θ/2). The turn about an axis n alone is
     * 2 atan2(n·u sin θ/2, cos θ/2), the twist of P. Dobrowolski, Swing-twist decomposition in Clifford algebra, 2015.
     */
    const angle = ({ q: all, A }: Kinematics): number => {
      compose(all, 4 * o, -1, all, 4 * i, 1, seen);
      compose(seen, 0, 1, drawn, 0, -1, turned);
      const sign = turned[0]! < 0 ? -1 : 1;
      ground(A, o, sign * turned[1]!, sign * turned[2]!, sign * turned[3]!, d);
      inAxes(A, c, d, out);
      return 2 * atan2(part(v.component, out[0]!, out[1]!, out[2]!), sign * turned[0]!);
    };
    const acceleration = ({ K, acceleration: a }: Snapshot): number => {
      const at = (j: number, to: Float64Array) => ground(K.A, j, K.w[3 * j]!, K.w[3 * j + 1]!, K.w[3 * j + 2]!, to),
        turn = (j: number, to: Float64Array) =>
          j === K.bodies ? to.fill(0) : ground(K.A, j, a[6 * j + 3]!, a[6 * j + 4]!, a[6 * j + 5]!, to);
      turn(i, d);
      turn(o, w);
      // seen from a body that turns: the derivative there lacks ω of the observer × ω seen
      at(o, out);
      at(i, q);
      for (let k = 0; k < 3; k++) q[k] = q[k]! - out[k]!;
      w[0] = w[0]! + out[1]! * q[2]! - out[2]! * q[1]!;
      w[1] = w[1]! + out[2]! * q[0]! - out[0]! * q[2]!;
      w[2] = w[2]! + out[0]! * q[1]! - out[1]! * q[0]!;
      for (let k = 0; k < 3; k++) d[k] = d[k]! - w[k]!;
      inAxes(K.A, c, d, out);
      return part(v.component, out[0]!, out[1]!, out[2]!);
    };
    const reading = v.of === 'velocity' ? { law: VELOCITY[v.component]!, bodies: [i, o, c], numbers: [] } : undefined,
      value = reading && readAlone(reading);
    return {
      sign: { at: { body: i, at: [0, 0, 0] }, carrier: c, turning: true, ...axisOf(v.component) },
      ...(v.of === 'acceleration' ? { dim: D.angularAcceleration } : {}),
      positive:
        v.component === 'magnitude'
          ? 'Length of the vector, never negative.'
          : `Positive by the right hand about ${v.component} of ${along === m.ground ? 'the ground axes' : `${along}’s axes`}.`,
      ...(reading ? { stated: () => reading } : {}),
      read(snap) {
        const { K } = snap;
        return v.of === 'angle' ? angle(K) : value ? value(K) : acceleration(snap);
      },
    };
  },
});
