/** What all numbers of a model do to the scores of a run at once, found by going back through it from each score. */
import type { ModelNumber } from '../model/numbers';
import { type Neighbour, neighbourOf } from '../solve/sensitivity/neighbour';
import { Cells } from '../solve/sensitivity/cells';
import { type After, type Changed, Sweep } from '../solve/sensitivity/sweep';
import type { Trail } from '../solve/sensitivity/trail';
import type { RunOptions } from '../solve/run-events';
import { notExpressed } from '../system/adjoint/residuals';
import type { Mechanism } from '../system/mechanism';
import { isLength } from '../equations/layout';
import { type Courses, askAlike, coursesOf, scoresOf } from './courses';
import { KINK, PART } from './moves';
import type { BySlopes } from './needed';

/** The run, as far as it is asked for here. */
export interface Gone {
  readonly trail: Trail;
  readonly options: RunOptions;
  readonly courses: Courses;
  readonly which: Uint8Array | undefined;
  readonly angles: (record: number) => Float64Array;
}
/** A number with machines on both sides of it. */
interface Beside {
  readonly number: ModelNumber;
  readonly less: Mechanism;
  readonly more: Mechanism;
}
/** Of numbers how each score changes with a change by all that they are measured against. */
export type Slopes<N> = Map<N, Float64Array>;

/** Whether a run can be gone back through. */
export const leadsBack = (m: Mechanism, { lost, stretches }: Trail): boolean =>
  lost === undefined && stretches.length > 0 && stretches.every((s) => s.steps.length > 0) && notExpressed(m.system) === undefined;

/** How far it has come once the machines are built, and once the records are read. */
const BUILDING = 0.4;
const READING = 0.5;
/** Numbers of a state next to it, by which is looked how what is read changes. */
const ASIDE = 1e-5;

/** By which records a score changes; and by which it would if others, that count as much, were those that it hangs on. */
export interface Hangs {
  readonly slopes: BySlopes;
  readonly rivals: readonly BySlopes[];
}

/**
 * @param wanted gauges that scores are of @param scores by which records of these each changes; left out: it has no value
 * @returns of those of which it can be said so
 */
export function* backwards<N extends Beside>(
  { trail, options, courses, which, angles }: Gone,
  asked: readonly N[],
  wanted: readonly string[],
  scores: readonly (Hangs | undefined)[],
): Generator<number, Slopes<N>, void> {
  const sweep = new Sweep(trail, PART),
    found = new Map<Changed, N>();
  for (const [i, x] of asked.entries()) {
    const changed = changedBy(x, sweep.own, options, trail.stops);
    if (changed) found.set(changed, x);
    yield (BUILDING * i) / asked.length;
  }
  const numbers = sweep.sure([...found.keys()]),
    records = [...courses.time.keys()].filter((i) => !which || which[i]),
    times = records.map((i) => courses.time[i]!),
    read = yield* inPart(
      BUILDING,
      READING,
      readAlong(sweep, numbers, times, wanted, (k) => angles(records[k]!)),
    ),
    unsaid = new Set<Changed>(),
    out = numbers.map(() => new Float64Array(scores.length));
  /** How what records come to, as each counts, changes with each number. */
  const back = function* (by: BySlopes, from: number, to: number): Generator<number, number[], void> {
    const counts = by.map((list) => records.map((i) => list[i]!)),
      seeds = times.map((t, k) => ({ t, by: combined(counts, read.states, k) })).filter((x) => x.by.some((v) => v !== 0)),
      swept = yield* inPart(from, to, sweep.back(seeds, numbers));
    swept.left.forEach((x) => unsaid.add(x));
    return numbers.map((_, p) =>
      counts.reduce((sum, list, g) => list.reduce((t, w, k) => t + w * read.numbers[p]![g]![k]!, sum), swept.by[p]!),
    );
  };
  for (const [s, hangs] of scores.entries()) {
    if (!hangs) continue;
    const { slopes, rivals } = hangs,
      [from, middle, to] = [0, 0.5, 1].map((x) => READING + ((1 - READING) * (s + x)) / scores.length) as [number, number, number],
      own = yield* back(slopes, from, middle),
      others = rivals.length > 0 ? yield* back(mean(rivals), middle, to) : own;
    numbers.forEach((x, p) => {
      const { less, more } = found.get(x)!,
        [a, b] = [own[p]!, others[p]!];
      // other tops that go otherwise: with less of it one counts, with more another
      if (Math.abs(a - b) > (KINK / rivals.length) * Math.max(Math.abs(a), Math.abs(b))) unsaid.add(x);
      if (!Number.isFinite(a)) unsaid.add(x);
      // what is asked of the courses may change with it as well
      const otherwise = askAlike(less, more) ? 0 : (valueOf(more, courses, s) - valueOf(less, courses, s)) / (2 * PART);
      out[p]![s] = a + otherwise;
    });
  }
  return new Map(numbers.flatMap((x, p): [N, Float64Array][] => (unsaid.has(x) ? [] : [[found.get(x)!, out[p]!]])));
}
/** What tells how far it has come, as a part of something longer. */
function* inPart<T>(from: number, to: number, of: Generator<number, T, void>): Generator<number, T, void> {
  for (let step = of.next(); ; step = of.next()) {
    if (step.done) return step.value;
    yield from + (to - from) * step.value;
  }
}
const mean = (list: readonly BySlopes[]): BySlopes =>
  list[0]!.map((first, g) => first.map((_, i) => list.reduce((sum, x) => sum + x[g]![i]! / list.length, 0)));

