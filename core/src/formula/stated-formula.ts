/** A formula as part of other equations: what is no 0 or ±1 in it is read there, so that machines that differ in it share their code. */
import type { Ex } from '../expressions/arithmetic';
import { Graph } from '../expressions/graph';

export interface StatedFormula {
  /** Its graph loads time, at offset 0 of the only base, and its inputs behind it, in their order. */
  readonly g: Graph;
  readonly x: Ex;
  /** Numbers in it, SI, and the constants that they are. */
  readonly numbers: readonly number[];
  readonly constants: readonly Ex[];
}

const structural = (x: number): boolean => x === 0 || x === 1 || x === -1;

/** @param x an expression of its graph */
export function statedFormula(g: Graph, x: Ex): StatedFormula {
  const constants = g.needed([x]).filter((y) => g.known(y) !== undefined && !structural(g.known(y)!));
  return { g, x, constants, numbers: constants.map((y) => g.known(y)!) };
}

/** A value that stays. */
export function always(value: number): StatedFormula {
  const g = new Graph();
  return statedFormula(g, g.constant(value));
}
