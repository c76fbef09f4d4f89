/** Gaps of all meetings at a state, found once. */
import type { Kinematics } from '../kinematics';
import type { Meeting } from './meeting';

export class Gaps {
  /** Of each probe, counted through all meetings, where its meeting is near, m. */
  readonly of: Float64Array;
  /** How far each meeting is apart at least, m; not positive where it is near. */
  private readonly apart: Float64Array;
  private seen: Kinematics | undefined;
  private stamp = -1;

  /** @param placeOf of each probe the place at which it touches, −1 where it does not */
  constructor(
    private readonly meetings: readonly Meeting[],
    private readonly placeOf: Int32Array,
  ) {
    this.of = new Float64Array(placeOf.length);
    this.apart = new Float64Array(meetings.length);
  }
  /** They are found anew. */
  forget(): void {
    this.stamp = -1;
  }
  /** Of all that does not touch at the state in K: how far meetings are apart whose bodies cannot touch; and the probes of the others. */
  around(K: Kinematics, far: (apart: number, m: Meeting) => void, near: (probe: number, m: Meeting) => void): void {
    this.gather(K);
    const { meetings, placeOf, apart } = this;
    for (let i = 0, p = 0; i < meetings.length; i++) {
      const m = meetings[i]!,
        { length } = m.probes;
      if (apart[i]! > 0) far(apart[i]!, m);
      else for (let k = 0; k < length; k++) if (placeOf[p + k]! < 0) near(p + k, m);
      p += length;
    }
  }
  /** The same of those that are near alone. */
  near(K: Kinematics, tell: (probe: number, m: Meeting) => void): void {
    this.around(K, nothing, tell);
  }
  private gather(K: Kinematics): void {
    if (this.seen === K && this.stamp === K.moved) return;
    this.seen = K;
    this.stamp = K.moved;
    const { meetings, of, apart } = this;
    for (let i = 0, p = 0; i < meetings.length; i++) {
      const m = meetings[i]!,
        { length } = m.probes;
      m.stand(K);
      apart[i] = m.apart;
      if (apart[i]! <= 0) for (let k = 0; k < length; k++) of[p + k] = m.gap(k);
      p += length;
    }
  }
}
const nothing = (): void => undefined;
