import type { Force } from './forces';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import { Tracked } from './tracked';

/** Spring and damper on a joint coordinate q, whole turns counted: effort −k (q − q₀) − c q̇ − preload on the second body. */
export class JointSpring implements Force {
  readonly extra: Tracked;
  constructor(
    private readonly freedom: Freedom,
    private readonly stiffness: number,
    private readonly damping: number,
    private readonly rest: number,
    private readonly preload: number,
  ) {
    this.extra = new Tracked(freedom);
  }
  apply(K: Kinematics, _t: number, F: Float64Array): void {
    const q = this.extra.value(K) - this.rest;
    this.freedom.push(K, F, -(this.stiffness * q + this.damping * this.freedom.rate(K) + this.preload));
  }
  energy(K: Kinematics): number {
    const q = this.extra.value(K) - this.rest;
    return 0.5 * this.stiffness * q * q + this.preload * q;
  }
}
