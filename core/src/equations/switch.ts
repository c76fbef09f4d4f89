import type { Kinematics } from './kinematics';
import type { Magnitude } from './magnitude';
import type { Memory } from './memory';
import type { Fired, Watch } from './watch';

/** What it takes to hold again. */
export interface Resumed {
  resume(K: Kinematics, t: number): void;
  /** How far from where it was that is, in words, where it is worth telling. */
  readonly apart?: string | undefined;
}

/** A drive or a joint that holds while a condition is positive; without `resumed`, once it has let go it has for good. */
export class Switch implements Watch, Memory {
  readonly cells = 1;
  on = true;
  get programs(): Magnitude['programs'] {
    return this.condition.programs;
  }
  constructor(
    private readonly name: string,
    private readonly condition: Magnitude,
    private readonly resumed: Resumed | undefined,
    private readonly hold: (on: boolean) => void,
    /** How far below zero the condition may be while it holds: what has closed by its own gap keeps that gap, and rounding must not open it. */
    private readonly slack = 0,
  ) {}
  keep(out: Float64Array, at: number): void {
    out[at] = this.on ? 1 : 0;
  }
  recall(from: Float64Array, at: number): void {
    this.on = from[at] === 1;
  }
  begin(K: Kinematics, t: number): void {
    this.on = this.condition.at(K, t) > 0;
    this.hold(this.on);
  }
  value(K: Kinematics, t: number): number {
    if (!this.on && !this.resumed) return NaN;
    const c = this.condition.at(K, t) + (this.on ? this.slack : 0);
    // exactly zero counts as off
    return this.on ? (c > 0 ? c : Math.min(c, -1e-300)) : c > 0 ? -c : Math.max(-c, 1e-300);
  }
  fire(K: Kinematics, t: number): Fired {
    this.on = !this.on;
    if (this.on) this.resumed?.resume(K, t);
    this.hold(this.on);
    return this.on
      ? { kind: 'engages', message: `${this.name} engages${this.resumed?.apart ?? ''}.` }
      : { kind: 'releases', message: `${this.name} releases.` };
  }
}
