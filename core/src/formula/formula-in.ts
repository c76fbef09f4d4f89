import type { Ex } from '../expressions/arithmetic';
import { copied, shapeOf } from '../expressions/copy';
import { type Graph, OP } from '../expressions/graph';
import type { StatedFormula } from './stated-formula';

/** A formula in another graph. @param number expression of the number at a position of its list @param input of what it takes in, in the order of its inputs */
export function formulaIn(to: Graph, f: StatedFormula, t: Ex, number: (k: number) => Ex, input: (k: number) => Ex): Ex {
  const { g, x, constants } = f,
    place = new Map(constants.map((y, k) => [y, k]));
  return copied(g, x, to, (y) => {
    const k = place.get(y);
    if (k !== undefined) return number(k);
    if (g.op[y] === OP.constant) return to.constant(g.known(y)!);
    return g.b[y] === 0 ? t : input(g.b[y]! - 1);
  });
}

/** The same for formulas that differ in their numbers alone. */
export function shapeOfFormula({ g, x, constants }: StatedFormula): string {
  const told = new Set(constants);
  return shapeOf(g, x, (y) => told.has(y));
}
