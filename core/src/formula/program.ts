/**
 * A formula made ready: checked for dimension, names bound, evaluated with two exact time derivatives
 * without allocating. Formulas are interpreted; no code is generated from user text.
 */
import { type Dimension, D, compatible, identical, inWords } from '../quantity/dimension';
import { shownUnit, unitOf } from '../quantity/units';
import { CONSTANTS, DimensionMismatch, FUNCTIONS, type FormulaFunction } from './functions';
import { FormulaError, type Node, namesIn, parse } from './parse';

/** What a name stands for. */
export interface Binding {
  value: number;
  dim: Dimension;
}

export interface Scope {
  /** A parameter, or undefined when there is none of that name. */
  lookup(name: string): Binding | undefined;
  /** Whether `t` (time) may be used. */
  time: boolean;
  /** A table, as a function. */
  table?(name: string): FormulaFunction | undefined;
  /** Dimension of a gauge; left out where gauges cannot be used. */
  gauge?(name: string): Dimension | undefined;
  /** Names to offer when one is not found. */
  names?: () => Iterable<string>;
}

interface Step {
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

/**
 * Compiles a formula.
 * @param text formula, or a plain number in SI units
 * @param wanted dimension the place asks for; undefined accepts any
 * @throws FormulaError
 */
export function compile(text: string | number, scope: Scope, wanted?: Dimension): Program {
  if (typeof text === 'number') {
    if (!Number.isFinite(text)) throw new FormulaError('formula-not-finite', 'The number is not finite.', 0, 0);
    return new Program(wanted ?? D.none, Float64Array.of(text, 0, 0), [], 0, -1);
  }
  const root = parse(text);
  const values: number[] = [];
  const steps: Step[] = [];
  let time = -1;
  const inputs: Input[] = [];
  const slot = (value: number) => values.push(value, 0, 0) - 3;

  interface Part {
    at: number;
    dim: Dimension;
    constant: number | undefined;
  }

  function visit(n: Node): Part {
    if (n.kind === 'number') return { at: slot(n.value), dim: D.none, constant: n.value };
    if (n.kind === 'name') return name(n);
    if (n.kind === 'gauge') return gauge(n);
    const fn = FUNCTIONS[n.name] ?? scope.table?.(n.name);
    if (!fn)
      throw new FormulaError(
        'formula-function',
        `There is no function “${n.name}”.${near(
          n.name,
          Object.keys(FUNCTIONS).filter((k) => !FUNCTIONS[k]!.operator),
        )}`,
        n.at,
        n.at + n.name.length,
      );
    if (n.args.length !== fn.args.length) {
      throw new FormulaError(
        'formula-arguments',
        `${n.name}(${fn.args.join(', ')}) takes ${fn.args.length} values, not ${n.args.length}.`,
        n.at,
        n.end,
      );
    }
    const parts = n.args.map(visit);
    let d: Dimension;
    try {
      d = fn.dimension(
        parts.map((p) => p.dim),
        parts.map((p) => p.constant),
      );
    } catch (e) {
      if (!(e instanceof DimensionMismatch)) throw e;
      const bad = n.args[e.arg] ?? n;
      throw new FormulaError('formula-dimension', e.message, bad.at, bad.end);
    }
    const o = slot(0);
    const step = { fn, o, a: parts[0]!.at, b: parts[1]?.at ?? 0, c: parts[2]?.at ?? 0 };
    if (parts.every((p) => p.constant !== undefined)) {
      const S = Float64Array.from(values);
      fn.jet(S, o, step.a, step.b, step.c);
      values[o] = S[o]!;
      return { at: o, dim: d, constant: S[o]! };
    }
    steps.push(step);
    return { at: o, dim: d, constant: undefined };
  }

  function gauge(n: Node & { kind: 'gauge' }): Part {
    if (!scope.gauge)
      throw new FormulaError('formula-gauge', 'Gauges cannot be used here: this value does not follow the motion.', n.at, n.end);
    const d = scope.gauge(n.name);
    if (!d) throw new FormulaError('formula-gauge', `There is no gauge “${n.name}”.`, n.at, n.end);
    const known = inputs.find((x) => x.gauge === n.name);
    const at = known?.slot ?? slot(0);
    if (!known) inputs.push({ gauge: n.name, slot: at });
    return { at, dim: d, constant: undefined };
  }

  function name(n: Node & { kind: 'name' }): Part {
    const unit = unitOf(n.name);
    if (n.unit) {
      if (unit) return { at: slot(unit.factor), dim: unit.dim, constant: unit.factor };
      const known = scope.lookup(n.name);
      throw new FormulaError(
        'formula-unit',
        known ? `Write a “*” between the number and ${n.name}.` : `“${n.name}” is not a unit.`,
        n.at,
        n.end,
      );
    }
    if (n.name === 't') {
      if (!scope.time) throw new FormulaError('formula-time', 'Time t cannot be used here: this value is fixed during a run.', n.at, n.end);
      if (time < 0) {
        time = slot(0);
        values[time + 1] = 1;
      }
      return { at: time, dim: D.time, constant: undefined };
    }
    const bound = scope.lookup(n.name);
    if (bound) return { at: slot(bound.value), dim: bound.dim, constant: bound.value };
    const c = CONSTANTS[n.name];
    if (c !== undefined) return { at: slot(c), dim: D.none, constant: c };
    if (unit) return { at: slot(unit.factor), dim: unit.dim, constant: unit.factor };
    throw new FormulaError('formula-name', `There is no parameter “${n.name}”.${near(n.name, scope.names?.() ?? [])}`, n.at, n.end);
  }

  const out = visit(root);
  if (wanted && out.constant === 0 && compatible(out.dim, D.none)) {
    return new Program(wanted, Float64Array.of(0, 0, 0), [], 0, -1);
  }
  if (wanted && identical(out.dim, D.none) && !identical(wanted, D.none) && namesIn(root).size === 0) {
    throw new FormulaError(
      'formula-unit-missing',
      `Which unit? Write, for example, “${text.trim()} ${shownUnit(wanted)}”.`,
      0,
      text.length,
    );
  }
  if (wanted && !compatible(out.dim, wanted)) {
    throw new FormulaError('formula-dimension', `This is ${inWords(out.dim)}; ${inWords(wanted)} is needed here.`, 0, text.length);
  }
  if (out.constant !== undefined && !Number.isFinite(out.constant)) {
    throw new FormulaError('formula-not-finite', 'The value is not a finite number.', 0, text.length);
  }
  return new Program(out.dim, Float64Array.from(values), steps, out.at, time, inputs);
}

/** “Did you mean” for a misspelt name: same letters but for case, or one of the two begins with the other. */
function near(name: string, names: Iterable<string>): string {
  const low = name.toLowerCase();
  for (const n of names) {
    const m = n.toLowerCase();
    if (m === low || (low.length > 2 && (m.startsWith(low) || low.startsWith(m)))) return ` Did you mean “${n}”?`;
  }
  return '';
}
