/**
 * A step of the Dormand-Prince method backwards: how one number changes with the state at its start, from how it changes with the one at its end and with
 * states within it (the discrete adjoint; Hager, Numerische Mathematik 87, 2000). Its stages are worked out anew.
 */
import type { Backwards } from '../../system/adjoint/backwards';
import { A, C, D } from '../dop853-coefficients';
import { Dop853 } from '../dop853';
import type { Neighbour } from './neighbour';
import { RALSTON } from './ralston';

const STAGES = 16;
/** The end of a step as a stage, and where those begin that serve dense output. */
const END = 12;

/** How one number changes with a state within a step. */
export interface Within {
  readonly t: number;
  readonly by: Float64Array;
}

export class BackStep {
  private readonly dop: Dop853;
  private readonly n: number;
  /** Derivatives by what the stages give, and by coefficients of dense output. */
  private readonly by: readonly Float64Array[];
  private readonly dense: readonly Float64Array[];
  private readonly atStage: Float64Array;
  private readonly start: Float64Array;
  private readonly ofShort: readonly Float64Array[];
  private readonly stage: Float64Array;

  constructor(
    private readonly own: Neighbour,
    private readonly backwards: Backwards,
  ) {
    const { system } = own.m,
      n = (this.n = own.y.length);
    this.dop = new Dop853(n, (t, y, dy) => system.evaluate(t, y, dy), own.vectors, system);
    const list = (count: number) => Array.from({ length: count }, () => new Float64Array(n));
    [this.by, this.dense, this.ofShort] = [list(STAGES), list(7), list(3)];
    [this.atStage, this.stage, this.start] = list(3) as [Float64Array, Float64Array, Float64Array];
  }

  /** States within a step from (t, y), after `through` or `forward`. */
  interpolate(t: number, out: Float64Array): void {
    this.dop.interpolate(t, out);
  }
  /** Works the step out anew. @param dense whether states within it are asked for */
  forward(t: number, y: Float64Array, h: number, dense: boolean): void {
    const { dop, own } = this;
    own.m.system.evaluate(t, own.at(y), dop.k[0]!);
    dop.attempt(t, y, h);
    if (dense) dop.prepareDense();
  }

  /**
   * Goes back through a step that `forward` has worked out.
   * @param by the derivative by the state at its end, which becomes that by the state at its start @param within those by states within it
   */
  through(t: number, y: Float64Array, h: number, by: Float64Array, within: readonly Within[]): void {
    const { own, backwards, by: k, atStage, start } = this;
    for (const list of k) list.fill(0);
    start.fill(0);
    if (within.length > 0) this.spread(t, h, by, within);
    for (let i = within.length > 0 ? STAGES - 1 : END; i >= 0; i--) {
      atStage.fill(0);
      // the derivative at the end of a step serves dense output alone
      if (i !== END || within.length > 0) {
        own.m.system.evaluate(t + C[i]! * h, own.at(this.stateOf(i, y, h)), own.dy);
        backwards.rates(own.y, k[i]!, atStage);
      }
      if (i === END) add(atStage, by);
      for (const [m, a] of A[i]!) add(k[m]!, atStage, h * a);
      // all stages begin where the step does
      add(start, atStage);
    }
    by.set(start);
  }

  private stateOf(i: number, y: Float64Array, h: number): Float64Array {
    const { n, dop, stage } = this;
    stage.fill(0);
    for (const [m, a] of A[i]!) {
      const k = dop.k[m]!;
      for (let j = 0; j < n; j++) stage[j] = stage[j]! + a * k[j]!;
    }
    for (let j = 0; j < n; j++) stage[j] = y[j]! + h * stage[j]!;
    return stage;
  }

  /** Where the last `forward` ended. */
  get end(): Float64Array {
    return this.dop.y1;
  }
  /**
   * Goes back through a short step of Ralston's method of order 3 (Mathematics of Computation 16, 1962), which looks at nothing at its end: there a load may
   * have a corner, and its derivative be another already.
   */
  short(t: number, y: Float64Array, h: number, by: Float64Array): void {
    const { own, backwards, by: back, atStage, start, stage, ofShort: k } = this,
      at = (i: number) => {
        stage.set(y);
        if (i > 0) add(stage, k[i - 1]!, RALSTON.nodes[i]! * h);
        own.m.system.evaluate(t + RALSTON.nodes[i]! * h, own.at(stage), own.dy);
      };
    for (let i = 0; i < 3; i++) {
      at(i);
      k[i]!.set(own.dy);
      back[i]!.fill(0);
      add(back[i]!, by, RALSTON.weights[i]! * h);
    }
    start.set(by);
    for (let i = 2; i >= 0; i--) {
      at(i);
      atStage.fill(0);
      backwards.rates(own.y, back[i]!, atStage);
      if (i > 0) add(back[i - 1]!, atStage, RALSTON.nodes[i]! * h);
      add(start, atStage);
    }
    by.set(start);
  }

  /** States within it are polynomials of its stages (`Dop853.interpolate`). */
  private spread(t: number, h: number, by: Float64Array, within: readonly Within[]): void {
    const { dense, by: k, start } = this,
      [a, b, c] = dense as [Float64Array, Float64Array, Float64Array];
    for (const list of dense) list.fill(0);
    for (const { t: at, by: one } of within) {
      const x = (at - t) / h;
      let weight = 1;
      dense.forEach((list, m) => add(list, one, (weight *= m % 2 === 0 ? x : 1 - x)));
      add(start, one);
    }
    for (const [list, weight] of [
      [a, 1],
      [b, -1],
      [c, 2],
    ] as const) {
      add(by, list, weight);
      add(start, list, -weight);
    }
    add(k[0]!, b, h);
    add(k[0]!, c, -h);
    add(k[END]!, c, -h);
    D.forEach((row, m) => row.forEach(([i, d]) => add(k[i]!, dense[3 + m]!, h * d)));
  }
}

/** Adds so much of a vector. */
export function add(to: Float64Array, x: Float64Array, by = 1): void {
  for (let j = 0; j < to.length; j++) to[j] = to[j]! + by * x[j]!;
}
