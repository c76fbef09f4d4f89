/**
 * The elementary constraint equations of which joints are made (Nikravesh, Computer-Aided Analysis of
 * Mechanical Systems, ch. 7 and 11, in angular-velocity form).
 *
 * Each has rows Φ(position, t) = 0. With a body's six velocities u = (v, w):
 *   Φ̇ = G u − ν,  Φ̈ = G u̇ − γ.
 * A row of G holds twelve numbers: six for body a, six for body b.
 */
import { TWO_PI, atan2, wrapAngle } from '../quantity/elementary';
import type { Mat3, Vec3 } from '../geometry/vector';
import type { Kinematics } from './kinematics';
import type { Memory } from './memory';

export abstract class Constraint {
  /** First row in the system; set when the system is put together. */
  row = 0;
  constructor(
    readonly a: number,
    readonly b: number,
    /** Dimension of each row: true where Φ is a length, false where it is an angle or a direction cosine. */
    readonly lengths: readonly boolean[],
  ) {}

  get rows(): number {
    return this.lengths.length;
  }
  /** Forgets what was remembered from the last posture (the foot on a curve). */
  reset(): void {}
  /** What it remembers from the last posture. */
  get memory(): Memory | undefined {
    return undefined;
  }
  /** Further pairs of bodies of a single row, each with twelve numbers of its own. */
  readonly more: readonly (readonly [a: number, b: number])[] = [];
  /** Index of the first of these blocks in G; set when the system is put together. */
  block = 0;

  /** Whether entry `column` (0 to 11) of row k can differ from zero. */
  abstract pattern(k: number, column: number): boolean;
  abstract position(K: Kinematics, t: number, phi: Float64Array): void;
  abstract jacobian(K: Kinematics, G: Float64Array): void;
  /** γ, the part of the second derivative without accelerations, sign reversed. */
  abstract gamma(K: Kinematics, t: number, out: Float64Array): void;
  /** ν = −∂Φ/∂t; zero unless the constraint depends on time. */
  nu(_K: Kinematics, _t: number, out: Float64Array): void {
    for (let k = 0; k < this.rows; k++) out[this.row + k] = 0;
  }
}

const flat = (v: Vec3): Float64Array => Float64Array.from(v);

/** Component k (ground axes) of the body vector s. */
function ground(A: Float64Array, m: number, s: Float64Array, k: number): number {
  const p = m + 3 * k;
  return A[p]! * s[0]! + A[p + 1]! * s[1]! + A[p + 2]! * s[2]!;
}

/** Two points coincide: r_b + A_b s_b − r_a − A_a s_a = 0, three rows in ground axes. */
export class Coincide extends Constraint {
  private readonly sa: Float64Array;
  private readonly sb: Float64Array;
  constructor(a: number, sa: Vec3, b: number, sb: Vec3) {
    super(a, b, [true, true, true]);
    this.sa = flat(sa);
    this.sb = flat(sb);
  }
  pattern(k: number, column: number): boolean {
    return column % 6 >= 3 || column % 6 === k;
  }
  position({ r, A }: Kinematics, _t: number, phi: Float64Array): void {
    const { a, b, sa, sb, row } = this;
    for (let k = 0; k < 3; k++) {
      phi[row + k] = r[3 * b + k]! + ground(A, 9 * b, sb, k) - r[3 * a + k]! - ground(A, 9 * a, sa, k);
    }
  }
  jacobian({ A }: Kinematics, G: Float64Array): void {
    const { a, b, sa, sb, row } = this;
    for (let k = 0; k < 3; k++) {
      const g = 12 * (row + k),
        pa = 9 * a + 3 * k,
        pb = 9 * b + 3 * k;
      G[g + k] = -1;
      // A s̃: row k times the skew matrix of s
      G[g + 3] = A[pa + 1]! * sa[2]! - A[pa + 2]! * sa[1]!;
      G[g + 4] = A[pa + 2]! * sa[0]! - A[pa]! * sa[2]!;
      G[g + 5] = A[pa]! * sa[1]! - A[pa + 1]! * sa[0]!;
      G[g + 6 + k] = 1;
      G[g + 9] = A[pb + 2]! * sb[1]! - A[pb + 1]! * sb[2]!;
      G[g + 10] = A[pb]! * sb[2]! - A[pb + 2]! * sb[0]!;
      G[g + 11] = A[pb + 1]! * sb[0]! - A[pb]! * sb[1]!;
    }
  }
  gamma({ A, w }: Kinematics, _t: number, out: Float64Array): void {
    const { a, b, sa, sb, row } = this;
    swinging(A, w, a, sa, P);
    swinging(A, w, b, sb, Q);
    for (let k = 0; k < 3; k++) out[row + k] = P[k]! - Q[k]!;
  }
}

