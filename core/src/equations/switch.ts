import type { DrivenCourse } from './courses';
import type { Kinematics } from './kinematics';
import type { Magnitude } from './magnitude';
import type { Memory } from './memory';
import type { Fired, Watch } from './watch';

/** A drive that holds while a condition is positive; or a joint (no course), which lets go once and for good. */
export class Switch implements Watch, Memory {
  readonly cells = 1;
  on = true;
  get programs(): Magnitude['programs'] {
    return this.condition.programs;
  }
  constructor(
    private readonly name: string,
    private readonly condition: Magnitude,
    private readonly course: DrivenCourse | undefined,
    private readonly hold: (on: boolean) => void,
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
    if (!this.on && !this.course) return NaN;
    const c = this.condition.at(K, t);
    // exactly zero counts as off
    return this.on ? (c > 0 ? c : Math.min(c, -1e-300)) : c > 0 ? -c : Math.max(-c, 1e-300);
  }
  fire(K: Kinematics, t: number): Fired {
    this.on = !this.on;
    if (this.on) this.course?.resume(K, t);
    this.hold(this.on);
    return this.on ? { kind: 'engages', message: `${this.name} engages.` } : { kind: 'releases', message: `${this.name} releases.` };
  }
}
