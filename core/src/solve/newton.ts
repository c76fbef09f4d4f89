/** What Newton's iteration of implicit steps solves with: (γ − J) x = r of the states that steer, J being the derivative of their rates. */
import { ComplexLu, DenseLu } from '../linear/dense';
import type { System } from '../system/system';
import { ImplicitMatrix } from '../system/tangent/implicit';
import { Tangent } from '../system/tangent/tangent';
import { Turned } from '../system/tangent/turned';
import type { Derivative } from './dop853';

export interface Newton {
  /** Takes J at (t, y), where the rates are f0. */
  differentiate(t: number, y: Float64Array, f0: Float64Array): void;
  /** For a real γ, and for the complex one re + i im. @returns whether that can be solved */
  factorise(real: number, re: number, im: number): boolean;
  /** In place, for the real γ. */
  solve(r: Float64Array): void;
  /** For both, each with its right-hand side. */
  solveBoth(r: Float64Array, re: Float64Array, im: Float64Array): void;
  /** Largest rate of the linearised system, 1/s. */
  rate(): number;
  /** Whether the rates of some states follow from others that hang on none of them: all are solved at once, so that those come a round later. */
  readonly nested?: true;
  /** What has turned since J was taken; left out where nothing is to be turned back. */
  readonly turned?: Pick<Turned, 'note' | 'turn'> | undefined;
}

/** Rounds of the power iteration that finds the largest rate, and of one that begins where the last ended. */
const ROUNDS = 12;
const AGAIN = 3;
const beginning = (n: number) => new Float64Array(n).map((_, i) => 1 + 0.1 * (i % 7));

/** Size of the largest eigenvalue, about, by power iteration. @param times J x @param from where it begins, and where it ends @returns its last round */
function largestRate(from: Float64Array, times: (x: Float64Array, out: Float64Array) => void, rounds = ROUNDS): number {
  const n = from.length;
  let v = from.slice(),
    w = new Float64Array(n),
    size = 0;
  for (let k = 0; k < rounds; k++) {
    times(v, w);
    let s = 0;
    for (let i = 0; i < n; i++) s += w[i]! * w[i]!;
    size = Math.sqrt(s);
    if (!(size > 0)) return 0;
    for (let i = 0; i < n; i++) w[i] = w[i]! / size;
    [v, w] = [w, v];
  }
  from.set(v);
  return size;
}

/** By exact derivatives, sparse as the machine is: the cost grows with its bodies. */
export class SparseNewton implements Newton {
  private readonly tangent: Tangent;
  private readonly matrix: ImplicitMatrix;
  readonly turned: Turned | undefined;
  private readonly scratch: Float64Array;
  private largest = 0;
  private readonly fastest: Float64Array;
  private begun = false;
  /** @param free how many states steer */
  constructor(
    private readonly system: System,
    free: number,
  ) {
    this.fastest = beginning(free);
    this.tangent = new Tangent(system);
    this.matrix = new ImplicitMatrix(system, this.tangent);
    this.scratch = new Float64Array(system.size);
    const turned = new Turned(system);
    if (!turned.none) this.turned = turned;
  }
  differentiate(t: number, y: Float64Array): void {
    const { system, matrix, tangent, scratch, fastest } = this;
    system.evaluate(t, y, scratch);
    tangent.look();
    matrix.take(y);
    this.turned?.from(y);
    this.largest = largestRate(fastest, (x, out) => matrix.times(x, out), this.begun ? AGAIN : ROUNDS);
    this.begun = true;
  }
  factorise(real: number, re: number, im: number): boolean {
    return this.matrix.factorise(real, re, im);
  }
  solve(r: Float64Array): void {
    this.matrix.solve(r);
  }
  solveBoth(r: Float64Array, re: Float64Array, im: Float64Array): void {
    this.matrix.solveBoth(r, re, im);
  }
  rate(): number {
    return this.largest;
  }
}

/** By differences, all states by all states: for bodies with coordinates of their own. */
export class DenseNewton implements Newton {
  private readonly J: Float64Array;
  private readonly one: DenseLu;
  private readonly two: ComplexLu;
  private readonly stage: Float64Array;
  private readonly rates: Float64Array;
  private largest = 0;
  constructor(
    n: number,
    private readonly free: number,
    private readonly f: Derivative,
  ) {
    this.J = new Float64Array(free * free);
    this.one = new DenseLu(free);
    this.two = new ComplexLu(free);
    this.stage = new Float64Array(n);
    this.rates = new Float64Array(n);
  }
  /** By forward differences. */
  differentiate(t: number, y: Float64Array, f0: Float64Array): void {
    const { free, J, stage, rates, f } = this;
    stage.set(y);
    for (let j = 0; j < free; j++) {
      const d = 1.5e-8 * Math.max(1e-3, Math.abs(y[j]!));
      stage[j] = y[j]! + d;
      const exact = stage[j]! - y[j]!;
      f(t, stage, rates);
      for (let i = 0; i < free; i++) J[i * free + j] = (rates[i]! - f0[i]!) / exact;
      stage[j] = y[j]!;
    }
    this.largest = largestRate(beginning(free), (x, out) => {
      for (let i = 0; i < free; i++) {
        let s = 0;
        for (let j = 0; j < free; j++) s += J[i * free + j]! * x[j]!;
        out[i] = s;
      }
    });
  }
  factorise(real: number, re: number, im: number): boolean {
    const { free, J, one, two } = this;
    for (let i = 0; i < free * free; i++) {
      one.A[i] = -J[i]!;
      two.R[i] = -J[i]!;
      two.I[i] = 0;
    }
    for (let i = 0; i < free; i++) {
      one.A[i * free + i] = one.A[i * free + i]! + real;
      two.R[i * free + i] = two.R[i * free + i]! + re;
      two.I[i * free + i] = im;
    }
    return one.factorise() && two.factorise();
  }
  solve(r: Float64Array): void {
    this.one.solve(r);
  }
  solveBoth(r: Float64Array, re: Float64Array, im: Float64Array): void {
    this.one.solve(r);
    this.two.solve(re, im);
  }
  rate(): number {
    return this.largest;
  }
}
