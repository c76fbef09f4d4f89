import type { Mat3, Vec3 } from '../geometry/vector';
import { atan2, sin, cos } from '../quantity/elementary';
import { type Force, placeAt, pushAt, speedAt, twist } from './forces';
import type { Kinematics } from './kinematics';
import type { LoadReadings } from './load-readings';

/** Efforts of six deflections: three shifts d, m, and a rotation vector φ, rad. */
export interface SixLaw {
  /** ∂E/∂x plus damping, six efforts, for x = (d, φ) and its rates (ḋ, ω). */
  efforts(x: Float64Array, rate: Float64Array, out: Float64Array): void;
  /** Stored energy E, J. */
  energy(x: Float64Array): number;
}

/**
 * An elastic connection between two frames, right for large rotation. With d the displacement of b's frame in a's axes and φ the rotation vector from
 * a's frame to b's, it stores an energy E(d, φ). The exact gradient gives the force −∂E/∂d along a's axes, acting at b's place on both
 * bodies, and the moment −T(φ)ᵀ ∂E/∂φ along b's axes, where φ̇ = T(φ) ω (inverse right Jacobian of the rotation group: Chirikjian,
 * Stochastic Models, Information Theory, and Lie Groups, vol. 2, sec. 10.8). Damping acts on ḋ and on ω.
 */
export class Bushing implements Force {
  readonly bodies: readonly number[];
  readonly readings: LoadReadings;
  private readonly x = new Float64Array(6);
  private readonly rate = new Float64Array(6);
  private readonly effort = new Float64Array(6);
  private readonly d = this.x.subarray(0, 3);
  private readonly phi = this.x.subarray(3);
  private readonly f = new Float64Array(3);
  private readonly m = new Float64Array(3);
  private readonly w = new Float64Array(3);
  /** Axes of the two frames in ground axes, row-major, columns are the axes. */
  private readonly Fa = new Float64Array(9);
  private readonly Fb = new Float64Array(9);

  constructor(
    private readonly a: number,
    private readonly sa: Vec3,
    private readonly fa: Mat3,
    private readonly b: number,
    private readonly sb: Vec3,
    private readonly fb: Mat3,
    private readonly law: SixLaw,
  ) {
    this.bodies = [a, b];
    this.readings = {
      parts: 6,
      axes: { body: a, at: sa, frame: fa },
      turns: (part) => part >= 3,
      effort: (K, _t, part) => (this.evaluate(K), part < 3 ? this.f[part]! : this.m[part - 3]!),
      deflection: (K, _t, part) => (this.measure(K), this.x[part]!),
      rate: (K, _t, part) => (this.evaluate(K), this.rate[part]!),
      positive: {
        effort:
          'Acts on the second body, positive along the bushing’s axes: forces along those fixed in the first body, moments about those fixed in the second.',
        deflection: 'Where the second body stands from the first, along and about the bushing’s axes.',
      },
    };
  }

  private measure(K: Kinematics): void {
    const { a, b, sa, sb, d, phi, Fa, Fb } = this;
    product(K.A, 9 * a, this.fa, Fa);
    product(K.A, 9 * b, this.fb, Fb);
    for (let k = 0; k < 3; k++) d[k] = 0;
    for (let i = 0; i < 3; i++) {
      const gap = placeAt(K, b, sb, i) - placeAt(K, a, sa, i);
      for (let k = 0; k < 3; k++) d[k] = d[k]! + Fa[3 * i + k]! * gap;
    }
    // relative rotation R = Faᵀ Fb; its rotation vector from the skew part and the trace
    let trace = 0;
    for (let k = 0; k < 3; k++) trace += columnDot(Fa, k, Fb, k);
    const x = (columnDot(Fa, 2, Fb, 1) - columnDot(Fa, 1, Fb, 2)) / 2;
    const y = (columnDot(Fa, 0, Fb, 2) - columnDot(Fa, 2, Fb, 0)) / 2;
    const z = (columnDot(Fa, 1, Fb, 0) - columnDot(Fa, 0, Fb, 1)) / 2;
    const s = Math.sqrt(x * x + y * y + z * z);
    const angle = atan2(s, (trace - 1) / 2);
    const scale = s > 1e-9 ? angle / s : 1;
    phi[0] = scale * x;
    phi[1] = scale * y;
    phi[2] = scale * z;
  }

