/**
 * A piece of the way of a machine with a single degree of freedom, proved: bounds of all postures that its joints allow next to one, that there is a single one of
 * them for every place σ along the way, and bounds of what pushes along it there. With z the coordinates next to the posture (`near.ts`), w the way there and c
 * a vector with c·w = 1, Φ(z) = 0 and c·z = σ are solved for all σ of a range at once by Krawczyk’s operator (Computing 4, 1969; Rump, Acta Numerica 19, 2010),
 * on deviations from z = σ w. With N = [G; c], Nᵀ (λ, p) = f gives what the joints carry and the push p = f·u, u being the way with c·u = 1; along it p changes
 * by uᵀ ∂(f − Gᵀλ)/∂z u.
 */
import { DenseLu } from '../../linear/dense';
import type { Mechanism } from '../../system/mechanism';
import type { Bounds, Enclosure } from '../../system/tangent/enclosure';
import { type Around, Near, around } from './near';

const EPSILON = 2.220446049250313e-16;
/** Of rounding: roundings that go into a row of G times its variables, and into its Φ. */
const ROUNDINGS = 64;
/** By how much more than it is bounds are tried for what should lie within them. */
const WIDER = 2;
const ROUNDS = 3;
/** Bounds of deviations from zero even where there is none, in parts of the machine's size. */
const LEAST = 1e-11;

/** A number between two others. */
export interface Between {
  readonly lo: number;
  readonly hi: number;
}
export interface Proved {
  readonly near: Near;
  /** Coordinates within which there are no other postures than those of it. */
  readonly z: Around;
  /** How far it goes to both sides. */
  readonly far: number;
  /** What pushes along the way. */
  readonly push: Between;
  /** How it changes with how far it goes along it; whether it may jump. */
  readonly slope: Between;
  readonly jumps: boolean;
}

export class Piece {
  readonly near: Near;
  readonly n: number;
  /** The way there, and c. */
  readonly way: Float64Array;
  private readonly c: Float64Array;
  /** Rows that hold, by the rows of the system. */
  private readonly nth: Int32Array;
  private readonly rows: number;
  /** Φ where they hold: rounding, and no more. */
  private readonly phi: Float64Array;
  private readonly rounding: number;
  /** N⁻¹ at the posture, row by row. */
  private readonly B: Float64Array;
  /** I − N⁻¹ N, where N is as it was last looked at. */
  private readonly E: Around;

  /**
   * About the posture in K, on its constraints.
   * @param way in which it can move there @throws RangeError where its rows leave it other ways
   */
  constructor(
    private readonly m: Mechanism,
    private readonly enclosure: Enclosure,
    t: number,
    way: Float64Array,
  ) {
    const { system, size } = m,
      { ldlt, bodies } = system,
      n = (this.n = 6 * bodies),
      scale = (i: number) => (i % 6 < 3 ? 1 / size : 1);
    this.way = way;
    this.near = new Near(system, enclosure);
    this.nth = new Int32Array(system.rows).fill(-1);
    let rows = 0;
    for (let r = 0; r < system.rows; r++) if (!ldlt.off[r] && !ldlt.redundant[r]) this.nth[r] = rows++;
    if (rows !== n - 1) throw new RangeError('It can move otherwise.');
    this.rows = rows;
    const length = way.reduce((s, x, i) => s + x * x * scale(i) * scale(i), 0);
    this.c = way.map((x, i) => (x * scale(i) * scale(i)) / length);
    system.residual(t);
    this.phi = new Float64Array(rows);
    this.nth.forEach((k, r) => k >= 0 && (this.phi[k] = system.phi[r]!));
    this.rounding = ROUNDINGS * EPSILON * Math.max(1, size);

    const still = around(n);
    enclosure.take();
    this.near.put(still);
    enclosure.look();
    const A = new Float64Array(n * n),
      { G } = enclosure;
    for (let e = 0; e < G.row.length; e++) {
      const k = this.nth[G.row[e]!]!;
      if (k >= 0) A[k * n + G.column[e]!] = A[k * n + G.column[e]!]! + 0.5 * (G.lo[e]! + G.hi[e]!);
    }
    A.set(this.c, rows * n);
    this.B = inverse(A, n);
    this.E = around(n * n);
  }

  /** How far coordinates are along the way. */
  readonly along = (z: Float64Array): number => z.reduce((s, x, i) => s + x * this.c[i]!, 0);

