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
  private readonly T = new Float64Array(9);
  private readonly t = new Float64Array(3);
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
    for (let i = 0; i < 3; i++) {
      for (let j = 0; j < 3; j++) pose.R[3 * i + j] = S[i]! * T[j]! + S[3 + i]! * T[3 + j]! + S[6 + i]! * T[6 + j]!;
      pose.p[i] = S[i]! * (t[0]! - s[0]!) + S[3 + i]! * (t[1]! - s[1]!) + S[6 + i]! * (t[2]! - s[2]!);
    }
  }
}

/** Axes and origin of a form in ground axes. */
function placed({ r, A }: Kinematics, { body, turn, shift }: Side, S: Float64Array, s: Float64Array): void {
  const p = 9 * body;
  for (let i = 0; i < 3; i++) {
    const a = A[p + 3 * i]!,
      b = A[p + 3 * i + 1]!,
      c = A[p + 3 * i + 2]!;
    for (let j = 0; j < 3; j++) S[3 * i + j] = a * turn[j]! + b * turn[3 + j]! + c * turn[6 + j]!;
    s[i] = r[3 * body + i]! + a * shift[0] + b * shift[1] + c * shift[2];
  }
}
