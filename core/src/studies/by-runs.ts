/**
 * What moves the scores of runs that are not integrated: each posture of a kinematic, quasi-static or static run is solved as exactly as rounding allows, so
 * that differences of whole runs, of fourth order, tell their derivatives.
 */
import type { Model } from '../model/document';
import { type ModelNumber, wholeOf } from '../model/numbers';
import type { Analysis } from '../model/run-settings';
import type { ScoreMeasured } from '../results/measures';
import type { RecordLayout } from '../results/record';
import { analyse } from '../solve/run';
import type { RunEvent, RunOptions } from '../solve/run-events';
import { Refusal } from '../diagnosis';
import type { Mechanism } from '../system/mechanism';
import { type Courses, coursesOf, isMachine, machineWith, scoresOf, wantedOf } from './courses';
import { type Moves, type NumberMoves, kinked } from './moves';

/** Part by which a number is less and more; and half of that. */
const STEP = 5e-4;
const PARTS = [-STEP, -STEP / 2, STEP / 2, STEP] as const;
/** What rounding leaves of a score, in parts of it. */
const ROUNDING = 1e-11;

type Options = RunOptions & { analysis?: Analysis };
interface Ran {
  readonly courses: Courses;
  readonly scores: readonly ScoreMeasured[];
  readonly end: Extract<RunEvent, { type: 'end' }>;
}
type Fault = NonNullable<NumberMoves['fault']>;

function ran(m: Mechanism, options: Options, gauges: readonly string[]): Ran {
  const chunks: Float64Array[] = [];
  let layout: RecordLayout | undefined, end: Ran['end'] | undefined;
  for (const e of analyse(m, options)) {
    if (e.type === 'begin') ({ layout } = e);
    else if (e.type === 'records') chunks.push(e.data);
    else if (e.type === 'end') end = e;
  }
  const courses = coursesOf(m, layout!, chunks, wantedOf(m, gauges));
  return { courses, scores: scoresOf(m, courses), end: end! };
}

/** The derivative of what is known with less and more of a number, by Richardson's extrapolation. */
const derivative = ([far, near, nearer, farther]: readonly [number, number, number, number]): number => {
  const [a, b] = [(farther - far) / (2 * STEP), (nearer - near) / STEP];
  return (4 * b - a) / 3;
};

/** What a number does, from the runs of four machines; why nothing can be said of it. */
function movesBy(model: Model, like: Mechanism, own: Ran, number: ModelNumber, options: Options, gauges: readonly string[]): NumberMoves {
  const no = (fault: Omit<Fault, 'message'>): NumberMoves => ({
      number,
      fault: { message: `Nothing can be said of what “${number.name}” moves.`, ...fault },
    }),
    runs: Ran[] = [];
  for (const part of PARTS) {
    const m = machineWith(model, number, part, like);
    if (!isMachine(m)) return { number, fault: m };
    try {
      runs.push(ran(m, options, gauges));
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      return no({
        code: 'sensitivity-structure',
        why: `With a little more or less of it, the run cannot start: ${e.diagnoses[0]?.message ?? ''}`,
      });
    }
    const { end, courses } = runs.at(-1)!;
    if (end.status !== own.end.status || courses.time.length !== own.courses.time.length)
      return no({ code: 'sensitivity-structure', why: 'With a little more or less of it, the run ends elsewhere.' });
  }
  const whole = wholeOf(number, like.size),
    four = <T>(of: (r: Ran) => T) => runs.map(of) as [T, T, T, T];
  return {
    number,
    moves: own.scores.map(({ value: s }, k): Moves | undefined => {
      const values = four((r) => r.scores[k]?.value);
      if (s === undefined || values.some((x) => x === undefined)) return undefined;
      const x = values as [number, number, number, number],
        rounding = ROUNDING * Math.max(...x.map(Math.abs)),
        change = Math.max(...x) - Math.min(...x) <= rounding ? 0 : derivative(x),
        sides = [(2 * (s - x[1])) / STEP, (2 * (x[2] - s)) / STEP] as const;
      return {
        slope: change / whole,
        whole: change,
        ...(kinked(sides, s, (4 * rounding) / STEP) ? { sides: [sides[0] / whole, sides[1] / whole] as const } : {}),
        ...(s === 0 ? {} : { percent: change / Math.abs(s) }),
      };
    }),
    ...(gauges.length > 0
      ? {
          curves: gauges.map((name) => {
            const [a, b, c, d] = four((r) => r.courses.of.get(name)!);
            return a.map((x, i) => derivative([x, b[i]!, c[i]!, d[i]!]) / whole);
          }),
        }
      : {}),
  };
}

/** @yields how far it has come @throws Refusal for a model that cannot run */
export function* byRuns(
  model: Model,
  m: Mechanism,
  options: Options,
  numbers: readonly ModelNumber[],
  gauges: readonly string[],
): Generator<{ part: number }, { time: Float64Array; scores: readonly ScoreMeasured[]; end: Ran['end']; numbers: NumberMoves[] }, void> {
  const own = ran(m, options, gauges),
    found: NumberMoves[] = [];
  for (const [i, number] of numbers.entries()) {
    yield { part: (i + 1) / (numbers.length + 1) };
    found.push(movesBy(model, m, own, number, options, gauges));
  }
  return { time: own.courses.time, scores: own.scores, end: own.end, numbers: found };
}
