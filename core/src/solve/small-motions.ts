/**
 * Small motions of a machine at rest, in the displacements x of all bodies: M ẍ + C ẋ + K x = −Gᵀ δλ with G x = 0, where K = −∂(f − Gᵀλ)/∂q and
 * C = −∂f/∂u are exact, so that loads, and what constraints carry, stiffen or weaken it as they do. Everything is sparse as the machine is.
 */
import { SparseLu } from '../linear/sparse-lu';
import { square } from '../quantity/elementary';
import type { Mechanism } from '../system/mechanism';
import { MachineMatrix } from '../system/tangent/matrix';
import { Tangent } from '../system/tangent/tangent';
import { extent, massTimes } from './reduced';

const EPSILON = 2.220446049250313e-16;
/** How many roundings go into a number of K or C, and into a sum of products with them, at most. */
const ROUNDINGS = 64;
/** The same of a place. */
const FEW = 4;
/** Part of what a displacement by its whole place would change of a load, squared, from which on it hardly depends on where the machine stands. */
const HARDLY = 0.01;
/** Part of what loads move the machine by, by which it may be off. */
const LOST = 1e-4;

/** A number with what rounding can have added to it. */
export interface Bounded {
  readonly value: number;
  readonly bound: number;
}
/** Whether a number cannot be told from zero. */
export const vanishes = ({ value, bound }: Bounded): boolean => Math.abs(value) <= bound;

export class SmallMotions {
  readonly tangent: Tangent;
  private readonly matrix: MachineMatrix;
  private readonly lu: SparseLu;
  private readonly x: Float64Array;
  private readonly P: readonly [Float64Array, Float64Array];
  /** Forces and torques that are out of balance in the posture. */
  private readonly unbalanced: Float64Array;

  constructor(readonly m: Mechanism) {
    const { system } = m;
    this.tangent = new Tangent(system);
    this.matrix = new MachineMatrix(system, this.tangent);
    this.lu = new SparseLu(this.matrix.pattern);
    this.x = new Float64Array(this.matrix.size);
    this.unbalanced = new Float64Array(system.motions);
    // displacements are what they are
    const P = new Float64Array(1 + 9 * system.bodies);
    P[0] = 1;
    for (let b = 0; b < system.bodies; b++) P[1 + 9 * b] = P[5 + 9 * b] = P[9 + 9 * b] = 1;
    this.P = [P, new Float64Array(P.length)];
  }

  /** About the posture in K, with the loads of a time. */
  at(t: number): this {
    const { system } = this.m;
    system.accelerate(t);
    // it is looked at at rest: inertia has no part in the stiffness
    for (const { row } of system.ldlt.plan.carried) system.multipliers[row] = 0;
    this.tangent.look();
    this.matrix.take();
    massTimes(system, system.acceleration, this.unbalanced);
    return this;
  }

  /** Whether something follows from what constraints carry: friction that slips. */
  get carried(): boolean {
    const { at } = this.tangent.entries.load;
    return at.some((e) => this.tangent.values[e] !== 0);
  }

  /** K x. */
  stiffness(x: Float64Array): Float64Array {
    const { motions, rows } = this.m.system,
      out = new Float64Array(motions + rows);
    this.tangent.times('posture', x, out, -1);
    return out.subarray(0, motions);
  }
  /** yᵀ K x or yᵀ C x, with a bound of its rounding. */
  form(by: 'posture' | 'motion', y: Float64Array, x: Float64Array): Bounded {
    const { row, column, at } = this.tangent.entries[by],
      { values } = this.tangent,
      { motions } = this.m.system;
    let value = 0,
      size = 0;
    for (let e = 0; e < at.length; e++) {
      if (row[e]! >= motions) continue;
      const part = values[at[e]!]! * y[row[e]!]! * x[column[e]!]!;
      value -= part;
      size += Math.abs(part);
    }
    return { value, bound: ROUNDINGS * EPSILON * size + (by === 'posture' ? this.turned(y, x) : 0) };
  }
  /**
   * What loads out of balance by rounding add to yᵀ K x: forces that turn with the machine while it turns as a whole, which are not seen where they vanish,
   * and move it along the way that a turn makes of second order.
   */
  private turned(y: Float64Array, x: Float64Array): number {
    const { unbalanced } = this,
      size = (v: Float64Array, at: number) => Math.sqrt(v[at]! * v[at]! + v[at + 1]! * v[at + 1]! + v[at + 2]! * v[at + 2]!);
    let sum = 0;
    for (let b = 0; b < this.m.system.bodies; b++) {
      const [p, q] = [6 * b, 6 * b + 3],
        [a, c] = [size(x, q), size(y, q)];
      sum += 0.5 * size(unbalanced, p) * (size(x, p) * c + size(y, p) * a) + size(unbalanced, q) * a * c;
    }
    return sum;
  }