/** How gauges change at recorded states. */
interface ReadAlong {
  /** By gauge and record: with each number of the state. */
  readonly states: readonly (readonly Float64Array[])[];
  /** By number of the model and gauge: with it, at each record, while the state stays. */
  readonly numbers: readonly (readonly Float64Array[])[];
}
/** @param times of the records @param angles of each, counting whole turns */
function* readAlong(
  sweep: Sweep,
  numbers: readonly Changed[],
  times: readonly number[],
  wanted: readonly string[],
  angles: (record: number) => Float64Array,
): Generator<number, ReadAlong, void> {
  const { own } = sweep,
    n = own.y.length,
    { size } = own.m,
    aside = Float64Array.from(own.m.system.K.layout.kind, (k) => ASIDE * (isLength(k) ? size : 1)),
    change = new Float64Array(n);
  let record = 0;
  yield* sweep.states(times, (t, y, memory) => {
    const turned = angles(record++),
      state = y.slice();
    for (let j = 0; j < n; j++) {
      change[j] = aside[j]!;
      for (const by of [-1, 1]) {
        own.near(state, change, by);
        own.record(t, turned);
      }
      change[j] = 0;
    }
    for (const { less, more } of numbers)
      for (const x of [less, more]) {
        x.m.memories.recall(memory);
        x.at(state);
        x.record(t, turned);
      }
  });
  const read = (x: Neighbour) => {
      x.flush();
      const { of } = coursesOf(x.m, x.layout, x.chunks, wanted);
      return wanted.map((name) => of.get(name)!);
    },
    slope = (values: Float64Array, at: number, by: number) => (values[at + 1]! - values[at]!) / (2 * by);
  return {
    states: read(own).map((values) =>
      times.map((_, k) => Float64Array.from({ length: n }, (_x, j) => slope(values, 2 * (n * k + j), aside[j]!))),
    ),
    numbers: numbers.map(({ less, more }) => {
      const [a, b] = [read(less), read(more)];
      return a.map((list, g) => list.map((x, k) => (b[g]![k]! - x) / (2 * PART)));
    }),
  };
}
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

/** The number as it changes what is read and where the run starts; undefined where that cannot be said. */
function changedBy({ number, less, more }: Beside, own: Neighbour, options: RunOptions, stops: readonly number[]): Changed | undefined {
  // rows of tables are read by code that is no expression
  if (number.element.family === 'tables') return undefined;
  const [a, b] = [less, more].map((x) => neighbourOf(x, own.m, options, stops));
  if (typeof a === 'string' || typeof b === 'string' || !a || !b) return undefined;
  const cells = Cells.of(own.m.system, a.m.system, b.m.system, PART),
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
      stops: stops.map((_, k) => (b.stops[k]! - a.stops[k]!) / (2 * PART)),
    }
  );
}
