/**
 * Elementary functions of intervals: what they can come to while their arguments lie in these, rounded outwards (Moore, Kearfott & Cloud, Introduction to
 * Interval Analysis, ch. 5). Results are written to `OUT`, its lower end first.
 */
import * as E from './elementary';

/** Where results are written. */
export const OUT = new Float64Array(2);

/** One rounding, and so much as elementary functions are off at most. */
const ULP = 2.220446049250313e-16;
const FEW = 4 * ULP;
const LEAST = Number.MIN_VALUE;

/** Less than a sum that was rounded; one of nothing is exact. */
export function below(x: number): number {
  const less = x - Math.abs(x) * ULP;
  return less === less ? less : x;
}
/** More than it. */
export function above(x: number): number {
  const more = x + Math.abs(x) * ULP;
  return more === more ? more : x;
}
/** The same of what may have become too small for a number. */
const under = (x: number): number => below(x) - LEAST;
const beyond = (x: number): number => above(x) + LEAST;

const put = (lo: number, hi: number): void => {
  const [less, more] = [lo - Math.abs(lo) * FEW - LEAST, hi + Math.abs(hi) * FEW + LEAST];
  // what is no number may be anything
  OUT[0] = lo <= hi && less === less ? less : -Infinity;
  OUT[1] = lo <= hi && more === more ? more : Infinity;
};
const anything = (): void => {
  OUT[0] = -Infinity;
  OUT[1] = Infinity;
};

/** [a, b] times [c, d]. */
export function times(a: number, b: number, c: number, d: number): void {
  const p = a * c,
    q = a * d,
    r = b * c,
    s = b * d;
  // 0 times what has no bound
  if (p !== p || q !== q || r !== r || s !== s) return anything();
  // times nothing that is exact
  if ((a === 0 && b === 0) || (c === 0 && d === 0)) {
    OUT[0] = OUT[1] = 0;
    return;
  }
  OUT[0] = under(Math.min(p, q, r, s));
  OUT[1] = beyond(Math.max(p, q, r, s));
}
/** x² is not x times any other number of its interval. */
export function square(a: number, b: number): void {
  const p = a * a,
    q = b * b;
  OUT[0] = a <= 0 && b >= 0 ? 0 : Math.max(0, under(Math.min(p, q)));
  OUT[1] = a === 0 && b === 0 ? 0 : beyond(Math.max(p, q));
}
/** [a, b] divided by [c, d]: anything where that holds 0. */
export function over(a: number, b: number, c: number, d: number): void {
  if (!(c > 0 || d < 0)) return anything();
  const p = a / c,
    q = a / d,
    r = b / c,
    s = b / d;
  if (p !== p || q !== q || r !== r || s !== s) return anything();
  OUT[0] = under(Math.min(p, q, r, s));
  OUT[1] = beyond(Math.max(p, q, r, s));
}
/** The square root of what of [a, b] has one. */
export function root(a: number, b: number): void {
  if (!(b >= 0)) return anything();
  OUT[0] = a <= 0 ? 0 : below(Math.sqrt(a));
  OUT[1] = above(Math.sqrt(b));
}

/** Whether c + n d, n any whole number, lies in an interval, or so near that rounding may put it there. */
function meets(a: number, b: number, c: number, d: number): boolean {
  const slack = FEW * (1 + Math.abs(a) + Math.abs(b));
  return Math.floor((b + slack - c) / d) >= Math.ceil((a - slack - c) / d);
}
function wave(f: (x: number) => number, top: number, a: number, b: number): void {
  if (!(b - a < E.TWO_PI)) return put(-1, 1);
  const [p, q] = [f(a), f(b)];
  put(meets(a, b, top + 0.5 * E.TWO_PI, E.TWO_PI) ? -1 : Math.min(p, q), meets(a, b, top, E.TWO_PI) ? 1 : Math.max(p, q));
}
const rising =
  (f: (x: number) => number, least = -Infinity, most = Infinity) =>
  (a: number, b: number): void =>
    b < least || a > most ? anything() : put(f(Math.max(a, least)), f(Math.min(b, most)));

/** A power of a whole number, which is small. */
function wholePower(a: number, b: number, n: number): void {
  const k = Math.abs(n),
    [p, q] = [E.integerPower(a, k), E.integerPower(b, k)];
  put(k % 2 === 0 && a <= 0 && b >= 0 ? 0 : Math.min(p, q), Math.max(p, q));
  if (n < 0) over(1, 1, OUT[0]!, OUT[1]!);
}
function power(a: number, b: number, c: number, d: number): void {
  if (c === d && Number.isInteger(c) && Math.abs(c) <= 16) return wholePower(a, b, c);
  if (!(a >= 0) || (a === 0 && !(c > 0))) return anything();
  const corners = [E.pow(a, c), E.pow(a, d), E.pow(b, c), E.pow(b, d)];
  put(Math.min(...corners), Math.max(...corners));
}

/** By the name of a function of one or two arguments: those that have no jumps. */
export const SMOOTH: Readonly<Record<string, (a: number, b: number, c: number, d: number) => void>> = {
  sin: (a, b) => wave(E.sin, 0.25 * E.TWO_PI, a, b),
  cos: (a, b) => wave(E.cos, 0, a, b),
  tan: (a, b) => (meets(a, b, 0.25 * E.TWO_PI, 0.5 * E.TWO_PI) ? anything() : put(E.tan(a), E.tan(b))),
  asin: rising(E.asin, -1, 1),
  acos: (a, b) => (b < -1 || a > 1 ? anything() : put(E.acos(Math.min(b, 1)), E.acos(Math.max(a, -1)))),
  atan: rising(E.atan),
  exp: rising(E.exp),
  ln: rising(E.ln, 0),
  power,
};

/** Which side of a jump by a whole turn is taken: an angle that goes on beyond it, upwards or downwards; at the end of such a choice, whether there was one. */
export type Side = 'upper' | 'lower';

/** An angle between −π and π. @returns whether it jumps there by a whole turn */
export function wrap(a: number, b: number, side: Side): boolean {
  const turn = (x: number) => Math.floor((x + 0.5 * E.TWO_PI) / E.TWO_PI),
    slack = FEW * (1 + Math.abs(a) + Math.abs(b)),
    [k, l] = [turn(a - slack), turn(b + slack)];
  if (l - k > 1) {
    put(-0.5 * E.TWO_PI, 0.5 * E.TWO_PI);
    return false;
  }
  const by = E.TWO_PI * (side === 'upper' ? k : l),
    off = FEW * (1 + Math.abs(by));
  OUT[0] = a - by - off;
  OUT[1] = b - by + off;
  return l > k;
}

/** Angle of the direction (y, x). @returns whether it jumps there by a whole turn, from π to −π */
export function atan2(a: number, b: number, c: number, d: number, side: Side): boolean {
  const jumps = c < 0 && a < 0 && b >= 0;
  if ((a <= 0 && b >= 0 && c <= 0 && d >= 0) || !(b - a < Infinity) || !(d - c < Infinity)) {
    put(-0.5 * E.TWO_PI, 0.5 * E.TWO_PI);
    return false;
  }
  let lo = Infinity,
    hi = -Infinity;
  for (const y of [a, b])
    for (const x of [c, d]) {
      const angle = E.atan2(y, x),
        on = jumps && angle <= 0 ? angle + E.TWO_PI : angle;
      lo = Math.min(lo, on);
      hi = Math.max(hi, on);
    }
  const by = jumps && side === 'lower' ? E.TWO_PI : 0;
  put(lo - by, hi - by);
  return jumps;
}