  /**
   * Factorises K + s M, on what the joints leave free.
   * @param symmetric of K its symmetric part alone
   * @returns how many ω² of the symmetric part lie below −s; undefined where a pivot vanished
   */
  shift(s: number, symmetric = false): number | undefined {
    const { matrix, lu, P } = this;
    matrix.fill({ mass: [s, 0], motion: 0, P }, lu.values);
    if (symmetric) {
      const n = lu.values.length / 2;
      for (let e = 0; e < n; e++) if (lu.values[e] !== 0) lu.values[e] = lu.values[n + e] = 0.5 * (lu.values[e]! + lu.values[n + e]!);
    }
    if (!lu.factorise()) return undefined;
    // by Sylvester's law: each row that holds has a negative pivot of its own
    return lu.negative - matrix.holding;
  }
  /** (K + s M)⁻¹ f on what the joints leave free, as of the last `shift`. @param f by motions; may be overwritten with the result */
  solve(f: Float64Array): Float64Array {
    const { matrix, lu, x } = this,
      { motions, rows } = this.m.system,
      all = new Float64Array(motions + rows);
    all.set(f);
    matrix.weighRight(all);
    for (let v = 0; v < all.length; v++) if (matrix.place[v]! >= 0) x[matrix.place[v]!] = all[v]!;
    lu.solve(x);
    const out = new Float64Array(motions);
    for (let v = 0; v < motions; v++) if (matrix.place[v]! >= 0) out[v] = x[matrix.place[v]!]!;
    return out;
  }

  /** A displacement brought to the next that joints allow, in the mass metric. */
  allowed(x: Float64Array): Float64Array {
    const { system } = this.m,
      all = new Float64Array(system.motions + system.rows);
    massTimes(system, x, all.subarray(0, system.motions));
    system.solve(all);
    return all.slice(0, system.motions);
  }

  /** More than the largest ω² of bodies that have inertia (Gershgorin, of M^(−1/2) K M^(−1/2)). */
  get stiffest(): number {
    const { row, column, at } = this.tangent.entries.posture,
      { values } = this.tangent,
      { motions, apparent } = this.m.system,
      { masses, inertias } = apparent,
      sums = new Float64Array(motions),
      root = (v: number) => {
        const b = Math.floor(v / 6),
          k = v % 6,
          inertia = k < 3 ? masses[b]! : inertias[9 * b + 4 * (k - 3)]!;
        return inertia > 0 ? 1 / Math.sqrt(inertia) : 0;
      };
    for (let e = 0; e < at.length; e++) {
      const [i, j] = [row[e]!, column[e]!];
      if (i < motions) sums[i] = sums[i]! + Math.abs(values[at[e]!]!) * root(i) * root(j);
    }
    return sums.reduce((most, x) => Math.max(most, x), 0);
  }

  /** Displacements of which rounding is a part. */
  private get places(): Float64Array {
    const { motions, bodies, K } = this.m.system;
    return Float64Array.from({ length: motions }, (_, v) =>
      v < 6 * bodies && v % 6 < 3 ? Math.abs(K.r[3 * Math.floor(v / 6) + (v % 6)]!) : 1,
    );
  }
  /** Size of the accelerations that pushes would give bodies one by one, in the mass metric. */
  private sizeOf(push: ArrayLike<number>): number {
    const { bodies, apparent } = this.m.system;
    let sum = 0;
    for (let b = 0; b < bodies; b++)
      for (let k = 0; k < 6; k++) {
        const inertia = k < 3 ? apparent.masses[b]! : apparent.inertias[9 * b + 4 * (k - 3)]!;
        if (inertia > 0) sum += (push[6 * b + k]! * push[6 * b + k]!) / inertia;
      }
    return Math.sqrt(sum);
  }
  /** Size of the accelerations that the rounding of places comes to, in the mass metric. */
  get noise(): number {
    const { tangent, places } = this,
      { row, column, at } = tangent.entries.posture,
      { motions } = this.m.system,
      push = new Float64Array(motions);
    for (let e = 0; e < at.length; e++)
      if (row[e]! < motions) push[row[e]!] = push[row[e]!]! + Math.abs(tangent.values[at[e]!]!) * places[column[e]!]!;
    return FEW * EPSILON * this.sizeOf(push);
  }
  /**
   * Whether what is out of balance would move the machine by no small part of what loads do that hardly depend on where it stands: they are then lost in the
   * rounding of those that do.
   */
  lost(t: number): boolean {
    const { tangent, places, m, unbalanced } = this,
      { bodies, K, motions, rows } = m.system,
      F = new Float64Array(6 * (bodies + 1)),
      range = new Float64Array(motions + rows),
      given = new Float64Array(motions),
      size = (push: Float64Array) => {
        let sum = 0;
        for (let v = 0; v < 6 * bodies; v++) sum += square(push[v]! / (v % 6 < 3 ? 1 : m.size));
        return sum;
      };
    for (const { force } of m.assembly.forces) {
      F.fill(0);
      range.fill(0);
      force.apply(K, t, F);
      tangent.rangeOf(force, places, range);
      if (size(F) > HARDLY * size(range)) for (let v = 0; v < 6 * bodies; v++) given[v] = given[v]! + F[v]!;
    }
    if (this.shift(0) === undefined) return false;
    const far = (push: Float64Array) => extent(m.system, this.solve(push), m.size);
    const by = far(given);
    return by > 0 && far(unbalanced) > LOST * by;
  }

  mass(x: Float64Array): Float64Array {
    const out = new Float64Array(x.length);
    massTimes(this.m.system, x, out);
    return out;
  }
}
