/**
 * Data points made into a function: straight lines, monotone cubics (Fritsch & Butland, SIAM J. Sci. Stat. Comput. 5, 1984) or Akima's
 * cubics (J. ACM 17, 1970). Every piece is a cubic, so value, slope, curvature and integral are exact.
 */
import type { Outside } from '../expressions/graph';
import { compatible, inWords, type Dimension } from '../quantity/dimension';
import { sin } from '../quantity/elementary';
import { DimensionMismatch, type FormulaFunction } from './functions';

export type Between = 'linear' | 'monotone' | 'akima';
export type Beyond = 'hold' | 'extend' | 'repeat';

const PI = 3.141592653589793;

export class Table {
  /** Value, slope and curvature after `at`. */
  f = 0;
  f1 = 0;
  f2 = 0;
  /** At each point, of cubics. */
  readonly slope: Float64Array;
  /** Integral from the first point to each point. */
  private readonly area: Float64Array;
  private piece = 0;

  /**
   * @param x increasing, SI
   * @param y of the same length (at least two), SI; for `repeat` the last equals the first
   */
  constructor(
    readonly x: Float64Array,
    readonly y: Float64Array,
    readonly between: Between,
    readonly beyond: Beyond,
    readonly dims: readonly [x: Dimension, y: Dimension],
  ) {
    this.slope =
      between === 'linear'
        ? new Float64Array(x.length)
        : between === 'monotone'
          ? monotone(x, y, beyond === 'repeat')
          : akima(x, y, beyond === 'repeat');
    this.area = new Float64Array(x.length);
    for (let i = 1; i < x.length; i++) this.area[i] = this.area[i - 1]! + this.within(i - 1, x[i]! - x[i - 1]!);
  }

  get length(): number {
    return this.x.length;
  }

  /** @param u argument, SI */
  at(u: number): this {
    const { x, y, between, beyond } = this;
    const n = x.length,
      first = x[0]!,
      last = x[n - 1]!;
    let s = u;
    if (beyond === 'repeat') s = u - Math.floor((u - first) / (last - first)) * (last - first);
    else if (u < first || u > last) {
      const end = u < first ? 0 : n - 1;
      const slope = beyond === 'hold' ? 0 : this.slopeAt(end);
      this.f = y[end]! + slope * (u - x[end]!);
      this.f1 = slope;
      this.f2 = 0;
      return this;
    }
    const i = this.find(s);
    const w = x[i + 1]! - x[i]!,
      d = s - x[i]!;
    const rise = (y[i + 1]! - y[i]!) / w;
    if (between === 'linear') {
      this.f = y[i]! + rise * d;
      this.f1 = rise;
      this.f2 = 0;
      return this;
    }
    const a = this.slope[i]!,
      b = this.slope[i + 1]!;
    const c2 = (3 * rise - 2 * a - b) / w,
      c3 = (a + b - 2 * rise) / (w * w);
    this.f = y[i]! + d * (a + d * (c2 + d * c3));
    this.f1 = a + d * (2 * c2 + 3 * d * c3);
    this.f2 = 2 * c2 + 6 * d * c3;
    return this;
  }

  /** Integral from x = 0 (or the nearest end of the data) to u. */
  integral(u: number): number {
    const zero = Math.min(Math.max(0, this.x[0]!), this.x[this.length - 1]!);
    return this.areaTo(u) - this.areaTo(zero);
  }

  private areaTo(u: number): number {
    const { x, area, length: n } = this;
    if (this.beyond !== 'repeat') {
      const end = u < x[0]! ? 0 : u > x[n - 1]! ? n - 1 : -1;
      if (end >= 0) {
        const d = u - x[end]!;
        return area[end]! + d * this.y[end]! + (this.beyond === 'extend' ? 0.5 * d * d * this.slopeAt(end) : 0);
      }
      const i = this.find(u);
      return area[i]! + this.within(i, u - x[i]!);
    }
    const span = x[n - 1]! - x[0]!,
      turns = Math.floor((u - x[0]!) / span),
      s = u - turns * span;
    const i = this.find(s);
    return turns * area[n - 1]! + area[i]! + this.within(i, s - x[i]!);
  }

  private within(i: number, d: number): number {
    const w = this.x[i + 1]! - this.x[i]!,
      rise = (this.y[i + 1]! - this.y[i]!) / w;
    if (this.between === 'linear') return d * (this.y[i]! + 0.5 * rise * d);
    const a = this.slope[i]!,
      b = this.slope[i + 1]!;
    const c2 = (3 * rise - 2 * a - b) / w,
      c3 = (a + b - 2 * rise) / (w * w);
    return d * (this.y[i]! + d * (a / 2 + d * (c2 / 3 + (d * c3) / 4)));
  }

  private slopeAt(end: number): number {
    if (this.between !== 'linear') return this.slope[end]!;
    const i = end === 0 ? 0 : end - 1;
    return (this.y[i + 1]! - this.y[i]!) / (this.x[i + 1]! - this.x[i]!);
  }

