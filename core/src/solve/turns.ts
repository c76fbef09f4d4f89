import { TWO_PI } from '../quantity/elementary';
import type { Freedom } from '../equations/freedom';
import type { Kinematics } from '../equations/kinematics';

/** Angles that count whole turns, followed from state to state with the help of their rates. */
export class Turns {
  readonly angle: Float64Array;
  private readonly rate: Float64Array;
  private t = 0;
  constructor(
    private readonly freedoms: readonly Freedom[],
    K: Kinematics,
    t: number,
  ) {
    this.angle = Float64Array.from(freedoms, (f) => f.value(K));
    this.rate = Float64Array.from(freedoms, (f) => f.rate(K));
    this.t = t;
  }
  /** What angle i comes to at a state a little later. */
  peek(i: number, K: Kinematics, t: number): number {
    const f = this.freedoms[i]!,
      value = f.value(K),
      expected = this.angle[i]! + 0.5 * (f.rate(K) + this.rate[i]!) * (t - this.t);
    return value + TWO_PI * Math.round((expected - value) / TWO_PI);
  }
  follow(K: Kinematics, t: number): void {
    for (let i = 0; i < this.freedoms.length; i++) {
      const f = this.freedoms[i]!;
      const rate = f.rate(K);
      const expected = this.angle[i]! + 0.5 * (rate + this.rate[i]!) * (t - this.t);
      const value = f.value(K);
      this.angle[i] = value + TWO_PI * Math.round((expected - value) / TWO_PI);
      this.rate[i] = rate;
    }
    this.t = t;
  }
}
