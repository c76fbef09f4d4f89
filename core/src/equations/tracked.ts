import { TWO_PI } from '../quantity/elementary';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import type { Changes, ExtraStates } from './states';

/**
 * A joint coordinate that counts whole turns. A measured angle is known within one turn; its integrated rate, carried along as a
 * state, says which turn that is. Travel needs no state.
 */
export class Tracked implements ExtraStates {
  readonly states: number;
  readonly changes?: Changes;
  first = 0;
  constructor(readonly freedom: Freedom) {
    this.states = freedom.type === 'rotation' ? 1 : 0;
    if (this.states > 0) this.changes = { by: 'rate', freedom };
  }
  begin(K: Kinematics): void {
    if (this.states > 0) K.z[this.first] = this.freedom.value(K);
  }
  rates(K: Kinematics, _t: number, dz: Float64Array, at: number): void {
    if (this.states > 0) dz[at + this.first] = this.freedom.rate(K);
  }
  value(K: Kinematics): number {
    const q = this.freedom.value(K);
    return this.states > 0 ? q + TWO_PI * Math.round((K.z[this.first]! - q) / TWO_PI) : q;
  }
}
