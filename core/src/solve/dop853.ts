/** One step of the Dormand-Prince 8(5,3) method with dense output (Hairer, Norsett, Wanner, vol. I, sec. II.5-II.6). */
import type { Records } from '../kernel/records';
import type { Stages } from '../kernel/stages';
import { type Sum, Sums, type Weights } from '../kernel/sums';
import { Vectors, placeOf } from '../kernel/vectors';
import { A, C, D, E3, E5, type Row } from './dop853-coefficients';

export type Derivative = (t: number, y: Float64Array, dy: Float64Array) => void;

const STAGES = 12;
const step = (row: Row): Weights => ({ form: 'step', row });
/** The stages from the second on, the end of the step, three more for dense output; the two estimates of its error; coefficients of dense output. */
const SUMS = new Sums(
  [
    ...A.slice(1).map(step),
    ...[E5, E3].map((row): Weights => ({ form: 'bare', row })),
    ...D.map((row): Weights => ({ form: 'scaled', row })),
  ],
  7,
);
/** Where these begin among the sums. */
const ERRORS = A.length - 1,
  DENSE = ERRORS + 2,
  NESTED = DENSE + D.length;
/** Where its stages lie as part of the step, from the second on; the last is its end. */
const NODES: readonly number[] = [...C.slice(1, STAGES), 1];
/** Vectors it needs. */
export const DOP853_VECTORS = 16 + 7 + 5;

/** A system of which all stages of a step may be had in one call. */
export interface Together {
  /** @param nodes where its stages lie @param sums of a step: its stages, its end, its errors @returns undefined where the derivative has to be asked for */
  stages(nodes: readonly number[], sums: readonly Sum[]): Stages | undefined;
  /** Is told of right-hand sides evaluated so. */
  passed(count: number): void;
}

/** Records made in one call. */
interface Recording {
  readonly make: Records;
  readonly times: Float64Array;
  readonly rows: Float64Array;
}

const steps = new WeakMap<readonly Sum[], readonly Sum[]>();
/** The sums of a step among all: the same list for the same sums. */
function stepsOf(all: readonly Sum[]): readonly Sum[] {
  const made = steps.get(all) ?? [...all.slice(0, STAGES), ...all.slice(ERRORS, ERRORS + 2)];
  steps.set(all, made);
  return made;
}

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
  private readonly sums: readonly Sum[];
  /** Those of a step: its stages, its end and its errors. */
  private readonly steps: readonly Sum[];
  /** Where the state at the start of a step and the derivatives lie. */
  private readonly from: number;
  private readonly ks: number;
  /** Where the coefficients of dense output begin. */
  private readonly polynomial: number;

  /** @param vectors where it works; as long as the states */
  constructor(
    private readonly n: number,
    private readonly f: Derivative,
    vectors = Vectors.alone(n, DOP853_VECTORS),
    private readonly together?: Together,
  ) {
    this.k = vectors.row(16);
    this.dense = vectors.row(7);
    [this.y0, this.y1, this.stage, this.error5, this.error3] = vectors.row(5) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    this.sums = SUMS.in(vectors.memory);
    this.steps = stepsOf(this.sums);
    [this.from, this.ks, this.polynomial] = [placeOf(this.y0), placeOf(this.k[0]!), placeOf(this.dense[0]!)];
  }

  /** One of the sums into a vector. */
  private sum(which: number, out: Float64Array): void {
    const { n } = this;
    if (n > 0) this.sums[which]!(placeOf(out), this.from, this.ks, n, n, this.h);
  }

  /** Computes y1 and the two error estimates (per unit step) for a step from (t, y). */
  attempt(t: number, y: Float64Array, h: number): void {
    this.t0 = t;
    this.h = h;
    this.y0.set(y);
    const { y1, error5, error3 } = this,
      all = this.n > 0 ? this.together?.stages(NODES, this.steps) : undefined;
    if (all) {
      all(this.from, placeOf(this.stage), this.ks, this.n, placeOf(y1), placeOf(error5), placeOf(error3), t, h);
      this.together!.passed(STAGES);
      return;
    }
    for (let i = 1; i < STAGES; i++) this.evaluate(i);
    this.sum(STAGES - 1, y1);
    this.sum(ERRORS, error5);
    this.sum(ERRORS + 1, error3);
    this.f(t + h, y1, this.k[12]!);
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

  /** By how much the state changed in the last step. @param out takes it */
  moved(out: Float64Array): void {
    for (let j = 0; j < this.n; j++) out[j] = this.y1[j]! - this.y0[j]!;
  }

  private evaluate(i: number): void {
    this.sum(i - 1, this.stage);
    this.f(this.t0 + C[i]! * this.h, this.stage, this.k[i]!);
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
    for (let m = 0; m < 4; m++) this.sum(DENSE + m, dense[3 + m]!);
  }

  /** The sum that gives a state inside the last attempt. */
  get within(): Sum {
    return this.sums[NESTED]!;
  }
  /** Records inside the last attempt: so many of which the times stand there. */
  record({ make, times, rows }: Recording, count: number): void {
    // estimates of the error are no longer asked for
    make(placeOf(times), count, placeOf(this.error3), this.from, this.polynomial, this.n, placeOf(rows), this.t0, this.h);
  }

  /** State at t inside the last attempt. */
  interpolate(t: number, out: Float64Array): void {
    const { n } = this;
    if (n === 0) return;
    // estimates of the error are no longer asked for
    const there = out.buffer === this.y0.buffer,
      to = there ? out : this.error3;
    this.sums[NESTED]!(placeOf(to), this.from, this.polynomial, n, n, (t - this.t0) / this.h);
    if (!there) out.set(to);
  }
}
