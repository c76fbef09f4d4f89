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
import { type Pair, Variations } from '../solve/sensitivity/variations';
import { build } from '../system/build';
import type { Mechanism } from '../system/mechanism';

/** Part by which a number is less and more in the machines that tell what it does. */
const PART = 2e-5;
/** One-sided derivatives that differ by more than this part of them are two. */
const KINK = 0.02;
/** Differences of scores below this part of them are rounding. */
const ROUNDING = 1e-12;

/** What a number does to a score. */
export interface Moves {
  /** Change of the score, SI, for a change of the number by 1 as it is written. */
  readonly slope: number;
  /** Change of the score, SI, for a change by all that the number is measured against. */
  readonly whole: number;
  /** The same with less and with more of it, where these differ: the score has a kink here. */
  readonly sides?: readonly [less: number, more: number];
  /** Percent of the score for a percent of what the number is measured against; left out where the score is 0. */
  readonly percent?: number;
}
export interface NumberMoves {
  readonly number: ModelNumber;
  /** By the scores; undefined where one has no value with a little less or more of it. */
  readonly moves?: readonly (Moves | undefined)[];
  /** Why nothing can be said. */
  readonly fault?: Pick<Diagnosis, 'code' | 'message' | 'why' | 'time'>;
}
export interface Sensitivities {
  readonly scores: readonly ScoreMeasured[];
  /** Those that can be told of, the largest effect on any score first; then those that cannot. */
  readonly numbers: readonly NumberMoves[];
  readonly end: Extract<RunEvent, { type: 'end' }>;
}

/** Scores of recorded chunks, those of one machine. */
function scoresOf(m: Mechanism, layout: RecordLayout, chunks: readonly Float64Array[]): ScoreMeasured[] {
  const time = times(chunks, layout.width),
    wanted = [...new Set(m.model.scores.flatMap(({ gauge, other }) => [gauge, other].flatMap((x) => (m.gauges.includes(String(x)) ? [String(x)] : []))))],
    values = new Readings(m, layout).read(
      wanted.map((name) => m.channel(name)),
      chunks,
    );
  return measured({
    resolution: m.resolution,
    unitOf: (gauge) => m.channel(gauge).unit,
    series: (gauge) => ({ time, values: values[wanted.indexOf(gauge)]!, dim: m.channel(gauge).dim }),
  }).scores;
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
 * @yields progress of the run @throws Refusal for a model that cannot run, and for analyses other than the dynamic one
 */
export function* sensitivities(
  model: Model,
  numbers: readonly ModelNumber[],
  options: Partial<RunOptions> = {},
): Generator<{ t: number; until: number }, Sensitivities, void> {
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
    pairs: Pair[] = [],
    of: ModelNumber[] = [];
  for (const number of numbers) {
    const [less, more] = [-PART, PART].map((part) => machineWith(model, number, part, size));
    if (isMachine(less) && isMachine(more)) {
      pairs.push({ less, more });
      of.push(number);
    } else faults.set(number, isMachine(less) ? (more as Diagnosis) : (less as Diagnosis));
  }
  const moves = new Map<ModelNumber, NumberMoves['moves']>();
  function* told(which: readonly number[], how: RunOptions): Generator<{ t: number; until: number }, { scores: ScoreMeasured[]; end: Ran['end'] }, void> {
    const variations = new Variations(
        which.map((k) => pairs[k]!),
        how,
        PART,
      ),
      { layout, chunks, end } = yield* ran(m!, how, variations),
      scores = scoresOf(m!, layout, chunks),
      numberAt = (nth: number) => of[which[nth]!]!;
    for (const { nth, code, why, time } of variations.unsaid)
      faults.set(numberAt(nth), {
        code,
        message: `Nothing can be said of what “${numberAt(nth).name}” moves.`,
        why,
        ...(time === undefined ? {} : { time }),
      });
    for (const { nth, less, more } of variations.said) {
      const [a, b] = [less, more].map((n) => scoresOf(n.m, n.layout, n.chunks)) as [ScoreMeasured[], ScoreMeasured[]];
      moves.set(
        numberAt(nth),
        scores.map((s, i) => movesOf(s, a[i], b[i], wholeOf(numberAt(nth), size))),
      );
    }
    if (variations.otherwise.length > 0)
      yield* told(
        variations.otherwise.map((nth) => which[nth]!),
        { ...how, planar: 'off' },
      );
    return { scores, end };
  }
  const { scores, end } = yield* told([...pairs.keys()], asked);
  const list = numbers.map((number): NumberMoves => {
      const fault = faults.get(number);
      return fault ? { number, fault } : { number, moves: moves.get(number)! };
    }),
    effect = ({ moves: all }: NumberMoves) => (all ? all.reduce((most, x) => Math.max(most, Math.abs(x?.percent ?? 0)), 0) : -1);
  return { scores, numbers: [...list].sort((x, y) => effect(y) - effect(x)), end };
}

const isMachine = (x: Mechanism | Diagnosis | undefined): x is Mechanism => x !== undefined && 'system' in x;

interface Ran {
  readonly layout: RecordLayout;
  readonly chunks: Float64Array[];
  readonly end: Extract<RunEvent, { type: 'end' }>;
}
function* ran(m: Mechanism, options: RunOptions, variations: Variations): Generator<{ t: number; until: number }, Ran, void> {
  const chunks: Float64Array[] = [];
  let layout: RecordLayout | undefined, end: Ran['end'] | undefined;
  for (const e of simulate(m, options, variations)) {
    if (e.type === 'begin') ({ layout } = e);
    else if (e.type === 'records') chunks.push(e.data);
    else if (e.type === 'progress') yield { t: e.t, until: options.until };
    else end = e;
  }
  return { layout: layout!, chunks, end: end! };
}

function movesOf(score: ScoreMeasured, less: ScoreMeasured | undefined, more: ScoreMeasured | undefined, whole: number): Moves | undefined {
  const [a, s, b] = [less?.value, score.value, more?.value];
  if (a === undefined || s === undefined || b === undefined) return undefined;
  const slope = (b - a) / (2 * PART),
    sides = [(s - a) / PART, (b - s) / PART] as const,
    noise = (ROUNDING * Math.max(Math.abs(a), Math.abs(b))) / PART,
    kink = Math.abs(sides[1] - sides[0]) > KINK * (Math.abs(sides[0]) + Math.abs(sides[1])) + noise;
  return {
    slope: slope / whole,
    whole: slope,
    ...(kink ? { sides } : {}),
    ...(s === 0 ? {} : { percent: slope / Math.abs(s) }),
  };
}
