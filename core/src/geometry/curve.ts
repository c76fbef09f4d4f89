/**
 * Curves through points: cubic splines with continuous curvature (de Boor, A Practical Guide to Splines, ch. IV), open with free ends or closed; and
 * circles.
 */
import { TWO_PI, cos, sin } from '../quantity/elementary';
import type { Vec3 } from './vector';

/** A curve c(u) with two derivatives, in the axes of its body. */
export interface Curve {
  readonly closed: boolean;
  /** Largest parameter; the smallest is 0. */
  readonly end: number;
  /** c, c′ and c″ after `at`. */
  readonly c: Float64Array;
  readonly c1: Float64Array;
  readonly c2: Float64Array;
  at(u: number): void;
  /** Length from the start to u, m. */
  lengthTo(u: number): number;
}

const GAUSS = [
  [-0.906179845938664, 0.2369268850561891],
  [-0.5384693101056831, 0.4786286704993665],
  [0, 0.5688888888888889],
  [0.5384693101056831, 0.4786286704993665],
  [0.906179845938664, 0.2369268850561891],
] as const;

export class Spline implements Curve {
  readonly end: number;
  readonly c = new Float64Array(3);
  readonly c1 = new Float64Array(3);
  readonly c2 = new Float64Array(3);
  private readonly knots: Float64Array;
  private readonly points: readonly Vec3[];
  /** Second derivatives at the knots, three each. */
  private readonly bend: Float64Array;
  private readonly lengths: Float64Array;
  private piece = 0;

  /** @param through at least two points, three for a closed curve; no two neighbours at one place */
  constructor(
    through: readonly Vec3[],
    readonly closed: boolean,
  ) {
    this.points = closed ? [...through, through[0]!] : through;
    const n = this.points.length;
    this.knots = new Float64Array(n);
    for (let i = 1; i < n; i++) this.knots[i] = this.knots[i - 1]! + distance(this.points[i - 1]!, this.points[i]!);
    this.end = this.knots[n - 1]!;
    this.bend = new Float64Array(3 * n);
    for (let k = 0; k < 3; k++) {
      const m = secondDerivatives(
        this.knots,
        this.points.map((p) => p[k as 0]),
        closed,
      );
      for (let i = 0; i < n; i++) this.bend[3 * i + k] = m[i]!;
    }
    this.lengths = new Float64Array(n);
    for (let i = 1; i < n; i++) this.lengths[i] = this.lengths[i - 1]! + this.arc(i - 1, this.knots[i]!);
  }

  /** Beyond the ends an open curve goes on straight. */
  at(u: number): void {
    const { knots, points, bend, c, c1, c2, closed, end } = this;
    let s = closed ? u - Math.floor(u / end) * end : u;
    const beyond = closed ? 0 : s < 0 ? s : s > end ? s - end : 0;
    s -= beyond;
    const i = this.find(s);
    const h = knots[i + 1]! - knots[i]!;
    const b = (s - knots[i]!) / h,
      a = 1 - b;
    for (let k = 0; k < 3; k++) {
      const p = points[i]![k as 0],
        q = points[i + 1]![k as 0],
        m = bend[3 * i + k]!,
        n = bend[3 * i + 3 + k]!;
      c[k] = a * p + b * q + (((a * a * a - a) * m + (b * b * b - b) * n) * (h * h)) / 6;
      c1[k] = (q - p) / h + (((3 * b * b - 1) * n - (3 * a * a - 1) * m) * h) / 6;
      c2[k] = beyond === 0 ? a * m + b * n : 0;
      c[k] = c[k]! + beyond * c1[k]!;
    }
  }

  lengthTo(u: number): number {
    const { closed, end, knots, lengths } = this;
    const whole = lengths[lengths.length - 1]!;
    const turns = closed ? Math.floor(u / end) : 0;
    const s = u - turns * end;
    if (!closed && (s < 0 || s > end)) {
      this.at(s);
      const pace = norm3(this.c1);
      return s < 0 ? s * pace : whole + (s - end) * pace;
    }
    const i = this.find(s);
    return turns * whole + lengths[i]! + (s > knots[i]! ? this.arc(i, s) : 0);
  }

  /** Length from knot i to u within its piece, by Gauss's rule on halves. */
  private arc(i: number, u: number): number {
    const a = this.knots[i]!,
      parts = 4;
    let sum = 0;
    for (let p = 0; p < parts; p++) {
      const lo = a + ((u - a) * p) / parts,
        half = (u - a) / parts / 2;
      for (const [x, w] of GAUSS) {
        this.at(lo + half * (1 + x));
        sum += w * half * norm3(this.c1);
      }
    }
    return sum;
  }

  private find(s: number): number {
    const { knots } = this,
      last = knots.length - 2;
    if (s >= knots[this.piece]! && s <= knots[this.piece + 1]!) return this.piece;
    let lo = 0,
      hi = last;
    while (lo < hi) {
      const mid = (lo + hi + 1) >> 1;
      if (knots[mid]! <= s) lo = mid;
      else hi = mid - 1;
    }
    return (this.piece = lo);
  }
}

