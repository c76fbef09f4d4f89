/** Bones of a form of one body before the surface of a form of another: where they touch, in ground axes. */
import { bonesOf } from '../../geometry/contact/bones';
import { type Field, fieldOf } from '../../geometry/contact/field';
import { type Pose, type Probe, probesOf } from '../../geometry/contact/probe';
import type { Kinematics } from '../kinematics';
import type { Side } from './contacts';

/** Where a place touches, at the last `look`. */
export interface Touch {
  /** Ground axes: the middle between both surfaces, and the direction from the surface to what touches it. */
  readonly x: Float64Array;
  readonly n: Float64Array;
}

export class Meeting implements Touch {
  readonly a: number;
  readonly b: number;
  readonly probes: readonly Probe[];
  readonly x = new Float64Array(3);
  readonly n = new Float64Array(3);
  private readonly field: Field;
  private readonly pose: Pose = { R: new Float64Array(9), p: new Float64Array(3) };
  private readonly at = new Float64Array(3);
  /** Axes and origin of the surface, ground axes. */
  private readonly S = new Float64Array(9);
  private readonly s = new Float64Array(3);
  private readonly T = new Float64Array(9);
  private readonly t = new Float64Array(3);

  constructor(
    readonly bones: Side,
    readonly surface: Side,
  ) {
    this.a = bones.body;
    this.b = surface.body;
    this.field = fieldOf(surface.form);
    this.probes = bonesOf(bones.form).list.flatMap(probesOf);
  }

  /** Takes over where both are. */
  stand(K: Kinematics): void {
    const { pose, S, s, T, t } = this;
    placed(K, this.surface, S, s);
    placed(K, this.bones, T, t);
    for (let i = 0; i < 3; i++) {
      for (let j = 0; j < 3; j++) pose.R[3 * i + j] = S[i]! * T[j]! + S[3 + i]! * T[3 + j]! + S[6 + i]! * T[6 + j]!;
      pose.p[i] = S[i]! * (t[0]! - s[0]!) + S[3 + i]! * (t[1]! - s[1]!) + S[6 + i]! * (t[2]! - s[2]!);
    }
  }
  /** @returns the gap of a place, m, as both were at the last `stand` */
  gap(k: number): number {
    return this.probes[k]!.seek(this.pose, this.field, this.at);
  }
  /** The same, and where that is. */
  look(k: number): number {
    const { at, field, S, s, x, n } = this,
      probe = this.probes[k]!,
      gap = probe.seek(this.pose, field, at),
      back = probe.radius + gap / 2;
    for (let i = 0; i < 3; i++) at[i] = at[i]! - back * field.n[i]!;
    for (let i = 0; i < 3; i++) {
      const r = 3 * i;
      x[i] = s[i]! + S[r]! * at[0]! + S[r + 1]! * at[1]! + S[r + 2]! * at[2]!;
      n[i] = S[r]! * field.n[0]! + S[r + 1]! * field.n[1]! + S[r + 2]! * field.n[2]!;
    }
    return gap;
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

/** Meetings of two forms: the bones of each before the surface of the other, or of one alone where that is all that can touch. */
export function meetingsOf(one: Side, other: Side): Meeting[] {
  const [a, b] = [one, other].map(({ form }) => bonesOf(form)) as [ReturnType<typeof bonesOf>, ReturnType<typeof bonesOf>],
    ofOne = () => new Meeting(one, other),
    ofOther = () => new Meeting(other, one);
  if (a.whole && b.whole) return [b.list.length < a.list.length ? ofOther() : ofOne()];
  if (a.whole) return [ofOne()];
  if (b.whole) return [ofOther()];
  return [ofOne(), ofOther()].filter((m) => m.probes.length > 0);
}
