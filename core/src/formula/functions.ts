/**
 * The functions of formulas. Each is declared once: how dimensions pass through it, what it is as an expression, and where it has a kink. Its
 * derivatives follow from the expression.
 */
import type { Ex } from '../expressions/arithmetic';
import { type FunctionName, power as toThePower } from '../expressions/functions';
import type { Graph } from '../expressions/graph';
import { type Dimension, D, compatible, divide, inWords, multiply, power } from '../quantity/dimension';

/** Of the arguments as expressions; those that a function has not are those it has. */
type Of<T> = (g: Graph, x: Ex, y: Ex, z: Ex) => T;

export interface FormulaFunction {
  /** Argument names, as shown in help. Operators have a hidden name. */
  readonly args: readonly string[];
  readonly help?: string;
  readonly operator?: true;
  /** @throws DimensionMismatch */
  dimension(d: readonly Dimension[], constants: readonly (number | undefined)[]): Dimension;
  readonly express: Of<Ex>;
  /** Values whose change of sign marks a kink. */
  readonly kinks?: Of<Ex[]>;
  /** How finely its kinks must be looked for. */
  readonly samples?: number;
}

export class DimensionMismatch extends Error {
  constructor(
    message: string,
    /** Index of the argument at fault. */
    readonly arg: number,
  ) {
    super(message);
  }
}

const sameAll =
  (what: string) =>
  (d: readonly Dimension[]): Dimension => {
    const i = d.findIndex((x) => !compatible(x, d[0]!));
    if (i > 0) throw new DimensionMismatch(`${what} ${inWords(d[0]!)} and ${inWords(d[i]!)}.`, i);
    return d.find((x) => x[5] !== 0) ?? d[0]!;
  };
const pure =
  (name: string, result: Dimension = D.none) =>
  (d: readonly Dimension[]): Dimension => {
    d.forEach((x, i) => {
      if (!compatible(x, D.none)) throw new DimensionMismatch(`${name} takes a plain number or an angle, not ${inWords(x)}.`, i);
    });
    return result;
  };

/** Position of x between lo and hi: 0 below, 1 above, a course of 0 to 1 between. */
const ramp =
  (course: (g: Graph, q: Ex) => Ex): Of<Ex> =>
  (g, lo, hi, x) => {
    const q = g.divide(g.subtract(x, lo), g.subtract(hi, lo));
    return g.choose(x, hi, g.choose(lo, x, course(g, q), g.zero), g.one);
  };
const rampKinks: Of<Ex[]> = (g, lo, hi, x) => [g.subtract(x, lo), g.subtract(x, hi)];
const rampDimension = (d: readonly Dimension[]): Dimension => {
  sameAll('A ramp compares')(d);
  return D.none;
};
/** a + b x */
const line = (g: Graph, a: number, b: number, x: Ex): Ex => g.add(g.constant(a), g.multiply(g.constant(b), x));

const unary = (name: string, help: string, result: Dimension = D.none, as = name as FunctionName): FormulaFunction => ({
  args: ['x'],
  help,
  dimension: pure(name, result),
  express: (g, x) => g.apply(as, x),
});

/** Looked up by what users write: names that every object has (`toString`) are none of these. */
const bare = <T extends object>(o: T): T => Object.assign(Object.create(null) as T, o);

