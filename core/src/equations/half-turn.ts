/**
 * A body that turns about one of its own axes alone: its quaternion is the one it had times (cos ½φ, sin ½φ about the axis). Both are told by one number,
 * the tangent of a quarter of the angle (the modified Rodrigues parameter; Wiener, thesis, MIT 1962), of which q and −q have the smaller one.
 */

type Numbers = { [i: number]: number };

/** cos ½φ, from the quaternion of a body before and now, each from a place on. */
export const cosine = (still: ArrayLike<number>, s: number, q: ArrayLike<number>, o: number): number =>
  still[s]! * q[o]! + still[s + 1]! * q[o + 1]! + still[s + 2]! * q[o + 2]! + still[s + 3]! * q[o + 3]!;

/** sin ½φ about axis k. */
export function sine(still: ArrayLike<number>, s: number, q: ArrayLike<number>, o: number, k: number): number {
  const a = 1 + k,
    b = 1 + ((k + 1) % 3),
    c = 1 + ((k + 2) % 3);
  return still[s]! * q[o + a]! - still[s + a]! * q[o]! - (still[s + b]! * q[o + c]! - still[s + c]! * q[o + b]!);
}

/** The quaternion after a turn about axis k. @param c,w cosine and sine of half the angle, up to a factor */
export function turn(still: ArrayLike<number>, s: number, k: number, c: number, w: number, q: Numbers, o: number): void {
  const n = 1 / Math.sqrt(c * c + w * w),
    x = 1 + k,
    y = 1 + ((k + 1) % 3),
    z = 1 + ((k + 2) % 3),
    cn = c * n,
    sn = w * n;
  q[o] = still[s]! * cn - still[s + x]! * sn;
  q[o + x] = still[s + x]! * cn + still[s]! * sn;
  q[o + y] = still[s + y]! * cn + still[s + z]! * sn;
  q[o + z] = still[s + z]! * cn - still[s + y]! * sn;
}

/** tan ¼φ, −1 to 1. @param c,w cosine and sine of half the angle */
export const quarter = (c: number, w: number): number => (c < 0 ? -w / (1 - c) : w / (1 + c));
/** A multiple of cos ½φ. @param x tan ¼φ */
export const cosineOf = (x: number): number => 1 - x * x;
/** The same multiple of sin ½φ. @param x tan ¼φ */
export const sineOf = (x: number): number => 2 * x;
