import { StateLayout } from './layout';
import { type KernelMemory, placed } from '../kernel/memory';
import { sharedMemory } from '../kernel/pool';

/** Numbers of each kind that describe the bodies and the ground, and three places for equations that are evaluated one by one. */
const sizesOf = (n: number) => ({ r: 3 * n, q: 4 * n, v: 3 * n, w: 3 * n, A: 9 * n, numbers: 32, course: 3, out: 36 });
/** Places of the numbers of a machine's bodies, relative to the first. */
export type KinematicPlaces = Readonly<Record<keyof ReturnType<typeof sizesOf>, number>>;
/** The same for so many bodies. */
export const kinematicPlaces = (bodies: number): KinematicPlaces => placed(sizesOf(bodies + 1)).at;

/**
 * Where every body is and how it moves: position of the centre of mass r (ground axes), unit quaternion q,
 * velocity v (ground axes), angular velocity w (body axes). One slot more than there are bodies: the last
 * one is the ground, always at rest, so that elements need no special case.
 */
export class Kinematics {
  /** In which all of this lies, so that compiled equations read it. */
  readonly memory: KernelMemory;
  readonly at: KinematicPlaces;
  /** Whose numbers lie at `numbers`. */
  told: object | undefined;
  readonly r: Float64Array;
  readonly q: Float64Array;
  readonly v: Float64Array;
  readonly w: Float64Array;
  /** Rotation matrices, row-major: body axes to ground axes. */
  readonly A: Float64Array;
  /** Differential states beyond those of the bodies. */
  readonly z: Float64Array;
  readonly layout: StateLayout;

  constructor(
    /** Number of bodies, ground not counted. */
    readonly bodies: number,
    readonly extra: number,
    /** Numbers for which there is to be room behind it. */
    room = 0,
  ) {
    const sizes = sizesOf(bodies + 1),
      { at, total } = placed(sizes),
      memory = (this.memory = sharedMemory(total + room)),
      from = memory.take(total);
    this.at = Object.fromEntries(Object.entries(at).map(([key, x]) => [key, from + x])) as KinematicPlaces;
    const view = (key: keyof typeof sizes) => memory.numbers.subarray(this.at[key], this.at[key] + sizes[key]);
    this.r = view('r');
    this.q = view('q');
    this.v = view('v');
    this.w = view('w');
    this.A = view('A');
    this.z = new Float64Array(extra);
    this.layout = new StateLayout(bodies, extra);
    this.q[4 * bodies] = 1;
    this.A[9 * bodies] = this.A[9 * bodies + 4] = this.A[9 * bodies + 8] = 1;
  }

  /** Length of the state vector. */
  get size(): number {
    return this.layout.size;
  }

  /** Takes over a state vector; quaternions are normalised on the way. */
  load(y: Float64Array): void {
    const { r, q, v, w, z, bodies, layout } = this;
    for (let i = 0; i < bodies; i++) {
      const p = layout.posture(i);
      for (let k = 0; k < 3; k++) r[3 * i + k] = y[p + k]!;
      const a = y[p + 3]!,
        b = y[p + 4]!,
        c = y[p + 5]!,
        d = y[p + 6]!;
      const k = 1 / Math.sqrt(a * a + b * b + c * c + d * d);
      q[4 * i] = a * k;
      q[4 * i + 1] = b * k;
      q[4 * i + 2] = c * k;
      q[4 * i + 3] = d * k;
    }
    for (let i = 0; i < bodies; i++) {
      const p = layout.motion(i);
      for (let k = 0; k < 3; k++) {
        v[3 * i + k] = y[p + k]!;
        w[3 * i + k] = y[p + 3 + k]!;
      }
    }
    for (let k = 0; k < z.length; k++) z[k] = y[layout.further + k]!;
    this.orient();
  }

