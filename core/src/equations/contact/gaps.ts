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
  /** Meetings of which nothing is near, and how far they are apart at least, m. */
  private readonly afar: Meeting[] = [];
  private readonly apart: number[] = [];
  /** All probes that are near, with their meetings and numbers there. */
  private readonly met: Meeting[] = [];
  private readonly probe: number[] = [];
  private readonly number: number[] = [];
  private seen: Kinematics | undefined;
  private stamp = -1;

  /** @param placeOf of each probe the place at which it touches, −1 where it does not */
  constructor(
    private readonly meetings: Meetings,
    private readonly placeOf: Int32Array,
  ) {
    this.of = new Float64Array(meetings.probes);
    this.close = new Near(meetings.pairs);
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
    this.gather(K);
    const { apart, afar, probe, number, met, placeOf } = this;
    for (let i = 0; i < afar.length; i++) far(apart[i]!, afar[i]!);
    for (let i = 0; i < met.length; i++) if (placeOf[probe[i]!]! < 0) near(probe[i]!, met[i]!, number[i]!);
  }
  /** The same of those that are near alone. */
  near(K: Kinematics, tell: Told): void {
    this.around(K, nothing, tell);
  }
  private gather(K: Kinematics): void {
    if (this.seen === K && this.stamp === K.moved) return;
    this.seen = K;
    this.stamp = K.moved;
    const { meetings, of, apart, afar, probe, number, met, close, placeOf } = this;
    close.look(K);
    afar.length = 0;
    met.length = 0;
    for (let i = 0; i < close.count; i++) {
      const pair = close.list[i]!,
        list = meetings.of(pair),
        first = list[0];
      if (!first) continue;
      first.stand(K, false);
      const away = first.apart;
      if (away > 0) {
        apart[afar.length] = away;
        afar.push(first);
        continue;
      }
      let p = meetings.firsts[pair]!;
      for (const m of list) {
        const before = met.length;
        m.stand(K);
        m.gaps(of, p, placeOf);
        for (let k = 0; k < m.probes.length; k++, p++) {
          if (of[p] === Infinity) continue;
          probe[met.length] = p;
          number[met.length] = k;
          met.push(m);
        }
        if (met.length > before) continue;
        // what was not looked at is as far away at least as what may go through unseen
        apart[afar.length] = m.through;
        afar.push(m);
      }
    }
  }
}
/** Where nothing is to be told. */
const nothing = (): void => undefined;
