/**
 * What needs the four operations and the square root alone, which are exactly rounded everywhere; apart from the functions of a library, so that a
 * page can do without it.
 */
export const square = (x: number): number => x * x;
/** x³. */
export const cube = (x: number): number => x * x * x;
/** The eighth root, by three exactly rounded square roots. */
export const eighthRoot = (x: number): number => Math.sqrt(Math.sqrt(Math.sqrt(x)));

/** x^n by repeated multiplication: the same everywhere, and exact for the small integers of formulas. */
export function integerPower(x: number, n: number): number {
  let r = 1;
  for (let k = Math.abs(n); k > 0; k--) r *= x;
  return n < 0 ? 1 / r : r;
}

export const TWO_PI = 6.283185307179586;

/** The angle plus the whole turns that bring it nearest to zero, in (−π, π]. */
export const wrapAngle = (x: number): number => x - TWO_PI * Math.round(x / TWO_PI);
