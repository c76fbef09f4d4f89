/** From the text of a formula to a program: names bound, dimensions checked, what is constant worked out once. */
import type { Ex } from '../expressions/arithmetic';
import { Graph } from '../expressions/graph';
import { Plain } from '../expressions/plain';
import { D, type Dimension, compatible, identical, inWords } from '../quantity/dimension';
import { shownUnit, unitOf } from '../quantity/units';
import { CONSTANTS, DimensionMismatch, FUNCTIONS, type FormulaFunction } from './functions';
import { FormulaError, type Node, namesIn, parse } from './parse';
import { type Input, Program, type Switching } from './program';

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

const constant = (value: number, dim: Dimension): Program => new Program(dim, value);

/** A part of a formula, and its value where it never changes. */
interface Part {
  x: Ex;
  dim: Dimension;
  constant: number | undefined;
}

class Compiler {
  private readonly g = new Graph();
  private readonly inputs: Input[] = [];
  private readonly switching: Switching[] = [];
  private time: Ex | undefined;
  constructor(private readonly scope: Scope) {}

  program({ dim, x, constant: fixed }: Part): Program {
    const { g, time, inputs, switching } = this;
    return fixed === undefined ? new Program(dim, { g, x, time, inputs, switching }) : constant(fixed, dim);
  }

  part(n: Node): Part {
    if (n.kind === 'number') return this.fixed(n.value, D.none);
    if (n.kind === 'name') return n.unit ? this.unit(n) : this.name(n);
    if (n.kind === 'gauge') return this.gauge(n);
    return this.call(n);
  }

  private fixed(value: number, dim: Dimension): Part {
    return { x: this.g.constant(value), dim, constant: value };
  }

  private call(n: Node & { kind: 'call' }): Part {
    const { g } = this,
      fn = this.functionOf(n);
    const parts = n.args.map((a) => this.part(a));
    const dim = dimensionOf(fn, n, parts);
    const [a, b, c] = [parts[0]!.x, parts[1]?.x ?? parts[0]!.x, parts[2]?.x ?? parts[0]!.x];
    const x = fn.express(g, a, b, c);
    if (parts.every((p) => p.constant !== undefined)) return { x, dim, constant: g.known(x) ?? this.workedOut(x) };
    for (const k of fn.kinks?.(g, a, b, c) ?? []) if (g.known(k) === undefined) this.switching.push({ x: k, samples: fn.samples ?? 0 });
    return { x, dim, constant: undefined };
  }

  /** A value of constants that is not folded: of a table, or no number at all. */
  private workedOut(x: Ex): number {
    const plain = new Plain(this.g, [x]);
    plain.evaluate(new Float64Array(0), []);
    return plain.value(x);
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
    const slot = known?.slot ?? this.inputs.length + 1;
    if (!known) this.inputs.push({ gauge: n.name, slot });
    return { x: this.g.load(0, slot), dim, constant: undefined };
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
    this.time ??= this.g.load(0, 0);
    return { x: this.time, dim: D.time, constant: undefined };
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
