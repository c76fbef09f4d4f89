/**
 * What rows that close loops carry of pushes Q, and what is left to push the coordinates that lead. With N = [J; C], Nᵀ (λ, p) = Q; all is told from how it is
 * in the middle of a cell: of B = N⁻¹ there, I − B N is −B ∂N δ, and so small as the cell is; with λ as it is there, Q − Nᵀ (λ, p) is ∂(Q − Jᵀλ)/∂q δ, and
 * B as it is there is applied before bounds are taken (Neumaier, Interval Methods for Systems of Equations, 1990, § 2.3).
 */
import { type Around, EPSILON, around, corrected, solved } from './around';
import { inverse } from './inverse';

/** Part by which what is known in the middle may be off by rounding of an inverse. */
const ROUNDED = 1e-6;

/** Rows in a cell: J in its middle, row by row; how each changes by two coordinates, Hₖ = ∂Jₖ/∂q; and how far it goes to both sides. */
export interface Rows {
  readonly n: number;
  readonly J: Around;
  readonly H: readonly Around[];
  readonly far: Float64Array;
}
interface Pushes {
  /** In the middle, and anywhere in the cell. */
  readonly here: readonly { readonly lo: number; readonly hi: number }[];
  readonly push: readonly { readonly lo: number; readonly hi: number }[];
  /** How each changes with all coordinates. */
  readonly slope: readonly Around[];
}

/** M J anywhere in a cell. @param M of as many columns as J has rows @param part of how it changes that counts */
export function combined(M: Float64Array, { n, J, H, far }: Rows, part = 1): Around {
  const rows = H.length,
    count = M.length / rows,
    out = around(count * n),
    slop = (2 * n + 4) * EPSILON;
  for (let i = 0; i < count; i++)
    for (let j = 0; j < n; j++) {
      let [x, r] = [0, 0];
      for (let k = 0; k < rows; k++) {
        const [b, y] = [M[i * rows + k]!, J.mid[k * n + j]!];
        x += b * y;
        r += Math.abs(b) * (J.rad[k * n + j]! + slop * Math.abs(y));
      }
      for (let m = 0; m < n; m++) {
        let [h, s] = [0, 0];
        for (let k = 0; k < rows; k++) {
          const [b, at] = [M[i * rows + k]!, j * n + m];
          h += b * H[k]!.mid[at]!;
          s += Math.abs(b) * (H[k]!.rad[at]! + slop * Math.abs(H[k]!.mid[at]!));
        }
        r += part * far[m]! * (Math.abs(h) + s);
      }
      out.mid[i * n + j] = x;
      out.rad[i * n + j] = r * (1 + slop);
    }
  return out;
}

export class Closed {
  private constructor(
    private readonly rows: Rows,
    private readonly leading: readonly number[],
    /** N⁻¹ in the middle; I − N⁻¹ N. */
    private readonly B: Float64Array,
    private readonly E: Around,
    /** u with N u = (0, e), one for each coordinate that leads. */
    private readonly ways: readonly Around[],
  ) {}

  /** @param leading coordinates @returns undefined where nothing is known */
  static of(rows: Rows, leading: readonly number[]): Closed | undefined {
    const { n, J, H } = rows,
      closing = H.length,
      N = new Float64Array(n * n);
    if (closing + leading.length !== n) return undefined;
    N.set(J.mid);
    leading.forEach((a, k) => (N[(closing + k) * n + a] = 1));
    const B = inverse(N, n);
    if (!B) return undefined;
    // B of the rows of J alone: those of C do not change
    const E = combined(
      B.filter((_, e) => e % n < closing),
      rows,
    );
    for (let i = 0; i < n; i++) {
      leading.forEach((a, k) => (E.mid[i * n + a] = E.mid[i * n + a]! + B[i * n + closing + k]!));
      for (let j = 0; j < n; j++) {
        E.rad[i * n + j] = E.rad[i * n + j]! + 8 * EPSILON * (1 + Math.abs(E.mid[i * n + j]!));
        E.mid[i * n + j] = (i === j ? 1 : 0) - E.mid[i * n + j]!;
      }
    }
    const ways = leading.map((_, k) =>
      corrected(
        Float64Array.from({ length: n }, (_x, i) => B[i * n + closing + k]!),
        E,
      ),
    );
    return ways.every((u) => u !== undefined) ? new Closed(rows, leading, B, E, ways) : undefined;
  }

