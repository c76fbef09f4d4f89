/**
 * Single numbers from the course of a gauge. Between recorded times the course is taken as straight; peaks are sharpened by the parabola through
 * three records.
 */
import { refuse } from '../diagnosis';
import { D, type Dimension, divide, identical, multiply } from '../quantity/dimension';
import { TWO_PI, ln } from '../quantity/elementary';
import { integral } from '../formula/course';

export interface Score {
  value: number;
  dim: Dimension;
  /** When it is reached, s, where that says something. */
  at?: number;
}

/** A course: times (s, increasing) and values (SI). */
export interface Series {
  time: Float64Array;
  values: Float64Array;
  dim: Dimension;
}

export interface ScoreAsked {
  of: string;
  time?: number;
  level?: number;
  from?: number;
  to?: number;
}

/** A part of a course. */
export interface Part extends Series {
  /** The first record inside it, and whether values between records stand before and behind those inside. */
  readonly inside: number;
  readonly head: boolean;
  readonly tail: boolean;
}

/** The part of a course between two times, with values at its ends: found by halves, so that many small parts of a long course are quick. */
export function within({ time, values, dim }: Series, from = -Infinity, to = Infinity): Part {
  const n = time.length;
  /** The first record from which on a condition holds that holds for all later ones. */
  const since = (holds: (t: number) => boolean): number => {
    let lo = 0,
      hi = n;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (holds(time[mid]!)) hi = mid;
      else lo = mid + 1;
    }
    return lo;
  };
  const a = since((t) => t > from),
    b = Math.max(
      a,
      since((t) => t >= to),
    );
  const has = (t: number) => n > 0 && t >= time[0]! && t <= time[n - 1]!,
    head = has(from) ? 1 : 0,
    tail = has(to) && to > from ? 1 : 0;
  const ts = new Float64Array(head + b - a + tail),
    vs = new Float64Array(ts.length);
  ts.set(time.subarray(a, b), head);
  vs.set(values.subarray(a, b), head);
  const end = (k: number, t: number) => {
    ts[k] = t;
    vs[k] = valueAt({ time, values, dim }, t);
  };
  if (head) end(0, from);
  if (tail) end(ts.length - 1, to);
  return { time: ts, values: vs, dim, inside: a, head: head === 1, tail: tail === 1 };
}

/** Index of the record at or before a time; 0 before the first. @param time increasing */
export function recordAt(time: Float64Array, t: number): number {
  let lo = 0,
    hi = time.length - 1;
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1;
    if (time[mid]! <= t) lo = mid;
    else hi = mid - 1;
  }
  return lo;
}

/** Value at a time (s): linear between records, the first and last beyond them. */
export function valueAt({ time, values }: Series, t: number): number {
  const lo = recordAt(time, t);
  if (lo + 1 >= time.length || t <= time[0]!) return values[lo]!;
  const x = (t - time[lo]!) / (time[lo + 1]! - time[lo]!);
  return values[lo]! + x * (values[lo + 1]! - values[lo]!);
}

/** Where a course passes a level. */
export interface Crossing {
  readonly t: number;
  readonly up: boolean;
  /** The record before which it does. */
  readonly before: number;
}
/** Times at which the course passes a level, and which way. */
export function crossings({ time, values }: Series, level: number): Crossing[] {
  const out: Crossing[] = [];
  for (let i = 1; i < time.length; i++) {
    const a = values[i - 1]! - level,
      b = values[i]! - level;
    if (a === 0 && i > 1) continue;
    if (a < 0 ? b >= 0 : a > 0 && b <= 0) out.push({ t: time[i - 1]! + (a / (a - b)) * (time[i]! - time[i - 1]!), up: b > a, before: i });
  }
  return out;
}

/** The parabola through records i - 1, i, i + 1 about record i: y = values[i] + slope z + bend z². Not finite at the ends, and where records share a time. */
export function parabola({ time, values }: Series, i: number): { slope: number; bend: number } {
  const a = time[i - 1]! - time[i]!,
    b = time[i + 1]! - time[i]!,
    p = values[i - 1]! - values[i]!,
    q = values[i + 1]! - values[i]!;
  const bend = (q / b - p / a) / (b - a);
  return { slope: p / a - bend * a, bend };
}

/** An extremum of a course. */
export interface Extremum {
  readonly at: number;
  readonly value: number;
  /** The record that it is next to, and the one about which the parabola lies of which its value is; none where it is that of the record itself. */
  readonly record: number;
  readonly about?: number;
}

/**
 * The extremum near record i, by the parabola through it and its neighbours, where the course is as bent on either side as at it. At a jump or a corner it is
 * not: then only what the courses on both sides, each carried on, come to is believed.
 */