  private find(s: number): number {
    const { x } = this;
    const near = this.piece;
    if (s >= x[near]! && s <= x[near + 1]!) return near;
    let lo = 0,
      hi = x.length - 2;
    while (lo < hi) {
      const mid = (lo + hi + 1) >> 1;
      if (x[mid]! <= s) lo = mid;
      else hi = mid - 1;
    }
    return (this.piece = lo);
  }

  /** A number that changes sign at every data point. */
  private knot(u: number): number {
    const { x, length: n } = this;
    const span = x[n - 1]! - x[0]!;
    const turns = this.beyond === 'repeat' ? Math.floor((u - x[0]!) / span) : 0;
    const s = u - turns * span;
    if (s < x[0]! || s > x[n - 1]!) return s < x[0]! ? -1 : n % 2 === 1 ? 1 : -1;
    const i = this.find(s);
    const place = i + (s - x[i]!) / (x[i + 1]! - x[i]!);
    return (turns * (n - 1)) % 2 === 0 ? sin(PI * place) : -sin(PI * place);
  }

  /** The table as a function of formulas. */
  asFunction(name: string): FormulaFunction {
    const value: Outside = {
      name,
      args: 1,
      values: 1,
      table: { of: this, order: 0 },
      at: (u, at, out, to) => {
        this.at(u[at]!);
        out[to] = this.f;
        out[to + 1] = this.f1;
        out[to + 2] = this.f2;
      },
    };
    // only its sign is asked for
    const knot: Outside = { name, args: 1, values: 1, at: (u, at, out, to) => void (out[to] = this.knot(u[at]!)) };
    return {
      args: ['x'],
      dimension: ([d]) => {
        if (!compatible(d!, this.dims[0]))
          throw new DimensionMismatch(`The table ${name} takes ${inWords(this.dims[0])}, not ${inWords(d!)}.`, 0);
        return this.dims[1];
      },
      express: (g, x) => g.call(value, [x])[0]!,
      kinks: (g, x) => [g.call(knot, [x])[0]!],
      samples: 8 * this.length,
    };
  }
}

/** Slopes that never overshoot: the weighted harmonic mean of the neighbours' rises, zero where they differ in sign. */
function monotone(x: Float64Array, y: Float64Array, repeat: boolean): Float64Array {
  const n = x.length;
  const h = (i: number) => x[i + 1]! - x[i]!,
    rise = (i: number) => (y[i + 1]! - y[i]!) / h(i);
  const mean = (i: number, j: number) => {
    const [a, b, w, v] = [rise(i), rise(j), h(i), h(j)];
    if (a * b <= 0) return 0;
    const k = (w + 2 * v) / (3 * (w + v));
    return (a * b) / (k * b + (1 - k) * a);
  };
  const m = new Float64Array(n);
  for (let i = 1; i < n - 1; i++) m[i] = mean(i - 1, i);
  if (repeat) m[0] = m[n - 1] = mean(n - 2, 0);
  else if (n === 2) m[0] = m[1] = rise(0);
  else {
    m[0] = endSlope(h(0), h(1), rise(0), rise(1));
    m[n - 1] = endSlope(h(n - 2), h(n - 3), rise(n - 2), rise(n - 3));
  }
  return m;
}

/** Slope at an end from three points, limited so that it stays monotone. */
function endSlope(h0: number, h1: number, r0: number, r1: number): number {
  const m = ((2 * h0 + h1) * r0 - h0 * r1) / (h0 + h1);
  if (m * r0 <= 0) return 0;
  return r0 * r1 <= 0 && Math.abs(m) > 3 * Math.abs(r0) ? 3 * r0 : m;
}

function akima(x: Float64Array, y: Float64Array, repeat: boolean): Float64Array {
  const n = x.length;
  const inner = Array.from({ length: n - 1 }, (_, i) => (y[i + 1]! - y[i]!) / (x[i + 1]! - x[i]!));
  if (n === 2) return Float64Array.of(inner[0]!, inner[0]!);
  // two rises more at either end: those of the neighbouring period, or Akima's parabola
  const wrap = (k: number) => inner[(k + 4 * inner.length) % inner.length]!;
  const before1 = repeat ? wrap(-1) : 2 * inner[0]! - inner[1]!,
    before2 = repeat ? wrap(-2) : 2 * before1 - inner[0]!;
  const after1 = repeat ? wrap(0) : 2 * inner[n - 2]! - inner[n - 3]!,
    after2 = repeat ? wrap(1) : 2 * after1 - inner[n - 2]!;
  const m = [before2, before1, ...inner, after1, after2];
  return Float64Array.from({ length: n }, (_, i) => {
    const [a, b, c, d] = [m[i]!, m[i + 1]!, m[i + 2]!, m[i + 3]!];
    const left = Math.abs(d - c),
      right = Math.abs(b - a);
    return left + right > 1e-12 * (Math.abs(b) + Math.abs(c)) ? (left * b + right * c) / (left + right) : (b + c) / 2;
  });
}
