/** What a contact has done since the start, reckoned along the run: the impulse of what presses, N·s, and the work of friction, J, which wears. */
import type { Kinematics } from '../kinematics';
import type { ExtraStates } from '../states';

export class Tally implements ExtraStates {
  readonly states = 2;
  readonly ledger = true;
  first = 0;
  private readonly now = new Float64Array(2);

  /** @param tell what presses, N, and the power that friction takes, W, at the state in K */
  constructor(private readonly tell: (K: Kinematics, now: Float64Array) => void) {}
  begin(K: Kinematics): void {
    K.z.fill(0, this.first, this.first + this.states);
  }
  rates(K: Kinematics, _t: number, dz: Float64Array, at: number): void {
    this.tell(K, this.now);
    dz.set(this.now, at + this.first);
  }
  impulse(K: Kinematics): number {
    return K.z[this.first]!;
  }
  work(K: Kinematics): number {
    return K.z[this.first + 1]!;
  }
}
