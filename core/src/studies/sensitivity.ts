/** What moves the scores of a run: their derivatives with respect to numbers of its model, and how many percent each of them moves by a percent of those. */
import { type Diagnosis, Refusal } from '../diagnosis';
import type { Model } from '../model/document';
import { type ModelNumber, wholeOf, withChanged } from '../model/numbers';
import { type ScoreMeasured, measured } from '../results/measures';
import { Readings, times } from '../results/readings';
import { type RecordLayout, recordLayout } from '../results/record';
import { check } from '../checks/check';
import { simulate } from '../solve/dynamics';
import { recordCount } from '../solve/record-times';
import type { RunEvent, RunOptions } from '../solve/run-events';
import type { Pair } from '../solve/sensitivity/side';
import { Variations } from '../solve/sensitivity/variations';
import { build } from '../system/build';
import type { Mechanism } from '../system/mechanism';
import { type NumberMoves, PART, bothSides, movesOf } from './moves';

/** Numbers asked in one run, and bytes that their records may take, at most. */
const MOST = 50;
const BYTES = 2e8;
/** Parts of the work that are building the machines, and running them. */
const BUILDING = 0.15;
const RUNNING = 0.65;

export interface Sensitivities {
  readonly time: Float64Array;
  readonly scores: readonly ScoreMeasured[];
  /** Those that can be told of, the largest effect on any score first; then those that cannot. */
  readonly numbers: readonly NumberMoves[];
  readonly end: Extract<RunEvent, { type: 'end' }>;
}
/** How far it has come, from 0 to 1. */
export interface Progress {
  readonly part: number;
}
type Outcome = Omit<Sensitivities, 'numbers'>;

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

const isMachine = (x: Mechanism | Diagnosis | undefined): x is Mechanism => x !== undefined && 'system' in x;

/** A number with the machines on both sides of it. */
interface Asked extends Pair {
  readonly number: ModelNumber;
}

/** All that is found out of a model. */
class Study {
  readonly faults = new Map<ModelNumber, NonNullable<NumberMoves['fault']>>();
  readonly known = new Map<ModelNumber, NumberMoves>();

  constructor(
    private readonly model: Model,
    private readonly m: Mechanism,
    private readonly options: RunOptions,
    private readonly gauges: readonly string[],
  ) {}

  /** How many numbers may be asked in one run. */
  get together(): number {
    const { until, every } = this.options,
      bytes = 2 * 8 * recordLayout(this.m).width * recordCount(until, every);
    return Math.max(1, Math.min(MOST, Math.floor(BYTES / bytes)));
  }

  /** Finds out about some numbers, in one run; in another about those that stand at a kink. */
  *about(numbers: readonly ModelNumber[]): Generator<Progress, Outcome, void> {
    const pairs: Asked[] = [];
    for (const [i, number] of numbers.entries()) {
      this.add(pairs, number, -PART, PART);
      yield { part: (BUILDING * i) / numbers.length };
    }
    const { found, kinked, ...outcome } = yield* this.run(pairs, this.options);
    for (const [{ number }, x] of found) this.known.set(number, x);
    if (kinked.length > 0) yield* this.apart(kinked);
    return outcome;
  }
  /** Of numbers at a kink less and more are told apart. */
  private *apart(numbers: readonly ModelNumber[]): Generator<Progress, void, void> {
    const sided: Asked[] = [];
    for (const number of numbers) {
      this.add(sided, number, -2 * PART, 0);
      this.add(sided, number, 0, 2 * PART);
    }
    const { found } = yield* this.run(sided, this.options);
    for (const number of numbers) {
      const [less, more] = sided.flatMap((s) => (s.number === number ? [found.get(s)] : []));
      if (less && more) this.known.set(number, bothSides(less, more));
    }
  }
  /** The machines between two changes of a number. */
  private add(list: Asked[], number: ModelNumber, from: number, to: number): void {
    const { model, m, faults } = this,
      [less, more] = [from, to].map((part) => machineWith(model, number, part, m.size));
    if (isMachine(less) && isMachine(more)) list.push({ number, less, more });
    else faults.set(number, isMachine(less) ? (more as Diagnosis) : (less as Diagnosis));
  }

  private *run(
    which: readonly Asked[],
    how: RunOptions,
  ): Generator<Progress, Outcome & { found: Map<Asked, NumberMoves>; kinked: ModelNumber[] }, void> {
    const { m, gauges, faults } = this,
      variations = new Variations(which, how, PART),
      { layout, chunks, end } = yield* ran(m, how, variations),
      { scores, time } = readingsOf(m, layout, chunks, []),
      found = new Map<Asked, NumberMoves>(),
      { said } = variations;
    for (const { nth, code, why, time: t } of variations.unsaid)
      faults.set(which[nth]!.number, {
        code,
        message: `Nothing can be said of what “${which[nth]!.number.name}” moves.`,
        why,
        ...(t === undefined ? {} : { time: t }),
      });
    for (const [i, { nth, less, more }] of said.entries()) {
      yield { part: BUILDING + RUNNING + ((1 - BUILDING - RUNNING) * i) / said.length };
      const { number } = which[nth]!,
        whole = wholeOf(number, m.size),
        [a, b] = [less, more].map((n) => readingsOf(n.m, n.layout, n.chunks, gauges)) as [Read, Read];
      found.set(which[nth]!, {
        number,
        moves: scores.map((s, k) => movesOf(s, a.scores[k], b.scores[k], whole)),
        ...(gauges.length > 0
          ? { curves: gauges.map((_, g) => b.curves[g]!.map((x, k) => (x - a.curves[g]![k]!) / (2 * PART * whole))) }
          : {}),
      });
    }
    if (variations.otherwise.length > 0) {
      const rest = yield* this.run(
        variations.otherwise.map((nth) => which[nth]!),
        { ...how, planar: 'off' },
      );
      rest.found.forEach((x, asked) => found.set(asked, x));
    }
    return { scores, time, end, found, kinked: [...variations.kinked].map((nth) => which[nth]!.number) };
  }
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
  const asked = { ...m.resolution.run, ...options };
  if (asked.analysis && asked.analysis !== 'dynamic')
    throw new Refusal([
      {
        code: 'sensitivity-analysis',
        severity: 'error',
        message: 'What moves a score is worked out for dynamic runs.',
        why: `This model asks for another analysis: ${asked.analysis}.`,
        remedy: 'Choose the dynamic run.',
      },
    ]);
  const study = new Study(model, m, asked, gauges),
    { together } = study;
  let outcome: Outcome | undefined;
  for (let from = 0; from === 0 || from < numbers.length; from += together) {
    const these = numbers.slice(from, from + together),
      steps = study.about(these),
      share = numbers.length === 0 ? 1 : these.length / numbers.length;
    for (let step = steps.next(); ; step = steps.next()) {
      if (step.done) {
        outcome = step.value;
        break;
      }
      yield { part: from / Math.max(1, numbers.length) + share * step.value.part };
    }
  }
  const { faults, known } = study,
    list = numbers.map((number): NumberMoves => {
      const fault = faults.get(number);
      return fault ? { number, fault } : known.get(number)!;
    }),
    effect = ({ moves: all }: NumberMoves) => (all ? all.reduce((most, x) => Math.max(most, Math.abs(x?.percent ?? 0)), 0) : -1);
  return { ...outcome!, numbers: [...list].sort((x, y) => effect(y) - effect(x)) };
}

type Read = ReturnType<typeof readingsOf>;
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
