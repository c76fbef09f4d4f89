/** What moves the scores of a run: their derivatives with respect to numbers of its model, and how many percent each of them moves by a percent of those. */
import { type Diagnosis, Refusal } from '../diagnosis';
import type { Model } from '../model/document';
import { type ModelNumber, wholeOf, withChanged } from '../model/numbers';
import { type ScoreMeasured, measured } from '../results/measures';
import { Readings, times } from '../results/readings';
import type { RecordLayout } from '../results/record';
import { check } from '../checks/check';
import { simulate } from '../solve/dynamics';
import type { RunEvent, RunOptions } from '../solve/run-events';
import type { Pair } from '../solve/sensitivity/side';
import { Variations } from '../solve/sensitivity/variations';
import { build } from '../system/build';
import type { Mechanism } from '../system/mechanism';

/** Part by which a number is less and more in the machines that tell what it does. */
const PART = 2e-5;
/** One-sided derivatives that differ by more than this part of them are two. */
const KINK = 0.05;
/** Part of a score by which they must do so. */
const LITTLE = 1e-3;
/** Differences of scores below this part of them are rounding. */
const ROUNDING = 1e-13;

/** What a number does to a score. */
export interface Moves {
  /** Change of the score, SI, for a change of the number by 1 as it is written. */
  readonly slope: number;
  /** The same with less and with more of it, where these differ: the score has a kink here. */
  readonly sides?: readonly [less: number, more: number];
  /** Change of the score, SI, for a change by all that the number is measured against. */
  readonly whole: number;
  /** Percent of the score for a percent of what the number is measured against; left out where the score is 0. */
  readonly percent?: number;
}
export interface NumberMoves {
  readonly number: ModelNumber;
  /** By the scores; undefined where one has no value with a little less or more of it. */
  readonly moves?: readonly (Moves | undefined)[];
  /** Of gauges that were asked, by these: change over the run, SI, for a change of the number by 1 as it is written. */
  readonly curves?: readonly Float64Array[];
  /** Why nothing can be said. */
  readonly fault?: Pick<Diagnosis, 'code' | 'message' | 'why' | 'time'>;
}
export interface Sensitivities {
  readonly time: Float64Array;
  readonly scores: readonly ScoreMeasured[];
  /** Those that can be told of, the largest effect on any score first; then those that cannot. */
  readonly numbers: readonly NumberMoves[];
  readonly end: Extract<RunEvent, { type: 'end' }>;
}

/** What is read of recorded chunks, those of one machine: its scores, and curves of gauges. */
function readingsOf(
  m: Mechanism,
  layout: RecordLayout,
  chunks: readonly Float64Array[],
  gauges: readonly string[],
): { scores: ScoreMeasured[]; curves: Float64Array[]; time: Float64Array } {
  const time = times(chunks, layout.width),
    wanted = [...new Set([...gauges, ...m.resolution.model.scores.flatMap(({ gauge, other }) => [String(gauge), String(other)])])].filter(
      (x) => m.gauges.includes(x),
    ),
    values = new Readings(m, layout).read(
      wanted.map((name) => m.channel(name)),
      chunks,
    );
  const { resolution } = m,
    { scores } = measured({
      // limits and workings are not asked
      resolution: { ...resolution, model: { ...resolution.model, limits: [], workings: [] } },
      unitOf: (gauge) => m.channel(gauge).unit,
      series: (gauge) => ({ time, values: values[wanted.indexOf(gauge)]!, dim: m.channel(gauge).dim }),
    });
  return { scores, curves: gauges.map((g) => values[wanted.indexOf(g)]!), time };
}

/** A machine with a number changed; why there is none. */
function machineWith(model: Model, number: ModelNumber, part: number, size: number): Mechanism | Diagnosis {
  const { mechanism, diagnoses } = build(withChanged(model, number, part, size)),
    error = diagnoses.find((d) => d.severity === 'error');
  if (mechanism && !error) return mechanism;
  return error ?? { code: 'sensitivity-structure', severity: 'error', message: 'There is no such machine.' };
}

