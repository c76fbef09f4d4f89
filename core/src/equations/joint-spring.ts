import type { Force } from './forces';
import type { Kinematics } from './kinematics';
import type { Tracked } from './tracked';

/** Spring and damper on a joint coordinate q, whole turns counted: effort −k (q − q₀) − c q̇ − preload on the second body. */
export class JointSpring implements Force {
  constructor(
    private readonly coordinate: Tracked,
    private readonly stiffness: number,
    private readonly damping: number,
    private readonly rest: number,
    private readonly preload: number,
  ) {}
  apply(K: Kinematics, _t: number, F: Float64Array): void {
    const q = this.coordinate.value(K) - this.rest;
    const { freedom } = this.coordinate;
    freedom.push(K, F, -(this.stiffness * q + this.damping * freedom.rate(K) + this.preload));
  }
  energy(K: Kinematics): number {
    const q = this.coordinate.value(K) - this.rest;
    return 0.5 * this.stiffness * q * q + this.preload * q;
  }
}
