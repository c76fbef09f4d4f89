/**
 * What comes below zero and is back again between two looks: of each part of a watch the value and its rate at both are known, and a cubic through them
 * (Hermite's) tells where it is least in between.
 */
import type { Kinematics } from '../equations/kinematics';
import type { Watch } from '../equations/watch';

/** A least value that is looked at, beside the values at both ends: the cubic is not exact. */
const NEAR = 0.05;
/** Looks at one part, at most. */
const LOOKS = 6;

export class Dips {
  readonly any: boolean;
  private readonly watches: readonly (Watch & Required<Pick<Watch, 'parts'>>)[];
  /** Values of all parts and their rates, at the last look and at the one before. */
  private values: Float64Array;
  private rates: Float64Array;
  private valuesBefore: Float64Array;
  private ratesBefore: Float64Array;
  /** When the last look was. */
  time = NaN;

  constructor(watches: readonly Watch[]) {
    this.watches = watches.filter((w): w is Watch & Required<Pick<Watch, 'parts'>> => w.parts !== undefined);
    const count = this.watches.reduce((sum, w) => sum + w.parts.count, 0);
    this.any = count > 0;
    this.values = new Float64Array(count);
    this.rates = new Float64Array(count);
    this.valuesBefore = new Float64Array(count);
    this.ratesBefore = new Float64Array(count);
  }

  /** Looks at the state in K. */
  look(K: Kinematics, t: number): void {
    [this.values, this.valuesBefore] = [this.valuesBefore, this.values];
    [this.rates, this.ratesBefore] = [this.ratesBefore, this.rates];
    this.take(K, this.values, this.rates);
    this.time = t;
  }
  private take(K: Kinematics, values: Float64Array, rates: Float64Array): void {
    let at = 0;
    for (const { parts } of this.watches) {
      parts.look(K, values, rates, at);
      at += parts.count;
    }
  }

  /**
   * The first time between the last two looks at which a part is below zero that is so at neither, or undefined.
   * @param from when the look before the last was @param at puts the state at a time into K
   */
  between(K: Kinematics, from: number, at: (t: number) => void): number | undefined {
    const { values, rates, valuesBefore, ratesBefore, time } = this;
    let first: number | undefined;
    for (let p = 0; p < values.length; p++) {
      const end = { t: time, x: values[p]!, v: rates[p]! },
        begin = { t: from, x: valuesBefore[p]!, v: ratesBefore[p]! };
      if (!(begin.x > 0 && end.x > 0 && begin.v < 0 && end.v > 0)) continue;
      const found = this.within(K, p, begin, end, at);
      if (found !== undefined && (first === undefined || found < first)) first = found;
    }
    return first;
  }
  private within(K: Kinematics, part: number, lo: Look, hi: Look, at: (t: number) => void): number | undefined {
    const values = new Float64Array(this.values.length),
      rates = new Float64Array(values.length);
    for (let i = 0; i < LOOKS; i++) {
      const { t, x } = least(lo, hi);
      if (!(x < NEAR * Math.max(lo.x, hi.x)) || t <= lo.t || t >= hi.t) return undefined;
      at(t);
      this.take(K, values, rates);
      const middle = { t, x: values[part]!, v: rates[part]! };
      if (middle.x < 0) return t;
      if (middle.v < 0) lo = middle;
      else hi = middle;
    }
    return undefined;
  }
}

interface Look {
  readonly t: number;
  readonly x: number;
  readonly v: number;
}

/** Where the cubic through two looks is least between them: it falls at the first, and rises at the second. */
function least(a: Look, b: Look): { t: number; x: number } {
  const h = b.t - a.t,
    d = b.x - a.x,
    // x = a.x + h a.v s + c s² + e s³
    c = 3 * d - h * (2 * a.v + b.v),
    e = h * (a.v + b.v) - 2 * d,
    // a.v h + 2 c s + 3 e s² = 0, where it rises
    root = Math.sqrt(Math.max(0, c * c - 3 * e * h * a.v)),
    s = c + root > 0 ? (-h * a.v) / (c + root) : 0.5;
  return { t: a.t + s * h, x: a.x + s * (h * a.v + s * (c + s * e)) };
}
