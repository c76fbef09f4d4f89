/** Vectors and rotations of numbers between bounds. */
import { OUT, SMOOTH, above, below, over, square, times } from '../../quantity/interval';
import type { Between } from './around';

/** Three of them; and nine, row by row. */
export type Three = readonly [Between, Between, Between];
export type Nine = readonly Between[];

const out = (): Between => ({ lo: OUT[0]!, hi: OUT[1]! });
/** A number that is known. */
export const exactly = (x: number): Between => ({ lo: x, hi: x });
/** A number with rounding on it. */
export const about = (x: number, by: number): Between => ({ lo: below(x - by), hi: above(x + by) });
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
/** x/y: anything where y may be 0. */
export function divide(x: Between, y: Between): Between {
  over(x.lo, x.hi, y.lo, y.hi);
  return out();
}
/** Σ x */
export const sum = (list: readonly Between[]): Between => list.reduce(add);
/** A vector, part by part. */
export const three = (f: (k: 0 | 1 | 2) => Between): Three => [f(0), f(1), f(2)];
/** x + y */
export const plus = (x: Three, y: Three): Three => three((k) => add(x[k], y[k]));
/** x − y */
export const minus = (x: Three, y: Three): Three => three((k) => subtract(x[k], y[k]));
/** s x */
export const scaled = (s: Between, x: Three): Three => three((k) => multiply(s, x[k]));
/** x · y */
export const dot = (x: Three, y: Three): Between => sum(x.map((v, k) => multiply(v, y[k]!)));
/** x × y */
export const cross = (x: Three, y: Three): Three =>
  three((k) => subtract(multiply(x[((k + 1) % 3) as 0], y[((k + 2) % 3) as 0]), multiply(x[((k + 2) % 3) as 0], y[((k + 1) % 3) as 0])));
/** A x */
export const apply = (A: Nine, x: Three): Three => three((i) => sum(x.map((v, k) => multiply(A[3 * i + k]!, v))));
/** Aᵀ x */
export const applyT = (A: Nine, x: Three): Three => three((i) => sum(x.map((v, k) => multiply(A[3 * k + i]!, v))));
/** A B */
export const product = (A: Nine, B: Nine): Nine =>
  Array.from({ length: 9 }, (_, e) => sum([0, 1, 2].map((k) => multiply(A[3 * Math.floor(e / 3) + k]!, B[3 * k + (e % 3)]!))));

/** The rotation by an angle about a unit vector: I + sin α u × + (1 − cos α) (u uᵀ − I), of which the last is told as 2 sin² (α/2). */
export function rotation(u: Three, angle: Between): Nine {
  SMOOTH.sin!(angle.lo, angle.hi, 0, 0);
  const s = out();
  SMOOTH.sin!(0.5 * angle.lo, 0.5 * angle.hi, 0, 0);
  const half = out(),
    c = multiply(exactly(2), multiply(half, half));
  return Array.from({ length: 9 }, (_, e) => {
    const i = Math.floor(e / 3) as 0 | 1 | 2,
      j = (e % 3) as 0 | 1 | 2;
    if (i === j) {
      const [x, y] = u.filter((_, k) => k !== i) as [Between, Between];
      return subtract(exactly(1), multiply(c, add(multiply(x, x), multiply(y, y))));
    }
    const k = (3 - i - j) as 0 | 1 | 2,
      sine = multiply(s, u[k]),
      both = multiply(c, multiply(u[i], u[j]));
    return (j + 1) % 3 === i ? add(both, sine) : subtract(both, sine);
  });
}
