/** How a score changes with each record of the courses that it is made of: the derivatives of `scores.ts`, by closed forms. */

import {
  type Crossing,
  type Cycle,
  type Extremum,
  type Part,
  SETTLED,
  type ScoreAsked,
  type Series,
  best,
  crossings,
  cyclesOf,
  decrement,
  parabola,
  recordAt,
  settlingOf,
  swingsOf,
  within,
} from './scores';

/** What records count, by their number. */
type Weights = Map<number, number>;
export interface ScoreSlopes {
  readonly own: Float64Array;
  /** By the other gauge. */
  readonly other?: Float64Array;
}

/** Adds so much of some weights. */
function add(to: Weights, of: Iterable<readonly [number, number]>, by = 1): Weights {
  for (const [i, w] of of) to.set(i, (to.get(i) ?? 0) + by * w);
  return to;
}
const one = (i: number): Weights => new Map([[i, 1]]);
const difference = (a: Weights, b: Weights): Weights => add(new Map(a), b, -1);
const scaled = (of: Iterable<readonly [number, number]>, by: number): Weights => add(new Map(), of, by);

/** A value at a time: linear between records. */
function at({ time }: Series, t: number): Weights {
  const lo = recordAt(time, t);
  if (lo + 1 >= time.length || t <= time[0]!) return one(lo);
  const x = (t - time[lo]!) / (time[lo + 1]! - time[lo]!);
  return new Map([
    [lo, 1 - x],
    [lo + 1, x],
  ]);
}
/** How fast it changes there. */
function slopeAt({ time, values }: Series, t: number): number {
  const lo = recordAt(time, t);
  return lo + 1 >= time.length ? 0 : (values[lo + 1]! - values[lo]!) / (time[lo + 1]! - time[lo]!);
}
/** The time at which a level is passed. @param level how that follows from records */
function passing({ time, values }: Series, { t, before: i }: Crossing, level: Iterable<readonly [number, number]> = []): Weights {
  const rise = (values[i]! - values[i - 1]!) / (time[i]! - time[i - 1]!),
    x = (t - time[i - 1]!) / (time[i]! - time[i - 1]!);
  return add(add(new Map(), level, 1 / rise), [[i - 1, -(1 - x) / rise], [i, -x / rise]]); // prettier-ignore
}

/** What each of three records counts in the parabola about the middle one: its value so far from there, its slope, and half its bend. */
function threeOf(
  { time }: Series,
  i: number,
  z: number,
): readonly (readonly [record: number, value: number, slope: number, bend: number])[] {
  const a = time[i - 1]! - time[i]!,
    b = time[i + 1]! - time[i]!,
    [p, q] = [1 / (a * (a - b)), 1 / (b * (b - a))],
    low = [z * (z - b) * p, (2 * z - b) * p, p] as const,
    high = [z * (z - a) * q, (2 * z - a) * q, q] as const;
  return [
    [i - 1, ...low],
    [i, 1 - low[0] - high[0], -low[1] - high[1], -low[2] - high[2]],
    [i + 1, ...high],
  ];
}
/** The value of an extremum. */
function extremum(s: Series, { record: i, about: k, at: t }: Extremum): Weights {
  if (k === undefined) return one(i);
  const out = new Map(threeOf(s, k, t - s.time[k]!).map(([j, value]) => [j, value]));
  // that of a parabola at its own top does not change with where that is
  if (k === i) return out;
  const { slope, bend } = parabola(s, i),
    side = parabola(s, k),
    rise = side.slope + 2 * side.bend * (t - s.time[k]!);
  return add(
    out,
    threeOf(s, i, 0).map(([j, , by, half]) => [j, rise * (-by / (2 * bend) + (slope * half) / (2 * bend * bend))] as const),
  );
}
/** An integral by trapezoids. */
function area({ time }: Series): Weights {
  const out: Weights = new Map();
  for (let i = 1; i < time.length; i++) {
    const half = (time[i]! - time[i - 1]!) / 2;
    add(out, [[i - 1, half], [i, half]]); // prettier-ignore
  }
  return out;
}
/** When a cycle begins. */
const begins = (s: Series, { crossing, level }: Cycle): Weights => (crossing ? passing(s, crossing, level) : new Map());

