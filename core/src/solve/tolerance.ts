/**
 * Size of the local error of a step, relative to what is allowed: 1 is just allowed. Lengths are measured against
 * the size of the machine, velocities against the largest seen so far and against what they come to as an error of place by the end
 * of the run, never angles against their own growth. The worst body counts, so that a large model does not hide a small fast part.
 */
import { square } from '../quantity/elementary';
import type { System } from '../system/system';

/** Velocities are not known better than this part of them. */
const ROUNDING = 1e-15;

export class ErrorScale {
  private speed = 0;
  private spin = 0;
  constructor(
    private readonly system: System,
    private readonly size0: number,
    private readonly tolerance: number,
    /** Length of the run, s: an error of velocity drifts for as long. */
    private readonly until: number,
  ) {}

  /** Takes note of the present motion and of the accelerations just solved for. */
  watch(): void {
    const { K, acceleration: a, bodies } = this.system;
    let v2 = 0,
      w2 = 0,
      a2 = 0,
      s2 = 0;
    for (let i = 0; i < bodies; i++) {
      const j = 3 * i,
        p = 6 * i;
      v2 = Math.max(v2, square(K.v[j]!) + square(K.v[j + 1]!) + square(K.v[j + 2]!));
      w2 = Math.max(w2, square(K.w[j]!) + square(K.w[j + 1]!) + square(K.w[j + 2]!));
      a2 = Math.max(a2, square(a[p]!) + square(a[p + 1]!) + square(a[p + 2]!));
      s2 = Math.max(s2, square(a[p + 3]!) + square(a[p + 4]!) + square(a[p + 5]!));
    }
    this.speed = Math.max(this.speed, Math.sqrt(v2), Math.sqrt(this.size0 * Math.sqrt(a2)));
    this.spin = Math.max(this.spin, Math.sqrt(w2), Math.sqrt(Math.sqrt(s2)), this.speed / this.size0);
  }

  /** How many times more than was asked rounding alone comes to over the run; 1 when it is less. */
  get rounded(): number {
    const drift = this.tolerance / this.until;
    return ROUNDING * Math.max(this.speed / (this.size0 * drift), this.spin / drift, 1 / ROUNDING);
  }

  /** Brings the weights of the four kinds of state up to date: one is just allowed. */
  private weigh(): void {
    const { tolerance, size0 } = this;
    this.position = 1 / (tolerance * size0);
    const drift = tolerance / this.until;
    this.velocity = 1 / Math.max(Math.min(tolerance * this.speed, size0 * drift), 1e-9 * tolerance * size0, ROUNDING * this.speed);
    this.turning = 1 / Math.max(Math.min(tolerance * this.spin, drift), 1e-9 * tolerance, ROUNDING * this.spin);
  }
  private position = 0;
  private velocity = 0;
  private turning = 0;

  /** Place in the state vector of component k (0 to 12) of a body, and its weight. */
  private place(i: number, k: number): number {
    return k < 7 ? 7 * i + k : 7 * this.system.bodies + 6 * i + k - 7;
  }
  private weight(k: number): number {
    return k < 3 ? this.position : k < 7 ? 1 / this.tolerance : k < 10 ? this.velocity : this.turning;
  }

  /** Size of one vector of state errors: that of the worst body or extra state. */
  size(error: Float64Array, y: Float64Array): number {
    const { bodies } = this.system;
    this.weigh();
    let worst = 0;
    for (let i = 0; i < bodies; i++) {
      let s = 0;
      for (let k = 0; k < 13; k++) s += square(error[this.place(i, k)]! * this.weight(k));
      worst = Math.max(worst, Math.sqrt(s / 13));
    }
    for (const extra of this.system.extras) {
      if (extra.ledger) continue;
      for (let k = 0; k < extra.states; k++) {
        const at = 13 * bodies + extra.first + k;
        worst = Math.max(worst, Math.abs(error[at]!) / (this.tolerance * (1 + Math.abs(y[at]!))));
      }
    }
    return worst;
  }

  /** @param error5,error3 error estimates per unit step; combined as in DOP853 */
  measure(h: number, error5: Float64Array, error3: Float64Array, y: Float64Array): number {
    const { bodies } = this.system;
    this.weigh();
    let worst = 0;
    for (let i = 0; i < bodies; i++) {
      let s5 = 0,
        s3 = 0;
      for (let k = 0; k < 13; k++) {
        const at = this.place(i, k),
          w = this.weight(k);
        s5 += square(error5[at]! * w);
        s3 += square(error3[at]! * w);
      }
      worst = Math.max(worst, norm(h, s5, s3, 13));
    }
    for (const extra of this.system.extras) {
      if (extra.ledger) continue;
      for (let k = 0; k < extra.states; k++) {
        const at = 13 * bodies + extra.first + k;
        const w = 1 / (this.tolerance * (1 + Math.abs(y[at]!)));
        worst = Math.max(worst, norm(h, square(error5[at]! * w), square(error3[at]! * w), 1));
      }
    }
    return worst;
  }
}

function norm(h: number, s5: number, s3: number, n: number): number {
  const d = s5 + 0.01 * s3;
  return d > 0 ? (h * s5) / Math.sqrt(d * n) : 0;
}
