import { TWO_PI } from '../quantity/elementary';
import type { System } from '../system/system';

/** Angles that count whole turns, followed from state to state with the help of their rates: those that a system follows. */
export class Turns {
  readonly angle: Float64Array;
  private readonly rate: Float64Array;
  /** Within one turn, and its rate, where the system is now. */
  private readonly value: Float64Array;
  private readonly now: Float64Array;
  private t: number;
  constructor(
    private readonly system: System,
    t: number,
  ) {
    const angles = () => new Float64Array(system.followed.length);
    [this.angle, this.rate, this.value, this.now] = [angles(), angles(), angles(), angles()];
    system.follows(this.angle, this.rate);
    this.t = t;
  }
  /** What angle i comes to at a time a little later, of which the state is in the system. */
  peek(i: number, t: number): number {
    this.system.follows(this.value, this.now);
    return this.counted(i, t);
  }
  /** Takes note of the state in the system. */
  follow(t: number): void {
    this.system.follows(this.value, this.now);
    this.count(t);
  }
  /** The same next to a state of which the angles are known: there are less than half a turn between them. */
  nextTo(angles: Float64Array, t: number): void {
    const { angle, rate, value, now } = this;
    this.system.follows(value, now);
    for (let i = 0; i < angle.length; i++) {
      angle[i] = value[i]! + TWO_PI * Math.round((angles[i]! - value[i]!) / TWO_PI);
      rate[i] = now[i]!;
    }
    this.t = t;
  }
  /** The same, of values and rates that stand one after the other from a place on. */
  note(t: number, from: Float64Array, at: number): void {
    const { angle, value, now } = this;
    for (let i = 0; i < angle.length; i++) {
      value[i] = from[at + 2 * i]!;
      now[i] = from[at + 2 * i + 1]!;
    }
    this.count(t);
  }
  private count(t: number): void {
    const { angle, rate, now } = this;
    for (let i = 0; i < angle.length; i++) {
      angle[i] = this.counted(i, t);
      rate[i] = now[i]!;
    }
    this.t = t;
  }
  private counted(i: number, t: number): number {
    const expected = this.angle[i]! + 0.5 * (this.now[i]! + this.rate[i]!) * (t - this.t),
      value = this.value[i]!;
    return value + TWO_PI * Math.round((expected - value) / TWO_PI);
  }
}