  /** As far to both sides. @returns undefined where nothing can be said */
  about(far: number): Proved | undefined {
    const { n, near, enclosure } = this,
      found = this.postures(far),
      carried = found && this.carried(),
      u = carried && this.wayIn();
    if (!found || !carried || !u) return undefined;
    const { jumps } = enclosure,
      last = n - 1;
    this.nth.forEach((k, r) => {
      if (k < 0) return;
      const at = enclosure.multiplierOf(r);
      enclosure.lo[at] = carried.mid[k]! - carried.rad[k]!;
      enclosure.hi[at] = carried.mid[k]! + carried.rad[k]!;
    });
    enclosure.bending();
    return {
      near,
      z: found,
      far,
      jumps,
      push: { lo: carried.mid[last]! - carried.rad[last]!, hi: carried.mid[last]! + carried.rad[last]! },
      slope: this.bent(u),
    };
  }
  /** What pushes at the posture itself. */
  push(): Between | undefined {
    const x = this.postures(0) && this.carried(),
      last = this.n - 1;
    return x && { lo: x.mid[last]! - x.rad[last]!, hi: x.mid[last]! + x.rad[last]! };
  }

  /**
   * Bounds of the only postures so far along to both sides, which are put into the enclosure, and looked at there.
   * @returns undefined where it is not known whether there are any
   */
  private postures(far: number): Around | undefined {
    const { n, near, enclosure, way } = this,
      line: Around = { mid: new Float64Array(n), rad: way.map((x) => far * Math.abs(x)) };
    enclosure.take();
    near.put(line);
    enclosure.look();
    const Y0 = this.through(this.off(far)),
      z = around(n);
    let Y = this.wider(Y0);
    for (let k = 0; k < ROUNDS; k++) {
      for (let i = 0; i < n; i++) z.rad[i] = (line.rad[i]! + Y[i]!) * (1 + 4 * EPSILON);
      near.put(z);
      enclosure.look();
      this.beside(true);
      const K = this.krawczyk(Y0, Y);
      if (K.mid.every((x, i) => Math.abs(x) + K.rad[i]! < Y[i]!)) {
        this.beside(false);
        return z;
      }
      Y = this.wider(K);
    }
    return undefined;
  }

