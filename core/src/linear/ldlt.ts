/**
 * Sparse L D Lᵀ of the symmetric matrix [M Gᵀ; G −δ] in a fixed order, without pivoting. The pattern, the fill
 * and the list of update targets are worked out once per topology; factorising is then one pass through flat
 * arrays (right-looking, as in Golub & Van Loan, Matrix Computations, alg. 4.1.2, over a fixed pattern).
 */
import { type Order, eliminationOrder } from './order';
import { type Constrained, blocksOf, entriesOf, entryAt, filled, massEntries, placesOf } from './pattern';

/** A pivot of a loop-closing row below this, relative to the row on its bodies alone, is a redundant row. */
export const REDUNDANT = 1e-9;

export class Ldlt {
  readonly order: Order;
  /** Size: six per body and one per row. */
  readonly size: number;
  /** For each constraint row: 1 where it was found redundant in the last factorisation. */
  readonly redundant: Uint8Array;
  /** Set by the owner: 1 for rows that do not hold at present. Their multipliers are zero. */
  readonly off: Uint8Array;
  /** Smallest ratio of a loop-closing pivot to its row alone in the last factorisation, redundant rows left out. */
  tightest = 1;
  /** The row of that pivot. */
  tightestRow = -1;

  private readonly place: Int32Array;
  private readonly start: Int32Array;
  private readonly index: Int32Array;
  private readonly target: Int32Array;
  private readonly X: Float64Array;
  private readonly inverse: Float64Array;
  private readonly work: Float64Array;
  private readonly massAt: Int32Array;
  private readonly rowAt: Int32Array;
  private readonly closingRow: Int32Array;
  private readonly rowOf: Int32Array;
  private readonly reference: Float64Array;

  /**
   * @param bodies number of bodies
   * @param masses mass of each body, kg
   * @param inertias inertia tensor of each body in its axes, nine numbers each, kg·m²
   */
  constructor(
    private readonly bodies: number,
    private readonly rows: number,
    private readonly masses: Float64Array,
    private readonly inertias: Float64Array,
    links: readonly Constrained[],
  ) {
    this.order = eliminationOrder(bodies, links);
    const n = (this.size = 6 * bodies + rows);
    this.redundant = new Uint8Array(rows);
    this.off = new Uint8Array(rows);
    this.work = new Float64Array(n);
    this.inverse = new Float64Array(n);
    this.reference = new Float64Array(rows);
    const entries = entriesOf(bodies, links);
    ({ place: this.place, rowOf: this.rowOf, closingRow: this.closingRow } = placesOf(bodies, rows, links, this.order));
    const pattern = filled(bodies, rows, this.place, entries);
    ({ start: this.start, index: this.index, target: this.target } = pattern);
    this.X = new Float64Array(this.start[n]!);
    this.massAt = massEntries(bodies, this.place, pattern);
    const blocks = links.reduce((s, l) => s + l.constraints.reduce((m, c) => m + c.more.length, 0), rows);
    this.rowAt = new Int32Array(12 * blocks).fill(-1);
    for (const { row, entry, variable } of entries)
      this.rowAt[entry] = entryAt(pattern, this.place[6 * bodies + row]!, this.place[variable]!);
    ({ bodyOf: this.bodyOf, further: this.furtherBlocks } = blocksOf(bodies, rows, blocks, links));
  }
  private readonly bodyOf: Int32Array;
  /** Blocks of a row beyond its first. */
  private readonly furtherBlocks: Int32Array[];

  /** Number of stored entries of L and of multiply-subtract operations a factorisation takes. */
  get cost(): { entries: number; updates: number } {
    return { entries: this.X.length, updates: this.target.length };
  }

  /** Adds row r of G to a vector of six numbers a body. */
  spread(r: number, G: Float64Array, x: Float64Array): void {
    for (const block of [r, ...this.furtherBlocks[r]!])
      for (let side = 0; side < 2; side++) {
        const b = this.bodyOf[2 * block + side]!;
        if (b >= 0) for (let k = 0; k < 6; k++) x[6 * b + k] = x[6 * b + k]! + G[12 * block + 6 * side + k]!;
      }
  }

  /** g M⁻¹ gᵀ of row r on its own bodies alone, with the diagonal of the inertia. */
  private alone(r: number, G: Float64Array): number {
    let s = this.aloneIn(r, G);
    const further = this.furtherBlocks[r]!;
    for (let i = 0; i < further.length; i++) s += this.aloneIn(further[i]!, G);
    return s;
  }

  private aloneIn(r: number, G: Float64Array): number {
    let s = 0;
    for (let side = 0; side < 2; side++) {
      const b = this.bodyOf[2 * r + side]!;
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
    const { X, start, target, inverse, massAt, rowAt, closingRow, rowOf, off, reference, redundant, place } = this;
    X.fill(0);
    for (let b = 0; b < this.bodies; b++) {
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
      for (let r = 0; r < this.rows; r++) X[start[place[6 * this.bodies + r]!]!] = -damping * this.alone(r, G);
    }
    this.tightest = 1;
    redundant.fill(0);
    let t = 0;
    for (let k = 0; k < this.size; k++) {
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

  /**
   * Solves [M Gᵀ; G −δ] x = b with the last factorisation, in place.
   * @param x six numbers a body, then one a row; redundant rows get zero
   */
  solve(x: Float64Array): void {
    const { X, start, index, inverse, work, place, size } = this;
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
