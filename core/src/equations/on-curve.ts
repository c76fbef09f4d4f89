/**
 * A point on a curve, and a curve on a curve. The curve's parameter is not an unknown of the system: it is the foot of the point on the
 * curve, found anew at every posture from where it last was (a planar cam: the pair of places with parallel tangents).
 */
import { type Curve, footFrom, nearest } from '../geometry/curve';
import { NormalField } from '../geometry/normals';
import type { Vec3 } from '../geometry/vector';
import { TravelAlongAxis } from './constraints';
import { Constraint, type Prescription } from './constraint';
import type { Kinematics } from './kinematics';
import type { Memory } from './memory';

const G12 = new Float64Array(12);

/** Rate of an Along's coordinate with its direction fixed in its first body. */
function rateOf(along: TravelAlongAxis, K: Kinematics): number {
  along.jacobian(K, G12);
  const { a, b } = along;
  let s = 0;
  for (let k = 0; k < 3; k++)
    s += G12[k]! * K.v[3 * a + k]! + G12[3 + k]! * K.w[3 * a + k]! + G12[6 + k]! * K.v[3 * b + k]! + G12[9 + k]! * K.w[3 * b + k]!;
  return s;
}

/** Foot of a point of b on a curve fixed in a. */
class Foot implements Memory {
  readonly cells = 1;
  u = NaN;
  readonly tangent = new Float64Array(3);
  readonly place: Float64Array;
  private readonly p = new Float64Array(3);
  constructor(
    private readonly a: number,
    readonly curve: Curve,
    private readonly b: number,
    private readonly sb: Vec3,
  ) {
    this.place = curve.c;
  }
  /** Brings foot and tangent up to date. */
  find(K: Kinematics): void {
    const { a, b, sb, p, curve, tangent } = this;
    const { A, r } = K;
    const q = 9 * b,
      o = 9 * a;
    const dx = r[3 * b]! + A[q]! * sb[0] + A[q + 1]! * sb[1] + A[q + 2]! * sb[2] - r[3 * a]!;
    const dy = r[3 * b + 1]! + A[q + 3]! * sb[0] + A[q + 4]! * sb[1] + A[q + 5]! * sb[2] - r[3 * a + 1]!;
    const dz = r[3 * b + 2]! + A[q + 6]! * sb[0] + A[q + 7]! * sb[1] + A[q + 8]! * sb[2] - r[3 * a + 2]!;
    for (let k = 0; k < 3; k++) p[k] = A[o + k]! * dx + A[o + 3 + k]! * dy + A[o + 6 + k]! * dz;
    this.u = Number.isNaN(this.u) ? nearest(curve, p) : footFrom(curve, p, this.u);
    curve.at(this.u);
    const n = Math.sqrt(curve.c1[0]! * curve.c1[0]! + curve.c1[1]! * curve.c1[1]! + curve.c1[2]! * curve.c1[2]!);
    for (let k = 0; k < 3; k++) tangent[k] = curve.c1[k]! / n;
  }
  forget(): void {
    this.u = NaN;
  }
  keep(out: Float64Array, at: number): void {
    out[at] = this.u;
  }
  recall(from: Float64Array, at: number): void {
    this.u = from[at]!;
  }
  follow(K: Kinematics): void {
    this.find(K);
  }
}

/**
 * Two rows: the point of b has no distance from a curve of a along two normals n of the curve. With the relative position p in a's axes,
 * Φ = n · (p − c), Φ̇ = n · ṗ, and, since p stays on the curve, n · p̈ = n · c″ u̇².
 */
