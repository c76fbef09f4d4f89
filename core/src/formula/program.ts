/**
 * A formula made ready (`compile.ts`): evaluated with two exact time derivatives without allocating. Formulas are interpreted; no code is
 * generated from user text.
 */
import type { Dimension } from '../quantity/dimension';
import type { FormulaFunction } from './functions';

/** A function applied to slots: result at o, arguments at a, b, c. */
export interface Step {
  fn: FormulaFunction;
  o: number;
  a: number;
  b: number;
  c: number;
}

/** Time at which a formula or one of its first derivatives may jump. */
export interface Kink {
  t: number;
  /** Sizes of the jumps in value, first and second derivative there. */
  jump: [number, number, number];
}

/** A reading that a formula takes in: set its value before `at`. */
export interface Input {
  gauge: string;
  slot: number;
}

export class Program {
  /** Value, first and second time derivative after `at(t)`; gauges count as constant in the derivatives. */
  v = 0;
  d = 0;
  dd = 0;

  constructor(
    readonly dim: Dimension,
    private readonly slots: Float64Array,
    private readonly steps: readonly Step[],
    private readonly result: number,
    private readonly time: number,
    readonly inputs: readonly Input[] = [],
  ) {}

  /** Sets the value of an input, SI. */
  set(input: Input, value: number): void {
    this.slots[input.slot] = value;
  }

  /** Evaluates value and derivatives at time t, s. */
  at(t: number): this {
    const S = this.slots;
    if (this.time >= 0) S[this.time] = t;
    for (const s of this.steps) s.fn.jet(S, s.o, s.a, s.b, s.c);
    this.v = S[this.result]!;
    this.d = S[this.result + 1]!;
    this.dd = S[this.result + 2]!;
    return this;
  }

  get varies(): boolean {
    return this.time >= 0 || this.inputs.length > 0;
  }

  /** Kinks between t0 and t1, found by sampling the switching values and bisecting, s. */
  kinks(t0: number, t1: number, samples = 4000): Kink[] {
    if (this.time < 0 || this.inputs.length > 0 || !(t1 > t0)) return [];
    const out: number[] = [];
    for (const step of this.steps) {
      for (const g of step.fn.kinks ?? []) {
        const at = (t: number) => {
          this.at(t);
          return g(this.slots, step.a, step.b, step.c);
        };
        let before = at(t0);
        const n = Math.max(samples, step.fn.samples ?? 0);
        for (let i = 1; i <= n; i++) {
          const t = t0 + ((t1 - t0) * i) / n;
          const now = at(t);
          if (before !== 0 && now === 0) out.push(t);
          else if (before * now < 0) out.push(bisect(at, t0 + ((t1 - t0) * (i - 1)) / n, t));
          before = now;
        }
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
