/**
 * What numbers of a model do to the scores of a run, derived exactly along its trail: all of them at once, by going back through it from each score; or all
 * scores and courses at once, by going forth through it with each number.
 */
import type { ModelNumber } from '../model/numbers';
import { type Neighbour, OTHER_WAYS, neighbourOf } from '../solve/sensitivity/neighbour';
import { Cells } from '../solve/sensitivity/cells';
import { Back } from '../solve/sensitivity/back';
import { Forth } from '../solve/sensitivity/forth';
import { type After, type Changed, dot } from '../solve/sensitivity/retrace';
import type { Trail } from '../solve/sensitivity/trail';
import type { RunOptions } from '../solve/run-events';
import { notExpressed } from '../system/adjoint/residuals';
import type { Mechanism } from '../system/mechanism';
import { type Courses, askAlike, scoresOf } from './courses';
import { KINK, type Sides, kinked } from './moves';
import type { BySlopes } from './needed';
import { type ReadAlong, readAlong } from './read-along';

/** Both ways through a run, each made ready when it is first gone. */
export class Ways {
  private found: { back?: Back; forth?: Forth } = {};
  constructor(readonly trail: Trail) {}
  back(part: number): Back {
    return Object.assign((this.found.back ??= new Back(this.trail)), { part });
  }
  forth(part: number): Forth {
    return Object.assign((this.found.forth ??= new Forth(this.trail)), { part });
  }
}
/** The run, as far as it is asked for here. */
export interface Gone {
  readonly ways: Ways;
  readonly options: RunOptions;
  readonly courses: Courses;
  readonly which: Uint8Array | undefined;
  readonly angles: (record: number) => Float64Array;
  /** By which part machines with less and more of a number differ from it. */
  readonly part: number;
}
/** A number with machines on both sides of it. */
interface Beside {
  readonly number: ModelNumber;
  readonly less: Mechanism;
  readonly more: Mechanism;
}
/** Whether a run can be gone through again, derived exactly. */
export const leadsForth = (m: Mechanism, { lost, stretches }: Trail): boolean =>
  lost === undefined && stretches.length > 0 && stretches.every((s) => s.steps.length > 0) && notExpressed(m.system) === undefined;
/** Whether back through it. */
export const leadsBack = (m: Mechanism, trail: Trail): boolean => !trail.implicit && leadsForth(m, trail);

/** How far it has come once the machines are built, and once the records are read. */
const BUILDING = 0.4;
const READING = 0.5;
/** Part of a course that it is changed by, for what is made of it. */
const A_LITTLE = 1e-3;

/** By which records a score changes; and by which it would if others, that count as much, were those that it hangs on. */
export interface Hangs {
  readonly slopes: BySlopes;
  readonly rivals: readonly BySlopes[];
}

/** What is found of a number. */
export interface Found {
  /** How each score changes with a change by all that it is measured against. */
  readonly scores: Float64Array;
  /** Those that change otherwise with less and with more of it. */
  readonly sides: ReadonlyMap<number, Sides>;
  /** So does each course that is wanted, at each record; left out where it was gone back. */
  readonly courses?: readonly Float64Array[];
}

/** What is found of numbers. */
export interface FoundBy<N, F> {
  readonly of: ReadonlyMap<N, F>;
  /** Those of which less and more do different things, as far as can be seen: closer they may not. */
  readonly kinked: readonly N[];
  /** Of those with which there is no machine that goes the same way, why not. */
  readonly faults: ReadonlyMap<N, string>;
}

/**
 * @param wanted gauges that are asked for, and those that scores are of @param scores by which records of these each changes; left out: it has no value
 * @param back whether from each score is gone back through the run, or forth with each number
 */
