/**
 * Sparse L D Lᵀ of the symmetric matrix [M Gᵀ; G −δ] in a fixed order, without pivoting. The pattern, the fill
 * and the list of update targets are worked out once per topology; factorising is then one pass through flat
 * arrays (right-looking, as in Golub & Van Loan, Matrix Computations, alg. 4.1.2, over a fixed pattern).
 */
import type { OwnWork } from '../equations/coordinates/work';
import { addProducts, foldIn, foldOut } from './carried';
import type { Elimination } from './elimination';

/** A pivot of a loop-closing row below this, relative to the row on its bodies alone, is a redundant row. */
export const REDUNDANT = 1e-9;

/** A pivot of a body below this, relative to its diagonal, is a direction that is free and has no inertia. */
export const NO_INERTIA = 1e-11;

/** Room for numbers; in the memory of compiled equations where these use it too. */
export type Room = (what: 'X' | 'inverse' | 'off' | 'weights', count: number) => Float64Array;

export class Ldlt {
  /** For each constraint row: 1 where it was found redundant in the last factorisation. */
  readonly redundant: Uint8Array;
  /** Set by the owner: 1 for rows that do not hold at present. Their multipliers are zero. */
  readonly off: Float64Array;
  /** Set by the owner: of each row what it adds to M: the mass of one that has such, and where a body it touches has next to no inertia; else 0. */
  readonly weights: Float64Array;
  /** Smallest ratio of a loop-closing pivot to its row alone in the last factorisation, redundant rows left out. */
  tightest = 1;
  /** The row of that pivot. */
  tightestRow = -1;

  /** Entries of L by columns, the diagonal (of D) first. */
  readonly X: Float64Array;
  private readonly inverse: Float64Array;
  private readonly work: Float64Array;
  /** Set by the owner, and by each factorisation here: the rows, for those that have mass. */
  G: Float64Array = new Float64Array(0);
  /** The diagonal of M, with what rows add to it. */
  private readonly diagonal: Float64Array;
  /** Whether a direction is free and has no inertia; and the variable at which the factorisation found it. */
  weightless = false;
  weightlessAt = -1;

  /**
   * @param masses mass of each body, kg
   * @param inertias inertia tensor of each body in its axes, nine numbers each, kg·m²
   */
  constructor(
    readonly plan: Elimination,
    private readonly masses: Float64Array,
    private readonly inertias: Float64Array,
    /** Bodies that have coordinates of their own; left out where there are none. */
    private readonly own?: OwnWork,
    room: Room = (_, count) => new Float64Array(count),
  ) {
    const { size, rows, entries } = plan;
    this.redundant = new Uint8Array(rows);
    this.off = room('off', rows);
    this.work = new Float64Array(size);
    this.inverse = room('inverse', size);
    this.weights = room('weights', rows);
    this.diagonal = new Float64Array(plan.motions);
    this.diagonals();
    this.X = room('X', entries);
  }

  /** Number of stored entries of L and of multiply-subtract operations a factorisation takes. */
  get cost(): { entries: number; updates: number } {
    return { entries: this.X.length, updates: this.plan.target.length };
  }

  /** g M⁻¹ gᵀ of row r on its own bodies alone, with the diagonal of the inertia. */
  private alone(r: number, G: Float64Array): number {
    let s = this.aloneIn(r, G);
    const further = this.plan.further[r]!;
    for (let i = 0; i < further.length; i++) s += this.aloneIn(further[i]!, G);
    return s;
  }

  private aloneIn(r: number, G: Float64Array): number {
    let s = 0;
    const { bodyOf, own, rowPlaces, bodies } = this.plan;
    for (let side = 0; side < 2; side++) {
      const b = bodyOf[2 * r + side]!;
      if (b < 0) continue;
      const of = own.of[b];
      if (of?.placed) {
        const h = rowPlaces.coordinates(r, side),
          d = 6 * bodies + of.first;
        for (let j = 0; j < of.count; j++) if (G[h + j] !== 0) s += (G[h + j]! * G[h + j]!) / this.diagonal[d + j]!;
        continue;
      }
      const g = 12 * r + 6 * side,
        d = 6 * b;
      for (let k = 0; k < 6; k++) if (G[g + k] !== 0) s += (G[g + k]! * G[g + k]!) / this.diagonal[d + k]!;
    }
    return s;
  }

