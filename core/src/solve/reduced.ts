/**
 * The motion in as few coordinates as there are freedoms: a basis N of the velocities the constraints allow, orthonormal in the mass metric
 * (NᵀMN = I). Random vectors are projected with the sparse factorisation at hand, so the cost grows with bodies times freedoms.
 */
import { refuse } from '../diagnosis';
import { carriedTimes } from '../linear/carried';
import type { Mechanism } from '../system/mechanism';
import { mustBeFinite } from './finite';
import type { System } from '../system/system';

/** Numbers from −1 to 1, always the same ones. */
export const numbersFrom = (seed: number) => (): number => (seed = (seed * 1103515245 + 12345) % 2147483648) / 1073741824 - 1;

/** A motion in which all bodies take part, as their joints allow. The system is linearised. @param random numbers from −1 to 1 */
export function anyMotion({ system, size }: Mechanism, random: () => number): Float64Array {
  const { motions, rows } = system,
    x = new Float64Array(motions + rows),
    all = Float64Array.from({ length: motions }, (_, i) => random() * (i % 6 < 3 ? size : 1));
  massTimes(system, all, x.subarray(0, motions));
  system.solve(x);
  return x.slice(0, motions);
}

/** The smallest mass, or moment of inertia about an axis of a body, that is any, kg or kg·m². */
export const leastInertia = ({ apparent: { masses, inertias } }: System): number =>
  Math.min(...[...masses, ...inertias.filter((_, i) => i % 9 === 0 || i % 9 === 4 || i % 9 === 8)].filter((x) => x > 0));

/** Number of freedoms left at the posture in K; the system is linearised there. */
export function freedomCount(system: System): number {
  system.linearise();
  const { redundant, off } = system.ldlt;
  let held = 0;
  for (let r = 0; r < system.rows; r++) if (!off[r] && !redundant[r]) held++;
  const free = system.velocities - held;
  if (free < 0)
    refuse({
      code: 'freedoms-lost',
      message: 'It cannot be determined which constraints are redundant, so the degrees of freedom cannot be counted.',
      why: 'Lengths or masses of very different size stand beside each other, and their digits are lost.',
      remedy: 'Look for a coordinate, length or mass that is out of all proportion.',
    });
  return free;
}

/** M x for a motion; of masses between bodies by the rows at hand. */
export function massTimes(system: System, x: Float64Array, out: Float64Array): void {
  const { masses, inertias, bodies, ldlt, G } = system;
  for (let i = 0; i < bodies; i++) {
    const p = 6 * i,
      q = 9 * i;
    for (let k = 0; k < 3; k++) {
      out[p + k] = masses[i]! * x[p + k]!;
      out[p + 3 + k] = inertias[q + 3 * k]! * x[p + 3]! + inertias[q + 3 * k + 1]! * x[p + 4]! + inertias[q + 3 * k + 2]! * x[p + 5]!;
    }
  }
  system.K.own?.massTimes(x, out);
  carriedTimes(ldlt.plan.carried, ldlt.weights, G, x, out);
}
const dot = (a: Float64Array, b: Float64Array): number => {
  let s = 0;
  for (let i = 0; i < a.length; i++) s += a[i]! * b[i]!;
  return s;
};

/** Columns of N at the posture in K, each a motion. */
export function freeBasis(system: System, count = freedomCount(system)): Float64Array[] {
  const n = system.motions;
  const x = new Float64Array(n + system.rows),
    Mx = new Float64Array(n);
  const random = numbersFrom(12345);
  const basis: Float64Array[] = [];
  const images: Float64Array[] = [];
  for (let j = 0; j < count; j++) {
    let u = new Float64Array(n);
    for (let attempt = 0; attempt < 5; attempt++) {
      for (let i = 0; i < n; i++) u[i] = random();
      let size = 0;
      // twice is enough (Kahan): project on the constraints, then away from the columns found
      for (let pass = 0; pass < 2; pass++) {
        massTimes(system, u, Mx);
        x.fill(0);
        x.set(Mx);
        system.ldlt.solve(x);
        u = x.slice(0, n);
        const before = norm(system, u, Mx);
        basis.forEach((b, k) => {
          const c = dot(u, images[k]!);
          for (let i = 0; i < n; i++) u[i] = u[i]! - c * b[i]!;
        });
        size = norm(system, u, Mx);
        if (!(size > 1e-10 * before)) break;
        for (let i = 0; i < n; i++) u[i] = u[i]! / size;
        if (pass === 0 && size < 1e-3 * before) break;
      }
      if (size > 0.5) break;
    }
    const size = norm(system, u, Mx);
    for (let i = 0; i < n; i++) {
      u[i] = u[i]! / size;
      Mx[i] = Mx[i]! / size;
    }
    basis.push(u);
    images.push(Mx.slice());
  }
  return basis;
}
function norm(system: System, u: Float64Array, Mu: Float64Array): number {
  massTimes(system, u, Mu);
  return Math.sqrt(Math.max(0, dot(u, Mu)));
}

