/**
 * Sparse L D Lᵀ of the symmetric matrix [M Gᵀ; G −δ] in a fixed order, without pivoting. The pattern, the fill
 * and the list of update targets are worked out once per topology; factorising is then one pass through flat
 * arrays (right-looking, as in Golub & Van Loan, Matrix Computations, alg. 4.1.2, over a fixed pattern).
 */
import type { Constraint } from '../equations/constraints';
import { type Link, type Order, eliminationOrder } from './order';

/** A pivot of a loop-closing row below this, relative to the row on its bodies alone, is a redundant row. */
export const REDUNDANT = 1e-9;

const NONE = new Int32Array(0);

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
    links: readonly (Link & { constraints: readonly Constraint[] })[],
  ) {
    this.order = eliminationOrder(bodies, links);
    const n = (this.size = 6 * bodies + rows);
    this.redundant = new Uint8Array(rows);
    this.off = new Uint8Array(rows);
    this.rowOf = new Int32Array(n).fill(-1);
    this.work = new Float64Array(n);
    this.inverse = new Float64Array(n);
    this.reference = new Float64Array(rows);

    // Place of every variable in the elimination order.
    const place = (this.place = new Int32Array(n));
    this.closingRow = new Int32Array(n).fill(-1);
    let p = 0;
    for (const block of this.order.blocks) {
      if (block.body >= 0) for (let k = 0; k < 6; k++) place[6 * block.body + k] = p++;
      for (const i of block.links) {
        for (const c of links[i]!.constraints) {
          for (let k = 0; k < c.rows; k++) {
            if (this.order.closing[i]) this.closingRow[p] = c.row + k;
            this.rowOf[p] = c.row + k;
            place[6 * bodies + c.row + k] = p++;
          }
        }
      }
    }

    // Pattern of the lower triangle, column by column.
    const below: Set<number>[] = Array.from({ length: n }, () => new Set());
    const couple = (i: number, j: number) => {
      if (i !== j) below[Math.min(i, j)]!.add(Math.max(i, j));
    };
    for (let b = 0; b < bodies; b++) for (let i = 3; i < 6; i++) for (let j = 3; j < i; j++) couple(place[6 * b + i]!, place[6 * b + j]!);
    const eachEntry = (visit: (row: number, entry: number, variable: number) => void) => {
      for (const l of links)
        for (const c of l.constraints) {
          for (let k = 0; k < c.rows; k++)
            for (let e = 0; e < 12; e++) {
              const body = e < 6 ? c.a : c.b;
              if (body < bodies && c.pattern(k, e)) visit(c.row + k, 12 * (c.row + k) + e, 6 * body + (e % 6));
            }
          c.more.forEach((pair, i) => {
            for (let e = 0; e < 12; e++) {
              const body = e < 6 ? pair[0] : pair[1];
              if (body < bodies) visit(c.row, 12 * (c.block + i) + e, 6 * body + (e % 6));
            }
          });
        }
    };
    eachEntry((row, _e, variable) => couple(place[6 * bodies + row]!, place[variable]!));

    // Fill: a column passes its pattern on to the first row below its diagonal (elimination tree).
    const columns: Int32Array[] = [];
    for (let k = 0; k < n; k++) {
      const list = Int32Array.from(below[k]!).sort();
      columns.push(list);
      if (list.length > 1) {
        const up = below[list[0]!]!;
        for (let m = 1; m < list.length; m++) up.add(list[m]!);
      }
      below[k]!.clear();
    }
    const start = (this.start = new Int32Array(n + 1));
    for (let k = 0; k < n; k++) start[k + 1] = start[k]! + 1 + columns[k]!.length;
    const index = (this.index = new Int32Array(start[n]!));
    for (let k = 0; k < n; k++) {
      index[start[k]!] = k;
      index.set(columns[k]!, start[k]! + 1);
    }
    this.X = new Float64Array(start[n]!);

    const find = (i: number, j: number): number => {
      const [row, column] = i > j ? [i, j] : [j, i];
      let lo = start[column]!,
        hi = start[column + 1]! - 1;
      while (lo < hi) {
        const mid = (lo + hi) >> 1;
        if (index[mid]! < row) lo = mid + 1;
        else hi = mid;
      }
      return lo;
    };
    const updates = columns.reduce((s, c) => s + (c.length * (c.length + 1)) / 2, 0);
    const target = (this.target = new Int32Array(updates));
    let t = 0;
    for (let k = 0; k < n; k++) {
      const c = columns[k]!;
      for (let i = 0; i < c.length; i++) {
        // both lists are sorted, so one walk down column c[i] finds all its targets
        let q = start[c[i]!]!;
        for (let j = i; j < c.length; j++) {
          while (index[q]! !== c[j]!) q++;
          target[t++] = q;
        }
      }
    }

    this.massAt = new Int32Array(9 * bodies);
    for (let b = 0; b < bodies; b++) {
      for (let k = 0; k < 3; k++) this.massAt[9 * b + k] = start[place[6 * b + k]!]!;
      let m = 3;
      for (let i = 3; i < 6; i++) for (let j = 3; j <= i; j++) this.massAt[9 * b + m++] = find(place[6 * b + i]!, place[6 * b + j]!);
    }
    const blocks = links.reduce((s, l) => s + l.constraints.reduce((n, c) => n + c.more.length, 0), rows);
    this.rowAt = new Int32Array(12 * blocks).fill(-1);
    eachEntry((row, entry, variable) => {
      this.rowAt[entry] = find(place[6 * bodies + row]!, place[variable]!);
    });
    this.furtherBlocks = Array.from({ length: rows }, () => NONE);
    this.bodyOf = new Int32Array(2 * blocks).fill(-1);
    for (const l of links)
      for (const c of l.constraints) {
        c.more.forEach((pair, i) => pair.forEach((b, side) => (this.bodyOf[2 * (c.block + i) + side] = b < bodies ? b : -1)));
        if (c.more.length > 0) this.furtherBlocks[c.row] = Int32Array.from(c.more, (_, i) => c.block + i);
      }
    for (const l of links)
      for (const c of l.constraints)
        for (let k = 0; k < c.rows; k++) {
          this.bodyOf[2 * (c.row + k)] = c.a < bodies ? c.a : -1;
          this.bodyOf[2 * (c.row + k) + 1] = c.b < bodies ? c.b : -1;
        }
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