  /** Bounds about zero, which the line is. */
  private wider({ mid, rad }: Around): Float64Array {
    const { size } = this.m;
    return rad.map((x, i) => WIDER * (x + Math.abs(mid[i]!)) + LEAST * (i % 6 < 3 ? size : 1));
  }
  /** Φ along the line σ w: what it is in its middle, and σ times how it changes there. */
  private off(far: number): Around {
    const { n, rows, nth, phi, rounding, way, enclosure } = this,
      out = around(n);
    this.product(enclosure.G, true, (e, mid, rad) => {
      const k = nth[enclosure.G.row[e]!]!,
        x = way[enclosure.G.column[e]!]!;
      if (k < 0) return;
      out.mid[k] = out.mid[k]! + mid * x;
      out.rad[k] = out.rad[k]! + rad * Math.abs(x) + 8 * EPSILON * Math.abs(mid * x);
    });
    for (let k = 0; k < rows; k++) {
      out.rad[k] = far * (Math.abs(out.mid[k]!) + out.rad[k]!) + rounding;
      out.mid[k] = phi[k]!;
    }
    out.rad[n - 1] = n * EPSILON * far;
    return out;
  }
  /** −N⁻¹ times something. */
  private through({ mid, rad }: Around): Around {
    const { n, B } = this,
      out = around(n);
    for (let i = 0; i < n; i++) {
      let [x, r, size] = [0, 0, 0];
      for (let k = 0; k < n; k++) {
        const b = B[i * n + k]!;
        if (b === 0) continue;
        x -= b * mid[k]!;
        r += Math.abs(b) * rad[k]!;
        size += Math.abs(b * mid[k]!);
      }
      out.mid[i] = x;
      out.rad[i] = r * (1 + n * EPSILON) + n * EPSILON * size;
    }
    return out;
  }
  /**
   * Entries of G as they stand in the enclosure.
   * @param coordinates whether by z: small turns follow from these
   */
  private product(
    { column, lo, hi }: Bounds,
    coordinates: boolean,
    take: (e: number, mid: number, rad: number, column: number) => void,
  ): void {
    const [low, high] = this.near.turns;
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
  /** I − N⁻¹ N, where N is as it stands in the enclosure. @param coordinates see `product` */
  private beside(coordinates: boolean): void {
    const { n, B, nth, c, enclosure } = this,
      { mid, rad } = this.E,
      { row } = enclosure.G;
    mid.fill(0);
    rad.fill(0);
    for (let i = 0; i < n; i++) {
      mid[i * n + i] = 1;
      const b = B[i * n + n - 1]!;
      for (let j = 0; j < n; j++) {
        mid[i * n + j] = mid[i * n + j]! - b * c[j]!;
        rad[i * n + j] = n * EPSILON * (Math.abs(mid[i * n + j]!) + Math.abs(b * c[j]!));
      }
    }
    this.product(enclosure.G, coordinates, (e, x, r, column) => {
      const k = nth[row[e]!]!;
      if (k < 0) return;
      for (let i = 0; i < n; i++) {
        const b = B[i * n + k]!;
        if (b === 0) continue;
        const at = i * n + column;
        mid[at] = mid[at]! - b * x;
        rad[at] = rad[at]! + Math.abs(b) * r + n * EPSILON * Math.abs(b * x);
      }
    });
  }
  /** Y0 + (I − N⁻¹ N) Y */
  private krawczyk(Y0: Around, Y: Float64Array): Around {
    const { n, E } = this,
      out = around(n);
    for (let i = 0; i < n; i++) {
      let r = Y0.rad[i]!;
      for (let j = 0, a = i * n; j < n; j++, a++) {
        r += (Math.abs(E.mid[a]!) + E.rad[a]!) * Y[j]!;
      }
      out.mid[i] = Y0.mid[i]!;
      out.rad[i] = r * (1 + n * EPSILON);
    }
    return out;
  }
  /**
   * Bounds of x where x = d + Q x and Q is small; undefined where it is not.
   * @param at the size of an entry of Q
   */
  private closed(d: Around, at: (i: number, j: number) => number): Around | undefined {
    const { n } = this,
      times = (x: Float64Array, first: Float64Array) =>
        first.map((f, i) => {
          let s = f;
          for (let j = 0; j < n; j++) s += at(i, j) * x[j]!;
          return s * (1 + 2 * n * EPSILON);
        }),
      first = d.mid.map((x, i) => Math.abs(x) + d.rad[i]!),
      // where all that it is made of is zero there is none of it
      least = first.reduce((most, x) => Math.max(most, x), Number.MIN_VALUE) * EPSILON;
    let x = first;
    for (let k = 0; k < ROUNDS; k++) x = times(x, first);
    const bound = x.map((v) => 1.1 * v + least);
    return times(bound, first).every((v, i) => v <= bound[i]!) ? { mid: d.mid, rad: times(bound, d.rad) } : undefined;
  }
  /** What the joints carry, and last the push: Nᵀ x = f. */
  private carried(): Around | undefined {
    const { n, B, E, c, nth, enclosure } = this,
      { f, G } = enclosure,
      x = new Float64Array(n),
      left = around(n);
    for (let e = 0; e < f.row.length; e++) {
      const mid = 0.5 * (f.lo[e]! + f.hi[e]!);
      left.mid[f.row[e]!] = left.mid[f.row[e]!]! + mid;
      left.rad[f.row[e]!] = left.rad[f.row[e]!]! + 0.5 * (f.hi[e]! - f.lo[e]!) + 4 * EPSILON * Math.abs(mid);
    }
    for (let k = 0; k < n; k++) for (let i = 0; i < n; i++) x[k] = x[k]! + B[i * n + k]! * left.mid[i]!;
    // f − Nᵀ x̃
    for (let i = 0; i < n; i++) {
      left.mid[i] = left.mid[i]! - c[i]! * x[n - 1]!;
      left.rad[i] = left.rad[i]! + 4 * EPSILON * Math.abs(c[i]! * x[n - 1]!);
    }
    this.product(G, false, (e, mid, rad, column) => {
      const k = nth[G.row[e]!]!;
      if (k < 0) return;
      left.mid[column] = left.mid[column]! - mid * x[k]!;
      left.rad[column] = left.rad[column]! + rad * Math.abs(x[k]!) + n * EPSILON * Math.abs(mid * x[k]!);
    });
    for (let i = 0; i < n; i++) left.rad[i] = left.rad[i]! + n * EPSILON * Math.abs(left.mid[i]!);
    // N = (I − E) at the posture: with x = x̃ + Bᵀ y, (I − Eᵀ) y is what is left
    const y = this.closed(left, (i, j) => Math.abs(E.mid[j * n + i]!) + E.rad[j * n + i]!);
    if (!y) return undefined;
    const out = { mid: x, rad: new Float64Array(n) };
    for (let i = 0; i < n; i++)
      for (let k = 0; k < n; k++) {
        const b = B[i * n + k]!;
        out.mid[k] = out.mid[k]! + b * y.mid[i]!;
        out.rad[k] = out.rad[k]! + Math.abs(b) * y.rad[i]! + n * EPSILON * Math.abs(b * y.mid[i]!);
      }
    return out;
  }
  /** The way with c·u = 1: N u = (0, …, 0, 1). */
  private wayIn(): Around | undefined {
    const { n, way, E } = this,
      d = around(n);
    // N⁻¹ (e − N w) = (I − N⁻¹ N) w, as N⁻¹ e is w but for rounding
    for (let i = 0; i < n; i++) {
      const from = this.B[i * n + n - 1]! - way[i]!;
      d.mid[i] = from;
      d.rad[i] = n * EPSILON * Math.abs(way[i]!);
      for (let j = 0; j < n; j++) {
        d.mid[i] = d.mid[i]! + E.mid[i * n + j]! * way[j]!;
        d.rad[i] = d.rad[i]! + E.rad[i * n + j]! * Math.abs(way[j]!) + n * EPSILON * Math.abs(E.mid[i * n + j]! * way[j]!);
      }
    }
    const off = this.closed(d, (i, j) => Math.abs(E.mid[i * n + j]!) + E.rad[i * n + j]!);
    return off && { mid: off.mid.map((x, i) => way[i]! + x), rad: off.rad.map((x, i) => x + EPSILON * Math.abs(way[i]!)) };
  }
  /** uᵀ K u, by how far z goes along c: c·(dz/ds) times faster than u. */
  private bent({ mid, rad }: Around): Between {
    const { K } = this.enclosure,
      { c, n } = this,
      [low, high] = this.near.back;
    let [x, r] = [0, 0];
    for (let e = 0; e < K.row.length; e++) {
      const [i, j] = [K.row[e]!, K.column[e]!],
        k = 0.5 * (K.lo[e]! + K.hi[e]!),
        s = 0.5 * (K.hi[e]! - K.lo[e]!),
        [a, b] = [mid[i]!, mid[j]!],
        [p, q] = [rad[i]!, rad[j]!],
        both = Math.abs(a) * q + p * Math.abs(b) + p * q;
      x += k * a * b;
      r += Math.abs(k) * both + s * (Math.abs(a * b) + both) + n * EPSILON * Math.abs(k * a * b);
    }
    // dz = (I + c × + c cᵀ) δθ
    let [fast, off] = [0, 0];
    for (let i = 0; i < n; i++) {
      if (i % 6 < 3) {
        fast += c[i]! * mid[i]!;
        off += Math.abs(c[i]!) * rad[i]!;
        continue;
      }
      const b = Math.floor(i / 6);
      for (let j = 0; j < 3; j++) {
        const at = 9 * b + 3 * ((i % 6) - 3) + j,
          [p, q] = [0.5 * (low[at]! + high[at]!), 0.5 * (high[at]! - low[at]!)],
          v = 6 * b + 3 + j;
        fast += c[i]! * p * mid[v]!;
        off += Math.abs(c[i]!) * (q * (Math.abs(mid[v]!) + rad[v]!) + (Math.abs(p) + q) * rad[v]!);
      }
    }
    off += 4 * n * EPSILON * Math.abs(fast);
    if (!(fast > off)) return { lo: -Infinity, hi: Infinity };
    const [least, most] = [1 / (fast + off), 1 / (fast - off)],
      [lo, hi] = [x - r, x + r];
    return { lo: lo * (lo < 0 ? most : least), hi: hi * (hi < 0 ? least : most) };
  }
}

function inverse(A: Float64Array, n: number): Float64Array {
  const lu = new DenseLu(n, A),
    out = new Float64Array(n * n),
    x = new Float64Array(n);
  if (!lu.factorise()) throw new RangeError('It can move otherwise.');
  for (let k = 0; k < n; k++) {
    x.fill(0);
    x[k] = 1;
    lu.solve(x);
    for (let i = 0; i < n; i++) out[i * n + k] = x[i]!;
  }
  return out;
}
