/** One step of the Dormand-Prince 8(5,3) method with dense output (Hairer, Norsett, Wanner, vol. I, sec. II.5-II.6). */
import { A, C, D, E3, E5, type Row } from './dop853-coefficients';

export type Derivative = (t: number, y: Float64Array, dy: Float64Array) => void;

const STAGES = 12;

export class Dop853 {
  /** Derivatives at the stages; k[0] is that at the start of the step and must be set before `attempt`. */
  readonly k: readonly Float64Array[];
  /** Result of the last attempt. */
  readonly y1: Float64Array;
  readonly error5: Float64Array;
  readonly error3: Float64Array;
  private readonly stage: Float64Array;
  private readonly dense: readonly Float64Array[];
  private t0 = 0;
  private h = 0;
  private readonly y0: Float64Array;

  constructor(
    private readonly n: number,
    private readonly f: Derivative,
  ) {
    const vector = () => new Float64Array(n);
    this.k = Array.from({ length: 16 }, vector);
    this.dense = Array.from({ length: 7 }, vector);
    this.y0 = vector();
    this.y1 = vector();
    this.stage = vector();
    this.error5 = vector();
    this.error3 = vector();
  }

  /** Computes y1 and the two error estimates (per unit step) for a step from (t, y). */
  attempt(t: number, y: Float64Array, h: number): void {
    this.t0 = t;
    this.h = h;
    this.y0.set(y);
    for (let i = 1; i < STAGES; i++) this.evaluate(i);
    this.combine(A[12]!, this.y1);
    for (let j = 0; j < this.n; j++) this.y1[j] = y[j]! + h * this.y1[j]!;
    this.combine(E5, this.error5);
    this.combine(E3, this.error3);
    this.f(t + h, this.y1, this.k[12]!);
  }

  /**
   * Step times the rate of the fastest part of the system, as far as this step shows it: beyond about 6 stability and not accuracy sets the
   * step (sec. IV.2 of vol. II).
   */
  stiffness(): number {
    const { k, y1, stage, n } = this;
    let num = 0,
      den = 0;
    for (let j = 0; j < n; j++) {
      const d = k[12]![j]! - k[11]![j]!,
        s = y1[j]! - stage[j]!;
      num += d * d;
      den += s * s;
    }
    return den > 0 ? Math.abs(this.h) * Math.sqrt(num / den) : 0;
  }

  private evaluate(i: number): void {
    const { stage, y0, h, n } = this;
    this.combine(A[i]!, stage);
    for (let j = 0; j < n; j++) stage[j] = y0[j]! + h * stage[j]!;
    this.f(this.t0 + C[i]! * h, stage, this.k[i]!);
  }

  /** out = Σ coefficient · k[stage] */
  private combine(row: Row, out: Float64Array): void {
    const { n, k } = this;
    out.fill(0);
    for (let m = 0; m < row.length; m++) {
      const s = k[row[m]![0]]!;
      const a = row[m]![1];
      for (let j = 0; j < n; j++) out[j] = out[j]! + a * s[j]!;
    }
  }

  /** Makes `interpolate` ready for the last attempt: three more evaluations. */
  prepareDense(): void {
    const { n, h, k, y0, y1, dense } = this;
    for (let i = 13; i < 16; i++) this.evaluate(i);
    for (let j = 0; j < n; j++) {
      const delta = y1[j]! - y0[j]!;
      const start = h * k[0]![j]!;
      dense[0]![j] = delta;
      dense[1]![j] = start - delta;
      dense[2]![j] = 2 * delta - h * k[12]![j]! - start;
    }
    for (let m = 0; m < 4; m++) {
      this.combine(D[m]!, dense[3 + m]!);
      for (let j = 0; j < n; j++) dense[3 + m]![j] = h * dense[3 + m]![j]!;
    }
  }

  /** State at t inside the last attempt. */
  interpolate(t: number, out: Float64Array): void {
    const x = (t - this.t0) / this.h;
    const [f0, f1, f2, f3, f4, f5, f6] = this.dense as readonly [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    const z = 1 - x;
    for (let j = 0; j < this.n; j++) {
      out[j] = this.y0[j]! + x * (f0[j]! + z * (f1[j]! + x * (f2[j]! + z * (f3[j]! + x * (f4[j]! + z * (f5[j]! + x * f6[j]!))))));
    }
  }
}
