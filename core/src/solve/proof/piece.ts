/**
 * A piece of the only way that a machine has, proved: bounds of all postures that its joints allow next to one, that there is a single one of them for every
 * place σ along the way, and bounds of what pushes along it there. With z the coordinates next to the posture (`near.ts`), w the way there and c a plane
 * across it, c·w = 1, Φ(z) = 0 and c·z = σ are solved for all σ at once by Krawczyk’s operator (Computing 4, 1969), on deviations from z = σ w. With
 * N = [G; c], Nᵀ (λ, p) = f gives what the joints carry and the push p = f·u, u being the way with c·u = 1; along it p changes by uᵀ ∂(f − Gᵀλ)/∂z u.
 */
import type { Mechanism } from '../../system/mechanism';
import type { EquationBounds } from '../../system/tangent/equation-bounds';
import { type Around, type Between, EPSILON, around, between, corrected, product, solved } from './around';
import { inverse } from './inverse';
import { Near } from './near';
import { OTHERWISE, Unproved } from './why';

/** Roundings that go into a number of Φ. */
const ROUNDINGS = 64;
/** By how much more than it is bounds are tried for what should lie within them. */
const WIDER = 2;
const ROUNDS = 3;
/** Bounds of deviations from zero even where there is none, in parts of the machine's size. */
const LEAST = 1e-11;

export interface Proved {
  readonly near: Near;
  /** Coordinates within which there are no other postures than those of it. */
  readonly z: Around;
  /** How far it goes to both sides. */
  readonly far: number;
  /** What pushes along the way. */
  readonly push: Between;
  /** How that changes with how far it goes. */
  readonly slope: Between;
  /** Whether something may jump. */
  readonly jumps: boolean;
}

export class Piece {
  readonly near: Near;
  readonly n: number;
  /** The way there, by 1 across the plane. */
  readonly way: Float64Array;
  /** Which of N the rows of joints are: the last of N is the plane. */
  private readonly nth: Int32Array;
  /** Φ where they hold: rounding, and no more. */
  private readonly phi: Float64Array;
  private readonly rounding: number;
  /** N⁻¹ at the posture, row by row. */
  private readonly B: Float64Array;
  /** I − N⁻¹ N, where N is as it was last looked at. */
  private readonly E: Around;

  /**
   * About the posture in K, on its constraints.
   * @param plane c across its way @throws Unproved where its rows leave it other ways
   */
  constructor(
    private readonly m: Mechanism,
    private readonly bounds: EquationBounds,
    t: number,
    readonly plane: Float64Array,
  ) {
    const { system, size } = m,
      { ldlt, bodies } = system,
      { G } = bounds,
      n = (this.n = 6 * bodies);
    this.near = new Near(system, bounds);
    this.nth = new Int32Array(system.rows).fill(-1);
    let rows = 0;
    for (let r = 0; r < system.rows; r++) if (!ldlt.off[r] && !ldlt.redundant[r]) this.nth[r] = rows++;
    if (rows !== n - 1) throw new Unproved(OTHERWISE);
    system.residual(t);
    this.phi = new Float64Array(rows);
    for (let r = 0; r < system.rows; r++) if (this.nth[r]! >= 0) this.phi[this.nth[r]!] = system.phi[r]!;
    this.rounding = ROUNDINGS * EPSILON * Math.max(1, size);

    bounds.take();
    this.near.put(around(n));
    bounds.look();
    const N = new Float64Array(n * n);
    for (let e = 0; e < G.row.length; e++) {
      const k = this.nth[G.row[e]!]!;
      if (k >= 0) N[k * n + G.column[e]!] = N[k * n + G.column[e]!]! + 0.5 * (G.lo[e]! + G.hi[e]!);
    }
    N.set(plane, rows * n);
    const B = inverse(N, n);
    if (!B) throw new Unproved(OTHERWISE);
    this.B = B;
    this.way = this.B.filter((_, i) => i % n === rows);
    this.E = around(n * n);
  }

  /** How far coordinates z are along the way. */
  along(z: Float64Array): number {
    return z.reduce((s, x, i) => s + x * this.plane[i]!, 0);
  }