  /**
   * Factorises for the constraint matrix G (twelve numbers a row).
   * @param damping relative damping of the rows: a row's diagonal is −damping · (g M⁻¹ gᵀ)
   */
  factorise(G: Float64Array, damping = 0): void {
    const { X, inverse, off, redundant } = this;
    const { bodies, motions, rows, size, start, target, massAt, rowAt, closingRow, rowOf, place } = this.plan;
    X.fill(0);
    for (let b = 0; b < bodies; b++) {
      const p = 9 * b,
        m = this.masses[b]!;
      if (massAt[p]! < 0) continue;
      X[massAt[p]!] = m;
      X[massAt[p + 1]!] = m;
      X[massAt[p + 2]!] = m;
      X[massAt[p + 3]!] = this.inertias[p]!;
      X[massAt[p + 4]!] = this.inertias[p + 3]!;
      X[massAt[p + 5]!] = this.inertias[p + 4]!;
      X[massAt[p + 6]!] = this.inertias[p + 6]!;
      X[massAt[p + 7]!] = this.inertias[p + 7]!;
      X[massAt[p + 8]!] = this.inertias[p + 8]!;
    }
    if (this.own) this.ownMasses(this.own);
    for (let e = 0; e < rowAt.length; e++) {
      const at = rowAt[e]!;
      if (at >= 0) X[at] = X[at]! + G[e]!; // two pairs of one row may share a body
    }
    this.G = G;
    if (this.plan.products.length + this.plan.carried.length > 0) this.augment(G);
    this.weightless = false;
    if (damping > 0) {
      for (let r = 0; r < rows; r++) X[start[place[motions + r]!]!] = -damping * this.alone(r, G);
    }
    this.tightest = 1;
    redundant.fill(0);
    let t = 0;
    for (let k = 0; k < size; k++) {
      const from = start[k]!,
        to = start[k + 1]!;
      const d = X[from]!;
      const r = closingRow[k]!;
      if (rowOf[k]! >= 0 && off[rowOf[k]!]) {
        inverse[k] = 0;
        for (let p = from + 1; p < to; p++) X[p] = 0;
        t += ((to - from - 1) * (to - from)) / 2;
        continue;
      }
      if (r >= 0) {
        const ref = this.alone(r, G);
        const ratio = ref > 0 ? -d / ref : 0;
        if (ratio < REDUNDANT) {
          redundant[r] = 1;
          inverse[k] = 0;
          for (let p = from + 1; p < to; p++) X[p] = 0;
          t += ((to - from - 1) * (to - from)) / 2;
          continue;
        }
        if (ratio < this.tightest) {
          this.tightest = ratio;
          this.tightestRow = r;
        }
      }
      if (this.free(k, d)) {
        inverse[k] = 0;
        for (let p = from + 1; p < to; p++) X[p] = 0;
        t += ((to - from - 1) * (to - from)) / 2;
        continue;
      }
      const inv = 1 / d;
      inverse[k] = inv;
      for (let p = from + 1; p < to; p++) {
        const l = X[p]! * inv;
        if (l === 0) {
          // common in machines that move in a plane
          t += to - p;
          continue;
        }
        for (let q = p; q < to; q++) {
          const u = target[t++]!;
          X[u] = X[u]! - l * X[q]!;
        }
        X[p] = l;
      }
    }
  }

  /** Mass matrices of bodies that have coordinates of their own. */
  private ownMasses(own: OwnWork): void {
    const { X, diagonal } = this,
      { start, place, ownMassAt } = this.plan,
      { bodies } = own;
    for (let i = 0; i < ownMassAt.length; i++) {
      const at = ownMassAt[i]!,
        o = bodies.list[i]!,
        { body, first, count, placed } = o;
      for (let k = 0; k < at.length; k++) X[at[k]!] = own.mass(o, k);
      for (let k = 0; k < (placed ? 0 : 6); k++) diagonal[6 * body + k] = X[start[place[6 * body + k]!]!]!;
      for (let j = 0; j < count; j++) {
        const v = 6 * bodies.bodies + first + j;
        diagonal[v] = X[start[place[v]!]!]!;
      }
    }
  }