function vertex(s: Series, i: number): Extremum {
  const { time, values } = s,
    own = values[i]!,
    record = { at: time[i]!, value: own, record: i };
  const here = parabola(s, i),
    x = -here.slope / (2 * here.bend);
  if (!(x > time[i - 1]! - time[i]! && x < time[i + 1]! - time[i]!)) return record;
  const value = own + (here.slope * x) / 2,
    sides = [i - 1, i + 1].map((k) => ({ ...parabola(s, k), k }));
  if (sides.every(({ bend }) => bend / here.bend >= 0.5 && bend / here.bend <= 2)) return { at: time[i]! + x, value, record: i, about: i };
  const reach = sides.map(({ slope, bend, k }) => {
    const z = time[i]! + x - time[k]!;
    return values[k]! + slope * z + bend * z * z;
  });
  const both = here.bend < 0 ? Math.min(value, ...reach) : Math.max(value, ...reach);
  const about = both === value ? i : both === reach[0] ? i - 1 : i + 1;
  return (here.bend < 0 ? both > own : both < own) ? { at: time[i]! + x, value: both, record: i, about } : record;
}

/** The largest extremum, or the smallest. @param better whether one value counts before another */
export const best = (s: Series, better: (a: number, b: number) => boolean): Extremum => {
  let k = 0;
  for (let i = 1; i < s.values.length; i++) if (better(s.values[i]!, s.values[k]!)) k = i;
  return vertex(s, k);
};

/** Local extrema that stand out by more than a part of the range. */
export function extrema(s: Series, part = 1e-3): (Extremum & { readonly high: boolean })[] {
  const lo = Math.min(...minmax(s)),
    hi = Math.max(...minmax(s)),
    least = part * (hi - lo);
  const out: (Extremum & { high: boolean })[] = [];
  if (!(hi > lo)) return out;
  let k = 0,
    rising: boolean | undefined;
  for (let i = 1; i < s.values.length; i++) {
    const v = s.values[i]!;
    if (rising === undefined) {
      if (Math.abs(v - s.values[k]!) > least) {
        rising = v > s.values[k]!;
        k = i;
      }
    } else if (rising ? v >= s.values[k]! : v <= s.values[k]!) k = i;
    else if (Math.abs(v - s.values[k]!) > least) {
      out.push({ ...vertex(s, k), high: rising });
      rising = !rising;
      k = i;
    }
  }
  return out;
}
function minmax({ values }: Series): [number, number] {
  let lo = Infinity,
    hi = -Infinity;
  for (const v of values) {
    if (v < lo) lo = v;
    if (v > hi) hi = v;
  }
  return [lo, hi];
}

/** Where a cycle begins: the course passes a level there; left out where it begins or ends with it. */
export interface Cycle {
  readonly t: number;
  readonly crossing?: Crossing;
  /** How the level follows from records: what each counts. */
  readonly level: readonly (readonly [record: number, weight: number])[];
}
/**
 * Times at which a cycle begins: the middle is passed upwards; of an angle that goes on turning, each whole turn from where it began.
 */
export function cyclesOf(s: Series): Cycle[] {
  const { values, time } = s,
    [lo, hi] = minmax(s),
    level = [lo, hi].map((x) => [values.indexOf(x), 0.5] as const),
    up = crossings(s, (lo + hi) / 2)
      .filter((c) => c.up)
      .map((crossing) => ({ t: crossing.t, crossing, level }));
  if (up.length >= 2 || !identical(s.dim, D.angle)) return up;
  const first = values[0]!,
    last = values[values.length - 1]!,
    sense = last < first ? -1 : 1,
    turns = Math.floor(Math.abs(last - first) / TWO_PI + 1e-9);
  return [
    { t: time[0]!, level: [] },
    ...Array.from({ length: turns }, (_, k): Cycle => {
      const crossing = crossings(s, first + sense * TWO_PI * (k + 1))[0];
      return crossing ? { t: crossing.t, crossing, level: [[0, 1]] } : { t: time[time.length - 1]!, level: [] };
    }),
  ];
}

/** Length of a cycle, averaged. @throws Refusal when there is none */
function period(s: Series): number {
  const up = cyclesOf(s);
  if (up.length < 2)
    refuse({
      code: 'score-none',
      message: 'It does not repeat: its middle is passed upwards fewer than twice.',
      remedy: 'Run longer, or take another span.',
    });
  return (up.at(-1)!.t - up[0]!.t) / (up.length - 1);
}

