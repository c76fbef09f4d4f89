/**
 * Sparse LU of a matrix whose pattern is symmetric and whose values are not, in a fixed order without pivoting, real and complex. Pattern and fill are those
 * of `pattern.ts`; factorising is one pass through flat arrays (right-looking, Golub & Van Loan, Matrix Computations, alg. 3.2.1, over a fixed pattern).
 * Lower[p] and upper[p] mirror each other: row index[p] of column k, and column index[p] of row k; the diagonals stand in `upper`.
 */
import type { Pattern } from './pattern';

/** A pivot below this part of the largest entry of its column says that the matrix is singular, or that it needs another order. */
const VANISHING = 1e-14;

export class SparseLu {
  /** The lower triangle, then the upper one. */
  readonly values: Float64Array;
  private readonly lower: Float64Array;
  private readonly upper: Float64Array;
  constructor(readonly pattern: Pattern) {
    const n = pattern.index.length;
    this.values = new Float64Array(2 * n);
    this.lower = this.values.subarray(0, n);
    this.upper = this.values.subarray(n);
  }
  get size(): number {
    return this.pattern.start.length - 1;
  }

  /** @returns whether no pivot vanished */
  factorise(): boolean {
    const { lower: L, upper: U, size } = this,
      { start, target } = this.pattern;
    let t = 0;
    for (let k = 0; k < size; k++) {
      const from = start[k]! + 1,
        to = start[k + 1]!,
        d = U[from - 1]!;
      let most = 0;
      for (let p = from; p < to; p++) most = Math.max(most, Math.abs(L[p]!), Math.abs(U[p]!));
      if (!(Math.abs(d) > VANISHING * most)) return false;
      const inverse = 1 / d;
      for (let p = from; p < to; p++) L[p] = L[p]! * inverse;
      for (let p = from; p < to; p++) {
        const l = L[p]!,
          u = U[p]!,
          at = target[t++]!;
        U[at] = U[at]! - l * u;
        for (let q = p + 1; q < to; q++) {
          const to2 = target[t++]!;
          L[to2] = L[to2]! - L[q]! * u;
          U[to2] = U[to2]! - l * U[q]!;
        }
      }
    }
    return true;
  }

  /** How many pivots are negative. */
  get negative(): number {
    const { start } = this.pattern;
    let n = 0;
    for (let k = 0; k < this.size; k++) if (this.upper[start[k]!]! < 0) n++;
    return n;
  }

  /** In place, in the order of the pattern. */
  solve(x: Float64Array): void {
    const { lower: L, upper: U, size } = this,
      { start, index } = this.pattern;
    for (let k = 0; k < size; k++) {
      const s = x[k]!;
      if (s !== 0) for (let p = start[k]! + 1; p < start[k + 1]!; p++) x[index[p]!] = x[index[p]!]! - L[p]! * s;
    }
    for (let k = size - 1; k >= 0; k--) {
      let s = x[k]!;
      for (let p = start[k]! + 1; p < start[k + 1]!; p++) s -= U[p]! * x[index[p]!]!;
      x[k] = s / U[start[k]!]!;
    }
  }
}

/** The same for complex matrices: real and imaginary parts apart. */
export class SparseComplexLu {
  /** As of `SparseLu`. */
  readonly re: Float64Array;
  readonly im: Float64Array;
  private readonly lower: readonly [re: Float64Array, im: Float64Array];
  private readonly upper: readonly [re: Float64Array, im: Float64Array];
  constructor(readonly pattern: Pattern) {
    const n = pattern.index.length;
    this.re = new Float64Array(2 * n);
    this.im = new Float64Array(2 * n);
    this.lower = [this.re.subarray(0, n), this.im.subarray(0, n)];
    this.upper = [this.re.subarray(n), this.im.subarray(n)];
  }
  get size(): number {
    return this.pattern.start.length - 1;
  }

  factorise(): boolean {
    const { size } = this,
      [L, Li] = this.lower,
      [U, Ui] = this.upper,
      { start, target } = this.pattern;
    let t = 0;
    for (let k = 0; k < size; k++) {
      const from = start[k]! + 1,
        to = start[k + 1]!,
        d = U[from - 1]!,
        e = Ui[from - 1]!,
        square = d * d + e * e;
      let most = 0;
      for (let p = from; p < to; p++) most = Math.max(most, Math.abs(L[p]!) + Math.abs(Li[p]!), Math.abs(U[p]!) + Math.abs(Ui[p]!));
      if (!(Math.sqrt(square) > VANISHING * most)) return false;
      const a = d / square,
        b = -e / square;
      for (let p = from; p < to; p++) {
        const x = L[p]!,
          y = Li[p]!;
        L[p] = x * a - y * b;
        Li[p] = x * b + y * a;
      }
      for (let p = from; p < to; p++) {
        const l = L[p]!,
          li = Li[p]!,
          u = U[p]!,
          ui = Ui[p]!,
          at = target[t++]!;
        U[at] = U[at]! - (l * u - li * ui);
        Ui[at] = Ui[at]! - (l * ui + li * u);
        for (let q = p + 1; q < to; q++) {
          const g = target[t++]!,
            m = L[q]!,
            mi = Li[q]!,
            v = U[q]!,
            vi = Ui[q]!;
          L[g] = L[g]! - (m * u - mi * ui);
          Li[g] = Li[g]! - (m * ui + mi * u);
          U[g] = U[g]! - (l * v - li * vi);
          Ui[g] = Ui[g]! - (l * vi + li * v);
        }
      }
    }
    return true;
  }

  solve(x: Float64Array, y: Float64Array): void {
    const { size } = this,
      [L, Li] = this.lower,
      [U, Ui] = this.upper,
      { start, index } = this.pattern;
    for (let k = 0; k < size; k++) {
      const s = x[k]!,
        r = y[k]!;
      if (s === 0 && r === 0) continue;
      for (let p = start[k]! + 1; p < start[k + 1]!; p++) {
        const i = index[p]!,
          l = L[p]!,
          m = Li[p]!;
        x[i] = x[i]! - (l * s - m * r);
        y[i] = y[i]! - (l * r + m * s);
      }
    }
    for (let k = size - 1; k >= 0; k--) {
      let s = x[k]!,
        r = y[k]!;
      for (let p = start[k]! + 1; p < start[k + 1]!; p++) {
        const i = index[p]!,
          u = U[p]!,
          v = Ui[p]!;
        s -= u * x[i]! - v * y[i]!;
        r -= u * y[i]! + v * x[i]!;
      }
      const d = U[start[k]!]!,
        e = Ui[start[k]!]!,
        square = d * d + e * e;
      x[k] = (s * d + r * e) / square;
      y[k] = (r * d - s * e) / square;
    }
  }
}