  /** The diagonal of M alone. */
  private diagonals(): void {
    for (let b = 0; b < this.plan.bodies; b++)
      for (let k = 0; k < 6; k++) this.diagonal[6 * b + k] = k < 3 ? this.masses[b]! : this.inertias[9 * b + 4 * (k - 3)]!;
  }
  /** Adds Gᵀ S G of the rows that have mass, and of those that touch bodies with next to no inertia. */
  private augment(G: Float64Array): void {
    const { X, off, weights, diagonal } = this,
      { products, inertia, start, place, motions } = this.plan;
    addProducts(inertia, weights, G, X);
    for (let i = 0; i < products.length; i++) {
      const { row, first, second, at } = products[i]!;
      if (!off[row]) X[at] = X[at]! + weights[row]! * G[first]! * G[second]!;
    }
    for (let i = 0; i < motions; i++) if (place[i]! >= 0) diagonal[i] = X[start[place[i]!]!]!;
  }
  /** Whether a pivot is that of a direction which is free and has no inertia; it then counts as held. */
  private free(k: number, pivot: number): boolean {
    const { light, rowOf, variableOf } = this.plan;
    if (light.length === 0 || rowOf[k]! >= 0 || pivot > NO_INERTIA * this.diagonal[variableOf[k]!]!) return false;
    if (!this.weightless) this.weightlessAt = variableOf[k]!;
    this.weightless = true;
    return true;
  }

  /** The motion at which the last factorisation found no inertia: Lᵀ x = e; then one number a row. */
  loose(): Float64Array {
    const { X, work } = this,
      { place, start, index, length } = this.plan,
      x = new Float64Array(length),
      last = place[this.weightlessAt]!;
    work.fill(0);
    work[last] = 1;
    for (let k = last - 1; k >= 0; k--) for (let p = start[k]! + 1; p < start[k + 1]!; p++) work[k] = work[k]! - X[p]! * work[index[p]!]!;
    this.tell(x);
    return x;
  }

  /**
   * Takes note of what a factorisation by other code has found.
   * @param ratio of each row that closes a loop: its pivot relative to the row alone
   * @param loosest the smallest pivot of a body, relative to its diagonal
   */
  judge(ratio: Float64Array, loosest: number): void {
    this.weightless = !(loosest > NO_INERTIA);
    const { redundant, off } = this,
      { closing } = this.plan;
    this.tightest = 1;
    for (let i = 0; i < closing.length; i++) {
      const r = closing[i]!,
        x = ratio[r]!;
      redundant[r] = 0;
      if (off[r]) continue;
      if (!(x >= REDUNDANT)) redundant[r] = 1;
      else if (x < this.tightest) {
        this.tightest = x;
        this.tightestRow = r;
      }
    }
  }

  /** Forgets all factors. */
  clear(): void {
    this.X.fill(0);
    this.inverse.fill(0);
  }

  /** What stands at the places of the order, to where its variables are. */
  private tell(x: Float64Array): void {
    const { work, own } = this,
      { place, length } = this.plan;
    for (let i = 0; i < length; i++) {
      const p = place[i]!;
      if (p >= 0) x[i] = work[p]!;
    }
    own?.spread(x);
  }

  /**
   * Solves [M Gᵀ; G −δ] x = b with the last factorisation, in place. What pushes a body that coordinates place is brought to these, and its velocities
   * follow from theirs.
   * @param x a motion (six numbers a body, then one a coordinate), then one a row; redundant rows get zero, those with mass m what they carry (δ = 1/m)
   */
  solve(x: Float64Array): void {
    const { X, inverse, work, weights, G } = this;
    const { start, index, place, size, length, carried, motions } = this.plan;
    this.own?.gather(x);
    foldIn(carried, weights, G, x, motions);
    for (let i = 0; i < length; i++) {
      const p = place[i]!;
      if (p >= 0) work[p] = x[i]!;
    }
    for (let k = 0; k < size; k++) {
      const s = work[k]!;
      if (s !== 0) for (let p = start[k]! + 1; p < start[k + 1]!; p++) work[index[p]!] = work[index[p]!]! - X[p]! * s;
      work[k] = s * inverse[k]!;
    }
    for (let k = size - 1; k >= 0; k--) {
      let s = work[k]!;
      for (let p = start[k]! + 1; p < start[k + 1]!; p++) s -= X[p]! * work[index[p]!]!;
      work[k] = s;
    }
    this.tell(x);
    foldOut(carried, weights, G, x, motions);
  }
}