/** What a score is made of, by records of the part of the courses that counts. @returns undefined where it has no derivative */
function weightsOf(asked: ScoreAsked, s: Part, other: Part | undefined): { own: Weights; other?: Weights } | undefined {
  const { time, values } = s,
    end = values.length - 1,
    step = values[end]! - values[0]!,
    span = time[end]! - time[0]!,
    own = (of: Weights) => ({ own: of }),
    highest = () => best(s, (a, b) => a > b),
    lowest = () => best(s, (a, b) => a < b),
    stepped = (): Weights => difference(one(end), one(0)),
    /** A share of the step is passed. */
    reaches = (share: number) => passing(s, crossings(s, values[0]! + share * step)[0]!, add(new Map([[0, 1 - share]]), [[end, share]]));
  /** What is read when something happens to the other gauge. */
  const when = (t: number, how: Weights, of: Series, by = 1) => ({ own: scaled(at(of, t), by), other: scaled(how, by * slopeAt(of, t)) });
  switch (asked.of) {
    case 'peak': {
      const [hi, lo] = [highest(), lowest()],
        e = Math.abs(hi.value) >= Math.abs(lo.value) ? hi : lo;
      return own(scaled(extremum(s, e), e.value < 0 ? -1 : 1));
    }
    case 'highest':
      return own(extremum(s, highest()));
    case 'lowest':
      return own(extremum(s, lowest()));
    case 'range':
      return own(difference(extremum(s, highest()), extremum(s, lowest())));
    case 'mean':
      return own(span > 0 ? scaled(area(s), 1 / span) : one(0));
    case 'rms': {
      const list = span > 0 ? [...area(s)].map(([i, w]) => [i, (w / span) * values[i]!] as const) : [[0, values[0]!] as const],
        square = list.reduce((sum, [i, w]) => sum + w * values[i]!, 0);
      return square > 0 ? own(scaled(list, 1 / Math.sqrt(square))) : undefined;
    }
    case 'final':
      return own(one(end));
    case 'change':
      return own(stepped());
    case 'at-time':
      return own(at(s, asked.time ?? 0));
    case 'area':
      return own(area(s));
    case 'crossing':
      return own(passing(s, crossings(s, asked.level ?? 0)[0]!));
    case 'when-other': {
      const c = crossings(other!, asked.level ?? 0)[0]!;
      return when(c.t, passing(other!, c), s);
    }
    case 'rise':
      return own(difference(reaches(0.9), reaches(0.1)));
    case 'overshoot': {
      const e = step > 0 ? highest() : lowest(),
        part = (e.value - values[end]!) / step;
      if (part <= 0) return own(new Map());
      return own(scaled(add(difference(extremum(s, e), one(end)), stepped(), -part), 1 / step));
    }
    case 'settling': {
      const { crossing, side } = settlingOf(s);
      return own(crossing ? passing(s, crossing, add(one(end), stepped(), side! * SETTLED * Math.sign(step))) : new Map());
    }
    case 'period':
    case 'frequency': {
      const cycles = cyclesOf(s),
        [first, last] = [cycles[0]!, cycles.at(-1)!],
        period = (last.t - first.t) / (cycles.length - 1),
        by = scaled(difference(begins(s, last), begins(s, first)), 1 / (cycles.length - 1));
      return own(asked.of === 'period' ? by : scaled(by, -1 / (period * period)));
    }
    case 'damping': {
      const swings = swingsOf(s),
        d = decrement(swings),
        square = Math.PI * Math.PI + d * d,
        // of d / √(π² + d²)
        by = (Math.PI * Math.PI) / (square * Math.sqrt(square)),
        swing = (e: Extremum) => scaled(difference(extremum(s, e), one(end)), 1 / (e.value - swings.end));
      return own(scaled(difference(swing(swings.first), swing(swings.later)), by / swings.apart));
    }
    case 'per-cycle': {
      const cycles = cyclesOf(other!),
        part = 1 / (cycles.length - 1),
        [first, last] = [cycles[0]!, cycles.at(-1)!].map((c, k) => when(c.t, begins(other!, c), s, k === 0 ? -part : part)),
        both = (key: 'own' | 'other') => add(new Map(first![key]), last![key]);
      return { own: both('own'), other: both('other') };
    }
    default:
      return undefined;
  }
}

/**
 * The derivatives of a score by each record of its gauge, and of the other where it has one.
 * @returns undefined where it has none @throws Refusal when the course has no such number
 */
export function slopesOfScore(asked: ScoreAsked, whole: Series, other?: Series): ScoreSlopes | undefined {
  const part = (of: Series) => within(of, asked.from, asked.to),
    [s, o] = [part(whole), other && part(other)],
    by = weightsOf(asked, s, o);
  /** What values between records count is what these do. */
  const ofRecords = (of: Series, { inside, head, tail, time }: Part, weights: Weights): Float64Array => {
    const out = new Float64Array(of.time.length);
    for (const [i, w] of weights) {
      const between = (head && i === 0) || (tail && i === time.length - 1);
      for (const [k, x] of between ? at(of, time[i]!) : one(inside + i - (head ? 1 : 0))) out[k] = out[k]! + w * x;
    }
    return out;
  };
  return by && { own: ofRecords(whole, s, by.own), ...(by.other && other && o ? { other: ofRecords(other, o, by.other) } : {}) };
}