/** Σ pⱼ Nⱼ */
export function combine(N: readonly Float64Array[], p: ArrayLike<number>, out: Float64Array): Float64Array {
  out.fill(0);
  N.forEach((column, j) => {
    const c = p[j]!;
    if (c !== 0) for (let i = 0; i < out.length; i++) out[i] = out[i]! + c * column[i]!;
  });
  return out;
}

/** Moves the bodies by a small displacement and back onto the constraints; coordinates that count turns follow. @returns the residual left */
export function move({ system, counters }: Mechanism, step: Float64Array, scale: number, t: number): number {
  system.K.displace(step, scale);
  system.linearise();
  const left = system.projectPositions(t);
  for (const c of counters) if (c.states > 0) system.K.z[c.first] = c.value(system.K);
  return left;
}

/** Nᵀ M a: accelerations in the reduced coordinates, for the motion in K. */
export function reducedAcceleration(m: Mechanism, N: readonly Float64Array[], t: number, out: Float64Array): Float64Array {
  const { system } = m;
  system.accelerate(t);
  const Ma = new Float64Array(system.motions);
  massTimes(system, system.acceleration, Ma);
  N.forEach((column, j) => (out[j] = dot(column, Ma)));
  return out;
}

/** Displacements by which derivatives are taken: a small part of the machine's size for the body that moves most. */
export function probe(system: System, column: Float64Array, size: number): number {
  const most = extent(system, column, size);
  return most > 0 ? 1e-4 / most : 1;
}

/** How far a motion goes at most, in parts of the machine's size or rad. */
export function extent({ bodies, own }: System, motion: Float64Array, size: number): number {
  let most = 0;
  for (let i = 0; i < bodies; i++)
    for (let k = 0; k < 3; k++) most = Math.max(most, Math.abs(motion[6 * i + k]!) / size, Math.abs(motion[6 * i + 3 + k]!));
  for (const { law, first } of own.list)
    law.coordinates.forEach(({ length }, j) => (most = Math.max(most, Math.abs(motion[6 * bodies + first + j]!) / (length ? size : 1))));
  return most;
}

export interface Linear {
  /** Basis of the freedoms, each a motion. */
  N: Float64Array[];
  /** Rows of ∂p̈/∂p and ∂p̈/∂ṗ. */
  stiffness: Float64Array[];
  damping: Float64Array[];
  /** p̈ at the posture itself: zero at an equilibrium. */
  rest: Float64Array;
}

/** What is taken for a coordinate's acceleration. */
export type Accelerations = (out: Float64Array) => void;

/**
 * p̈ = J p + D ṗ about the posture and motion in K, by central differences of fourth order along the constraints: geometric stiffness
 * and turning axes are in it because every displaced posture is brought onto the constraints and solved anew.
 * @param N velocities per unit rate of each coordinate
 * @param accelerations reads the coordinates' accelerations after a solution; left out: Nᵀ M a, for N orthonormal in the mass metric and a machine at rest
 */
export function linearise(
  m: Mechanism,
  t: number,
  N: readonly Float64Array[],
  withDamping: boolean,
  accelerations?: Accelerations,
): Linear {
  const { system } = m;
  const { K } = system;
  const d = N.length;
  const y = new Float64Array(system.size);
  K.store(y);
  const read = (): Float64Array => {
    const out = new Float64Array(d);
    if (!accelerations) return reducedAcceleration(m, N, t, out);
    system.accelerate(t);
    accelerations(out);
    return out;
  };
  const rest = read();
  const sample = (column: Float64Array, h: number, velocity: boolean): Float64Array => {
    K.load(y);
    if (velocity) {
      K.quicken(column, h);
    } else {
      move(m, column, h, t);
      system.linearise();
      system.projectVelocities(t);
    }
    return read();
  };
  const derivative = (velocity: boolean): Float64Array[] => {
    const rows = Array.from({ length: d }, () => new Float64Array(d));
    N.forEach((column, j) => {
      const h = probe(system, column, m.size) * (velocity ? 1 : 5);
      const [a, b, c, e] = [
        sample(column, h, velocity),
        sample(column, -h, velocity),
        sample(column, 2 * h, velocity),
        sample(column, -2 * h, velocity),
      ];
      for (let i = 0; i < d; i++) rows[i]![j] = (8 * (a[i]! - b[i]!) - (c[i]! - e[i]!)) / (12 * h);
    });
    return rows;
  };
  const stiffness = derivative(false);
  const damping = withDamping ? derivative(true) : [];
  K.load(y);
  system.linearise();
  mustBeFinite(m, t, rest, ...stiffness, ...damping);
  return { N: [...N], stiffness, damping, rest };
}
