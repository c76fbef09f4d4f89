/**
 * Sparse L D Lᵀ of the symmetric matrix [M Gᵀ; G −δ] in a fixed order, without pivoting. The pattern, the fill
 * and the list of update targets are worked out once per topology; factorising is then one pass through flat
 * arrays (right-looking, as in Golub & Van Loan, Matrix Computations, alg. 4.1.2, over a fixed pattern).
 */
import type { Elimination } from './elimination';

/** A pivot of a loop-closing row below this, relative to the row on its bodies alone, is a redundant row. */
export const REDUNDANT = 1e-9;

/** Room for numbers; in the memory of compiled equations where these use it too. */
export type Room = (what: 'X' | 'inverse' | 'off', count: number) => Float64Array;

export class Ldlt {
  /** For each constraint row: 1 where it was found redundant in the last factorisation. */
  readonly redundant: Uint8Array;
  /** Set by the owner: 1 for rows that do not hold at present. Their multipliers are zero. */
  readonly off: Float64Array;
  /** Smallest ratio of a loop-closing pivot to its row alone in the last factorisation, redundant rows left out. */
  tightest = 1;
  /** The row of that pivot. */
  tightestRow = -1;

  private readonly X: Float64Array;
  private readonly inverse: Float64Array;
  private readonly work: Float64Array;
  private readonly reference: Float64Array;

  /**
   * @param masses mass of each body, kg
   * @param inertias inertia tensor of each body in its axes, nine numbers each, kg·m²
   */
  constructor(
    readonly plan: Elimination,
    private readonly masses: Float64Array,
    private readonly inertias: Float64Array,
    room: Room = (_, count) => new Float64Array(count),
  ) {
    const { size, rows, entries } = plan;
    this.redundant = new Uint8Array(rows);
    this.off = room('off', rows);
    this.work = new Float64Array(size);
    this.inverse = room('inverse', size);
    this.reference = new Float64Array(rows);
    this.X = room('X', entries);
  }

  /** Number of stored entries of L and of multiply-subtract operations a factorisation takes. */
  get cost(): { entries: number; updates: number } {
    return { entries: this.X.length, updates: this.plan.target.length };
  }

  /** Adds row r of G to a vector of six numbers a body. */
  spread(r: number, G: Float64Array, x: Float64Array): void {
    const { further, bodyOf } = this.plan;
    for (const block of [r, ...further[r]!])
      for (let side = 0; side < 2; side++) {
        const b = bodyOf[2 * block + side]!;
        if (b >= 0) for (let k = 0; k < 6; k++) x[6 * b + k] = x[6 * b + k]! + G[12 * block + 6 * side + k]!;
      }
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
    for (let side = 0; side < 2; side++) {
      const b = this.plan.bodyOf[2 * r + side]!;
      if (b < 0) continue;
      const g = 12 * r + 6 * side;
      s += (G[g]! * G[g]! + G[g + 1]! * G[g + 1]! + G[g + 2]! * G[g + 2]!) / this.masses[b]!;
      s +=
        (G[g + 3]! * G[g + 3]!) / this.inertias[9 * b]! +
        (G[g + 4]! * G[g + 4]!) / this.inertias[9 * b + 4]! +
        (G[g + 5]! * G[g + 5]!) / this.inertias[9 * b + 8]!;
    }
    return s;
  }

  /**
   * Factorises for the constraint matrix G (twelve numbers a row).
   * @param damping relative damping of the rows: a row's diagonal is −damping · (g M⁻¹ gᵀ)
   */
  factorise(G: Float64Array, damping = 0): void {
    const { X, inverse, off, reference, redundant } = this;
    const { bodies, rows, size, start, target, massAt, rowAt, closingRow, rowOf, place } = this.plan;
    X.fill(0);
    for (let b = 0; b < bodies; b++) {
      const p = 9 * b,
        m = this.masses[b]!;
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
    for (let e = 0; e < rowAt.length; e++) {
      const at = rowAt[e]!;
      if (at >= 0) X[at] = X[at]! + G[e]!; // two pairs of one row may share a body
    }
    if (damping > 0) {
      for (let r = 0; r < rows; r++) X[start[place[6 * bodies + r]!]!] = -damping * this.alone(r, G);
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
        const ref = (reference[r] = this.alone(r, G));
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

  /** Takes note of what a factorisation by other code has found. @param ratio of each row that closes a loop: its pivot relative to the row alone */
  judge(ratio: Float64Array): void {
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

  /**
   * Solves [M Gᵀ; G −δ] x = b with the last factorisation, in place.
   * @param x six numbers a body, then one a row; redundant rows get zero
   */
  solve(x: Float64Array): void {
    const { X, inverse, work } = this;
    const { start, index, place, size } = this.plan;
    for (let i = 0; i < size; i++) work[place[i]!] = x[i]!;
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
    for (let i = 0; i < size; i++) x[i] = work[place[i]!]!;
  }
}
