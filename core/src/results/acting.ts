/** The forces that act on a machine at an instant, as arrows: where each acts, in ground axes. With one body named: its free-body diagram, without inertia. */
import type { Snapshot } from '../elements/declarations';
import { type Mat3, type Vec3, add, apply, cross, dot, norm, scale, sub } from '../geometry/vector';
import { wholeForce } from '../equations/forces';
import type { Mechanism } from '../system/mechanism';
import { type BodyLoad, bodyLoads } from './body-loads';

export interface Acting {
  /** The joint, drive, coupling or load it comes from. */
  from: string;
  kind: BodyLoad['kind'];
  /** The body it acts on. */
  body: string;
  /** Force, N, and a point its line passes, m: ground axes. */
  force: Vec3;
  at: Vec3;
}

const take = (a: ArrayLike<number>, p: number): Vec3 => [a[p]!, a[p + 1]!, a[p + 2]!];

/** The point nearest to `from` of the line on which a force stands for itself and its moment about `from`: the central axis of the wrench. */
export const lineOf = (from: Vec3, force: Vec3, moment: Vec3): Vec3 => add(from, scale(cross(force, moment), 1 / dot(force, force)));

/**
 * Joints act on their second body (their first, where the second is the ground); loads on each body they touch. With a body named: all that acts on that.
 * @param s a snapshot with the loads of least norm in it
 * @throws Refusal when there is no usable body of the name
 */
export function acting(m: Mechanism, s: Snapshot, body?: string): Acting[] {
  const { K, t, multipliers, G } = s,
    n = m.bodies.length,
    out: Acting[] = [];
  const put = (i: number, from: string, kind: BodyLoad['kind'], force: Vec3, moment: Vec3, at: Vec3) => {
    const size = norm(force);
    if (size > 0) out.push({ from, kind, body: m.bodies[i]!.name, force, at: kind === 'joint' ? at : lineOf(at, force, moment) });
  };
  /** As body loads tell it, in the body's axes. */
  const told = (i: number, loads: readonly BodyLoad[]) => {
    const A = Array.from(K.A.subarray(9 * i, 9 * i + 9)) as unknown as Mat3,
      centre = take(K.r, 3 * i),
      own = m.bodies[i]!.centre;
    for (const l of loads) put(i, l.from, l.kind, apply(A, l.force), apply(A, l.moment), add(centre, apply(A, sub(l.at, own))));
  };
  if (body !== undefined) {
    told(
      m.bodies.findIndex((b) => b.name === body),
      bodyLoads(m, body, s).loads.filter((l) => l.kind !== 'inertia'),
    );
    return out;
  }
  for (const j of m.joints) {
    const second = j.sides.b < n,
      i = second ? j.sides.b : j.sides.a,
      side = second ? 6 : 0,
      force: [number, number, number] = [0, 0, 0];
    if (i >= n) continue;
    for (const c of j.constraints)
      for (let k = 0; k < c.rows; k++) {
        const lambda = multipliers[c.row + k]!;
        if ((second ? c.b : c.a) === i) for (let q = 0; q < 3; q++) force[q] = force[q]! - lambda * G[12 * (c.row + k) + side + q]!;
      }
    const A = Array.from(K.A.subarray(9 * i, 9 * i + 9)) as unknown as Mat3;
    put(i, j.name, 'joint', force, [0, 0, 0], add(take(K.r, 3 * i), apply(A, second ? j.sides.sb : j.sides.sa)));
  }
  const F = new Float64Array(6 * (n + 1));
  for (const { name, force } of m.assembly.forces) {
    if (force.touches) {
      for (const { a, b, at, force: f } of force.touches.places(K)) {
        if (a < n) put(a, name, 'load', f, [0, 0, 0], at);
        if (b < n) put(b, name, 'load', scale(f, -1), [0, 0, 0], at);
      }
      continue;
    }
    F.fill(0);
    wholeForce(force, K, t, { multipliers, G }, F);
    for (let i = 0; i < n; i++) {
      const A = Array.from(K.A.subarray(9 * i, 9 * i + 9)) as unknown as Mat3;
      put(i, name, 'load', take(F, 6 * i), apply(A, take(F, 6 * i + 3)), take(K.r, 3 * i));
    }
  }
  return out;
}
