import type { Force } from './forces';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import type { ExtraStates } from './states';
import { TWO_PI } from '../quantity/elementary';

/**
 * Spring and damper on a joint coordinate q: effort −k (q − q₀) − c q̇ − preload on the second body.
 * An angle counts whole turns: its integral is carried along and says which turn the measured angle is in.
 */
export class JointSpring implements Force {
  readonly extra?: ExtraStates;
  constructor(
    private readonly freedom: Freedom,
    private readonly stiffness: number,
    private readonly damping: number,
    private readonly rest: number,
    private readonly preload: number,
  ) {
    if (freedom.type !== 'rotation') return;
    this.extra = {
      states: 1,
      first: 0,
      begin(K) {
        K.z[this.first] = freedom.value(K);
      },
      rates(K, _t, dz, at) {
        dz[at + this.first] = freedom.rate(K);
      },
    };
  }
  /** Coordinate counting whole turns. */
  coordinate(K: Kinematics): number {
    const q = this.freedom.value(K);
    return this.extra ? q + TWO_PI * Math.round((K.z[this.extra.first]! - q) / TWO_PI) : q;
  }
  apply(K: Kinematics, _t: number, F: Float64Array): void {
    const q = this.coordinate(K) - this.rest;
    this.freedom.push(K, F, -(this.stiffness * q + this.damping * this.freedom.rate(K) + this.preload));
  }
  energy(K: Kinematics): number {
    const q = this.coordinate(K) - this.rest;
    return 0.5 * this.stiffness * q * q + this.preload * q;
  }
}
