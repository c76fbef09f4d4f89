/**
 * All that acts on a body at an instant, its inertia included, for stress analysis: forces and moments in the body's axes with their points of application.
 * By d'Alembert they sum to zero, force and moment: that is the check which comes with them.
 */
import type { Channel, Snapshot } from '../elements/declarations';
import { wholeForce } from '../equations/forces';
import type { Constraint } from '../equations/constraint';
import { refuse } from '../diagnosis';
import { type Mat3, type Vec3, add, apply, applyT, cross, norm, scale, sub } from '../geometry/vector';
import type { Mechanism } from '../system/mechanism';

export interface BodyLoad {
  /** What it comes from: a joint, drive, coupling or load by name; or the body's own inertia. */
  from: string;
  kind: 'joint' | 'drive' | 'coupling' | 'load' | 'inertia' | 'start value';
  /** Force, N, and moment about `at`, N·m, in the body's axes. */
  force: Vec3;
  moment: Vec3;
  /** Point of application in the body's axes, from their origin, m. */
  at: Vec3;
}

export interface BodyLoads {
  body: string;
  t: number;
  loads: BodyLoad[];
  /** What the sum leaves, about the centre of mass, beside the largest of its parts (pure numbers). */
  rest: { force: number; moment: number };
}

const take = (a: ArrayLike<number>, p: number): Vec3 => [a[p]!, a[p + 1]!, a[p + 2]!];

/** A channel that reads nothing: with it `Readings` puts a recorded state into its snapshot. */
export const snapshotChannel = (seen: (s: Snapshot) => void): Channel => ({
  dim: [0, 0, 0, 0, 0, 0],
  positive: '',
  loads: true,
  read(s) {
    seen(s);
    return 0;
  },
});

/** @param s a snapshot with the loads of least norm in it */
export function bodyLoads(m: Mechanism, body: string, s: Snapshot): BodyLoads {
  const i = m.bodies.findIndex((b) => b.name === body);
  const b = m.bodies[i] ?? refuse({ code: 'body-unusable', message: `There is no usable body “${body}”.` });
  const { K, G, multipliers, acceleration, t } = s;
  const A = Array.from(K.A.subarray(9 * i, 9 * i + 9)) as unknown as Mat3;
  /** From force (ground axes) and moment about the centre of mass (body axes) to what acts at a place relative to it, body axes. */
  const acting = (from: string, kind: BodyLoad['kind'], f: Vec3, aboutCentre: Vec3, place: Vec3): BodyLoad => {
    const force = applyT(A, f);
    return { from, kind, force, moment: sub(aboutCentre, cross(place, force)), at: add(b.centre, place) };
  };
  const loads: BodyLoad[] = [];
  const constraints = (from: string, kind: BodyLoad['kind'], list: readonly Constraint[], place: Vec3) => {
    const g = new Float64Array(6);
    let on = false;
    for (const c of list)
      for (let k = 0; k < c.rows; k++) {
        const lambda = multipliers[c.row + k]!;
        const blocks: [number, number, number][] = [
          [c.a, c.b, c.row + k],
          ...(k === 0 ? c.more.map(([x, y], n): [number, number, number] => [x, y, c.block + n]) : []),
        ];
        for (const [x, y, row] of blocks)
          for (const [side, who] of [
            [0, x],
            [6, y],
          ] as const) {
            if (who !== i) continue;
            on = true;
            for (let q = 0; q < 6; q++) g[q] = g[q]! - lambda * G[12 * row + side + q]!;
          }
      }
    if (on) loads.push(acting(from, kind, take(g, 0), take(g, 3), place));
  };
  const CENTRE: Vec3 = [0, 0, 0];
  for (const j of m.joints) constraints(j.name, 'joint', j.constraints, j.sides.a === i ? j.sides.sa : j.sides.sb);
  for (const d of m.drives)
    constraints(d.name, 'drive', [d.constraint], d.joint ? (d.joint.sides.a === i ? d.joint.sides.sa : d.joint.sides.sb) : CENTRE);
  for (const c of m.couplings) constraints(c.name, 'coupling', [c.constraint], CENTRE);
  const F = new Float64Array(6 * (m.bodies.length + 1));
  for (const { name, force } of m.assembly.forces) {
    F.fill(0);
    wholeForce(force, K, t, { multipliers, G }, F);
    const f = take(F, 6 * i),
      moment = take(F, 6 * i + 3);
    if (norm(f) === 0 && norm(moment) === 0) continue;
    // a load that is a single force acts where its line passes; given about the centre of mass it is the same
    loads.push(acting(name, 'load', f, moment, CENTRE));
  }
  // teeth spread what their coupling carries
  F.fill(0);
  for (const c of m.couplings) c.spread?.react?.(K, t, multipliers, G, F);
  if (norm(take(F, 6 * i)) + norm(take(F, 6 * i + 3)) > 0)
    loads.push(acting('tooth forces', 'coupling', take(F, 6 * i), take(F, 6 * i + 3), CENTRE));
  const w = take(K.w, 3 * i),
    a = take(acceleration, 6 * i),
    alpha = take(acceleration, 6 * i + 3);
  const euler = add(apply(b.inertia, alpha), cross(w, apply(b.inertia, w)));
  loads.push(acting('inertia', 'inertia', scale(a, -b.mass), scale(euler, -1), CENTRE));
  for (const { name, masses } of m.assembly.carried) constraints(name, 'inertia', masses, CENTRE);
  const own = m.system.own.of[i],
    beside = total(loads, b.centre);
  // what holds it on its way, or what it carries itself: the rest of d'Alembert's sum
  if (own)
    loads.push({
      from: own.placed ? 'its way' : 'what it carries',
      kind: own.placed ? 'joint' : 'inertia',
      force: scale(beside.force, -1),
      moment: scale(beside.moment, -1),
      at: b.centre,
    });
  const { force, moment, size, arm } = total(loads, b.centre);
  return { body, t, loads, rest: { force: size > 0 ? norm(force) / size : 0, moment: arm > 0 ? norm(moment) / arm : 0 } };
}

/** Force and moment of all loads together about a place, beside the largest of their parts. */
function total(loads: readonly BodyLoad[], centre: Vec3): { force: Vec3; moment: Vec3; size: number; arm: number } {
  let force: Vec3 = [0, 0, 0],
    moment: Vec3 = [0, 0, 0],
    size = 0,
    arm = 0;
  for (const l of loads) {
    const own = add(l.moment, cross(sub(l.at, centre), l.force));
    force = add(force, l.force);
    moment = add(moment, own);
    size = Math.max(size, norm(l.force));
    arm = Math.max(arm, norm(own), norm(l.force) * norm(sub(l.at, centre)));
  }
  return { force, moment, size, arm };
}
