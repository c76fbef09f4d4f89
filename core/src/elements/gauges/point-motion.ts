import { placeAt, speedAt } from '../../equations/forces';
import type { Kinematics } from '../../equations/kinematics';
import { type BodyEx, place, seenFrom, velocity } from '../../equations/stated/body';
import { type ValueLaw, readAlone, vectorOf } from '../../equations/values';
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import { type VectorEx, minus } from '../../expressions/vectors';
import { choice, ref } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Snapshot } from '../declarations';
import { COMPONENT, axisOf, byComponent, gauge, inAxes, part, partOf } from './gauge';

const READS = { position: D.length, velocity: D.speed } as const;

/** Component k (ground axes) of the acceleration of a place in body i. */
function accelerationAt({ K, acceleration: a }: Snapshot, i: number, s: ArrayLike<number>, k: number): number {
  if (i === K.bodies) return 0;
  const x = K.w[3 * i]!,
    y = K.w[3 * i + 1]!,
    z = K.w[3 * i + 2]!;
  const ax = a[6 * i + 3]!,
    ay = a[6 * i + 4]!,
    az = a[6 * i + 5]!;
  const d = x * s[0]! + y * s[1]! + z * s[2]!,
    n = x * x + y * y + z * z;
  const p = 9 * i + 3 * k;
  return (
    a[6 * i + k]! +
    K.A[p]! * (ay * s[2]! - az * s[1]! + x * d - n * s[0]!) +
    K.A[p + 1]! * (az * s[0]! - ax * s[2]! + y * d - n * s[1]!) +
    K.A[p + 2]! * (ax * s[1]! - ay * s[0]! + z * d - n * s[2]!)
  );
}

/** Of a point of the first body, as seen from the second, along axes of the third. Numbers: the point, the origin of the second as drawn. */
const law = (name: string, of: (g: Graph, i: BodyEx, o: BodyEx, n: readonly Ex[]) => VectorEx) =>
  byComponent((component): ValueLaw => ({
    name: `${name}, ${component}`,
    bodies: 3,
    numbers: 6,
    of: (g, [i, o, c], n) => partOf(g, component, seenFrom(g, c!, of(g, i!, o!, n))),
  }));
const LAWS = {
  position: law('position of a point', (g, i, o, n) => minus(g, place(g, i, vectorOf(n, 0)), place(g, o, vectorOf(n, 3)))),
  // less that of the observer's own point that coincides with it
  velocity: law('velocity of a point', (g, i, o, n) => {
    const s = vectorOf(n, 0),
      here = seenFrom(g, o, minus(g, place(g, i, s), o.r));
    return minus(g, velocity(g, i, s), velocity(g, o, here));
  }),
};

export const pointMotion = gauge({
  kind: 'point',
  label: 'Point motion',
  help: 'Position, velocity or acceleration of a point, as seen from the ground or from another body.',
  fields: {
    body: ref('bodies', 'Body', 'The body that carries the point.'),
    at: ref('points', 'Point', 'The point read.'),
    of: choice({ position: 'position', velocity: 'velocity', acceleration: 'acceleration' }, 'Reads', 'Which motion of the point.'),
    component: COMPONENT,
    seenFrom: ref('bodies', 'Seen from', 'The body at rest for the observer. Left out: the ground.', { optional: true }),
    axes: ref('bodies', 'Axes of', 'The body along whose axes the components are taken. Left out: the observer’s.', { optional: true }),
  },
  reads: { choose: 'of', cases: READS },
  channel(v, m) {
    const i = m.index(v.body);
    const s = m.place(v.at, v.body);
    const o = m.index(v.seenFrom ?? m.ground);
    const home = m.home(v.seenFrom ?? m.ground);
    const d = new Float64Array(3),
      out = new Float64Array(3),
      here = new Float64Array(3);
    const along = v.axes ?? v.seenFrom ?? m.ground;
    const c = m.index(along);
    const axes = along === m.ground ? 'ground axes' : `${along}’s axes`;

    /** The observer's own point that coincides with the point read, relative to its centre of mass. */
    const coincident = (K: Kinematics) => {
      for (let k = 0; k < 3; k++) d[k] = placeAt(K, i, s, k) - K.r[3 * o + k]!;
      inAxes(K.A, o, d, here);
    };
    const relativeVelocity = (K: Kinematics) => {
      coincident(K);
      for (let k = 0; k < 3; k++) d[k] = speedAt(K, i, s, k) - speedAt(K, o, here, k);
    };
    // relative = absolute − that of the coincident point − Coriolis 2 ω × v_rel
    const acceleration = (snap: Snapshot) => {
      const { K } = snap;
      relativeVelocity(K);
      inAxes(K.A, o, d, out);
      const x = K.w[3 * o]!,
        y = K.w[3 * o + 1]!,
        z = K.w[3 * o + 2]!;
      const cx = 2 * (y * out[2]! - z * out[1]!),
        cy = 2 * (z * out[0]! - x * out[2]!),
        cz = 2 * (x * out[1]! - y * out[0]!);
      for (let k = 0; k < 3; k++) {
        const p = 9 * o + 3 * k;
        d[k] = accelerationAt(snap, i, s, k) - accelerationAt(snap, o, here, k) - (K.A[p]! * cx + K.A[p + 1]! * cy + K.A[p + 2]! * cz);
      }
      inAxes(K.A, c, d, out);
      return part(v.component, out[0]!, out[1]!, out[2]!);
    };
    const { of } = v,
      reading =
        of === 'acceleration'
          ? undefined
          : { law: LAWS[of as keyof typeof LAWS][v.component]!, bodies: [i, o, c], numbers: [...s, ...home] },
      value = reading && readAlone(reading);
    return {
      sign: { at: { body: i, at: s }, carrier: c, ...axisOf(v.component) },
      ...(v.of === 'acceleration' ? { dim: D.acceleration } : {}),
      positive: v.component === 'magnitude' ? 'Length of the vector, never negative.' : `Positive along ${v.component} of ${axes}.`,
      ...(reading ? { stated: () => reading } : {}),
      read: (snap) => (value ? value(snap.K) : acceleration(snap)),
    };
  },
});