/** Component k (ground axes) of A (w × (w × s)). */
function spinAway(A: Float64Array, w: Float64Array, i: number, s: Float64Array, k: number): number {
  const x = w[3 * i]!,
    y = w[3 * i + 1]!,
    z = w[3 * i + 2]!;
  const d = x * s[0]! + y * s[1]! + z * s[2]!;
  const n = x * x + y * y + z * z;
  const p = 9 * i + 3 * k;
  return A[p]! * (x * d - n * s[0]!) + A[p + 1]! * (y * d - n * s[1]!) + A[p + 2]! * (z * d - n * s[2]!);
}

/** Scratch for vectors in ground and body axes; nothing here outlives a call. */
const U = new Float64Array(3);
const V = new Float64Array(3);
const P = new Float64Array(3);
const Q = new Float64Array(3);

/** A vector of body i from its axes to those of the ground. @param A rotations, nine numbers a body; @param out three numbers */
export function toGround(A: Float64Array, i: number, s: Float64Array, out: Float64Array): void {
  const m = 9 * i,
    x = s[0]!,
    y = s[1]!,
    z = s[2]!;
  out[0] = A[m]! * x + A[m + 1]! * y + A[m + 2]! * z;
  out[1] = A[m + 3]! * x + A[m + 4]! * y + A[m + 5]! * z;
  out[2] = A[m + 6]! * x + A[m + 7]! * y + A[m + 8]! * z;
}
/** A vector from the axes of the ground to those of body i. @param A rotations, nine numbers a body; @param out three numbers */
export function toBody(A: Float64Array, i: number, s: Float64Array, out: Float64Array): void {
  const m = 9 * i,
    x = s[0]!,
    y = s[1]!,
    z = s[2]!;
  out[0] = A[m]! * x + A[m + 3]! * y + A[m + 6]! * z;
  out[1] = A[m + 1]! * x + A[m + 4]! * y + A[m + 7]! * z;
  out[2] = A[m + 2]! * x + A[m + 5]! * y + A[m + 8]! * z;
}
/** A (w × s) in ground axes. */
function turning(A: Float64Array, w: Float64Array, i: number, s: Float64Array, out: Float64Array): void {
  const x = w[3 * i]!,
    y = w[3 * i + 1]!,
    z = w[3 * i + 2]!;
  const c0 = y * s[2]! - z * s[1]!,
    c1 = z * s[0]! - x * s[2]!,
    c2 = x * s[1]! - y * s[0]!;
  const m = 9 * i;
  out[0] = A[m]! * c0 + A[m + 1]! * c1 + A[m + 2]! * c2;
  out[1] = A[m + 3]! * c0 + A[m + 4]! * c1 + A[m + 5]! * c2;
  out[2] = A[m + 6]! * c0 + A[m + 7]! * c1 + A[m + 8]! * c2;
}

/** A (w × (w × s)) in ground axes. */
function swinging(A: Float64Array, w: Float64Array, i: number, s: Float64Array, out: Float64Array): void {
  const x = w[3 * i]!,
    y = w[3 * i + 1]!,
    z = w[3 * i + 2]!;
  const d = x * s[0]! + y * s[1]! + z * s[2]!,
    n = x * x + y * y + z * z;
  const c0 = x * d - n * s[0]!,
    c1 = y * d - n * s[1]!,
    c2 = z * d - n * s[2]!;
  const m = 9 * i;
  out[0] = A[m]! * c0 + A[m + 1]! * c1 + A[m + 2]! * c2;
  out[1] = A[m + 3]! * c0 + A[m + 4]! * c1 + A[m + 5]! * c2;
  out[2] = A[m + 6]! * c0 + A[m + 7]! * c1 + A[m + 8]! * c2;
}
/** Scalar product of two vectors of three numbers. */
export const dot3 = (a: Float64Array, b: Float64Array): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