export class OnCurve extends Constraint {
  private readonly foot: Foot;
  private readonly field: NormalField;
  private readonly normals: readonly [TravelAlongAxis, TravelAlongAxis];
  private readonly tangent: TravelAlongAxis;
  constructor(
    a: number,
    private readonly curve: Curve,
    b: number,
    sb: Vec3,
  ) {
    super(a, b, [true, true]);
    this.foot = new Foot(a, curve, b, sb);
    this.field = new NormalField(curve);
    this.normals = [new TravelAlongAxis(a, [1, 0, 0], [0, 0, 0], b, sb), new TravelAlongAxis(a, [0, 1, 0], [0, 0, 0], b, sb)];
    this.tangent = new TravelAlongAxis(a, [0, 0, 1], [0, 0, 0], b, sb);
  }
  override get memory(): Memory {
    return this.foot;
  }
  override reset(): void {
    this.foot.forget();
  }
  pattern(): boolean {
    return true;
  }
  private readonly n = new Float64Array(3);
  private readonly m = new Float64Array(3);
  private frame(K: Kinematics): void {
    const { foot, normals, n, m } = this;
    foot.find(K);
    const t = foot.tangent;
    this.field.at(foot.u, t, n);
    m[0] = t[1]! * n[2]! - t[2]! * n[1]!;
    m[1] = t[2]! * n[0]! - t[0]! * n[2]!;
    m[2] = t[0]! * n[1]! - t[1]! * n[0]!;
    normals[0].aim(n, foot.place);
    normals[1].aim(m, foot.place);
    this.tangent.aim(t, foot.place);
    for (let k = 0; k < 2; k++) normals[k as 0]!.row = this.row + k;
  }
  position(K: Kinematics, t: number, phi: Float64Array): void {
    this.frame(K);
    for (const n of this.normals) n.position(K, t, phi);
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    this.frame(K);
    for (const n of this.normals) n.jacobian(K, G);
  }
  gamma(K: Kinematics, t: number, out: Float64Array): void {
    this.frame(K);
    const { c1, c2 } = this.curve;
    const pace2 = c1[0]! * c1[0]! + c1[1]! * c1[1]! + c1[2]! * c1[2]!;
    const along = rateOf(this.tangent, K);
    for (const n of this.normals) {
      n.gamma(K, t, out);
      out[n.row] = out[n.row]! + (n.dotAim(c2) * along * along) / pace2;
    }
  }
}

/** Path length along the curve, as a coordinate that can be read and driven: ṡ = T · ṗ, s̈ = T · p̈. */
export class PathLength extends Constraint {
  private readonly foot: Foot;
  private readonly tangent: TravelAlongAxis;
  private readonly whole: number;
  constructor(
    a: number,
    private readonly curve: Curve,
    b: number,
    sb: Vec3,
    private readonly course: Prescription,
  ) {
    super(a, b, [true]);
    this.foot = new Foot(a, curve, b, sb);
    this.tangent = new TravelAlongAxis(a, [0, 0, 1], [0, 0, 0], b, sb);
    this.whole = curve.lengthTo(curve.end);
  }
  override get memory(): Memory {
    return this.foot;
  }
  override reset(): void {
    this.foot.forget();
  }
  pattern(): boolean {
    return true;
  }
  /** Length from the curve's first point, m; whole rounds count as long as the foot is followed. */
  coordinate(K: Kinematics): number {
    this.foot.find(K);
    return this.curve.lengthTo(this.foot.u);
  }
  position(K: Kinematics, t: number, phi: Float64Array): void {
    this.course.at(K, t);
    const gap = this.coordinate(K) - this.course.f;
    phi[this.row] = this.curve.closed ? gap - this.whole * Math.round(gap / this.whole) : gap;
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    this.foot.find(K);
    this.tangent.aim(this.foot.tangent, this.foot.place);
    this.tangent.row = this.row;
    this.tangent.jacobian(K, G);
  }
  gamma(K: Kinematics, t: number, out: Float64Array): void {
    this.foot.find(K);
    this.tangent.aim(this.foot.tangent, this.foot.place);
    this.tangent.row = this.row;
    this.tangent.gamma(K, t, out);
    this.course.at(K, t);
    out[this.row] = out[this.row]! + this.course.f2;
  }
  override nu(K: Kinematics, t: number, out: Float64Array): void {
    this.course.at(K, t);
    out[this.row] = this.course.f1;
  }
}

const V1 = new Float64Array(3);
const V2 = new Float64Array(3);
const T1 = new Float64Array(3);
const T2 = new Float64Array(3);
const P1 = new Float64Array(3);
const P2 = new Float64Array(3);
const N = new Float64Array(3);
const Z = new Float64Array(3);
const dot = (a: Float64Array, b: Float64Array): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

/**
 * Two plane curves touch: the gap g = n₁ · (p₂ − p₁) between the places with parallel tangents stays zero. With tangential slip
 * w = t₁ · (v₂ − v₁), curvatures κ and the speeds s at which the contact wanders along the curves,
 *   s₁ (κ₂σ − κ₁) = κ₂σ w − (ω₂ − ω₁),  s₂ = σ (s₁ − w),  g̈ = n₁ · (a₂ − a₁) − (ω₁ + κ₁ s₁) w + σ ω₂ s₂ − ω₁ s₁.
 */
