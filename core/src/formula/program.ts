/**
 * A formula made ready (`compile.ts`): evaluated with two exact time derivatives, which are made from its expression, without allocating. One that is
 * asked often is compiled; until then it is interpreted. Both give the same numbers.
 */
import type { Ex } from '../expressions/arithmetic';
import { Direction } from '../expressions/derivative';
import { Graph } from '../expressions/graph';
import { type Kernel, Plain } from '../expressions/plain';
import { compileKernel, mostScratch } from '../kernel/compile';
import { sharedMemory } from '../kernel/pool';
import type { Dimension } from '../quantity/dimension';
import { type StatedFormula, always, statedFormula } from './stated-formula';

/** Time at which a formula or one of its first derivatives may jump. */
export interface Kink {
  t: number;
  /** Sizes of the jumps in value, first and second derivative there. */
  jump: [number, number, number];
}

/** A reading that a formula takes in: set its value before `at`. */
export interface Input {
  gauge: string;
  /** Where its value lies: time has the first place. */
  slot: number;
}

/** What changes sign where a formula may have a kink. */
export interface Switching {
  x: Ex;
  /** How finely its changes must be looked for. */
  samples: number;
}

/** A formula as an expression: of time at offset 0 of the only base, and of its inputs after it. */
export interface Expressed {
  g: Graph;
  x: Ex;
  /** Time, where it is used. */
  time: Ex | undefined;
  inputs: readonly Input[];
  switching: readonly Switching[];
}

const BASE = Int32Array.of(0);
/** Evaluations after which compiling pays. */
const OFTEN = 2000;

export class Program {
  /** Value, first and second time derivative after `at(t)`; gauges count as constant in the derivatives. */
  v = 0;
  d = 0;
  dd = 0;
  readonly inputs: readonly Input[];
  /** Time and inputs. */
  private given: Float64Array;
  /** The value and its rates; made when they are first asked for. */
  private rates: readonly [Ex, Ex, Ex] | undefined;
  private plain: Plain | undefined;
  private evaluations = 0;
  private kernel: Kernel | undefined;
  /** Of `given` in the memory of the kernel. */
  private place = 0;
  private found: Float64Array = new Float64Array(3);

  /** @param formula a number (SI) where it never changes */
  constructor(
    readonly dim: Dimension,
    private readonly formula: Expressed | number,
  ) {
    if (typeof formula === 'number') {
      this.v = formula;
      this.inputs = [];
      this.given = new Float64Array(0);
      return;
    }
    this.inputs = formula.inputs;
    this.given = new Float64Array(1 + formula.inputs.length);
  }

  private derive({ g, x, time }: Expressed): void {
    const rate = new Direction(g, time === undefined ? new Map<Ex, Ex>() : new Map([[time, g.one]])),
      first = rate.of(x);
    this.rates = [x, first, rate.of(first)];
    this.plain = new Plain(g, this.rates);
  }

  /** Sets the value of an input, SI. */
  set(input: Input, value: number): void {
    this.given[input.slot] = value;
  }

  /** Evaluates value and derivatives at time t, s. */
  at(t: number): this {
    const { formula, given, kernel } = this;
    if (typeof formula === 'number') return this;
    given[0] = t;
    if (kernel) {
      kernel(this.place);
      this.v = this.found[0]!;
      this.d = this.found[1]!;
      this.dd = this.found[2]!;
      return this;
    }
    if (!this.plain) this.derive(formula);
    const plain = this.plain!,
      rates = this.rates!;
    plain.evaluate(given, BASE);
    this.v = plain.value(rates[0]);
    this.d = plain.value(rates[1]);
    this.dd = plain.value(rates[2]);
    if (++this.evaluations === OFTEN) this.compile(formula, rates);
    return this;
  }