/** Two body-fixed directions stay square: (A_a u) · (A_b v) = 0. */
export class Perpendicular extends Constraint {
  private readonly ua: Float64Array;
  private readonly vb: Float64Array;
  constructor(a: number, ua: Vec3, b: number, vb: Vec3) {
    super(a, b, [false]);
    this.ua = flat(ua);
    this.vb = flat(vb);
  }
  pattern(_k: number, column: number): boolean {
    return column % 6 >= 3;
  }
  position({ A }: Kinematics, _t: number, phi: Float64Array): void {
    toGround(A, this.a, this.ua, U);
    toGround(A, this.b, this.vb, V);
    phi[this.row] = dot3(U, V);
  }
  jacobian({ A }: Kinematics, G: Float64Array): void {
    const { a, b, ua, vb, row } = this;
    toGround(A, a, ua, U);
    toGround(A, b, vb, V);
    toBody(A, a, V, P); // the other direction, in a's axes
    toBody(A, b, U, Q);
    crossInto(ua, P, G, 12 * row + 3);
    crossInto(vb, Q, G, 12 * row + 9);
  }
  gamma({ A, w }: Kinematics, _t: number, out: Float64Array): void {
    const { a, b, ua, vb } = this;
    toGround(A, a, ua, U);
    toGround(A, b, vb, V);
    turning(A, w, a, ua, P);
    turning(A, w, b, vb, Q);
    const s = 2 * dot3(P, Q);
    swinging(A, w, a, ua, P);
    swinging(A, w, b, vb, Q);
    out[this.row] = -(s + dot3(P, V) + dot3(Q, U));
  }
}

function crossInto(x: Float64Array, y: Float64Array, out: Float64Array, at: number): void {
  out[at] = x[1]! * y[2]! - x[2]! * y[1]!;
  out[at + 1] = x[2]! * y[0]! - x[0]! * y[2]!;
  out[at + 2] = x[0]! * y[1]! - x[1]! * y[0]!;
}

/** A function of time with two derivatives: what a driven freedom follows. */
export interface Prescription {
  f: number;
  f1: number;
  f2: number;
  at(K: Kinematics, t: number): void;
}

/**
 * The point of b seen from a, along a direction fixed in a, is at a given distance:
 * (A_a u) · (p_b − p_a) − f(t) = 0. Without a course f = 0: the point stays in a plane.
 */
export class TravelAlongAxis extends Constraint {
  private readonly ua: Float64Array;
  private readonly sa: Float64Array;
  private readonly sb: Float64Array;
  private readonly gap = new Float64Array(3);
  constructor(
    a: number,
    ua: Vec3,
    sa: Vec3,
    b: number,
    sb: Vec3,
    private readonly course?: Prescription,
  ) {
    super(a, b, [true]);
    this.ua = flat(ua);
    this.sa = flat(sa);
    this.sb = flat(sb);
  }
  pattern(): boolean {
    return true;
  }
  /** Turns the direction and moves the place in a. */
  aim(u: ArrayLike<number>, s: ArrayLike<number>): void {
    for (let k = 0; k < 3; k++) {
      this.ua[k] = u[k]!;
      this.sa[k] = s[k]!;
    }
  }
  /** Scalar product of the direction with a vector in a's axes. */
  dotAim(v: Float64Array): number {
    return dot3(this.ua, v);
  }
  private measure(K: Kinematics): void {
    const { a, b, sa, sb, gap } = this;
    for (let k = 0; k < 3; k++) {
      gap[k] = K.r[3 * b + k]! + ground(K.A, 9 * b, sb, k) - K.r[3 * a + k]! - ground(K.A, 9 * a, sa, k);
    }
  }
  /** Present distance along the direction, m. */
  coordinate(K: Kinematics): number {
    this.measure(K);
    toGround(K.A, this.a, this.ua, U);
    return dot3(U, this.gap);
  }
  position(K: Kinematics, t: number, phi: Float64Array): void {
    this.course?.at(K, t);
    phi[this.row] = this.coordinate(K) - (this.course ? this.course.f : 0);
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    const { a, b, ua, sa, sb, gap, row } = this;
    const { A } = K;
    this.measure(K);
    toGround(A, a, ua, U);
    const g = 12 * row;
    for (let k = 0; k < 3; k++) {
      G[g + k] = -U[k]!;
      G[g + 6 + k] = U[k]!;
    }
    // d/dt (A_a u) · gap − (A_a u) · A_a (w_a × s_a)  =  w_a · (u × (gap_a + s_a))
    toBody(A, a, gap, P);
    for (let k = 0; k < 3; k++) P[k] = P[k]! + sa[k]!;
    crossInto(ua, P, G, g + 3);
    toBody(A, b, U, Q);
    crossInto(sb, Q, G, g + 9);
  }
  gamma(K: Kinematics, t: number, out: Float64Array): void {
    const { a, b, ua, sa, sb, gap } = this;
    const { A, w, v } = K;
    this.measure(K);
    toGround(A, a, ua, U);
    turning(A, w, a, ua, P);
    turning(A, w, a, sa, Q);
    turning(A, w, b, sb, V);
    let s = 0;
    for (let k = 0; k < 3; k++) {
      const speed = v[3 * b + k]! + V[k]! - v[3 * a + k]! - Q[k]!;
      s += spinAway(A, w, a, ua, k) * gap[k]! + 2 * P[k]! * speed + U[k]! * (spinAway(A, w, b, sb, k) - spinAway(A, w, a, sa, k));
    }
    this.course?.at(K, t);
    out[this.row] = -s + (this.course ? this.course.f2 : 0);
  }
  override nu(K: Kinematics, t: number, out: Float64Array): void {
    this.course?.at(K, t);
    out[this.row] = this.course ? this.course.f1 : 0;
  }
}