  /** Deflections, their rates, and what follows: the force along a's axes and the moment along b's, on b. */
  private evaluate(K: Kinematics): void {
    const { a, b, sa, sb, d, phi, f, m, w, Fa, Fb } = this;
    this.measure(K);
    // rate of d in a's turning axes, and relative angular velocity in b's frame
    const wa = 3 * a,
      wb = 3 * b;
    for (let k = 0; k < 3; k++) w[k] = 0;
    let rx = 0,
      ry = 0,
      rz = 0; // ω_a in a's frame
    for (let i = 0; i < 3; i++) {
      const p = 9 * a + 3 * i,
        q = 9 * b + 3 * i;
      const va = K.A[p]! * K.w[wa]! + K.A[p + 1]! * K.w[wa + 1]! + K.A[p + 2]! * K.w[wa + 2]!;
      const vb = K.A[q]! * K.w[wb]! + K.A[q + 1]! * K.w[wb + 1]! + K.A[q + 2]! * K.w[wb + 2]!;
      for (let k = 0; k < 3; k++) w[k] = w[k]! + Fb[3 * i + k]! * (vb - va);
      rx += Fa[3 * i]! * va;
      ry += Fa[3 * i + 1]! * va;
      rz += Fa[3 * i + 2]! * va;
    }
    for (let k = 0; k < 3; k++) f[k] = 0;
    for (let i = 0; i < 3; i++) {
      const rate = speedAt(K, b, sb, i) - speedAt(K, a, sa, i);
      for (let k = 0; k < 3; k++) f[k] = f[k]! + Fa[3 * i + k]! * rate;
    }
    const [x, y, z] = [d[0]!, d[1]!, d[2]!];
    f[0] = f[0]! - (ry * z - rz * y);
    f[1] = f[1]! - (rz * x - rx * z);
    f[2] = f[2]! - (rx * y - ry * x);
    const { x: deflection, rate, effort, law } = this;
    for (let k = 0; k < 3; k++) {
      rate[k] = f[k]!;
      rate[3 + k] = 0; // the moment's damping acts on ω directly, below
    }
    law.efforts(deflection, rate, effort);
    const mx = effort[3]!,
      my = effort[4]!,
      mz = effort[5]!;
    for (let k = 0; k < 3; k++) rate[3 + k] = w[k]!;
    law.efforts(deflection, rate, effort);
    for (let k = 0; k < 3; k++) f[k] = -effort[k]!;
    // T = I + ½ φ̃ + c φ̃², so Tᵀ v = v − ½ φ × v + c φ × (φ × v)
    const px = phi[0]!,
      py = phi[1]!,
      pz = phi[2]!;
    const c = curvature(px * px + py * py + pz * pz);
    const ux = py * mz - pz * my,
      uy = pz * mx - px * mz,
      uz = px * my - py * mx;
    m[0] = -(effort[3]! - 0.5 * ux + c * (py * uz - pz * uy));
    m[1] = -(effort[4]! - 0.5 * uy + c * (pz * ux - px * uz));
    m[2] = -(effort[5]! - 0.5 * uz + c * (px * uy - py * ux));
  }

  apply(K: Kinematics, _t: number, F: Float64Array): void {
    this.evaluate(K);
    const { a, b, sa, sb, d, f, m, Fa, Fb } = this;
    const x = d[0]!,
      y = d[1]!,
      z = d[2]!;
    const fx = Fa[0]! * f[0]! + Fa[1]! * f[1]! + Fa[2]! * f[2]!;
    const fy = Fa[3]! * f[0]! + Fa[4]! * f[1]! + Fa[5]! * f[2]!;
    const fz = Fa[6]! * f[0]! + Fa[7]! * f[1]! + Fa[8]! * f[2]!;
    const tx = Fb[0]! * m[0]! + Fb[1]! * m[1]! + Fb[2]! * m[2]!;
    const ty = Fb[3]! * m[0]! + Fb[4]! * m[1]! + Fb[5]! * m[2]!;
    const tz = Fb[6]! * m[0]! + Fb[7]! * m[1]! + Fb[8]! * m[2]!;
    pushAt(K, F, b, sb, fx, fy, fz);
    twist(K, F, b, tx, ty, tz);
    // the reaction on a acts at b's place: at a's own, with the moment of the offset
    pushAt(K, F, a, sa, -fx, -fy, -fz);
    const gx = Fa[0]! * x + Fa[1]! * y + Fa[2]! * z,
      gy = Fa[3]! * x + Fa[4]! * y + Fa[5]! * z,
      gz = Fa[6]! * x + Fa[7]! * y + Fa[8]! * z;
    twist(K, F, a, -tx - (gy * fz - gz * fy), -ty - (gz * fx - gx * fz), -tz - (gx * fy - gy * fx));
  }

  energy(K: Kinematics): number {
    this.measure(K);
    return this.law.energy(this.x);
  }
}

/** (1 − (θ/2) cot(θ/2)) / θ² for θ², with its series near zero. */
function curvature(t2: number): number {
  if (t2 < 1e-4) return 1 / 12 + t2 / 720 + (t2 * t2) / 30240;
  const half = Math.sqrt(t2) / 2;
  return (1 - (half * cos(half)) / sin(half)) / t2;
}

function product(A: Float64Array, at: number, f: Mat3, out: Float64Array): void {
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) {
      out[3 * i + j] = A[at + 3 * i]! * f[j as 0]! + A[at + 3 * i + 1]! * f[(j + 3) as 3]! + A[at + 3 * i + 2]! * f[(j + 6) as 6]!;
    }
}
const columnDot = (a: Float64Array, i: number, b: Float64Array, j: number): number =>
  a[i]! * b[j]! + a[i + 3]! * b[j + 3]! + a[i + 6]! * b[j + 6]!;