  private compile({ g }: Expressed, rates: readonly Ex[]): void {
    const { given } = this,
      n = given.length;
    const memory = sharedMemory(n + rates.length + mostScratch(g));
    this.place = memory.take(n + rates.length);
    this.given = memory.numbers.subarray(this.place, this.place + n);
    this.given.set(given);
    this.found = memory.numbers.subarray(this.place + n, this.place + n + rates.length);
    this.kernel = compileKernel(
      g,
      rates.map((x, k) => ({ base: 0, offset: n + k, x })),
      1,
      memory,
    );
  }

  /** It as part of other equations. */
  get stated(): StatedFormula {
    const { formula } = this;
    return typeof formula === 'number' ? always(formula) : statedFormula(formula.g, formula.x);
  }

  /** A formula made of this one and of time. @param make gives it, and what changes sign where it has a kink of its own */
  with(make: (g: Graph, x: Ex, t: Ex) => { x: Ex; kinks: readonly Ex[] }): Program {
    const { formula } = this,
      known = typeof formula === 'number' ? undefined : formula,
      g = known?.g ?? new Graph(),
      time = g.load(0, 0),
      { x, kinks } = make(g, known?.x ?? g.constant(this.v), time),
      switching = [...(known?.switching ?? []), ...kinks.map((k) => ({ x: k, samples: 0 }))];
    return new Program(this.dim, { g, x, time, inputs: this.inputs, switching });
  }

  get varies(): boolean {
    return typeof this.formula !== 'number' && (this.formula.time !== undefined || this.inputs.length > 0);
  }

  /** Those of before, and where they were looked for. */
  private lastKinks: { readonly key: string; readonly found: readonly Kink[] } | undefined;
  /** Kinks between t0 and t1, found by sampling the switching values and bisecting, s. */
  kinks(t0: number, t1: number, samples = 4000): readonly Kink[] {
    const key = `${t0} ${t1} ${samples}`;
    if (this.lastKinks?.key !== key) this.lastKinks = { key, found: this.findKinks(t0, t1, samples) };
    return this.lastKinks.found;
  }
  private findKinks(t0: number, t1: number, samples: number): Kink[] {
    const { formula } = this;
    if (typeof formula === 'number' || formula.time === undefined || this.inputs.length > 0 || !(t1 > t0)) return [];
    const out: number[] = [];
    for (const s of formula.switching) {
      const plain = new Plain(formula.g, [s.x]),
        time = Float64Array.of(0);
      const at = (t: number) => {
        time[0] = t;
        plain.evaluate(time, BASE);
        return plain.value(s.x);
      };
      let before = at(t0);
      const n = Math.max(samples, s.samples);
      for (let i = 1; i <= n; i++) {
        const t = t0 + ((t1 - t0) * i) / n;
        const now = at(t);
        if (before !== 0 && now === 0) out.push(t);
        else if (before * now < 0) out.push(bisect(at, t0 + ((t1 - t0) * (i - 1)) / n, t));
        before = now;
      }
    }
    const merged = out.sort((a, b) => a - b).filter((t, i) => i === 0 || t - out[i - 1]! > 1e-12 * (t1 - t0));
    return merged.filter((t) => t > t0 && t < t1).map((t) => ({ t, jump: this.jumpAt(t, 1e-9 * (t1 - t0)) }));
  }

  private jumpAt(t: number, e: number): [number, number, number] {
    const r = this.at(t + e);
    const right = [r.v - r.d * e, r.d - r.dd * e, r.dd] as const;
    const l = this.at(t - e);
    return [right[0] - (l.v + l.d * e), right[1] - (l.d + l.dd * e), right[2] - l.dd];
  }
}

function bisect(f: (t: number) => number, a: number, b: number): number {
  let fa = f(a);
  for (let i = 0; i < 80 && b - a > 0; i++) {
    const m = a + (b - a) / 2;
    if (m === a || m === b) break;
    const fm = f(m);
    if (fm === 0) return m;
    if (fa * fm < 0) b = m;
    else {
      a = m;
      fa = fm;
    }
  }
  return b;
}
