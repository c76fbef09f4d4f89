/** What all numbers of a model do to the scores of a run at once, found by going back through it from each score. */
import type { ModelNumber } from '../model/numbers';
import { type Neighbour, neighbourOf } from '../solve/sensitivity/neighbour';
import { Cells } from '../solve/sensitivity/cells';
import { type Changed, Sweep } from '../solve/sensitivity/sweep';
import type { Trail } from '../solve/sensitivity/trail';
import type { RunOptions } from '../solve/run-events';
import { notBackwards } from '../system/adjoint/adjoint';
import type { Mechanism } from '../system/mechanism';
import { type Courses, askAlike, coursesOf, scoresOf } from './courses';
import { PART } from './moves';

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
export const leadsBack = (m: Mechanism, trail: Trail): boolean => trail.lost === undefined && notBackwards(m.system) === undefined;

/** Numbers of a state next to it, by which is looked how what is read changes. */
const ASIDE = 1e-5;

/** @param slopes of each score by the needed records of each gauge @returns those of which it could be said so */
export function* backwards<N extends Beside>(
  { trail, options, courses, which, angles }: Gone,
  numbers: readonly N[],
  wanted: readonly string[],
  slopes: readonly (readonly Float64Array[] | undefined)[],
): Generator<number, Slopes<N>, void> {
  const sweep = new Sweep(trail, PART),
    { own } = sweep,
    found = new Map<N, Changed>();
  for (const [i, x] of numbers.entries()) {
    const changed = changedBy(x, own, options, trail.stops);
    if (changed) found.set(x, changed);
    yield i / (2 * numbers.length);
  }
  const list = [...found.values()],
    records = [...courses.time.keys()].filter((i) => !which || which[i]),
    n = own.y.length,
    { kind } = own.m.system.K.layout,
    { size } = own.m,
    unit = new Float64Array(n),
    aside = Float64Array.from(kind, (k) => ASIDE * ([size, 1, size, 1, 1][k] ?? 1)),
    none = new Float64Array(n);
  let nth = 0;
  sweep.states(
    records.map((i) => courses.time[i]!),
    (t, y, memory) => {
      const turned = angles(records[nth++]!),
        state = y.slice();
      for (let j = 0; j < n; j++)
        for (const by of [-1, 1]) {
          unit[j] = aside[j]!;
          own.near(state, unit, by);
          unit[j] = 0;
          own.record(t, turned);
        }
      for (const { less, more } of list)
        for (const x of [less, more]) {
          x.m.memories.recall(memory);
          x.near(state, none, 0);
          x.record(t, turned);
        }
    },
  );
  own.flush();
  const read = (x: Neighbour) => coursesOf(x.m, x.layout, x.chunks, wanted).of,
    here = read(own),
    beside = list.map((x) => {
      const [a, b] = [x.less, x.more].map((y) => {
        y.flush();
        return read(y);
      }) as [Courses['of'], Courses['of']];
      return wanted.map((name) => a.get(name)!.map((v, k) => (b.get(name)![k]! - v) / (2 * PART)));
    });
  const out: Slopes<N> = new Map([...found.keys()].map((x) => [x, new Float64Array(slopes.length)]));
  for (const [s, by] of slopes.entries()) {
    if (!by) continue;
    const seeds = records.map((i, k) => ({
      t: courses.time[i]!,
      by: Float64Array.from({ length: n }, (_, j) =>
        wanted.reduce((sum, name, g) => {
          const values = here.get(name)!,
            at = 2 * (n * k + j);
          return sum + (by[g]![i]! * (values[at + 1]! - values[at]!)) / (2 * aside[j]!);
        }, 0),
      ),
    }));
    const { by: back, left } = sweep.back(
      seeds.filter((x) => x.by.some((v) => v !== 0)),
      list,
    );
    [...found].forEach(([x, changed], p) => {
      if (left.has(changed)) out.delete(x);
      // what is asked of the courses may change with it as well
      const asked = askAlike(x.less, x.more) ? 0 : (valueOf(x.more, courses, s) - valueOf(x.less, courses, s)) / (2 * PART);
      const direct = wanted.reduce((sum, _, g) => sum + records.reduce((t, i, k) => t + by[g]![i]! * beside[p]![g]![k]!, 0), 0);
      const o = out.get(x);
      if (o) o[s] = back[p]! + direct + asked;
    });
    yield 0.5 + (s + 1) / (2 * slopes.length);
  }
  return out;
}

const valueOf = (m: Mechanism, courses: Courses, score: number): number => scoresOf(m, courses)[score]?.value ?? NaN;

/** The number as it changes what is read and where the run starts; undefined where that cannot be said. */
function changedBy({ number, less, more }: Beside, own: Neighbour, options: RunOptions, stops: readonly number[]): Changed | undefined {
  // rows of tables are read by code that is no expression
  if (number.element.family === 'tables') return undefined;
  const [a, b] = [less, more].map((x) => neighbourOf(x, own.m, options, stops));
  if (typeof a === 'string' || typeof b === 'string' || !a || !b) return undefined;
  const cells = Cells.of(own.m.system, a.m.system, b.m.system, PART);
  return (
    cells && {
      less: a,
      more: b,
      cells,
      start: a.y.map((x, j) => (b.y[j]! - x) / (2 * PART)),
      stops: stops.map((_, k) => (b.stops[k]! - a.stops[k]!) / (2 * PART)),
    }
  );
}