/** The swings about the final value that count for the damping: the first, and one some swings later. @throws Refusal where there are none */
export function swingsOf(s: Series): { first: Extremum; later: Extremum; apart: number; end: number } {
  const end = s.values[s.values.length - 1]!,
    swings = extrema(s).filter((e) => e.value !== end);
  if (swings.length < 3)
    refuse({ code: 'score-none', message: 'It swings fewer than three times.', remedy: 'Run longer, or take another span.' });
  const apart = Math.min(swings.length - 1, 6);
  return { first: swings[0]!, later: swings[apart]!, apart, end };
}
/** Logarithmic decrement of the swings about the final value, over half a period each. */
export function decrement({ first, later, apart, end }: ReturnType<typeof swingsOf>): number {
  return ln(Math.abs(first.value - end) / Math.abs(later.value - end)) / apart;
}
/** Damping ratio of such swings. */
function damping(s: Series): number {
  const d = decrement(swingsOf(s));
  return d / Math.sqrt(Math.PI * Math.PI + d * d);
}

/** Part of a step within which a course has settled. */
export const SETTLED = 0.02;
/** When a course comes to stay next to where it ends: where it passes the edge of what is next to it, which lies above (1) or below (−1). */
export function settlingOf({ time, values, dim }: Series): { at: number; crossing?: Crossing; side?: 1 | -1 } {
  const last = values[values.length - 1]!,
    band = SETTLED * Math.abs(last - values[0]!);
  let i = values.length - 1;
  while (i >= 0 && Math.abs(values[i]! - last) <= band) i--;
  if (i < 0) return { at: time[0]! };
  const side = values[i]! > last ? 1 : -1,
    found = crossings({ time: time.slice(i), values: values.slice(i), dim }, last + side * band)[0];
  return found ? { at: found.t, crossing: { ...found, before: found.before + i }, side } : { at: time[i]! };
}

/** @throws Refusal when the course has no such number */
export function scoreOf(asked: ScoreAsked, whole: Series, other?: Series): Score {
  if (whole.time.length === 0) refuse({ code: 'score-none', message: 'The gauge has not been read yet.' });
  const s = within(whole, asked.from, asked.to),
    { dim, time, values } = s;
  if (time.length === 0)
    refuse({ code: 'score-none', message: 'Nothing was recorded in its span.', remedy: 'Widen the span, or run longer.' });
  const first = values[0]!,
    last = values[values.length - 1]!,
    span = time[time.length - 1]! - time[0]!;
  const average = (v: Float64Array) => (span > 0 ? integral(time, v)[time.length - 1]! / span : v[0]!);
  const step = () => (last === first ? refuse({ code: 'score-none', message: 'It ends where it began: there is no step.' }) : last - first);
  const reaches = (share: number) =>
    crossings(s, first + share * step())[0]?.t ?? refuse({ code: 'score-none', message: 'It never gets there.' });
  switch (asked.of) {
    case 'peak': {
      const hi = best(s, (a, b) => a > b),
        lo = best(s, (a, b) => a < b),
        e = Math.abs(hi.value) >= Math.abs(lo.value) ? hi : lo;
      return { value: Math.abs(e.value), dim, at: e.at };
    }
    case 'highest': {
      const e = best(s, (a, b) => a > b);
      return { value: e.value, dim, at: e.at };
    }
    case 'lowest': {
      const e = best(s, (a, b) => a < b);
      return { value: e.value, dim, at: e.at };
    }
    case 'range':
      return { value: best(s, (a, b) => a > b).value - best(s, (a, b) => a < b).value, dim };
    case 'mean':
      return { value: average(values), dim };
    case 'rms':
      return { value: Math.sqrt(Math.max(0, average(values.map((x) => x * x)))), dim };
    case 'final':
      return { value: last, dim, at: time[time.length - 1]! };
    case 'at-time': {
      const t = asked.time ?? 0;
      if (t < time[0]! || t > time[time.length - 1]!) refuse({ code: 'score-none', message: 'The run has nothing at that time.' });
      return { value: valueAt(s, t), dim, at: t };
    }
    case 'crossing': {
      const c = crossings(s, asked.level ?? 0)[0] ?? refuse({ code: 'score-none', message: 'It never crosses that level.' });
      return { value: c.t, dim: D.time, at: c.t };
    }
    case 'when-other': {
      const c =
        (other && crossings(within(other, asked.from, asked.to), asked.level ?? 0)[0]) ??
        refuse({ code: 'score-none', message: 'The other gauge never crosses that level.' });
      return { value: valueAt(s, c.t), dim, at: c.t };
    }
    case 'rise':
      return { value: reaches(0.9) - reaches(0.1), dim: D.time };
    case 'overshoot': {
      const h = step(),
        e = best(s, (a, b) => (h > 0 ? a > b : a < b));
      return { value: Math.max(0, (e.value - last) / h), dim: D.none, at: e.at };
    }
    case 'settling': {
      step();
      const { at } = settlingOf(s);
      return { value: at - time[0]!, dim: D.time, at };
    }
    case 'period':
      return { value: period(s), dim: D.time };
    case 'frequency':
      return { value: 1 / period(s), dim: divide(D.none, D.time) };
    case 'damping':
      return { value: damping(s), dim: D.none };
    case 'change':
      return { value: last - first, dim };
    case 'per-cycle': {
      const cycles = other ? cyclesOf(within(other, asked.from, asked.to)) : [];
      if (cycles.length < 2)
        refuse({
          code: 'score-none',
          message: 'The other gauge runs through no whole cycle.',
          remedy: 'Run longer, take another span, or a gauge that repeats.',
        });
      return { value: (valueAt(s, cycles.at(-1)!.t) - valueAt(s, cycles[0]!.t)) / (cycles.length - 1), dim };
    }
    case 'area':
      return { value: integral(time, values)[time.length - 1]!, dim: multiply(dim, D.time) };
    default:
      return refuse({ code: 'score-unknown', message: `There is no score “${asked.of}”.` });
  }
}