/**
 * Runs a model, and beside it how the run changes with numbers of it.
 * @param gauges of which is told how they change over the run, names of the model
 * @yields how far it has come @throws Refusal for a model that cannot run, and for analyses other than the dynamic one
 */
export function* sensitivities(
  model: Model,
  numbers: readonly ModelNumber[],
  options: Partial<RunOptions> = {},
  gauges: readonly string[] = [],
): Generator<Progress, Sensitivities, void> {
  const report = check(model),
    errors = report.diagnoses.filter((d) => d.severity === 'error'),
    { mechanism: m } = report.built;
  if (errors.length > 0 || !m) throw new Refusal(errors);
  const asked = { ...m.resolution.run, ...options },
    { size } = m;
  if (asked.analysis && asked.analysis !== 'dynamic')
    throw new Refusal([
      {
        code: 'sensitivity-analysis',
        severity: 'error',
        message: 'What moves a score is told of dynamic runs.',
        why: `This model asks for another analysis: ${asked.analysis}.`,
        remedy: 'Choose the dynamic run.',
      },
    ]);
  const faults = new Map<ModelNumber, NumberMoves['fault']>(),
    known = new Map<ModelNumber, NumberMoves>(),
    pairs: Asked[] = [];
  /** Machines between two changes of a number. */
  const add = (list: Asked[], number: ModelNumber, from: number, to: number): void => {
    const [less, more] = [from, to].map((part) => machineWith(model, number, part, size));
    if (isMachine(less) && isMachine(more)) list.push({ number, less, more });
    else faults.set(number, isMachine(less) ? (more as Diagnosis) : (less as Diagnosis));
  };
  for (const [i, number] of numbers.entries()) {
    add(pairs, number, -PART, PART);
    yield { part: (BUILDING * i) / numbers.length };
  }
  function* run(which: readonly Asked[], how: RunOptions): Generator<Progress, Told, void> {
    const variations = new Variations(which, how, PART),
      { layout, chunks, end } = yield* ran(m!, how, variations),
      { scores, time } = readingsOf(m!, layout, chunks, []);
    for (const { nth, code, why, time: t } of variations.unsaid)
      faults.set(which[nth]!.number, {
        code,
        message: `Nothing can be said of what “${which[nth]!.number.name}” moves.`,
        why,
        ...(t === undefined ? {} : { time: t }),
      });
    const found = new Map<Asked, NumberMoves>();
    const { said } = variations;
    for (const [i, { nth, less, more }] of said.entries()) {
      yield { part: BUILDING + RUNNING + ((1 - BUILDING - RUNNING) * i) / said.length };
      const { number } = which[nth]!,
        whole = wholeOf(number, size),
        [a, b] = [less, more].map((n) => readingsOf(n.m, n.layout, n.chunks, gauges)) as [Read, Read];
      found.set(which[nth]!, {
        number,
        moves: scores.map((s, i) => movesOf(s, a.scores[i], b.scores[i], whole)),
        ...(gauges.length > 0
          ? { curves: gauges.map((_, g) => b.curves[g]!.map((x, i) => (x - a.curves[g]![i]!) / (2 * PART * whole))) }
          : {}),
      });
    }
    if (variations.otherwise.length > 0) {
      const rest = yield* run(
        variations.otherwise.map((nth) => which[nth]!),
        { ...how, planar: 'off' },
      );
      rest.found.forEach((x, asked) => found.set(asked, x));
    }
    return { scores, time, end, found, kinked: [...variations.kinked].map((nth) => which[nth]!.number) };
  }
  const { found, kinked, ...outcome } = yield* run(pairs, asked);
  for (const [{ number }, x] of found) known.set(number, x);
  // of numbers at a kink less and more are told apart
  const sided: Asked[] = [];
  for (const number of kinked) {
    add(sided, number, -2 * PART, 0);
    add(sided, number, 0, 2 * PART);
  }
  if (sided.length > 0) {
    const one = (yield* run(sided, asked)).found;
    for (const number of kinked) {
      const [less, more] = sided.flatMap((s) => (s.number === number ? [one.get(s)] : []));
      if (less && more) known.set(number, bothSides(less, more));
    }
  }
  const list = numbers.map((number): NumberMoves => {
      const fault = faults.get(number);
      return fault ? { number, fault } : known.get(number)!;
    }),
    effect = ({ moves: all }: NumberMoves) => (all ? all.reduce((most, x) => Math.max(most, Math.abs(x?.percent ?? 0)), 0) : -1);
  return { ...outcome, numbers: [...list].sort((x, y) => effect(y) - effect(x)) };
}

