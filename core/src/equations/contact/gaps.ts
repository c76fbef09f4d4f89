/** Gaps of all that is near at a state, found once. */
import type { Kinematics } from '../kinematics';
import type { Meeting } from './meeting';
import type { Meetings } from './meetings';
import { Near } from './near';

/** Told of the bodies of a pair that cannot touch, and how far they are apart at least. */
type Far = (apart: number, m: Meeting) => void;
type Told = (probe: number, m: Meeting, k: number) => void;

export class Gaps {
  /** Of each probe, counted through all meetings, where its meeting is near, m. */
  readonly of: Float64Array;
  readonly close: Near;
  /** How far each listed pair is apart at least, m; not positive where it is near. */
  private readonly apart: Float64Array;
  private seen: Kinematics | undefined;
  private stamp = -1;

  /** @param placeOf of each probe the place at which it touches, −1 where it does not */
  constructor(
    private readonly meetings: Meetings,
    private readonly placeOf: Int32Array,
  ) {
    this.of = new Float64Array(meetings.probes);
    this.close = new Near(meetings.pairs);
    this.apart = new Float64Array(meetings.pairs.length);
  }
  /** They are found anew. */
  forget(): void {
    this.stamp = -1;
    this.close.forget();
  }
  /** More is listed as near. */
  widen(K: Kinematics): void {
    this.stamp = -1;
    this.close.widen(K);
  }
  /** Of all that does not touch at the state in K: how far pairs are apart that are listed, but cannot touch; and the probes of the others. */
  around(K: Kinematics, far: Far, near: Told): void {
    const { placeOf } = this;
    this.all(K, far, (p, m, k) => {
      if (placeOf[p]! < 0) near(p, m, k);
    });
  }
  /** The same of all, whether it touches or not. */
  all(K: Kinematics, far: Far, near: Told): void {
    this.gather(K);
    const { meetings, apart, close } = this;
    for (let i = 0; i < close.count; i++) {
      const pair = close.list[i]!,
        list = meetings.of(pair);
      if (apart[i]! > 0) far(apart[i]!, list[0]!);
      else {
        let p = meetings.firsts[pair]!;
        for (const m of list) for (let k = 0; k < m.probes.length; k++, p++) near(p, m, k);
      }
    }
  }
  /** The same of those that are near alone. */
  near(K: Kinematics, tell: Told): void {
    this.around(K, nothing, tell);
  }
  private gather(K: Kinematics): void {
    if (this.seen === K && this.stamp === K.moved) return;
    this.seen = K;
    this.stamp = K.moved;
    const { meetings, of, apart, close } = this;
    close.look(K);
    for (let i = 0; i < close.count; i++) {
      const pair = close.list[i]!,
        list = meetings.of(pair);
      if (list.length === 0) {
        apart[i] = -1;
        continue;
      }
      list[0]!.stand(K, false);
      apart[i] = list[0]!.apart;
      if (apart[i]! > 0) continue;
      let p = meetings.firsts[pair]!;
      for (const m of list) {
        m.stand(K);
        const { away } = m;
        for (let k = 0; k < m.probes.length; k++) of[p++] = away ? Infinity : m.gap(k);
      }
    }
  }
}
/** Where nothing is to be told. */
export const nothing = (): void => undefined;
