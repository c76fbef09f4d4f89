/** From the text of a formula to a program: names bound, dimensions checked, what is constant worked out once. */
import { D, type Dimension, compatible, identical, inWords } from '../quantity/dimension';
import { shownUnit, unitOf } from '../quantity/units';
import { CONSTANTS, DimensionMismatch, FUNCTIONS, type FormulaFunction } from './functions';
import { FormulaError, type Node, namesIn, parse } from './parse';
import { type Input, Program, type Step } from './program';

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

/**
 * Compiles a formula.
 * @param text formula, or a plain number in SI units
 * @param wanted dimension the place asks for; undefined accepts any
 * @throws FormulaError
 */
export function compile(text: string | number, scope: Scope, wanted?: Dimension): Program {
  if (typeof text === 'number') {
    if (!Number.isFinite(text)) throw new FormulaError('formula-not-finite', 'The number is not finite.', 0, 0);
    return constant(text, wanted ?? D.none);
  }
  const root = parse(text);
  const compiler = new Compiler(scope);
  const out = compiler.part(root);
  // zero needs no unit
  if (wanted && out.constant === 0 && compatible(out.dim, D.none)) return constant(0, wanted);
  if (wanted && identical(out.dim, D.none) && !identical(wanted, D.none) && namesIn(root).size === 0)
    throw new FormulaError(
      'formula-unit-missing',
      `Which unit? Write, for example, “${text.trim()} ${shownUnit(wanted)}”.`,
      0,
      text.length,
    );
  if (wanted && !compatible(out.dim, wanted))
    throw new FormulaError('formula-dimension', `This is ${inWords(out.dim)}; ${inWords(wanted)} is needed here.`, 0, text.length);
  if (out.constant !== undefined && !Number.isFinite(out.constant))
    throw new FormulaError('formula-not-finite', 'The value is not a finite number.', 0, text.length);
  return compiler.program(out);
}

const constant = (value: number, dim: Dimension): Program => new Program(dim, Float64Array.of(value, 0, 0), [], 0, -1);

/** A part of a formula: the slot of its value, and the value where it never changes. */
interface Part {
  at: number;
  dim: Dimension;
  constant: number | undefined;
}

class Compiler {
  /** Three to a slot: value, first and second derivative. */
  private readonly values: number[] = [];
  private readonly steps: Step[] = [];
  private readonly inputs: Input[] = [];
  private time = -1;
  constructor(private readonly scope: Scope) {}

  program({ dim, at }: Part): Program {
    return new Program(dim, Float64Array.from(this.values), this.steps, at, this.time, this.inputs);
  }

  part(n: Node): Part {
    if (n.kind === 'number') return this.fixed(n.value, D.none);
    if (n.kind === 'name') return n.unit ? this.unit(n) : this.name(n);
    if (n.kind === 'gauge') return this.gauge(n);
    return this.call(n);
  }

  private slot(value: number): number {
    return this.values.push(value, 0, 0) - 3;
  }

  private fixed(value: number, dim: Dimension): Part {
    return { at: this.slot(value), dim, constant: value };
  }

  private call(n: Node & { kind: 'call' }): Part {
    const fn = this.functionOf(n);
    const parts = n.args.map((a) => this.part(a));
    const dim = dimensionOf(fn, n, parts);
    const o = this.slot(0);
    const step = { fn, o, a: parts[0]!.at, b: parts[1]?.at ?? 0, c: parts[2]?.at ?? 0 };
    if (parts.some((p) => p.constant === undefined)) {
      this.steps.push(step);
      return { at: o, dim, constant: undefined };
    }
    const S = Float64Array.from(this.values);
    fn.jet(S, o, step.a, step.b, step.c);
    this.values[o] = S[o]!;
    return { at: o, dim, constant: S[o]! };
  }

  private functionOf(n: Node & { kind: 'call' }): FormulaFunction {
    const fn = FUNCTIONS[n.name] ?? this.scope.table?.(n.name);
    if (!fn) {
      const names = Object.keys(FUNCTIONS).filter((k) => !FUNCTIONS[k]!.operator);
      throw new FormulaError('formula-function', `There is no function “${n.name}”.${near(n.name, names)}`, n.at, n.at + n.name.length);
    }
    if (n.args.length !== fn.args.length)
      throw new FormulaError(
        'formula-arguments',
        `${n.name}(${fn.args.join(', ')}) takes ${fn.args.length} values, not ${n.args.length}.`,
        n.at,
        n.end,
      );
    return fn;
  }

  private gauge(n: Node & { kind: 'gauge' }): Part {
    const { gauge } = this.scope;
    if (!gauge) throw new FormulaError('formula-gauge', 'Gauges cannot be used here: this value does not follow the motion.', n.at, n.end);
    const dim = gauge(n.name);
    if (!dim) throw new FormulaError('formula-gauge', `There is no gauge “${n.name}”.`, n.at, n.end);
    const known = this.inputs.find((x) => x.gauge === n.name);
    const at = known?.slot ?? this.slot(0);
    if (!known) this.inputs.push({ gauge: n.name, slot: at });
    return { at, dim, constant: undefined };
  }

  /** A name right after a number. */
  private unit(n: Node & { kind: 'name' }): Part {
    const unit = unitOf(n.name);
    if (unit) return this.fixed(unit.factor, unit.dim);
    const known = this.scope.lookup(n.name);
    throw new FormulaError(
      'formula-unit',
      known ? `Write a “*” between the number and ${n.name}.` : `“${n.name}” is not a unit.`,
      n.at,
      n.end,
    );
  }

  /** Time, a parameter, a constant or a unit, in this order. */
  private name(n: Node & { kind: 'name' }): Part {
    if (n.name === 't') return this.timeAt(n);
    const bound = this.scope.lookup(n.name);
    if (bound) return this.fixed(bound.value, bound.dim);
    const c = CONSTANTS[n.name];
    if (c !== undefined) return this.fixed(c, D.none);
    const unit = unitOf(n.name);
    if (unit) return this.fixed(unit.factor, unit.dim);
    throw new FormulaError('formula-name', `There is no parameter “${n.name}”.${near(n.name, this.scope.names?.() ?? [])}`, n.at, n.end);
  }

  private timeAt(n: Node): Part {
    if (!this.scope.time)
      throw new FormulaError('formula-time', 'Time t cannot be used here: this value is fixed during a run.', n.at, n.end);
    if (this.time < 0) {
      this.time = this.slot(0);
      this.values[this.time + 1] = 1;
    }
    return { at: this.time, dim: D.time, constant: undefined };
  }
}

function dimensionOf(fn: FormulaFunction, n: Node & { kind: 'call' }, parts: readonly Part[]): Dimension {
  try {
    return fn.dimension(
      parts.map((p) => p.dim),
      parts.map((p) => p.constant),
    );
  } catch (e) {
    if (!(e instanceof DimensionMismatch)) throw e;
    const bad = n.args[e.arg] ?? n;
    throw new FormulaError('formula-dimension', e.message, bad.at, bad.end);
  }
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
