/** Numbers between bounds. */
import { OUT, above, below, square, times } from '../../quantity/interval';
import type { Between } from './around';

const out = (): Between => ({ lo: OUT[0]!, hi: OUT[1]! });
/** A number that is known. */
export const exactly = (x: number): Between => ({ lo: x, hi: x });
/** x + y */
export const add = (x: Between, y: Between): Between => ({ lo: below(x.lo + y.lo), hi: above(x.hi + y.hi) });
/** x − y */
export const subtract = (x: Between, y: Between): Between => ({ lo: below(x.lo - y.hi), hi: above(x.hi - y.lo) });
/** x y, and x² where both are one. */
export function multiply(x: Between, y: Between): Between {
  if (x === y) square(x.lo, x.hi);
  else times(x.lo, x.hi, y.lo, y.hi);
  return out();
}
/** Σ x */
export const sum = (list: readonly Between[]): Between => list.reduce(add);
