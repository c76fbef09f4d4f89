import type { Vec3 } from '../geometry/vector';
import { atan2, wrapAngle } from '../quantity/elementary';
import { Constraint, type Course } from './constraints';
import type { Kinematics } from './kinematics';

/**
 * The direction of b's x, seen along a's z: θ = atan2(p_y, p_x) with p = x_b in a's axes, at any relative posture. With the relative angular
 * velocity Ω in a's axes, ṗ = Ω × p and θ̇ = Ω · n, n = z − (p_z / (p_x² + p_y²)) (p_x, p_y, 0). Where b's x lies along a's z there is no direction.
 */
export class Heading extends Constraint {
  private readonly p = new Float64Array(3);
  private readonly n = new Float64Array(3);
  constructor(a: number, private readonly xa: Vec3, private readonly ya: Vec3, private readonly za: Vec3, b: number, private readonly xb: Vec3, private readonly course: Course) {
    super(a, b, [false]);
  }
  pattern(_k: number, column: number): boolean {
    return column % 6 >= 3;
  }
  private measure({ A }: Kinematics): void {
    const { a, b, xb, p, n } = this;
    const g = [0, 1, 2].map((k) => A[9 * b + 3 * k]! * xb[0] + A[9 * b + 3 * k + 1]! * xb[1] + A[9 * b + 3 * k + 2]! * xb[2]);
    const inA = [0, 1, 2].map((k) => A[9 * a + k]! * g[0]! + A[9 * a + 3 + k]! * g[1]! + A[9 * a + 6 + k]! * g[2]!);
    [this.xa, this.ya, this.za].forEach((e, k) => (p[k] = e[0] * inA[0]! + e[1] * inA[1]! + e[2] * inA[2]!));
    const m = p[0]! * p[0]! + p[1]! * p[1]!;
    n[0] = (-p[2]! * p[0]!) / m;
    n[1] = (-p[2]! * p[1]!) / m;
    n[2] = 1;
  }
  /** A vector of components along a's triad, in a's own axes. */
  private out(c: ArrayLike<number>): [number, number, number] {
    const { xa, ya, za } = this;
    return [0, 1, 2].map((k) => c[0]! * xa[k as 0] + c[1]! * ya[k as 0] + c[2]! * za[k as 0]) as [number, number, number];
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
    const { A } = K, { a, b } = this, g = 12 * this.row;
    const n = this.out(this.n);
    const ground = [0, 1, 2].map((k) => A[9 * a + 3 * k]! * n[0] + A[9 * a + 3 * k + 1]! * n[1] + A[9 * a + 3 * k + 2]! * n[2]);
    for (let k = 0; k < 3; k++) {
      G[g + 3 + k] = -n[k as 0];
      G[g + 9 + k] = A[9 * b + k]! * ground[0]! + A[9 * b + 3 + k]! * ground[1]! + A[9 * b + 6 + k]! * ground[2]!;
    }
  }
  gamma(K: Kinematics, t: number, out: Float64Array): void {
    this.measure(K);
    const { A, w } = K, { a, b, p, n, xa, ya, za } = this;
    const wa = [w[3 * a]!, w[3 * a + 1]!, w[3 * a + 2]!] as const;
    const wb = [0, 1, 2].map((k) => A[9 * b + 3 * k]! * w[3 * b]! + A[9 * b + 3 * k + 1]! * w[3 * b + 1]! + A[9 * b + 3 * k + 2]! * w[3 * b + 2]!);
    const wbInA = [0, 1, 2].map((k) => A[9 * a + k]! * wb[0]! + A[9 * a + 3 + k]! * wb[1]! + A[9 * a + 6 + k]! * wb[2]!);
    const rel = [wbInA[0]! - wa[0], wbInA[1]! - wa[1], wbInA[2]! - wa[2]] as const;
    const O = [xa, ya, za].map((e) => e[0] * rel[0] + e[1] * rel[1] + e[2] * rel[2]) as [number, number, number];
    const dp = [O[1] * p[2]! - O[2] * p[1]!, O[2] * p[0]! - O[0] * p[2]!, O[0] * p[1]! - O[1] * p[0]!] as const;
    const m = p[0]! * p[0]! + p[1]! * p[1]!, dm = 2 * (p[0]! * dp[0] + p[1]! * dp[1]);
    const f = p[2]! / m, df = (dp[2] - f * dm) / m;
    const turn = -O[0] * (df * p[0]! + f * dp[0]) - O[1] * (df * p[1]! + f * dp[1]);
    // −(ω_a × Ω) · n, from the turning of a's axes
    const ng = this.out(n);
    const cx = wa[1] * rel[2] - wa[2] * rel[1], cy = wa[2] * rel[0] - wa[0] * rel[2], cz = wa[0] * rel[1] - wa[1] * rel[0];
    this.course.at(K, t);
    out[this.row] = -(turn - (cx * ng[0] + cy * ng[1] + cz * ng[2])) + this.course.f2;
  }
  override nu(K: Kinematics, t: number, out: Float64Array): void {
    this.course.at(K, t);
    out[this.row] = this.course.f1;
  }
}
