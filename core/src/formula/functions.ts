/**
 * The functions of formulas. Each is declared once: how dimensions pass through it, its value with two
 * exact time derivatives (a second-order jet, see Griewank & Walther, Evaluating Derivatives, ch. 13),
 * and where it has a kink.
 *
 * Jets lie in one array: slot i holds value, first and second derivative at 3i, 3i+1, 3i+2.
 */
import * as E from '../quantity/elementary';
import { type Dimension, D, compatible, divide, inWords, multiply, power } from '../quantity/dimension';

export interface FormulaFunction {
  /** Argument names, as shown in help. Operators have a hidden name. */
  readonly args: readonly string[];
  readonly help?: string;
  readonly operator?: true;
  /** @throws DimensionMismatch */
  dimension(d: readonly Dimension[], constants: readonly (number | undefined)[]): Dimension;
  jet(S: Float64Array, o: number, a: number, b: number, c: number): void;
  /** Values whose change of sign marks a kink, one per index. */
  readonly kinks?: readonly ((S: Float64Array, a: number, b: number, c: number) => number)[];
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

/** Chain rule for h(a): needs h, h′ and h″ at the value of a. */
function chain(S: Float64Array, o: number, a: number, h: number, h1: number, h2: number): void {
  const d1 = S[a + 1]!;
  const d2 = S[a + 2]!;
  S[o] = h;
  S[o + 1] = h1 * d1;
  S[o + 2] = h2 * d1 * d1 + h1 * d2;
}
function copy(S: Float64Array, o: number, a: number): void {
  S[o] = S[a]!;
  S[o + 1] = S[a + 1]!;
  S[o + 2] = S[a + 2]!;
}
function constant(S: Float64Array, o: number, value: number): void {
  S[o] = value;
  S[o + 1] = 0;
  S[o + 2] = 0;
}
function product(S: Float64Array, o: number, a: number, b: number): void {
  const f = S[a]!,
    f1 = S[a + 1]!,
    f2 = S[a + 2]!;
  const g = S[b]!,
    g1 = S[b + 1]!,
    g2 = S[b + 2]!;
  S[o] = f * g;
  S[o + 1] = f1 * g + f * g1;
  S[o + 2] = f2 * g + 2 * f1 * g1 + f * g2;
}
function quotient(S: Float64Array, o: number, a: number, b: number): void {
  const g = S[b]!,
    g1 = S[b + 1]!;
  const q = S[a]! / g;
  const q1 = (S[a + 1]! - q * g1) / g;
  S[o + 2] = (S[a + 2]! - 2 * q1 * g1 - q * S[b + 2]!) / g;
  S[o] = q;
  S[o + 1] = q1;
}
const pow = (x: number, n: number): number =>
  Number.isInteger(n) && Math.abs(n) <= 16 ? E.integerPower(x, n) : n === 0.5 ? Math.sqrt(x) : E.pow(x, n);

function powerJet(S: Float64Array, o: number, a: number, b: number): void {
  const n = S[b]!;
  if (S[b + 1] === 0 && S[b + 2] === 0) {
    const x = S[a]!;
    chain(S, o, a, pow(x, n), n === 0 ? 0 : n * pow(x, n - 1), n === 0 || n === 1 ? 0 : n * (n - 1) * pow(x, n - 2));
    return;
  }
  const x = S[a]!,
    x1 = S[a + 1]!,
    x2 = S[a + 2]!;
  const l = E.ln(x),
    l1 = x1 / x,
    l2 = (x2 - l1 * x1) / x;
  const n1 = S[b + 1]!,
    n2 = S[b + 2]!;
  const e1 = n1 * l + n * l1;
  const e2 = n2 * l + 2 * n1 * l1 + n * l2;
  const h = E.exp(n * l);
  S[o] = h;
  S[o + 1] = h * e1;
  S[o + 2] = h * (e2 + e1 * e1);
}

/** Position of x between lo and hi as a jet in slot o: 0 below, 1 above. Returns false outside. */
function ramp(S: Float64Array, o: number, lo: number, hi: number, x: number): boolean {
  if (S[x]! <= S[lo]! || S[x]! >= S[hi]!) {
    constant(S, o, S[x]! >= S[hi]! ? 1 : 0);
    return false;
  }
  const w = S[hi]! - S[lo]!,
    w1 = S[hi + 1]! - S[lo + 1]!,
    w2 = S[hi + 2]! - S[lo + 2]!;
  const q = (S[x]! - S[lo]!) / w;
  const q1 = (S[x + 1]! - S[lo + 1]! - q * w1) / w;
  S[o + 2] = (S[x + 2]! - S[lo + 2]! - 2 * q1 * w1 - q * w2) / w;
  S[o] = q;
  S[o + 1] = q1;
  return true;
}
const rampKinks = [
  (S: Float64Array, lo: number, _hi: number, x: number) => S[x]! - S[lo]!,
  (S: Float64Array, _lo: number, hi: number, x: number) => S[x]! - S[hi]!,
];
const rampDimension = (d: readonly Dimension[]): Dimension => {
  sameAll('A ramp compares')(d);
  return D.none;
};

const unary = (
  name: string,
  help: string,
  jet: (S: Float64Array, o: number, a: number) => void,
  result: Dimension = D.none,
): FormulaFunction => ({ args: ['x'], help, dimension: pure(name, result), jet });

/** Looked up by what users write: names that every object has (`toString`) are none of these. */
const bare = <T extends object>(o: T): T => Object.assign(Object.create(null) as T, o);

export const FUNCTIONS: Readonly<Record<string, FormulaFunction>> = bare<Record<string, FormulaFunction>>({
  add: {
    args: ['a', 'b'],
    operator: true,
    dimension: sameAll('A sum needs like quantities; this adds'),
    jet(S, o, a, b) {
      for (let k = 0; k < 3; k++) S[o + k] = S[a + k]! + S[b + k]!;
    },
  },
  subtract: {
    args: ['a', 'b'],
    operator: true,
    dimension: sameAll('A difference needs like quantities; this takes'),
    jet(S, o, a, b) {
      for (let k = 0; k < 3; k++) S[o + k] = S[a + k]! - S[b + k]!;
    },
  },
  multiply: { args: ['a', 'b'], operator: true, dimension: (d) => multiply(d[0]!, d[1]!), jet: product },
  divide: { args: ['a', 'b'], operator: true, dimension: (d) => divide(d[0]!, d[1]!), jet: quotient },
  negate: {
    args: ['a'],
    operator: true,
    dimension: (d) => d[0]!,
    jet(S, o, a) {
      for (let k = 0; k < 3; k++) S[o + k] = -S[a + k]!;
    },
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
    jet: powerJet,
  },
  sin: unary('sin', 'sine of an angle', (S, o, a) => {
    const s = E.sin(S[a]!);
    chain(S, o, a, s, E.cos(S[a]!), -s);
  }),
  cos: unary('cos', 'cosine of an angle', (S, o, a) => {
    const c = E.cos(S[a]!);
    chain(S, o, a, c, -E.sin(S[a]!), -c);
  }),
  tan: unary('tan', 'tangent of an angle', (S, o, a) => {
    const x = E.tan(S[a]!);
    chain(S, o, a, x, 1 + x * x, 2 * x * (1 + x * x));
  }),
  asin: unary(
    'asin',
    'angle of a sine',
    (S, o, a) => {
      const x = S[a]!,
        r = 1 - x * x,
        q = 1 / Math.sqrt(r);
      chain(S, o, a, E.asin(x), q, (x * q) / r);
    },
    D.angle,
  ),
  acos: unary(
    'acos',
    'angle of a cosine',
    (S, o, a) => {
      const x = S[a]!,
        r = 1 - x * x,
        q = 1 / Math.sqrt(r);
      chain(S, o, a, E.acos(x), -q, (-x * q) / r);
    },
    D.angle,
  ),
  atan: unary(
    'atan',
    'angle of a tangent',
    (S, o, a) => {
      const x = S[a]!,
        q = 1 / (1 + x * x);
      chain(S, o, a, E.atan(x), q, -2 * x * q * q);
    },
    D.angle,
  ),
  atan2: {
    args: ['y', 'x'],
    help: 'direction of the point (x, y)',
    dimension(d) {
      sameAll('atan2 compares')(d);
      return D.angle;
    },
    jet(S, o, y, x) {
      const p = S[y]!,
        p1 = S[y + 1]!,
        p2 = S[y + 2]!,
        q = S[x]!,
        q1 = S[x + 1]!,
        q2 = S[x + 2]!;
      const r2 = p * p + q * q;
      const n = p1 * q - p * q1;
      S[o] = E.atan2(p, q);
      S[o + 1] = n / r2;
      S[o + 2] = (p2 * q - p * q2) / r2 - (2 * n * (p * p1 + q * q1)) / (r2 * r2);
    },
  },
  sqrt: {
    args: ['x'],
    help: 'square root',
    dimension: (d) => power(d[0]!, 0.5),
    jet(S, o, a) {
      const r = Math.sqrt(S[a]!);
      chain(S, o, a, r, 0.5 / r, -0.25 / (r * S[a]!));
    },
  },
  exp: unary('exp', 'exponential', (S, o, a) => {
    const e = E.exp(S[a]!);
    chain(S, o, a, e, e, e);
  }),
  log: unary('log', 'natural logarithm', (S, o, a) => {
    const x = S[a]!;
    chain(S, o, a, E.ln(x), 1 / x, -1 / (x * x));
  }),
  abs: {
    args: ['x'],
    help: 'magnitude',
    dimension: (d) => d[0]!,
    jet(S, o, a) {
      const s = S[a]! < 0 ? -1 : 1;
      chain(S, o, a, s * S[a]!, s, 0);
    },
    kinks: [(S, a) => S[a]!],
  },
  sign: {
    args: ['x'],
    help: '−1, 0 or 1',
    dimension: () => D.none,
    jet(S, o, a) {
      constant(S, o, S[a]! > 0 ? 1 : S[a]! < 0 ? -1 : 0);
    },
    kinks: [(S, a) => S[a]!],
  },
  min: {
    args: ['a', 'b'],
    help: 'the smaller',
    dimension: sameAll('min compares'),
    jet(S, o, a, b) {
      copy(S, o, S[a]! <= S[b]! ? a : b);
    },
    kinks: [(S, a, b) => S[a]! - S[b]!],
  },
  max: {
    args: ['a', 'b'],
    help: 'the larger',
    dimension: sameAll('max compares'),
    jet(S, o, a, b) {
      copy(S, o, S[a]! >= S[b]! ? a : b);
    },
    kinks: [(S, a, b) => S[a]! - S[b]!],
  },
  clamp: {
    args: ['x', 'lo', 'hi'],
    help: 'x kept between lo and hi',
    dimension: sameAll('clamp compares'),
    jet(S, o, x, lo, hi) {
      copy(S, o, S[x]! < S[lo]! ? lo : S[x]! > S[hi]! ? hi : x);
    },
    kinks: [(S, x, lo) => S[x]! - S[lo]!, (S, x, _lo, hi) => S[x]! - S[hi]!],
  },
  mix: {
    args: ['a', 'b', 'w'],
    help: 'a for w = 0, b for w = 1, straight between',
    dimension(d) {
      if (!compatible(d[2]!, D.none)) throw new DimensionMismatch(`The weight of mix is a plain number, not ${inWords(d[2]!)}.`, 2);
      return sameAll('mix blends')(d.slice(0, 2));
    },
    jet(S, o, a, b, w) {
      const f = S[w]!,
        f1 = S[w + 1]!,
        f2 = S[w + 2]!;
      const g = S[b]! - S[a]!,
        g1 = S[b + 1]! - S[a + 1]!,
        g2 = S[b + 2]! - S[a + 2]!;
      S[o] = S[a]! + f * g;
      S[o + 1] = S[a + 1]! + f1 * g + f * g1;
      S[o + 2] = S[a + 2]! + f2 * g + 2 * f1 * g1 + f * g2;
    },
  },
  step: {
    args: ['edge', 'x'],
    help: '0 below the edge, 1 from it on',
    dimension: rampDimension,
    jet(S, o, edge, x) {
      constant(S, o, S[x]! >= S[edge]! ? 1 : 0);
    },
    kinks: [(S, edge, x) => S[x]! - S[edge]!],
  },
  linearstep: {
    args: ['from', 'to', 'x'],
    help: '0 to 1 straight: a ramp',
    dimension: rampDimension,
    jet(S, o, lo, hi, x) {
      ramp(S, o, lo, hi, x);
    },
    kinks: rampKinks,
  },
  smoothstep: {
    args: ['from', 'to', 'x'],
    help: '0 to 1 as a cubic, smooth in value and slope',
    dimension: rampDimension,
    jet(S, o, lo, hi, x) {
      if (!ramp(S, o, lo, hi, x)) return;
      const q = S[o]!;
      chain(S, o, o, q * q * (3 - 2 * q), 6 * q * (1 - q), 6 - 12 * q);
    },
    kinks: rampKinks,
  },
  smootherstep: {
    args: ['from', 'to', 'x'],
    help: '0 to 1 as a quintic, smooth in value, slope and curvature',
    dimension: rampDimension,
    jet(S, o, lo, hi, x) {
      if (!ramp(S, o, lo, hi, x)) return;
      const q = S[o]!;
      chain(S, o, o, q * q * q * (10 + q * (6 * q - 15)), 30 * q * q * (1 - q) * (1 - q), 60 * q * (1 - q) * (1 - 2 * q));
    },
    kinks: rampKinks,
  },
  mod: {
    args: ['x', 'period'],
    help: 'remainder of x by the period, never negative',
    dimension: sameAll('mod divides'),
    jet(S, o, a, b) {
      const n = Math.floor(S[a]! / S[b]!);
      for (let k = 0; k < 3; k++) S[o + k] = S[a + k]! - n * S[b + k]!;
    },
    kinks: [(S, a, b) => E.sin((3.141592653589793 * S[a]!) / S[b]!)],
  },
});

export const CONSTANTS: Readonly<Record<string, number>> = bare({ pi: 3.141592653589793, tau: 6.283185307179586 });