  /** As far to both sides. @returns undefined where nothing can be said */
  about(far: number): Proved | undefined {
    const { near, bounds, nth, n } = this,
      z = this.postures(far);
    if (!z) return undefined;
    this.beside(false);
    const carried = this.carried(),
      u = carried && corrected(this.way, this.E),
      { jumps } = bounds;
    if (!u) return undefined;
    nth.forEach((k, r) => {
      const at = bounds.multiplierOf(r);
      if (k >= 0) ({ lo: bounds.lo[at], hi: bounds.hi[at] } = between(carried, k));
    });
    bounds.bending();
    return { near, z, far, jumps, push: between(carried, n - 1), slope: over(this.bent(u), this.speed(u)) };
  }
  /** What pushes at the posture itself. */
  push(): Between | undefined {
    if (!this.postures(0)) return undefined;
    this.beside(false);
    const x = this.carried();
    return x && between(x, this.n - 1);
  }

  /**
   * Bounds of the only postures so far along to both sides, which are put into the bounds of equations, and looked at there.
   * @returns undefined where it is not known whether there are any
   */
  private postures(far: number): Around | undefined {
    const { n, near, bounds, way } = this,
      line = { mid: new Float64Array(n), rad: way.map((w) => far * Math.abs(w) * (1 + 4 * EPSILON)) };
    bounds.take();
    near.put(line);
    bounds.look();
    const off = product(this.B, this.off(far)),
      z = around(n);
    let Y = this.wider(off.mid.map((x, i) => Math.abs(x) + off.rad[i]!));
    for (let k = 0; k < ROUNDS; k++) {
      for (let i = 0; i < n; i++) z.rad[i] = (line.rad[i]! + Y[i]!) * (1 + 4 * EPSILON);
      near.put(z);
      bounds.look();
      this.beside(true);
      // −N⁻¹ Φ(σ w) + (I − N⁻¹ N) Y
      const next = off.rad.map((x, i) => {
        let s = Math.abs(off.mid[i]!) + x;
        for (let j = 0; j < n; j++) s += (Math.abs(this.E.mid[i * n + j]!) + this.E.rad[i * n + j]!) * Y[j]!;
        return s * (1 + 2 * n * EPSILON);
      });
      if (next.every((x, i) => x < Y[i]!)) return z;
      Y = this.wider(next);
    }
    return undefined;
  }
  private wider(x: Float64Array): Float64Array {
    const { size } = this.m;
    return x.map((v, i) => WIDER * v + LEAST * (i % 6 < 3 ? size : 1));
  }
  /** What Φ comes to along z = σ w: as much as at the posture, and σ times how it changes there. */
  private off(far: number): Around {
    const { n, nth, phi, rounding, way, bounds } = this,
      { row } = bounds.G,
      out = around(n);
    this.entries(true, (e, mid, rad, at) => {
      const i = nth[row[e]!]!,
        w = way[at]!;
      if (i < 0) return;
      out.mid[i] = out.mid[i]! + mid * w;
      out.rad[i] = out.rad[i]! + rad * Math.abs(w) + 8 * EPSILON * Math.abs(mid * w);
    });
    for (let i = 0; i < n; i++) out.rad[i] = far * (Math.abs(out.mid[i]!) + out.rad[i]! + n * EPSILON) + rounding;
    out.mid.fill(0);
    out.mid.set(phi);
    return out;
  }
  /**
   * Entries of G as they stand in the bounds.
   * @param coordinates whether by z: small turns follow from these
   */
  private entries(coordinates: boolean, take: (e: number, mid: number, rad: number, column: number) => void): void {
    const { column, lo, hi } = this.bounds.G,
      [low, high] = this.near.turns;
    for (let e = 0; e < column.length; e++) {
      const v = column[e]!,
        mid = 0.5 * (lo[e]! + hi[e]!),
        rad = 0.5 * (hi[e]! - lo[e]!) * (1 + 2 * EPSILON) + EPSILON * Math.abs(mid);
      if (!coordinates || v % 6 < 3) {
        take(e, mid, rad, v);
        continue;
      }
      const b = Math.floor(v / 6),
        i = (v % 6) - 3;
      for (let j = 0; j < 3; j++) {
        const at = 9 * b + 3 * i + j,
          [p, q] = [0.5 * (low[at]! + high[at]!), 0.5 * (high[at]! - low[at]!)];
        take(e, mid * p, Math.abs(mid) * q + rad * (Math.abs(p) + q) + 4 * EPSILON * Math.abs(mid * p), 6 * b + 3 + j);
      }
    }
  }
  /** I − N⁻¹ N, where N is as it stands in the bounds. @param coordinates see `entries` */
  private beside(coordinates: boolean): void {
    const { n, B, nth, plane: c, bounds, E } = this,
      { mid, rad } = E,
      { row } = bounds.G;
    mid.fill(0);
    rad.fill(0);
    const take = (k: number, column: number, x: number, r: number) => {
      for (let i = 0; i < n; i++) {
        const b = B[i * n + k]!;
        if (b === 0) continue;
        const at = i * n + column;
        mid[at] = mid[at]! - b * x;
        rad[at] = rad[at]! + Math.abs(b) * r + n * EPSILON * Math.abs(b * x);
      }
    };
    for (let i = 0; i < n; i++) mid[i * n + i] = 1;
    c.forEach((x, j) => x !== 0 && take(n - 1, j, x, 0));
    this.entries(coordinates, (e, x, r, column) => {
      const k = nth[row[e]!]!;
      if (k >= 0) take(k, column, x, r);
    });
  }
  /** What the joints carry, and last the push: Nᵀ x = f. */
  private carried(): Around | undefined {
    const { n, B, plane: c, nth, bounds, E } = this,
      { f, G } = bounds,
      left = around(n);
    for (let e = 0; e < f.row.length; e++) {
      const at = f.row[e]!,
        mid = 0.5 * (f.lo[e]! + f.hi[e]!);
      left.mid[at] = left.mid[at]! + mid;
      left.rad[at] = left.rad[at]! + 0.5 * (f.hi[e]! - f.lo[e]!) + n * EPSILON * Math.abs(mid);
    }
    const x = product(B, left, true).mid;
    // f − Nᵀ x̃; with x = x̃ + Bᵀ y that is (I − Eᵀ) y
    c.forEach((v, i) => {
      left.mid[i] = left.mid[i]! - v * x[n - 1]!;
      left.rad[i] = left.rad[i]! + n * EPSILON * Math.abs(v * x[n - 1]!);
    });
    this.entries(false, (e, mid, rad, column) => {
      const k = nth[G.row[e]!]!;
      if (k < 0) return;
      left.mid[column] = left.mid[column]! - mid * x[k]!;
      left.rad[column] = left.rad[column]! + rad * Math.abs(x[k]!) + n * EPSILON * Math.abs(mid * x[k]!);
    });
    const y = solved(left, E, true),
      more = y && product(B, y, true);
    return more && { mid: x.map((v, i) => v + more.mid[i]!), rad: more.rad.map((r, i) => r + 2 * EPSILON * Math.abs(x[i]!)) };
  }
  /** uᵀ ∂(f − Gᵀλ)/∂z u */
  private bent({ mid, rad }: Around): Between {
    const { K } = this.bounds;
    let [x, r] = [0, 0];
    for (let e = 0; e < K.row.length; e++) {
      const [i, j] = [K.row[e]!, K.column[e]!],
        k = 0.5 * (K.lo[e]! + K.hi[e]!),
        s = 0.5 * (K.hi[e]! - K.lo[e]!),
        [a, b] = [mid[i]!, mid[j]!],
        [p, q] = [rad[i]!, rad[j]!],
        both = Math.abs(a) * q + p * Math.abs(b) + p * q;
      x += k * a * b;
      r += Math.abs(k) * both + s * (Math.abs(a * b) + both) + this.n * EPSILON * Math.abs(k * a * b);
    }
    return { lo: x - r, hi: x + r };
  }
  /** How fast it goes across the plane where it moves as u does: dz = (I + c × + c cᵀ) δθ. */
  private speed({ mid, rad }: Around): Between {
    const { n, plane: c } = this,
      [low, high] = this.near.back;
    let [x, r] = [0, 0];
    for (let i = 0; i < n; i++) {
      if (i % 6 < 3) {
        x += c[i]! * mid[i]!;
        r += Math.abs(c[i]!) * rad[i]!;
        continue;
      }
      const b = Math.floor(i / 6);
      for (let j = 0; j < 3; j++) {
        const at = 9 * b + 3 * ((i % 6) - 3) + j,
          [p, q] = [0.5 * (low[at]! + high[at]!), 0.5 * (high[at]! - low[at]!)],
          v = 6 * b + 3 + j;
        x += c[i]! * p * mid[v]!;
        r += Math.abs(c[i]!) * (q * (Math.abs(mid[v]!) + rad[v]!) + (Math.abs(p) + q) * rad[v]!);
      }
    }
    r += 4 * n * EPSILON * Math.abs(x);
    return { lo: x - r, hi: x + r };
  }
}

/** What changes so much while something else goes so far: by how much with that. */
function over({ lo, hi }: Between, by: Between): Between {
  if (!(by.lo > 0)) return { lo: -Infinity, hi: Infinity };
  return { lo: lo / (lo < 0 ? by.lo : by.hi), hi: hi / (hi < 0 ? by.hi : by.lo) };
}