export function* byTrail<N extends Beside>(
  { ways, options, courses, which, angles, part }: Gone,
  asked: readonly N[],
  wanted: readonly string[],
  scores: readonly (Hangs | undefined)[],
  back: boolean,
): Generator<number, FoundBy<N, Found>, void> {
  const sweep = ways.back(part),
    found = new Map<Changed, N>(),
    faults = new Map<N, string>(),
    bent = new Set<Changed>();
  for (const [i, x] of asked.entries()) {
    const changed = changedBy(x, sweep.own, options, ways.trail.stops, part);
    if (typeof changed === 'string') faults.set(x, changed);
    else if (changed) found.set(changed, x);
    yield (BUILDING * i) / asked.length;
  }
  const numbers = sweep.sure([...found.keys()], bent),
    records = [...courses.time.keys()].filter((i) => !which || which[i]),
    times = records.map((i) => courses.time[i]!),
    read = yield* inPart(
      BUILDING,
      READING,
      readAlong(sweep, numbers, times, wanted, (k) => angles(records[k]!)),
    ),
    unsaid = new Set<Changed>(),
    out = numbers.map(() => ({ scores: new Float64Array(scores.length), sides: new Map<number, Sides>() })),
    /** How each course changes at each record with some numbers. */
    through = (some: readonly Changed[]) => forth(ways.forth(part), some, times, wanted, of(read, numbers, some), unsaid),
    along = back ? undefined : yield* inPart(READING, 1, through(numbers)),
    /** Scores of which less and more of a number count otherwise. */
    tied = new Map<Changed, number[]>();
  /** How what records come to, as each counts, changes with each number. */
  const weigh = function* (by: BySlopes, from: number, to: number): Generator<number, number[], void> {
    const counts = by.map((list) => records.map((i) => list[i]!));
    if (along) return along.map((of) => weighed(counts, of));
    const seeds = times.map((t, k) => ({ t, by: combined(counts, read.states, k) })).filter((x) => x.by.some((v) => v !== 0)),
      swept = yield* inPart(from, to, sweep.back(seeds, numbers));
    swept.left.forEach((x) => unsaid.add(x));
    return numbers.map((_, p) => swept.by[p]! + weighed(counts, read.numbers[p]!));
  };
  for (const [s, hangs] of scores.entries()) {
    if (!hangs) continue;
    const { slopes, rivals } = hangs,
      [from, middle, to] = [0, 0.5, 1].map((x) => READING + ((1 - READING) * (s + x)) / scores.length) as [number, number, number],
      own = yield* weigh(slopes, from, middle),
      others = rivals.length > 0 ? yield* weigh(mean(rivals), middle, to) : own;
    numbers.forEach((x, p) => {
      const { less, more } = found.get(x)!,
        [a, b] = [own[p]!, others[p]!];
      // other tops that go otherwise: with less of it one counts, with more another
      if (Math.abs(a - b) > (KINK / rivals.length) * Math.max(Math.abs(a), Math.abs(b))) tied.set(x, [...(tied.get(x) ?? []), s]);
      if (!Number.isFinite(a)) unsaid.add(x);
      // what is asked of the courses may change with it as well
      const otherwise = askAlike(less, more) ? 0 : (valueOf(more, courses, s) - valueOf(less, courses, s)) / (2 * part);
      out[p]!.scores[s] = a + otherwise;
    });
  }
  const some = [...tied.keys()].filter((x) => !unsaid.has(x)),
    changes = along ? some.map((x) => along[numbers.indexOf(x)]!) : some.length > 0 ? yield* inPart(1, 1, through(some)) : [];
  some.forEach((x, k) => {
    const { less, more } = found.get(x)!,
      { scores: by, sides } = out[numbers.indexOf(x)]!,
      beside = (m: Mechanism, by: number) => ({ m, courses: moved(courses, wanted, records, changes[k]!, by) }),
      [low, high] = [beside(less, -part), beside(more, part)];
    for (const s of tied.get(x)!) {
      const [a, b] = [low, high].map((y) => valueOf(y.m, y.courses, s)) as [number, number],
        here = valueOf(sweep.own.m, courses, s),
        both = [(here - a) / part, (b - here) / part] as const;
      by[s] = (both[0] + both[1]) / 2;
      if (kinked(both, here, 0)) sides.set(s, both);
      if (!Number.isFinite(by[s]!)) unsaid.add(x);
    }
  });
  return {
    of: new Map(
      numbers.flatMap((x, p): [N, Found][] =>
        unsaid.has(x) ? [] : [[found.get(x)!, { ...out[p]!, ...(along ? { courses: along[p]! } : {}) }]],
      ),
    ),
    kinked: [...bent].map((x) => found.get(x)!),
    faults,
  };
}
/** Courses with a little more of a number. */
function moved(
  { time, of }: Courses,
  wanted: readonly string[],
  records: readonly number[],
  changes: readonly Float64Array[],
  by: number,
): Courses {
  return {
    time,
    of: new Map(
      wanted.map((name, g) => {
        const all = of.get(name)!.slice();
        records.forEach((i, k) => (all[i] = all[i]! + by * changes[g]![k]!));
        return [name, all];
      }),
    ),
  };
}
/** What is read along, of some of the numbers. */
const of = (read: ReadAlong, numbers: readonly Changed[], some: readonly Changed[]): ReadAlong => ({
  ...read,
  numbers: some.map((x) => read.numbers[numbers.indexOf(x)]!),
});
/** How each course changes at each record with each number. @param unsaid takes those of which nothing can be said so */
function* forth(
  way: Forth,
  numbers: readonly Changed[],
  times: readonly number[],
  wanted: readonly string[],
  { own, states, numbers: alone }: ReadAlong,
  unsaid: Set<Changed>,
): Generator<number, Float64Array[][], void> {
  const out = alone.map((of) => of.map((list) => Float64Array.from(list))),
    left = yield* way.through(numbers, times, (k, changes) =>
      changes.forEach((s, p) => states.forEach((of, g) => (out[p]![g]![k] = out[p]![g]![k]! + dot(of[k]!, s)))),
    );
  left.forEach((x) => unsaid.add(x));
  out.forEach((of, p) => wanted.forEach((name, g) => made(numbers[p]!, name, Float64Array.from(times), own[g]!, of[g]!, way.part)));
  return out;
}
/** What is made of a whole course, from how that changes: in its place. Differences of fourth order, for what is made by slopes shows any rounding. */
function made({ less, more }: Changed, name: string, time: Float64Array, course: Float64Array, change: Float64Array, part: number): void {
  const [low, high] = [less, more].map(({ m }) => m.channel(name).after);
  if (!low || !high) return;
  const most = (x: Float64Array) => x.reduce((s, v) => Math.max(s, Math.abs(v)), Number.MIN_VALUE),
    little = (A_LITTLE * most(course)) / most(change),
    beside = (by: number) => {
      const at = course.map((x, k) => x + by * little * change[k]!);
      return [low(time, at), high(time, at)].reduce((a, b) => a.map((x, k) => (x + b[k]!) / 2));
    },
    [a, b, c, d] = [beside(-2), beside(-1), beside(1), beside(2)] as const,
    [p, q] = [low(time, course), high(time, course)];
  change.forEach((_, k) => {
    change[k] = (8 * (c[k]! - b[k]!) - (d[k]! - a[k]!)) / (12 * little) + (q[k]! - p[k]!) / (2 * part);
  });
}
/** What courses come to, as each record counts. */
const weighed = (counts: readonly (readonly number[])[], of: readonly ArrayLike<number>[]): number =>
  counts.reduce((sum, list, g) => list.reduce((t, w, k) => (w === 0 ? t : t + w * of[g]![k]!), sum), 0);
