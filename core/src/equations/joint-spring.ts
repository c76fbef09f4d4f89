import type { Force } from './forces';
import type { Kinematics } from './kinematics';
import { type LoadReadings, onFreedom } from './load-readings';
import type { Tracked } from './tracked';

/** Spring and damper on a joint coordinate q, whole turns counted: effort −k (q − q₀) − c q̇ − preload on the second body. */
export class JointSpring implements Force {
  readonly smooth = true;
  readonly bodies: readonly number[];
  readonly readings: LoadReadings;
  constructor(
    private readonly coordinate: Tracked,
    private readonly stiffness: number,
    private readonly damping: number,
    private readonly rest: number,
    private readonly preload: number,
  ) {
    this.bodies = coordinate.freedom.bodies;
    this.readings = onFreedom(coordinate.freedom, {
      effort: (K) => this.effort(K),
      deflection: (K) => coordinate.value(K) - rest,
      rate: (K) => coordinate.freedom.rate(K),
    });
  }
  private effort(K: Kinematics): number {
    return -(this.stiffness * (this.coordinate.value(K) - this.rest) + this.damping * this.coordinate.freedom.rate(K) + this.preload);
  }
  apply(K: Kinematics, _t: number, F: Float64Array): void {
    this.coordinate.freedom.push(K, F, this.effort(K));
  }
  energy(K: Kinematics): number {
    const q = this.coordinate.value(K) - this.rest;
    return 0.5 * this.stiffness * q * q + this.preload * q;
  }
}