export class CurveOnCurve extends Constraint {
  private u1 = NaN;
  private u2 = NaN;
  private k1 = 0;
  private k2 = 0;
  private sigma = 1;
  private readonly pace = [0, 0];
  constructor(
    a: number,
    private readonly one: Curve,
    private readonly axis: Vec3,
    b: number,
    private readonly two: Curve,
  ) {
    super(a, b, [true]);
  }
  private readonly places: Memory = {
    cells: 2,
    keep: (out, at) => {
      out[at] = this.u1;
      out[at + 1] = this.u2;
    },
    recall: (from, at) => {
      this.u1 = from[at]!;
      this.u2 = from[at + 1]!;
    },
  };
  override get memory(): Memory {
    return this.places;
  }
  override reset(): void {
    this.u1 = this.u2 = NaN;
  }
  pattern(): boolean {
    return true;
  }
  private place(K: Kinematics, i: number, curve: Curve, u: number, P: Float64Array, T: Float64Array): void {
    curve.at(u);
    const n = Math.sqrt(dot(curve.c1, curve.c1));
    for (let k = 0; k < 3; k++) {
      const p = 9 * i + 3 * k;
      P[k] = K.r[3 * i + k]! + K.A[p]! * curve.c[0]! + K.A[p + 1]! * curve.c[1]! + K.A[p + 2]! * curve.c[2]!;
      T[k] = (K.A[p]! * curve.c1[0]! + K.A[p + 1]! * curve.c1[1]! + K.A[p + 2]! * curve.c1[2]!) / n;
    }
  }
  /** Curvature about the plane's normal, at the place last evaluated. */
  private curvature(K: Kinematics, i: number, curve: Curve): number {
    const { c1, c2 } = curve,
      n2 = dot(c1, c1),
      p = 9 * i;
    const x = c1[1]! * c2[2]! - c1[2]! * c2[1]!,
      y = c1[2]! * c2[0]! - c1[0]! * c2[2]!,
      z = c1[0]! * c2[1]! - c1[1]! * c2[0]!;
    let s = 0;
    for (let k = 0; k < 3; k++) s += Z[k]! * (K.A[p + 3 * k]! * x + K.A[p + 3 * k + 1]! * y + K.A[p + 3 * k + 2]! * z);
    return s / (n2 * Math.sqrt(n2));
  }
  /** Finds the touching pair; leaves places, tangents, normal and curvatures behind. */
  private find(K: Kinematics): void {
    const { a, b, one, two, axis } = this;
    for (let k = 0; k < 3; k++)
      Z[k] = K.A[9 * a + 3 * k]! * axis[0] + K.A[9 * a + 3 * k + 1]! * axis[1] + K.A[9 * a + 3 * k + 2]! * axis[2];
    if (Number.isNaN(this.u1)) this.search(K);
    for (let i = 0; i < 40; i++) {
      this.place(K, a, one, this.u1, P1, T1);
      this.pace[0] = Math.sqrt(dot(one.c1, one.c1));
      this.k1 = this.curvature(K, a, one);
      this.place(K, b, two, this.u2, P2, T2);
      this.pace[1] = Math.sqrt(dot(two.c1, two.c1));
      this.k2 = this.curvature(K, b, two);
      N[0] = Z[1]! * T1[2]! - Z[2]! * T1[1]!;
      N[1] = Z[2]! * T1[0]! - Z[0]! * T1[2]!;
      N[2] = Z[0]! * T1[1]! - Z[1]! * T1[0]!;
      let f1 = 0,
        gap = 0;
      for (let k = 0; k < 3; k++) {
        f1 += T1[k]! * (P2[k]! - P1[k]!);
        gap += N[k]! * (P2[k]! - P1[k]!);
      }
      const f2 = dot(N, T2),
        c = dot(T1, T2);
      this.sigma = c < 0 ? -1 : 1;
      // in path lengths s1, s2
      const a11 = -(1 - this.k1 * gap),
        a12 = c,
        a21 = -this.k1 * c,
        a22 = this.k2 * c;
      const det = a11 * a22 - a12 * a21;
      const d1 = (-f1 * a22 + a12 * f2) / det,
        d2 = (-f2 * a11 + a21 * f1) / det;
      const most = 0.05 * Math.min(one.end * this.pace[0], two.end * this.pace[1]);
      const cut = Math.min(1, most / Math.max(Math.abs(d1), Math.abs(d2), 1e-300));
      if (!Number.isFinite(d1 + d2) || Math.max(Math.abs(d1), Math.abs(d2)) < 1e-14 * (1 + most)) break;
      this.u1 += (cut * d1) / this.pace[0];
      this.u2 += (cut * d2) / this.pace[1];
    }
  }
  /** The nearest pair of samples with about parallel tangents. */
  private search(K: Kinematics): void {
    const { a, b, one, two } = this,
      n = 120;
    let least = Infinity;
    for (let i = 0; i < n; i++) {
      const u1 = (one.end * (i + 0.5)) / n;
      this.place(K, a, one, u1, P1, T1);
      for (let j = 0; j < n; j++) {
        const u2 = (two.end * (j + 0.5)) / n;
        this.place(K, b, two, u2, P2, T2);
        const c = dot(T1, T2);
        const d = (P1[0]! - P2[0]!) * (P1[0]! - P2[0]!) + (P1[1]! - P2[1]!) * (P1[1]! - P2[1]!) + (P1[2]! - P2[2]!) * (P1[2]! - P2[2]!);
        const merit = d * (1 + 4 * (1 - c * c));
        if (merit < least) {
          least = merit;
          this.u1 = u1;
          this.u2 = u2;
        }
      }
    }
  }
  position(K: Kinematics, _t: number, phi: Float64Array): void {
    this.find(K);
    let gap = 0;
    for (let k = 0; k < 3; k++) gap += N[k]! * (P2[k]! - P1[k]!);
    phi[this.row] = gap;
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    this.find(K);
    const g = 12 * this.row;
    arm(K, this.a, P1, N, -1, G, g);
    arm(K, this.b, P2, N, 1, G, g + 6);
  }
  gamma(K: Kinematics, _t: number, out: Float64Array): void {
    this.find(K);
    const { a, b, k1, k2, sigma } = this;
    material(K, a, P1, V1, T2);
    let a1 = dot(N, T2);
    material(K, b, P2, V2, T2);
    const a2 = dot(N, T2);
    const w1 = spin(K, a),
      w2 = spin(K, b);
    let w = 0;
    for (let k = 0; k < 3; k++) w += T1[k]! * (V2[k]! - V1[k]!);
    const s1 = (k2 * sigma * w - (w2 - w1)) / (k2 * sigma - k1);
    const s2 = sigma * (s1 - w);
    a1 = a2 - a1;
    out[this.row] = (w1 + k1 * s1) * w - sigma * w2 * s2 + w1 * s1 - a1;
  }
}

