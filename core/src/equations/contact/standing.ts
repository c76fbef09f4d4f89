/** Where two forms stand at a state: each in ground axes, and the first as the second sees it. */
import type { Pose } from '../../geometry/contact/probe';
import type { Kinematics } from '../kinematics';
import type { Side } from './contacts';

export class Standing {
  /** The first as the second sees it. */
  readonly pose: Pose = { R: new Float64Array(9), p: new Float64Array(3) };
  /** Axes and origin of the second, ground axes. */
  readonly S = new Float64Array(9);
  readonly s = new Float64Array(3);
  /** The same a little before or after. */
  readonly beside: Pose = { R: new Float64Array(9), p: new Float64Array(3) };
  private readonly T = new Float64Array(9);
  private readonly t = new Float64Array(3);
  private readonly moved = new Moved();
  private seen: Kinematics | undefined;
  private stamp = -1;
  constructor(
    private readonly first: Side,
    private readonly second: Side,
  ) {}

  /** Takes over where both are at the state in K. */
  take(K: Kinematics): void {
    if (this.seen === K && this.stamp === K.moved) return;
    this.seen = K;
    this.stamp = K.moved;
    const { pose, S, s, T, t } = this;
    placed(K, this.second, S, s);
    placed(K, this.first, T, t);
    seenFrom(S, s, T, t, pose);
  }
  /** How both will stand after a time, as they move and with the accelerations at hand, six numbers a body: into `beside`, to the second order. */
  after(K: Kinematics, acceleration: Float64Array, time: number): void {
    const { moved, beside } = this,
      { U, u, T, t } = moved;
    moved.place(K, acceleration, this.second, time, U, u);
    moved.place(K, acceleration, this.first, time, T, t);
    seenFrom(U, u, T, t, beside);
  }
}

/** Where forms stand on bodies that have moved. */
class Moved {
  readonly U = new Float64Array(9);
  readonly u = new Float64Array(3);
  readonly T = new Float64Array(9);
  readonly t = new Float64Array(3);
  private readonly r = new Float64Array(3);
  private readonly A = new Float64Array(9);
  private readonly turn = new Float64Array(3);

  place(K: Kinematics, acceleration: Float64Array, side: Side, time: number, S: Float64Array, s: Float64Array): void {
    const { body } = side;
    if (body >= K.bodies) {
      placed(K, side, S, s);
      return;
    }
    const { r, A, turn } = this,
      half = (time * time) / 2;
    for (let k = 0; k < 3; k++) {
      r[k] = K.r[3 * body + k]! + time * K.v[3 * body + k]! + half * acceleration[6 * body + k]!;
      turn[k] = time * K.w[3 * body + k]! + half * acceleration[6 * body + 3 + k]!;
    }
    turned(K.A, 9 * body, turn, A);
    placedAt(r, 0, A, 0, side, S, s);
  }
}

/** Axes turned by a small vector in them: A (I + 2 (h× + h×h×)/(1 + h²)) with h half of it, which keeps them square (O. Rodrigues, 1840). */
function turned(A: Float64Array, p: number, turn: Float64Array, out: Float64Array): void {
  const x = turn[0]! / 2,
    y = turn[1]! / 2,
    z = turn[2]! / 2,
    f = 2 / (1 + x * x + y * y + z * z);
  for (let i = 0; i < 3; i++) {
    const a = A[p + 3 * i]!,
      b = A[p + 3 * i + 1]!,
      c = A[p + 3 * i + 2]!;
    out[3 * i] = a + f * (-a * (y * y + z * z) + b * (x * y + z) + c * (x * z - y));
    out[3 * i + 1] = b + f * (a * (x * y - z) - b * (x * x + z * z) + c * (y * z + x));
    out[3 * i + 2] = c + f * (a * (x * z + y) + b * (y * z - x) - c * (x * x + y * y));
  }
}

/** Axes and origin as others see them. */
function seenFrom(S: Float64Array, s: Float64Array, T: Float64Array, t: Float64Array, { R, p }: Pose): void {
  for (let i = 0; i < 3; i++) {
    for (let j = 0; j < 3; j++) R[3 * i + j] = S[i]! * T[j]! + S[3 + i]! * T[3 + j]! + S[6 + i]! * T[6 + j]!;
    p[i] = S[i]! * (t[0]! - s[0]!) + S[3 + i]! * (t[1]! - s[1]!) + S[6 + i]! * (t[2]! - s[2]!);
  }
}

/** Axes and origin of a form in ground axes. */
function placed({ r, A }: Kinematics, side: Side, S: Float64Array, s: Float64Array): void {
  placedAt(r, 3 * side.body, A, 9 * side.body, side, S, s);
}
function placedAt(r: Float64Array, q: number, A: Float64Array, p: number, { turn, shift }: Side, S: Float64Array, s: Float64Array): void {
  for (let i = 0; i < 3; i++) {
    const a = A[p + 3 * i]!,
      b = A[p + 3 * i + 1]!,
      c = A[p + 3 * i + 2]!;
    for (let j = 0; j < 3; j++) S[3 * i + j] = a * turn[j]! + b * turn[3 + j]! + c * turn[6 + j]!;
    s[i] = r[q + i]! + a * shift[0] + b * shift[1] + c * shift[2];
  }
}