/** What tells how far it has come, as a part of something longer. */
function* inPart<T>(from: number, to: number, of: Generator<number, T, void>): Generator<number, T, void> {
  for (let step = of.next(); ; step = of.next()) {
    if (step.done) return step.value;
    yield from + (to - from) * step.value;
  }
}
const mean = (list: readonly BySlopes[]): BySlopes =>
  list[0]!.map((first, g) => first.map((_, i) => list.reduce((sum, x) => sum + x[g]![i]! / list.length, 0)));

/** Of a record the sum of how all gauges change, as each counts. */
function combined(counts: readonly (readonly number[])[], states: ReadAlong['states'], record: number): Float64Array {
  const out = new Float64Array(states[0]![record]!.length);
  counts.forEach((list, g) => {
    const of = states[g]![record]!;
    for (let j = 0; j < out.length; j++) out[j] = out[j]! + list[record]! * of[j]!;
  });
  return out;
}

const valueOf = (m: Mechanism, courses: Courses, score: number): number => scoresOf(m, courses)[score]?.value ?? NaN;

/** The number as it changes what is read and where the run starts; undefined where that cannot be said, and why where there is no such machine. */
function changedBy(
  { number, less, more }: Beside,
  own: Neighbour,
  options: RunOptions,
  stops: readonly number[],
  part: number,
): Changed | string | undefined {
  // rows of tables are read by code that is no expression
  if (number.element.family === 'tables') return undefined;
  const [a, b] = [less, more].map((x) => neighbourOf(x, own.m, options, stops, true));
  if (a === OTHER_WAYS || b === OTHER_WAYS || !a || !b) return undefined;
  if (typeof a === 'string') return a;
  if (typeof b === 'string') return b;
  const cells = Cells.of(own.m.system, a.m.system, b.m.system, part),
    first = ({ y, m: { memories } }: Neighbour): After => {
      const memory = new Float64Array(memories.cells);
      memories.keep(memory);
      return { y: y.slice(), memory };
    };
  return (
    cells && {
      less: a,
      more: b,
      cells,
      first: [first(a), first(b)],
      stops: stops.map((_, k) => (b.stops[k]! - a.stops[k]!) / (2 * part)),
    }
  );
}