/** Six numbers of a row: a ground direction at a ground place on body i. */
function arm(K: Kinematics, i: number, P: Float64Array, n: Float64Array, sign: number, G: Float64Array, at: number): void {
  const { A, r } = K,
    m = 9 * i;
  const x = P[0]! - r[3 * i]!,
    y = P[1]! - r[3 * i + 1]!,
    z = P[2]! - r[3 * i + 2]!;
  const tx = y * n[2]! - z * n[1]!,
    ty = z * n[0]! - x * n[2]!,
    tz = x * n[1]! - y * n[0]!;
  for (let k = 0; k < 3; k++) {
    G[at + k] = sign * n[k]!;
    G[at + 3 + k] = sign * (A[m + k]! * tx + A[m + 3 + k]! * ty + A[m + 6 + k]! * tz);
  }
}
/** Velocity, and acceleration without the bodies' own accelerations, of the material point of body i at a ground place. */
function material(K: Kinematics, i: number, P: Float64Array, V: Float64Array, acc: Float64Array): void {
  const { A, r, v, w } = K,
    m = 9 * i;
  const ox = A[m]! * w[3 * i]! + A[m + 1]! * w[3 * i + 1]! + A[m + 2]! * w[3 * i + 2]!;
  const oy = A[m + 3]! * w[3 * i]! + A[m + 4]! * w[3 * i + 1]! + A[m + 5]! * w[3 * i + 2]!;
  const oz = A[m + 6]! * w[3 * i]! + A[m + 7]! * w[3 * i + 1]! + A[m + 8]! * w[3 * i + 2]!;
  const x = P[0]! - r[3 * i]!,
    y = P[1]! - r[3 * i + 1]!,
    z = P[2]! - r[3 * i + 2]!;
  V[0] = v[3 * i]! + oy * z - oz * y;
  V[1] = v[3 * i + 1]! + oz * x - ox * z;
  V[2] = v[3 * i + 2]! + ox * y - oy * x;
  const d = ox * x + oy * y + oz * z,
    o2 = ox * ox + oy * oy + oz * oz;
  acc[0] = ox * d - o2 * x;
  acc[1] = oy * d - o2 * y;
  acc[2] = oz * d - o2 * z;
}
function spin(K: Kinematics, i: number): number {
  let s = 0;
  for (let k = 0; k < 3; k++) {
    const p = 9 * i + 3 * k;
    s += Z[k]! * (K.A[p]! * K.w[3 * i]! + K.A[p + 1]! * K.w[3 * i + 1]! + K.A[p + 2]! * K.w[3 * i + 2]!);
  }
  return s;
}
