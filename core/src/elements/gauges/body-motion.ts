import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { type Mat3, mul, quaternion, transpose } from '../../geometry/vector';
import { atan2 } from '../../quantity/elementary';
import { COMPONENT, axisOf, gauge, inAxes, part } from './gauge';

export const bodyMotion = gauge({
  kind: 'body', label: 'Body turning',
  help: 'How far a body has turned, its angular velocity or angular acceleration, as seen from the ground or from another body.',
  fields: {
    body: ref('bodies', 'Body', 'The body read.'),
    of: choice({ velocity: 'angular velocity', acceleration: 'angular acceleration', angle: 'angle turned' }, 'Reads', 'The angle counts from the posture as drawn, within half a turn either way; of a component, it is the turn about that axis alone.'),
    component: COMPONENT,
    seenFrom: ref('bodies', 'Seen from', 'The body at rest for the observer. Left out: the ground.', { optional: true }),
    axes: ref('bodies', 'Axes of', 'The body along whose axes the components are taken. Left out: the observer’s.', { optional: true }),
  },
  reads: { choose: 'of', cases: { velocity: D.angularSpeed, angle: D.angle } },
  channel(v, m) {
    const i = m.index(v.body), o = m.index(v.seenFrom ?? m.ground), along = v.axes ?? v.seenFrom ?? m.ground, c = m.index(along);
    const d = new Float64Array(3), w = new Float64Array(3), out = new Float64Array(3);
    /** A body vector in ground axes. */
    const ground = (A: Float64Array, j: number, x: number, y: number, z: number, to: Float64Array) => {
      for (let k = 0; k < 3; k++) to[k] = A[9 * j + 3 * k]! * x + A[9 * j + 3 * k + 1]! * y + A[9 * j + 3 * k + 2]! * z;
    };
    const q = new Float64Array(3);
    // as drawn: where the body stands from the observer, in the observer's axes
    const drawn = mul(transpose(m.body(v.seenFrom ?? m.ground).turn), m.body(v.body).turn);
    const matrix = (A: Float64Array, j: number) => A.subarray(9 * j, 9 * j + 9) as unknown as Mat3;
    /**
     * Turn since drawn as the observer sees it, R = Aₒᵀ Aᵢ Dᵀ, with its unit quaternion (cos θ/2, u sin θ/2). The turn about an axis n alone is
     * 2 atan2(n·u sin θ/2, cos θ/2), the twist of P. Dobrowolski, Swing-twist decomposition in Clifford algebra, 2015.
     */
    const angle = (A: Float64Array): number => {
      const [e0, x, y, z] = quaternion(mul(mul(transpose(matrix(A, o)), matrix(A, i)), transpose(drawn))), sign = e0 < 0 ? -1 : 1;
      ground(A, o, sign * x, sign * y, sign * z, d);
      inAxes(A, c, d, out);
      return 2 * atan2(part(v.component, out[0]!, out[1]!, out[2]!), sign * e0);
    };
    return {
      sign: { at: { body: i, at: [0, 0, 0] }, carrier: c, turning: true, ...axisOf(v.component) },
      ...(v.of === 'acceleration' ? { dim: D.angularAcceleration } : {}),
      positive: v.component === 'magnitude' ? 'Length of the vector, never negative.' : `Positive by the right hand about ${v.component} of ${along === m.ground ? 'the ground axes' : `${along}’s axes`}.`,
      read({ K, acceleration: a }) {
        if (v.of === 'angle') return angle(K.A);
        const at = (j: number, to: Float64Array) => ground(K.A, j, K.w[3 * j]!, K.w[3 * j + 1]!, K.w[3 * j + 2]!, to);
        if (v.of === 'velocity') {
          at(i, d);
          at(o, w);
        } else {
          const turn = (j: number, to: Float64Array) => (j === K.bodies ? to.fill(0) : ground(K.A, j, a[6 * j + 3]!, a[6 * j + 4]!, a[6 * j + 5]!, to));
          turn(i, d);
          turn(o, w);
          // seen from a body that turns: the derivative there lacks ω of the observer × ω seen
          at(o, out);
          at(i, q);
          for (let k = 0; k < 3; k++) q[k] = q[k]! - out[k]!;
          w[0] = w[0]! + out[1]! * q[2]! - out[2]! * q[1]!;
          w[1] = w[1]! + out[2]! * q[0]! - out[0]! * q[2]!;
          w[2] = w[2]! + out[0]! * q[1]! - out[1]! * q[0]!;
        }
        for (let k = 0; k < 3; k++) d[k] = d[k]! - w[k]!;
        inAxes(K.A, c, d, out);
        return part(v.component, out[0]!, out[1]!, out[2]!);
      },
    };
  },
});
