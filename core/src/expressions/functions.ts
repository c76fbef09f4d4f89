/** Elementary functions of expressions: each with its value and its derivative by each argument, as an expression. */
import * as E from '../quantity/elementary';
import type { Arithmetic, Ex } from './arithmetic';

export interface Elementary {
  readonly name: FunctionName;
  /** By which nodes and compiled code know it. */
  readonly index: number;
  readonly args: 1 | 2;
  at(x: number, y: number): number;
  /** ∂/∂x, and ∂/∂y where it has two arguments. @param f the function itself at x, y */
  by(g: Arithmetic, x: Ex, y: Ex, f: Ex): readonly Ex[];
}

type Declared = Omit<Elementary, 'index' | 'name'>;

const declared = {
  sin: { args: 1, at: E.sin, by: (g, x) => [g.apply('cos', x)] },
  cos: { args: 1, at: E.cos, by: (g, x) => [g.negate(g.apply('sin', x))] },
  tan: { args: 1, at: E.tan, by: (g, _x, _y, f) => [g.add(g.one, g.square(f))] },
  asin: { args: 1, at: E.asin, by: (g, x) => [g.divide(g.one, g.root(g.subtract(g.one, g.square(x))))] },
  acos: { args: 1, at: E.acos, by: (g, x) => [g.negate(g.divide(g.one, g.root(g.subtract(g.one, g.square(x)))))] },
  atan: { args: 1, at: E.atan, by: (g, x) => [g.divide(g.one, g.add(g.one, g.square(x)))] },
  /** Angle of the direction (y, x), given as atan2(x = its height, y = its width). */
  atan2: {
    args: 2,
    at: E.atan2,
    by(g, y, x) {
      const n = g.add(g.square(x), g.square(y));
      return [g.divide(x, n), g.negate(g.divide(y, n))];
    },
  },
  exp: { args: 1, at: E.exp, by: (_g, _x, _y, f) => [f] },
  ln: { args: 1, at: E.ln, by: (g, x) => [g.divide(g.one, x)] },
  /** x to the power of y, by multiplication where y is a small whole number. */
  power: {
    args: 2,
    at: (x, y) => (Number.isInteger(y) && Math.abs(y) <= 16 ? E.integerPower(x, y) : y === 0.5 ? Math.sqrt(x) : E.pow(x, y)),
    by: (g, x, y, f) => [g.multiply(y, power(g, x, g.subtract(y, g.one))), g.multiply(f, g.apply('ln', x))],
  },
  /** −1, 0 or 1: as constant between its steps. */
  sign: { args: 1, at: (x) => (x > 0 ? 1 : x < 0 ? -1 : 0), by: (g) => [g.zero] },
  floor: { args: 1, at: Math.floor, by: (g) => [g.zero] },
  /** An angle brought between −π and π. */
  wrap: { args: 1, at: E.wrapAngle, by: (g) => [g.one] },
} satisfies Record<string, Declared>;

/** x to the power of y. */
export const power = (g: Arithmetic, x: Ex, y: Ex): Ex => (y === g.zero ? g.one : y === g.one ? x : g.apply('power', x, y));

export type FunctionName = keyof typeof declared;

/** By their index. */
export const BY_INDEX: readonly Elementary[] = (Object.entries(declared) as [FunctionName, Declared][]).map(([name, f], index) => ({
  ...f,
  name,
  index,
}));

export const FUNCTIONS = Object.fromEntries(Object.keys(declared).map((name, k) => [name, BY_INDEX[k]!])) as Record<
  FunctionName,
  Elementary
>;