  store(y: Float64Array): void {
    const { r, q, v, w, z, bodies, layout } = this;
    for (let i = 0; i < bodies; i++) {
      const p = layout.posture(i),
        m = layout.motion(i);
      for (let k = 0; k < 3; k++) y[p + k] = r[3 * i + k]!;
      for (let k = 0; k < 4; k++) y[p + 3 + k] = q[4 * i + k]!;
      for (let k = 0; k < 3; k++) {
        y[m + k] = v[3 * i + k]!;
        y[m + 3 + k] = w[3 * i + k]!;
      }
    }
    for (let k = 0; k < z.length; k++) y[layout.further + k] = z[k]!;
  }

  /** Rotation matrices from the quaternions. */
  orient(): void {
    const { q, A, bodies } = this;
    for (let i = 0, p = 0, m = 0; i < bodies; i++, p += 4, m += 9) {
      const a = q[p]!,
        b = q[p + 1]!,
        c = q[p + 2]!,
        d = q[p + 3]!;
      A[m] = 1 - 2 * (c * c + d * d);
      A[m + 1] = 2 * (b * c - a * d);
      A[m + 2] = 2 * (b * d + a * c);
      A[m + 3] = 2 * (b * c + a * d);
      A[m + 4] = 1 - 2 * (b * b + d * d);
      A[m + 5] = 2 * (c * d - a * b);
      A[m + 6] = 2 * (b * d - a * c);
      A[m + 7] = 2 * (c * d + a * b);
      A[m + 8] = 1 - 2 * (b * b + c * c);
    }
  }

  /** Time derivative of the positions into dy: dr/dt = v and dq/dt = ½ q ∘ (0, w). */
  rates(dy: Float64Array): void {
    const { q, v, w, bodies, layout } = this;
    for (let i = 0; i < bodies; i++) {
      const p = layout.posture(i),
        j = 3 * i,
        k = 4 * i;
      dy[p] = v[j]!;
      dy[p + 1] = v[j + 1]!;
      dy[p + 2] = v[j + 2]!;
      const a = q[k]!,
        b = q[k + 1]!,
        c = q[k + 2]!,
        d = q[k + 3]!;
      const x = w[j]!,
        y = w[j + 1]!,
        z = w[j + 2]!;
      dy[p + 3] = 0.5 * (-b * x - c * y - d * z);
      dy[p + 4] = 0.5 * (a * x + c * z - d * y);
      dy[p + 5] = 0.5 * (a * y - b * z + d * x);
      dy[p + 6] = 0.5 * (a * z + b * y - c * x);
    }
  }

  /**
   * Moves every body by a small displacement (six numbers a body: translation in ground axes, rotation
   * vector in body axes), with the rotation applied exactly as a unit quaternion (Cayley map).
   */
  displace(step: Float64Array, scale: number): void {
    const { r, q, bodies } = this;
    for (let i = 0; i < bodies; i++) {
      for (let k = 0; k < 3; k++) r[3 * i + k] = r[3 * i + k]! + scale * step[6 * i + k]!;
      const x = 0.5 * scale * step[6 * i + 3]!,
        y = 0.5 * scale * step[6 * i + 4]!,
        z = 0.5 * scale * step[6 * i + 5]!;
      const n = 1 / Math.sqrt(1 + x * x + y * y + z * z);
      const p = 4 * i;
      const a = q[p]!,
        b = q[p + 1]!,
        c = q[p + 2]!,
        d = q[p + 3]!;
      const qa = (a - b * x - c * y - d * z) * n;
      const qb = (b + a * x + c * z - d * y) * n;
      const qc = (c + a * y - b * z + d * x) * n;
      const qd = (d + a * z + b * y - c * x) * n;
      const m = 1 / Math.sqrt(qa * qa + qb * qb + qc * qc + qd * qd);
      q[p] = qa * m;
      q[p + 1] = qb * m;
      q[p + 2] = qc * m;
      q[p + 3] = qd * m;
    }
    this.orient();
  }
}