/** A stroke: a way between two turning points. */
export interface Stroke {
  from: number;
  to: number;
  /** Values at the two ends. */
  start: number;
  end: number;
  /** Time round its start during which it rests: within half a per cent of the range of the turning point. */
  dwell: number;
}

/** The strokes of a course: between turning points that stand out by a twentieth of its range. */
export function strokesOf(s: Series): Stroke[] {
  const turns = extrema(s, 0.05),
    [lo, hi] = minmax(s),
    near = 0.005 * (hi - lo);
  return turns.slice(1).map((e, i): Stroke => {
    const b = turns[i]!;
    const level = b.value + (e.high ? near : -near);
    const enters = crossings(within(s, turns[i - 1]?.at, b.at), level).at(-1)?.t ?? b.at,
      leaves = crossings(within(s, b.at, e.at), level)[0]?.t ?? b.at;
    return { from: b.at, to: e.at, start: b.value, end: e.value, dwell: leaves - enters };
  });
}

/** A passage outside a limit. */
export interface Violation {
  from: number;
  to: number;
  /** The value farthest outside, and when. */
  worst: number;
  at: number;
}

export interface LimitAsked {
  low?: number;
  high?: number;
  of?: string;
  from?: number;
  to?: number;
  /** It counts at this time alone. */
  at?: number;
}

/** The violation that is farthest outside; none where there is none. */
export function worstOf<V extends Violation>(
  found: readonly V[],
  { low = -Infinity, high = Infinity }: Pick<LimitAsked, 'low' | 'high'>,
): V | undefined {
  const past = (v: V) => Math.max(v.worst - high, low - v.worst);
  return [...found].sort((a, b) => past(b) - past(a))[0];
}

/** Spans in which a course is outside its limit. */
export function violations(asked: LimitAsked, whole: Series): Violation[] {
  if (whole.time.length === 0) return [];
  const { at } = asked;
  if (at !== undefined) {
    if (at < whole.time[0]! || at > whole.time[whole.time.length - 1]!) return [];
    const own = valueAt(whole, at),
      v = asked.of === 'size' ? Math.abs(own) : own;
    return (asked.high !== undefined && v > asked.high) || (asked.low !== undefined && v < asked.low)
      ? [{ from: at, to: at, worst: v, at }]
      : [];
  }
  const cut = within(whole, asked.from, asked.to);
  const s = asked.of === 'size' ? { ...cut, values: cut.values.map(Math.abs) } : cut;
  const out: Violation[] = [];
  for (const [bound, sign] of [
    [asked.high, 1],
    [asked.low, -1],
  ] as const) {
    if (bound === undefined) continue;
    const past = (v: number) => sign * (v - bound) > 0;
    /** Where the straight line between records i − 1 and i meets the bound. */
    const meets = (i: number) =>
      s.time[i - 1]! + ((bound - s.values[i - 1]!) / (s.values[i]! - s.values[i - 1]!)) * (s.time[i]! - s.time[i - 1]!);
    let open: Violation | undefined;
    s.values.forEach((v, i) => {
      if (!past(v)) {
        if (!open) return;
        open.to = meets(i);
        out.push(open);
        open = undefined;
        return;
      }
      open ??= { from: i > 0 ? meets(i) : s.time[0]!, to: s.time[s.time.length - 1]!, worst: v, at: s.time[i]! };
      if (sign * (v - open.worst) > 0) {
        open.worst = v;
        open.at = s.time[i]!;
      }
    });
    if (open) out.push(open);
  }
  return out.sort((a, b) => a.from - b.from);
}