/**
 * The angle of b about a's axis follows a course: θ − f(t) = 0, where θ is measured from a's x to b's x about
 * a's z (right-hand rule). The two z axes are kept parallel by the joint. Φ is wrapped, so θ may grow for ever.
 */
export class TurnAboutAxis extends Constraint {
  private readonly xa: Float64Array;
  private readonly ya: Float64Array;
  private readonly za: Float64Array;
  private readonly xb: Float64Array;
  constructor(
    a: number,
    xa: Vec3,
    ya: Vec3,
    za: Vec3,
    b: number,
    xb: Vec3,
    private readonly course: Prescription,
  ) {
    super(a, b, [false]);
    this.xa = flat(xa);
    this.ya = flat(ya);
    this.za = flat(za);
    this.xb = flat(xb);
  }
  pattern(_k: number, column: number): boolean {
    return column % 6 >= 3;
  }
  /** Present angle within one turn, rad. */
  coordinate({ A }: Kinematics): number {
    toGround(A, this.b, this.xb, V);
    toBody(A, this.a, V, P);
    return atan2(dot3(P, this.ya), dot3(P, this.xa));
  }
  position(K: Kinematics, t: number, phi: Float64Array): void {
    this.course.at(K, t);
    phi[this.row] = wrapAngle(this.coordinate(K) - this.course.f);
  }
  jacobian({ A }: Kinematics, G: Float64Array): void {
    const g = 12 * this.row;
    toGround(A, this.a, this.za, U);
    toBody(A, this.b, U, Q);
    for (let k = 0; k < 3; k++) {
      G[g + 3 + k] = -this.za[k]!;
      G[g + 9 + k] = Q[k]!;
    }
  }
  gamma(K: Kinematics, t: number, out: Float64Array): void {
    const { a, b, za } = this;
    const { A, w } = K;
    turning(A, w, a, za, P);
    let s = 0;
    for (let k = 0; k < 3; k++) {
      const p = 9 * b + 3 * k;
      s += P[k]! * (A[p]! * w[3 * b]! + A[p + 1]! * w[3 * b + 1]! + A[p + 2]! * w[3 * b + 2]!);
    }
    this.course.at(K, t);
    out[this.row] = -s + this.course.f2;
  }
  override nu(K: Kinematics, t: number, out: Float64Array): void {
    this.course.at(K, t);
    out[this.row] = this.course.f1;
  }
}

/**
 * Two places stay a given distance apart: |d| − l = 0 with d = p_b − p_a. Its row of G lies along d, so it needs d ≠ 0.
 */
export class PointDistance extends Constraint {
  private readonly sa: Float64Array;
  private readonly sb: Float64Array;
  private readonly d = new Float64Array(3);
  constructor(
    a: number,
    sa: Vec3,
    b: number,
    sb: Vec3,
    private readonly length: number,
  ) {
    super(a, b, [true]);
    this.sa = flat(sa);
    this.sb = flat(sb);
  }
  pattern(): boolean {
    return true;
  }
  /** Unit vector along d into `d`; returns the distance. */
  private measure({ r, A }: Kinematics): number {
    const { a, b, sa, sb, d } = this;
    for (let k = 0; k < 3; k++) d[k] = r[3 * b + k]! + ground(A, 9 * b, sb, k) - r[3 * a + k]! - ground(A, 9 * a, sa, k);
    const l = Math.sqrt(dot3(d, d));
    for (let k = 0; k < 3; k++) d[k] = l > 0 ? d[k]! / l : k === 0 ? 1 : 0;
    return l;
  }
  position(K: Kinematics, _t: number, phi: Float64Array): void {
    phi[this.row] = this.measure(K) - this.length;
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    const { a, b, sa, sb, d } = this;
    this.measure(K);
    const g = 12 * this.row;
    for (let k = 0; k < 3; k++) {
      G[g + k] = -d[k]!;
      G[g + 6 + k] = d[k]!;
    }
    toBody(K.A, a, d, P);
    toBody(K.A, b, d, Q);
    crossInto(P, sa, G, g + 3); // −(s × P)
    crossInto(sb, Q, G, g + 9);
  }
  gamma(K: Kinematics, _t: number, out: Float64Array): void {
    const { a, b, sa, sb, d } = this;
    const { A, w, v } = K;
    const l = this.measure(K);
    turning(A, w, a, sa, P);
    turning(A, w, b, sb, Q);
    let along = 0,
      v2 = 0,
      s = 0;
    for (let k = 0; k < 3; k++) {
      const speed = v[3 * b + k]! + Q[k]! - v[3 * a + k]! - P[k]!;
      along += d[k]! * speed;
      v2 += speed * speed;
      s += d[k]! * (spinAway(A, w, b, sb, k) - spinAway(A, w, a, sa, k));
    }
    out[this.row] = -s - (l > 0 ? (v2 - along * along) / l : 0);
  }
}