const isMachine = (x: Mechanism | Diagnosis | undefined): x is Mechanism => x !== undefined && 'system' in x;

type Read = ReturnType<typeof readingsOf>;
/** How far it has come, from 0 to 1. */
export interface Progress {
  readonly part: number;
}
/** Parts of the work that are building the machines, and running them. */
const BUILDING = 0.15;
const RUNNING = 0.65;
interface Asked extends Pair {
  readonly number: ModelNumber;
}
interface Told extends Omit<Sensitivities, 'numbers'> {
  readonly found: Map<Asked, NumberMoves>;
  readonly kinked: ModelNumber[];
}

/** Of a number that does one thing with less and another with more of it. */
function bothSides(less: NumberMoves, more: NumberMoves): NumberMoves {
  const mean = (a: number, b: number) => (a + b) / 2;
  return {
    ...less,
    moves: less.moves!.map((a, i) => {
      const b = more.moves![i];
      return (
        a &&
        b && {
          slope: mean(a.slope, b.slope),
          sides: [a.slope, b.slope],
          whole: mean(a.whole, b.whole),
          ...(a.percent === undefined || b.percent === undefined ? {} : { percent: mean(a.percent, b.percent) }),
        }
      );
    }),
    ...(less.curves ? { curves: less.curves.map((c, g) => c.map((x, i) => mean(x, more.curves![g]![i]!))) } : {}),
  };
}
interface Ran {
  readonly layout: RecordLayout;
  readonly chunks: Float64Array[];
  readonly end: Extract<RunEvent, { type: 'end' }>;
}
function* ran(m: Mechanism, options: RunOptions, variations: Variations): Generator<Progress, Ran, void> {
  const chunks: Float64Array[] = [];
  let layout: RecordLayout | undefined, end: Ran['end'] | undefined;
  for (const e of simulate(m, options, variations)) {
    if (e.type === 'begin') ({ layout } = e);
    else if (e.type === 'records') chunks.push(e.data);
    else if (e.type === 'progress') yield { part: BUILDING + (RUNNING * e.t) / options.until };
    else end = e;
  }
  return { layout: layout!, chunks, end: end! };
}

function movesOf(score: ScoreMeasured, less: ScoreMeasured | undefined, more: ScoreMeasured | undefined, whole: number): Moves | undefined {
  const [a, s, b] = [less?.value, score.value, more?.value];
  if (a === undefined || s === undefined || b === undefined) return undefined;
  const rounding = ROUNDING * Math.max(Math.abs(a), Math.abs(b)),
    change = Math.abs(b - a) <= rounding ? 0 : (b - a) / (2 * PART),
    sides = [(s - a) / PART, (b - s) / PART] as const,
    kink = Math.abs(sides[1] - sides[0]) > KINK * (Math.abs(sides[0]) + Math.abs(sides[1])) + LITTLE * Math.abs(s) + (2 * rounding) / PART;
  return {
    slope: change / whole,
    whole: change,
    ...(kink ? { sides: [sides[0] / whole, sides[1] / whole] as const } : {}),
    ...(s === 0 ? {} : { percent: change / Math.abs(s) }),
  };
}
