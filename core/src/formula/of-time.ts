/** A formula of time alone as part of other equations: what is no 0 or ±1 in it is read there, so that machines that differ in it share their code. */
import type { Ex } from '../expressions/arithmetic';
import { copied, shapeOf } from '../expressions/copy';
import { Graph } from '../expressions/graph';

export interface OfTime {
  /** Numbers in it, SI. */
  readonly numbers: readonly number[];
  /** The same for formulas that differ in these alone. */
  readonly shape: string;
  /** @param number expression of the number at a position of the list */
  of(g: Graph, t: Ex, number: (k: number) => Ex): Ex;
}

const structural = (x: number): boolean => x === 0 || x === 1 || x === -1;

/** @param x an expression of its graph that loads nothing but time, at offset 0 of the only base */
export function ofTime(g: Graph, x: Ex): OfTime {
  const constants = g.needed([x]).filter((y) => g.known(y) !== undefined && !structural(g.known(y)!)),
    place = new Map(constants.map((y, k) => [y, k]));
  return {
    numbers: constants.map((y) => g.known(y)!),
    shape: shapeOf(g, x, (y) => place.has(y)),
    of: (to, t, number) =>
      copied(g, x, to, (y) => {
        const k = place.get(y);
        return k !== undefined ? number(k) : g.known(y) === undefined ? t : to.constant(g.known(y)!);
      }),
  };
}

/** A value that stays. */
export function always(value: number): OfTime {
  const g = new Graph();
  return ofTime(g, g.constant(value));
}