/** Two shafts turn alike at any bend: x_a · y_b − y_a · x_b = 0, so the relative rotation has no part about z. */
export class SameTwist extends Constraint {
  private readonly xy: Perpendicular;
  private readonly yx: Perpendicular;
  private readonly G = new Float64Array(12);
  private readonly one = new Float64Array(1);
  constructor(a: number, xa: Vec3, ya: Vec3, b: number, xb: Vec3, yb: Vec3) {
    super(a, b, [false]);
    this.xy = new Perpendicular(a, xa, b, yb);
    this.yx = new Perpendicular(a, ya, b, xb);
  }
  pattern(k: number, column: number): boolean {
    return this.xy.pattern(k, column);
  }
  position(K: Kinematics, t: number, phi: Float64Array): void {
    const { one, row } = this;
    this.xy.position(K, t, one);
    const first = one[0]!;
    this.yx.position(K, t, one);
    phi[row] = first - one[0]!;
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    const at = 12 * this.row;
    this.xy.jacobian(K, this.G);
    for (let k = 0; k < 12; k++) G[at + k] = this.G[k]!;
    this.yx.jacobian(K, this.G);
    for (let k = 0; k < 12; k++) G[at + k] = G[at + k]! - this.G[k]!;
  }
  gamma(K: Kinematics, t: number, out: Float64Array): void {
    const { one, row } = this;
    this.xy.gamma(K, t, one);
    const first = one[0]!;
    this.yx.gamma(K, t, one);
    out[row] = first - one[0]!;
  }
}

const ZERO_COURSE: Prescription = { f: 0, f1: 0, f2: 0, at() {} };

/**
 * Travel follows turning: s − (lead/2π) θ = 0. Within a turn θ is known; the count of whole turns follows from the
 * travel itself, so nothing has to be remembered.
 */
export class Thread extends Constraint {
  private readonly travel: TravelAlongAxis;
  private readonly turn: TurnAboutAxis;
  private readonly perAngle: number;
  private readonly G = new Float64Array(12);
  private readonly one = new Float64Array(1);
  constructor(a: number, fa: Mat3, sa: Vec3, b: number, xb: Vec3, sb: Vec3, lead: number) {
    super(a, b, [true]);
    this.travel = new TravelAlongAxis(a, [fa[2], fa[5], fa[8]], sa, b, sb, ZERO_COURSE);
    this.turn = new TurnAboutAxis(a, [fa[0], fa[3], fa[6]], [fa[1], fa[4], fa[7]], [fa[2], fa[5], fa[8]], b, xb, ZERO_COURSE);
    this.perAngle = lead / TWO_PI;
  }
  pattern(): boolean {
    return true;
  }
  position(K: Kinematics, _t: number, phi: Float64Array): void {
    const s = this.travel.coordinate(K);
    const angle = this.turn.coordinate(K);
    const p = this.perAngle;
    // a thread without lead does not travel
    phi[this.row] = p === 0 ? s : -p * wrapAngle(angle - s / p);
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    const at = 12 * this.row;
    this.travel.jacobian(K, this.G);
    for (let k = 0; k < 12; k++) G[at + k] = this.G[k]!;
    this.G.fill(0);
    this.turn.jacobian(K, this.G);
    for (let k = 0; k < 12; k++) G[at + k] = G[at + k]! - this.perAngle * this.G[k]!;
  }
  gamma(K: Kinematics, t: number, out: Float64Array): void {
    const { one, row } = this;
    this.travel.gamma(K, t, one);
    const first = one[0]!;
    this.turn.gamma(K, t, one);
    out[row] = first - this.perAngle * one[0]!;
  }
}
