import type { Vec3 } from '../geometry/vector';
import { atan2, wrapAngle } from '../quantity/elementary';
import { Constraint, type Prescription } from './constraint';
import { dot3, toBody, toGround } from './axes';
import type { Kinematics } from './kinematics';

/**
 * The direction of b's x, seen along a's z: θ = atan2(p_y, p_x) with p = x_b in a's axes, at any relative posture. With the relative angular
 * velocity Ω in a's axes, ṗ = Ω × p and θ̇ = Ω · n, n = z − (p_z / (p_x² + p_y²)) (p_x, p_y, 0). Where b's x lies along a's z there is no direction.
 */
export class Heading extends Constraint {
  private readonly x: Float64Array;
  private readonly y: Float64Array;
  private readonly z: Float64Array;
  private readonly xb: Float64Array;
  /** p and n along a's triad. */
  private readonly p = new Float64Array(3);
  private readonly n = new Float64Array(3);
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
    [this.x, this.y, this.z, this.xb] = [xa, ya, za, xb].map((v) => Float64Array.from(v)) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
  }
  pattern(_k: number, column: number): boolean {
    return column % 6 >= 3;
  }
  private measure({ A }: Kinematics): void {
    const { a, b, xb, p, n } = this;
    toGround(A, b, xb, U);
    toBody(A, a, U, V);
    p[0] = dot3(this.x, V);
    p[1] = dot3(this.y, V);
    p[2] = dot3(this.z, V);
    const f = p[2]! / (p[0]! * p[0]! + p[1]! * p[1]!);
    n[0] = -f * p[0]!;
    n[1] = -f * p[1]!;
    n[2] = 1;
  }
  /** A vector of components along a's triad, in a's own axes. */
  private own(c: Float64Array, out: Float64Array): void {
    for (let k = 0; k < 3; k++) out[k] = c[0]! * this.x[k]! + c[1]! * this.y[k]! + c[2]! * this.z[k]!;
  }
  coordinate(K: Kinematics): number {
    this.measure(K);
    return atan2(this.p[1]!, this.p[0]!);
  }
  position(K: Kinematics, t: number, phi: Float64Array): void {
    this.course.at(K, t);
    phi[this.row] = wrapAngle(this.coordinate(K) - this.course.f);
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    this.measure(K);
    const { a, b } = this,
      g = 12 * this.row;
    this.own(this.n, P);
    toGround(K.A, a, P, U);
    toBody(K.A, b, U, V);
    for (let k = 0; k < 3; k++) {
      G[g + 3 + k] = -P[k]!;
      G[g + 9 + k] = V[k]!;
    }
  }
  gamma(K: Kinematics, t: number, out: Float64Array): void {
    this.measure(K);
    const { A, w } = K,
      { a, b, p, n } = this;
    // relative angular velocity in a's axes, then along its triad
    for (let k = 0; k < 3; k++) W[k] = w[3 * b + k]!;
    toGround(A, b, W, U);
    toBody(A, a, U, V);
    for (let k = 0; k < 3; k++) {
      W[k] = w[3 * a + k]!;
      V[k] = V[k]! - W[k]!;
    }
    const ox = dot3(this.x, V),
      oy = dot3(this.y, V),
      oz = dot3(this.z, V);
    const dx = oy * p[2]! - oz * p[1]!,
      dy = oz * p[0]! - ox * p[2]!,
      dz = ox * p[1]! - oy * p[0]!;
    const m = p[0]! * p[0]! + p[1]! * p[1]!,
      f = p[2]! / m,
      df = (dz - f * 2 * (p[0]! * dx + p[1]! * dy)) / m;
    const turn = -ox * (df * p[0]! + f * dx) - oy * (df * p[1]! + f * dy);
    // −(ω_a × Ω) · n, from the turning of a's axes
    this.own(n, P);
    const cx = W[1]! * V[2]! - W[2]! * V[1]!,
      cy = W[2]! * V[0]! - W[0]! * V[2]!,
      cz = W[0]! * V[1]! - W[1]! * V[0]!;
    this.course.at(K, t);
    out[this.row] = -(turn - (cx * P[0]! + cy * P[1]! + cz * P[2]!)) + (K.standing ? 0 : this.course.f2);
  }
  override nu(K: Kinematics, t: number, out: Float64Array): void {
    this.course.at(K, t);
    out[this.row] = K.standing ? 0 : this.course.f1;
  }
}

const U = new Float64Array(3);
const V = new Float64Array(3);
const P = new Float64Array(3);
const W = new Float64Array(3);
