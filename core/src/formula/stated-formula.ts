/** A formula as part of other equations: what is no 0 or ±1 in it is read there, so that machines that differ in it share their code. */
import type { Ex } from '../expressions/arithmetic';
import { copied, shapeOf } from '../expressions/copy';
import { Graph, OP } from '../expressions/graph';

export interface StatedFormula {
  /** Numbers in it, SI. */
  readonly numbers: readonly number[];
  /** The same for formulas that differ in these alone. */
  readonly shape: string;
  /** @param number expression of the number at a position of the list @param input of what it takes in, in the order of its inputs */
  of(g: Graph, t: Ex, number: (k: number) => Ex, input: (k: number) => Ex): Ex;
}

const structural = (x: number): boolean => x === 0 || x === 1 || x === -1;

/** @param x an expression of its graph that loads time, at offset 0 of the only base, and its inputs behind it */
export function statedFormula(g: Graph, x: Ex): StatedFormula {
  const constants = g.needed([x]).filter((y) => g.known(y) !== undefined && !structural(g.known(y)!)),
    place = new Map(constants.map((y, k) => [y, k]));
  return {
    numbers: constants.map((y) => g.known(y)!),
    shape: shapeOf(g, x, (y) => place.has(y)),
    of: (to, t, number, input) =>
      copied(g, x, to, (y) => {
        const k = place.get(y);
        if (k !== undefined) return number(k);
        if (g.op[y] === OP.constant) return to.constant(g.known(y)!);
        return g.b[y] === 0 ? t : input(g.b[y]! - 1);
      }),
  };
}

/** A value that stays. */
export function always(value: number): StatedFormula {
  const g = new Graph();
  return statedFormula(g, g.constant(value));
}
