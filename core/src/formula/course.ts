/** What can be made of a course over time: arrays of times (s, increasing) and values, a new array of the same length. */
import { exp } from '../quantity/elementary';

export type Course = (time: ArrayLike<number>, values: ArrayLike<number>) => Float64Array;

/** Slope of the parabola through each value and its neighbours; exact for parabolas, at the ends too. */
export const derivative: Course = (t, y) => {
  const n = t.length,
    out = new Float64Array(n);
  if (n < 3) return n === 2 && t[1] !== t[0] ? out.fill((y[1]! - y[0]!) / (t[1]! - t[0]!)) : out;
  for (let i = 0; i < n; i++) {
    const m = Math.min(Math.max(i, 1), n - 2);
    const a = t[m]! - t[m - 1]!,
      b = t[m + 1]! - t[m]!;
    const left = (y[m]! - y[m - 1]!) / a,
      right = (y[m + 1]! - y[m]!) / b;
    const bend = (right - left) / (a + b);
    // slope of the parabola at t[i]
    out[i] = left + bend * (2 * t[i]! - t[m - 1]! - t[m]!);
  }
  return out;
};

/** From the start, by trapezoids. */
export const integral: Course = (t, y) => {
  const out = new Float64Array(t.length);
  for (let i = 1; i < t.length; i++) out[i] = out[i - 1]! + ((y[i]! + y[i - 1]!) / 2) * (t[i]! - t[i - 1]!);
  return out;
};

/** Mean over a window round each time, cut off at the ends; the values between those given are on straight lines. */
export const movingMean =
  (window: number): Course =>
  (t, y) => {
    const whole = integral(t, y),
      n = t.length,
      out = new Float64Array(n);
    /** Integral up to a time. */
    const upTo = (time: number, from: number): [number, number] => {
      let i = from;
      while (i + 1 < n && t[i + 1]! <= time) i++;
      if (i + 1 >= n) return [whole[n - 1]!, i];
      const x = time - t[i]!,
        slope = (y[i + 1]! - y[i]!) / (t[i + 1]! - t[i]!);
      return [whole[i]! + x * (y[i]! + (slope * x) / 2), i];
    };
    let a = 0,
      b = 0;
    for (let i = 0; i < n; i++) {
      const from = Math.max(t[0]!, t[i]! - window / 2),
        to = Math.min(t[n - 1]!, t[i]! + window / 2);
      const [low, at] = upTo(from, a),
        [high, end] = upTo(to, b);
      a = at;
      b = end;
      out[i] = to > from ? (high - low) / (to - from) : y[i]!;
    }
    return out;
  };

/** Root of the mean square over such a stretch of time. */
export const movingRms =
  (window: number): Course =>
  (t, y) =>
    movingMean(window)(
      t,
      Float64Array.from(y, (x) => x * x),
    ).map((x) => Math.sqrt(Math.max(0, x)));

/** First order: τ ẏ = x − y, solved exactly for inputs that are straight between the times given; it starts settled. */
export const lowPass =
  (tau: number): Course =>
  (t, y) => {
    const out = new Float64Array(t.length);
    if (t.length > 0) out[0] = y[0]!;
    for (let i = 1; i < t.length; i++) {
      const h = t[i]! - t[i - 1]!;
      if (h <= 0) {
        out[i] = out[i - 1]!;
        continue;
      }
      const e = exp(-h / tau),
        slope = (y[i]! - y[i - 1]!) / h;
      out[i] = y[i]! - slope * tau + (out[i - 1]! - y[i - 1]! + slope * tau) * e;
    }
    return out;
  };