export const FUNCTIONS: Readonly<Record<string, FormulaFunction>> = bare<Record<string, FormulaFunction>>({
  add: {
    args: ['a', 'b'],
    operator: true,
    dimension: sameAll('A sum needs like quantities; this adds'),
    express: (g, x, y) => g.add(x, y),
  },
  subtract: {
    args: ['a', 'b'],
    operator: true,
    dimension: sameAll('A difference needs like quantities; this takes'),
    express: (g, x, y) => g.subtract(x, y),
  },
  multiply: { args: ['a', 'b'], operator: true, dimension: (d) => multiply(d[0]!, d[1]!), express: (g, x, y) => g.multiply(x, y) },
  divide: { args: ['a', 'b'], operator: true, dimension: (d) => divide(d[0]!, d[1]!), express: (g, x, y) => g.divide(x, y) },
  negate: {
    args: ['a'],
    operator: true,
    dimension: (d) => d[0]!,
    express: (g, x) => g.negate(x),
  },
  power: {
    args: ['a', 'b'],
    operator: true,
    dimension(d, constants) {
      if (!compatible(d[1]!, D.none)) throw new DimensionMismatch(`An exponent is a plain number, not ${inWords(d[1]!)}.`, 1);
      if (compatible(d[0]!, D.none)) return D.none;
      const n = constants[1];
      if (n === undefined) throw new DimensionMismatch(`The exponent of ${inWords(d[0]!)} must be a fixed number.`, 1);
      return power(d[0]!, n);
    },
    express: toThePower,
  },
  sin: unary('sin', 'sine of an angle'),
  cos: unary('cos', 'cosine of an angle'),
  tan: unary('tan', 'tangent of an angle'),
  asin: unary('asin', 'angle of a sine', D.angle),
  acos: unary('acos', 'angle of a cosine', D.angle),
  atan: unary('atan', 'angle of a tangent', D.angle),
  atan2: {
    args: ['y', 'x'],
    help: 'direction of the point (x, y)',
    dimension(d) {
      sameAll('atan2 compares')(d);
      return D.angle;
    },
    express: (g, y, x) => g.apply('atan2', y, x),
  },
  sqrt: {
    args: ['x'],
    help: 'square root',
    dimension: (d) => power(d[0]!, 0.5),
    express: (g, x) => g.root(x),
  },
  exp: unary('exp', 'exponential'),
  log: unary('log', 'natural logarithm', D.none, 'ln'),
  abs: {
    args: ['x'],
    help: 'magnitude',
    dimension: (d) => d[0]!,
    express: (g, x) => g.size(x),
    kinks: (_g, x) => [x],
  },
  sign: {
    args: ['x'],
    help: '−1, 0 or 1',
    dimension: () => D.none,
    express: (g, x) => g.apply('sign', x),
    kinks: (_g, x) => [x],
  },
  min: {
    args: ['a', 'b'],
    help: 'the smaller',
    dimension: sameAll('min compares'),
    express: (g, x, y) => g.least(x, y),
    kinks: (g, x, y) => [g.subtract(x, y)],
  },
  max: {
    args: ['a', 'b'],
    help: 'the larger',
    dimension: sameAll('max compares'),
    express: (g, x, y) => g.most(x, y),
    kinks: (g, x, y) => [g.subtract(x, y)],
  },
  clamp: {
    args: ['x', 'lo', 'hi'],
    help: 'x kept between lo and hi',
    dimension: sameAll('clamp compares'),
    express: (g, x, lo, hi) => g.choose(x, lo, lo, g.choose(hi, x, hi, x)),
    kinks: (g, x, lo, hi) => [g.subtract(x, lo), g.subtract(x, hi)],
  },
  mix: {
    args: ['a', 'b', 'w'],
    help: 'a for w = 0, b for w = 1, straight between',
    dimension(d) {
      if (!compatible(d[2]!, D.none)) throw new DimensionMismatch(`The weight of mix is a plain number, not ${inWords(d[2]!)}.`, 2);
      return sameAll('mix blends')(d.slice(0, 2));
    },
    express: (g, a, b, w) => g.add(a, g.multiply(w, g.subtract(b, a))),
  },
  step: {
    args: ['edge', 'x'],
    help: '0 below the edge, 1 from it on',
    dimension: rampDimension,
    express: (g, edge, x) => g.choose(x, edge, g.zero, g.one),
    kinks: (g, edge, x) => [g.subtract(x, edge)],
  },
  linearstep: {
    args: ['from', 'to', 'x'],
    help: '0 to 1 straight: a ramp',
    dimension: rampDimension,
    express: ramp((_g, q) => q),
    kinks: rampKinks,
  },
  smoothstep: {
    args: ['from', 'to', 'x'],
    help: '0 to 1 as a cubic, smooth in value and slope',
    dimension: rampDimension,
    express: ramp((g, q) => g.multiply(g.square(q), line(g, 3, -2, q))),
    kinks: rampKinks,
  },
  smootherstep: {
    args: ['from', 'to', 'x'],
    help: '0 to 1 as a quintic, smooth in value, slope and curvature',
    dimension: rampDimension,
    express: ramp((g, q) => g.multiply(g.multiply(g.square(q), q), g.add(g.constant(10), g.multiply(q, line(g, -15, 6, q))))),
    kinks: rampKinks,
  },
  mod: {
    args: ['x', 'period'],
    help: 'remainder of x by the period, never negative',
    dimension: sameAll('mod divides'),
    express: (g, x, period) => g.subtract(x, g.multiply(g.apply('floor', g.divide(x, period)), period)),
    kinks: (g, x, period) => [g.apply('sin', g.divide(g.multiply(g.constant(Math.PI), x), period))],
  },
});

export const CONSTANTS: Readonly<Record<string, number>> = bare({ pi: 3.141592653589793, tau: 6.283185307179586 });