export class Circle implements Curve {
  readonly closed = true;
  readonly end = TWO_PI;
  readonly c = new Float64Array(3);
  readonly c1 = new Float64Array(3);
  readonly c2 = new Float64Array(3);
  constructor(
    private readonly centre: Vec3,
    private readonly x: Vec3,
    private readonly y: Vec3,
    private readonly radius: number,
  ) {}
  at(u: number): void {
    const s = this.radius * sin(u),
      k = this.radius * cos(u);
    for (let i = 0; i < 3; i++) {
      const x = this.x[i as 0],
        y = this.y[i as 0];
      this.c[i] = this.centre[i as 0] + k * x + s * y;
      this.c1[i] = k * y - s * x;
      this.c2[i] = -k * x - s * y;
    }
  }
  lengthTo(u: number): number {
    return u * this.radius;
  }
}

/** Parameter of the place nearest to p: the best of many samples, then Newton. */
export function nearest(curve: Curve, p: ArrayLike<number>, samples = 400): number {
  let best = 0,
    least = Infinity;
  for (let i = 0; i <= samples; i++) {
    const u = (curve.end * i) / samples;
    curve.at(u);
    const d = squared(curve.c, p);
    if (d < least) {
      least = d;
      best = u;
    }
  }
  return footFrom(curve, p, best);
}

/** Newton's way from u to the place where the line to p is square to the curve. */
export function footFrom(curve: Curve, p: ArrayLike<number>, u: number): number {
  const { c, c1, c2 } = curve;
  const longest = curve.end / 20;
  for (let i = 0; i < 30; i++) {
    curve.at(u);
    let f = 0,
      g = 0,
      pace = 0;
    for (let k = 0; k < 3; k++) {
      const d = p[k]! - c[k]!;
      f += c1[k]! * d;
      g += c2[k]! * d;
      pace += c1[k]! * c1[k]!;
    }
    // away from the curve's evolute the slope is negative; else go on as on a straight line
    const slope = g - pace < -0.1 * pace ? g - pace : -pace;
    const step = Math.max(-longest, Math.min(longest, -f / slope));
    u += step;
    if (Math.abs(step) < 1e-15 * curve.end) break;
  }
  return u;
}

const norm3 = (v: Float64Array): number => Math.sqrt(v[0]! * v[0]! + v[1]! * v[1]! + v[2]! * v[2]!);
const squared = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
  (a[0]! - b[0]!) * (a[0]! - b[0]!) + (a[1]! - b[1]!) * (a[1]! - b[1]!) + (a[2]! - b[2]!) * (a[2]! - b[2]!);
const distance = (a: Vec3, b: Vec3): number => Math.sqrt(squared(a, b));

/** Second derivatives of the interpolating cubic spline: tridiagonal, cyclic when closed (Sherman-Morrison). */
function secondDerivatives(x: Float64Array, y: readonly number[], closed: boolean): Float64Array {
  const n = x.length;
  const m = new Float64Array(n);
  if (!closed) {
    if (n < 3) return m;
    const size = n - 2;
    const inner = tridiagonal(
      Array.from({ length: size }, (_, i) => (i > 0 ? x[i + 1]! - x[i]! : 0)),
      Array.from({ length: size }, (_, i) => 2 * (x[i + 2]! - x[i]!)),
      Array.from({ length: size }, (_, i) => (i < size - 1 ? x[i + 2]! - x[i + 1]! : 0)),
      Array.from(
        { length: size },
        (_, i) => 6 * ((y[i + 2]! - y[i + 1]!) / (x[i + 2]! - x[i + 1]!) - (y[i + 1]! - y[i]!) / (x[i + 1]! - x[i]!)),
      ),
    );
    inner.forEach((v, i) => (m[i + 1] = v));
    return m;
  }
  const size = n - 1;
  const h = (i: number) => x[((i + size) % size) + 1]! - x[(i + size) % size]!;
  const rise = (i: number) => (y[((i + size) % size) + 1]! - y[(i + size) % size]!) / h(i);
  const lower = Array.from({ length: size }, (_, i) => h(i - 1)),
    upper = Array.from({ length: size }, (_, i) => h(i));
  const diagonal = Array.from({ length: size }, (_, i) => 2 * (h(i - 1) + h(i)));
  const right = Array.from({ length: size }, (_, i) => 6 * (rise(i) - rise(i - 1)));
  const corner = h(-1);
  const gamma = -diagonal[0]!;
  const main = diagonal.slice();
  main[0] = main[0]! - gamma;
  main[size - 1] = main[size - 1]! - (corner * corner) / gamma;
  const v = tridiagonal(lower, main, upper, right);
  const w = tridiagonal(
    lower,
    main,
    upper,
    Array.from({ length: size }, (_, i) => (i === 0 ? gamma : i === size - 1 ? corner : 0)),
  );
  const factor = (v[0]! + (v[size - 1]! * corner) / gamma) / (1 + w[0]! + (w[size - 1]! * corner) / gamma);
  for (let i = 0; i < size; i++) m[i] = v[i]! - factor * w[i]!;
  m[size] = m[0]!;
  return m;
}

function tridiagonal(lower: number[], main: number[], upper: number[], right: number[]): number[] {
  const n = main.length,
    c = upper.slice(),
    d = right.slice();
  c[0] = c[0]! / main[0]!;
  d[0] = d[0]! / main[0]!;
  for (let i = 1; i < n; i++) {
    const k = main[i]! - lower[i]! * c[i - 1]!;
    c[i] = c[i]! / k;
    d[i] = (d[i]! - lower[i]! * d[i - 1]!) / k;
  }
  for (let i = n - 2; i >= 0; i--) d[i] = d[i]! - c[i]! * d[i + 1]!;
  return d;
}
