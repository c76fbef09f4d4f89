/**
 * Size of the local error of a step, relative to what is allowed: 1 is just allowed. Lengths are measured against
 * the size of the machine, velocities against the largest seen so far and against what they come to as an error of place by the end
 * of the run, never angles against their own growth. The worst body counts, so that a large model does not hide a small fast part.
 */
import { KIND } from '../equations/layout';
import { pow, square } from '../quantity/elementary';
import type { System } from '../system/system';

/** Velocities are not known better than this part of them. */
const ROUNDING = 1e-15;

/** How many times as much as of explicit steps is allowed of implicit ones, at most. */
const EASED = 15;

/** What a part that drifts, to the power 2/3, is multiplied with: that estimate and error are of unlike size counts as well. */
const ORDERS = 0.3;

export class ErrorScale {
  /** Nothing is eased: near a singular position, where what is let pass comes to more, and where the machine is not stiff. */
  careful = false;
  private readonly weights = new Float64Array(KIND.further);
  private readonly sums5: Float64Array;
  private readonly sums3: Float64Array;
  private speed = 0;
  private spin = 0;
  constructor(
    private readonly system: System,
    private readonly size0: number,
    private readonly tolerance: number,
    /** Length of the run, s: an error of velocity drifts for as long. */
    private readonly until: number,
  ) {
    this.sums5 = new Float64Array(system.bodies);
    this.sums3 = new Float64Array(system.bodies);
  }

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

  /** Brings the weights of the kinds of state up to date: one is just allowed. Further states are weighed by themselves. */
  private weigh(): void {
    const { tolerance, size0, weights } = this;
    const drift = tolerance / this.until;
    weights[KIND.place] = 1 / (tolerance * size0);
    weights[KIND.turn] = 1 / tolerance;
    weights[KIND.velocity] = 1 / Math.max(Math.min(tolerance * this.speed, size0 * drift), 1e-9 * tolerance * size0, ROUNDING * this.speed);
    weights[KIND.spin] = 1 / Math.max(Math.min(tolerance * this.spin, drift), 1e-9 * tolerance, ROUNDING * this.spin);
  }

  /**
   * The same for implicit steps. Their error is estimated by a formula of order 3, as good as what is read between the ends of a step, and is itself of
   * order 5: of what drifts along the run not the estimate counts but its power 3/2 (`radtol` of Hairer & Wanner's code).
   */
  private ease(): void {
    const { weights, tolerance, speed, spin } = this;
    this.weigh();
    const eased = (kind: number, most: number) => {
      const strict = 1 / weights[kind]!,
        part = most > 0 ? Math.min(1, strict / most) : 1;
      weights[kind] = 1 / Math.max(strict, Math.min((this.careful ? 1 : EASED) * tolerance * most, ORDERS * pow(part, 2 / 3) * most));
    };
    eased(KIND.place, this.size0);
    eased(KIND.turn, 1);
    eased(KIND.velocity, speed);
    eased(KIND.spin, spin);
  }
  /** Size of an estimate of implicit steps. */
  estimated(error: Float64Array, y: Float64Array): number {
    this.ease();
    return this.worst(error, y);
  }

  /** Sums of squares of weighed errors, one to a body. */
  private sum(error: Float64Array, into: Float64Array): void {
    const { weights } = this,
      { kind, body, further } = this.system.K.layout;
    into.fill(0);
    for (let j = 0; j < further; j++) into[body[j]!] = into[body[j]!]! + square(error[j]! * weights[kind[j]!]!);
  }

  /** Size of one vector of state errors: that of the worst body or extra state. */
  size(error: Float64Array, y: Float64Array): number {
    this.weigh();
    return this.worst(error, y);
  }
  private worst(error: Float64Array, y: Float64Array): number {
    const { layout } = this.system.K,
      { sums5 } = this;
    this.sum(error, sums5);
    let worst = 0;
    for (let i = 0; i < sums5.length; i++) worst = Math.max(worst, Math.sqrt(sums5[i]! / layout.each));
    for (const extra of this.system.extras) {
      if (extra.ledger) continue;
      for (let k = 0; k < extra.states; k++) {
        const at = layout.further + extra.first + k;
        worst = Math.max(worst, Math.abs(error[at]!) / (this.tolerance * (1 + Math.abs(y[at]!))));
      }
    }
    return worst;
  }

  /** @param error5,error3 error estimates per unit step; combined as in DOP853 */
  measure(h: number, error5: Float64Array, error3: Float64Array, y: Float64Array): number {
    const { layout } = this.system.K,
      { sums5, sums3 } = this;
    this.weigh();
    this.sum(error5, sums5);
    this.sum(error3, sums3);
    let worst = 0;
    for (let i = 0; i < sums5.length; i++) worst = Math.max(worst, norm(h, sums5[i]!, sums3[i]!, layout.each));
    for (const extra of this.system.extras) {
      if (extra.ledger) continue;
      for (let k = 0; k < extra.states; k++) {
        const at = layout.further + extra.first + k;
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