  /** @param Q pushes in the middle @param S how they change in the cell; undefined where nothing is known */
  pushes(Q: Around, S: Around): Pushes | undefined {
    const { rows, leading, B, E, ways } = this,
      { n, J, H, far } = rows,
      closing = H.length,
      slop = (4 * n + 8) * EPSILON,
      // (λ, p) in the middle, as near as rounding tells
      x = new Float64Array(n),
      off = new Float64Array(n);
    for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) x[j] = x[j]! + B[i * n + j]! * Q.mid[i]!;
    for (let j = 0; j < n; j++) {
      let [s, r] = [Q.mid[j]!, Q.rad[j]! + slop * Math.abs(Q.mid[j]!)];
      for (let k = 0; k < closing; k++) {
        const y = J.mid[k * n + j]! * x[k]!;
        s -= y;
        r += J.rad[k * n + j]! * Math.abs(x[k]!) + slop * Math.abs(y);
      }
      const k = leading.indexOf(j);
      if (k >= 0) {
        s -= x[closing + k]!;
        r += slop * Math.abs(x[closing + k]!);
      }
      off[j] = Math.abs(s) + r;
    }
    // how Q − Jᵀλ changes with that λ
    const D = around(n * n);
    for (let e = 0; e < n * n; e++) {
      let [s, r] = [S.mid[e]!, S.rad[e]! + slop * Math.abs(S.mid[e]!)];
      for (let k = 0; k < closing; k++) {
        s -= x[k]! * H[k]!.mid[e]!;
        r += Math.abs(x[k]!) * (H[k]!.rad[e]! + slop * Math.abs(H[k]!.mid[e]!));
      }
      D.mid[e] = s;
      D.rad[e] = r;
    }
    const left = around(n);
    for (let j = 0; j < n; j++) {
      left.rad[j] = off[j]!;
      for (let m = 0; m < n; m++) left.rad[j] = left.rad[j]! + far[m]! * (Math.abs(D.mid[j * n + m]!) + D.rad[j * n + m]!);
    }
    // y = left + Eᵀ y
    const y = solved(left, E, true);
    if (!y) return undefined;
    const more = new Float64Array(n);
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++) more[i] = more[i]! + (Math.abs(E.mid[j * n + i]!) + E.rad[j * n + i]!) * y.rad[j]!;
    const near = new Float64Array(n),
      all = new Float64Array(n);
    for (let i = 0; i < n; i++) {
      let [r, least] = [0, slop * Math.abs(x[i]!)];
      for (let m = 0; m < n; m++) {
        let [s, e] = [0, 0];
        for (let j = 0; j < n; j++) {
          const b = B[j * n + i]!;
          s += b * D.mid[j * n + m]!;
          e += Math.abs(b) * (D.rad[j * n + m]! + slop * Math.abs(D.mid[j * n + m]!));
        }
        r += far[m]! * (Math.abs(s) + e);
      }
      for (let j = 0; j < n; j++) {
        const b = Math.abs(B[j * n + i]!);
        // in the middle N differs from that which B is the inverse of by rounding alone
        least += b * off[j]! * (1 + ROUNDED);
        r += b * more[j]!;
      }
      near[i] = least;
      all[i] = (r + least) * (1 + slop);
    }
    const between = (by: Float64Array) =>
      leading.map((_, k) => ({ lo: x[closing + k]! - by[closing + k]!, hi: x[closing + k]! + by[closing + k]! }));
    return { here: between(near), push: between(all), slope: ways.map((u) => this.slope(u, x, all, S)) };
  }
  /** uᵀ ∂(Q − Jᵀλ)/∂q, λ anywhere in the cell. */
  private slope(u: Around, x: Float64Array, all: Float64Array, S: Around): Around {
    const { n, H } = this.rows,
      out = around(n),
      slop = (4 * n + 8) * EPSILON;
    for (let j = 0; j < n; j++) {
      let [s, r] = [0, 0];
      for (let i = 0; i < n; i++) {
        const e = i * n + j;
        let [d, off] = [S.mid[e]!, S.rad[e]!];
        for (let k = 0; k < H.length; k++) {
          d -= x[k]! * H[k]!.mid[e]!;
          off += Math.abs(x[k]!) * (H[k]!.rad[e]! + slop * Math.abs(H[k]!.mid[e]!)) + all[k]! * (Math.abs(H[k]!.mid[e]!) + H[k]!.rad[e]!);
        }
        s += u.mid[i]! * d;
        r += Math.abs(u.mid[i]!) * off + u.rad[i]! * (Math.abs(d) + off) + slop * Math.abs(u.mid[i]! * d);
      }
      out.mid[j] = s;
      out.rad[j] = r;
    }
    return out;
  }
}
