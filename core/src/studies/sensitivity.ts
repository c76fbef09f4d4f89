/** What moves the scores of a run: their derivatives with respect to numbers of its model, and how many percent each of them moves by a percent of those. */
import { type Diagnosis, Refusal } from '../diagnosis';
import type { Model } from '../model/document';
import { type ModelNumber, wholeOf } from '../model/numbers';
import type { Analysis } from '../model/run-settings';
import type { ScoreMeasured } from '../results/measures';
import { type RecordLayout, offsets, recordLayout } from '../results/record';
import { check } from '../checks/check';
import { simulate } from '../solve/dynamics';
import { recordCount } from '../solve/record-times';
import type { RunEvent, RunOptions } from '../solve/run-events';
import type { Pair, Why } from '../solve/sensitivity/side';
import type { Companion } from '../solve/sensitivity/companion';
import { Trail } from '../solve/sensitivity/trail';
import { Variations } from '../solve/sensitivity/variations';
import { notExpressed } from '../system/adjoint/residuals';
import type { Mechanism } from '../system/mechanism';
import { byRuns } from './by-runs';
import { type Courses, coursesOf, isMachine, machineWith, scoresOf, slopesOf, wantedOf } from './courses';
import { FARTHEST, mayChange, neededRecords, rivalsOf } from './needed';
import { CLOSER, type NumberMoves, PART, bothSides, movesBy, movesOf } from './moves';
import { type FoundBy, type Hangs, Ways, byTrail, leadsBack, leadsForth } from './by-trail';

/** Numbers asked at once, by differences and exactly derived, and bytes that their records may take, at most. */
const MOST = 50;
const MOST_EXACT = 200;
const BYTES = 2e8;
/** Parts of the work that are building the machines, and running them. */
const BUILDING = 0.15;
const RUNNING = 0.65;
/** How far less and more of a number may turn bodies, in times that part of them, rad: in a turn that is far what is straight is shortened. */
const FAR = 3;
/** Work that a step is for a score from which is gone back, for each number with which is gone forth, and for the run itself then, in right-hand sides. */
const BACK = 65;
const FORTH = 18;
const AGAIN = 20;

/**
 * Whether each number goes through the run with it, or from each score is gone back through it: exactly derived, where all of the machine is expressed; else,
 * and where that is asked for, beside the run by differences.
 */
export type Way = 'forward' | 'backward' | 'beside';

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

/** The run itself, with what is read of it; and which of its records are needed to tell what moves its scores, all where that is left out. */
interface Base extends Courses {
  readonly scores: readonly ScoreMeasured[];
  readonly end: Ran['end'];
  readonly which: Uint8Array | undefined;
  readonly angles: (record: number) => Float64Array;
  /** By how much each course may change until others of its records would be needed. */
  readonly may: ReadonlyMap<string, number>;
  /** What it did. */
  readonly trail: Trail;
}

/** Courses of a machine next to it, of which the needed records alone were read. @returns undefined where it is not as near as that needs */
function beside(base: Base, { time, of }: Courses): Courses | undefined {
  const { which } = base;
  if (!which) return { time, of };
  const places = [...which.keys()].filter((i) => which[i]),
    put = (all: Float64Array, some: Float64Array) => {
      const out = all.slice();
      places.forEach((i, k) => (out[i] = some[k]!));
      return out;
    };
  if (places.length !== time.length) return undefined;
  const courses = new Map([...of].map(([name, some]) => [name, put(base.of.get(name)!, some)]));
  for (const [name, all] of courses)
    if (all.some((x, i) => Math.abs(x - base.of.get(name)![i]!) > FARTHEST * base.may.get(name)!)) return undefined;
  return { time: put(base.time, time), of: courses };
}

/** Why nothing can be said of a number. */
const unsaid = ({ name }: ModelNumber, { code, why, time }: Why & { readonly time?: number }): NonNullable<NumberMoves['fault']> => ({
  code,
  message: `Nothing can be said of what “${name}” moves.`,
  why,
  ...(time === undefined ? {} : { time }),
});

/** A number with the machines on both sides of it. */
interface Asked extends Pair {
  readonly number: ModelNumber;
}

/** All that is found out of a model. */
class Study {
  readonly faults = new Map<ModelNumber, NonNullable<NumberMoves['fault']>>();
  readonly known = new Map<ModelNumber, NumberMoves>();
  /** The run itself. */
  private own: Base | undefined;

  constructor(
    private readonly model: Model,
    private readonly m: Mechanism,
    private readonly options: RunOptions,
    private readonly gauges: readonly string[],
    private readonly way: Way | undefined,
  ) {}

  /** Records that are asked for. */
  private recordsOf({ which, time }: Pick<Base, 'which' | 'time'>): number {
    return which ? which.reduce((sum, x) => sum + x, 0) : time.length;
  }
  /** How many numbers may go along with one run. */
  private get together(): number {
    const { until, every } = this.options,
      bytes = 2 * 8 * recordLayout(this.m).width * recordCount(until, every);
    return Math.max(1, Math.min(MOST, Math.floor(BYTES / bytes)));
  }
  /** The run itself is made first. @returns how many numbers may be asked at once */
  *begin(numbers: number): Generator<Progress, number, void> {
    const own = (this.own ??= yield* this.base(this.options));
    return this.exactly(own, Math.min(numbers, MOST_EXACT)) ? MOST_EXACT : this.together;
  }

  /** Finds out about some numbers, in one run; in another about those that stand at a kink. */
  *about(numbers: readonly ModelNumber[]): Generator<Progress, Outcome, void> {
    const own = this.own!,
      { scores, time, end } = own,
      exactly = this.exactly(own, numbers.length),
      left = exactly ? yield* this.closely(own, numbers, exactly) : numbers,
      rest = yield* this.pairs(left, PART);
    let outcome: Outcome = { scores, time, end };
    for (let from = 0; from < rest.length; from += this.together) {
      const { found, kinked, ...ran } = yield* this.run(rest.slice(from, from + this.together), this.options, this.own);
      for (const [{ number }, x] of found) this.known.set(number, x);
      if (kinked.length > 0) yield* this.apart(kinked);
      outcome = ran;
    }
    return outcome;
  }
  /** Finds out about numbers by exact derivatives. @returns those of which nothing can be said so */
  private *closely(
    own: Base,
    numbers: readonly ModelNumber[],
    exactly: 'back' | 'forth',
  ): Generator<Progress, readonly ModelNumber[], void> {
    const { known, faults } = this;
    let asked = numbers;
    // what is bent seems to have a kink, until it is looked at closer
    for (const part of CLOSER) {
      const pairs = yield* this.pairs(asked, part),
        found = yield* this.byTrail(own, pairs, exactly, part);
      for (const [{ number }, x] of found.of) known.set(number, x);
      for (const [{ number }, why] of found.faults)
        faults.set(number, unsaid(number, { code: 'sensitivity-structure', why: `With a little more or less of it, ${why}` }));
      asked = found.kinked.map((x) => x.number);
    }
    return numbers.filter((x) => !known.has(x) && !faults.has(x));
  }
  /** Machines with less and more of numbers. */
  private *pairs(numbers: readonly ModelNumber[], part: number): Generator<Progress, Asked[], void> {
    const out: Asked[] = [];
    for (const [i, number] of numbers.entries()) {
      this.add(out, number, -part, part);
      yield { part: (BUILDING * i) / numbers.length };
    }
    return out;
  }
  /** Which way through the run is less work, where all is expressed. */
  private exactly(own: Base, numbers: number): 'back' | 'forth' | undefined {
    const { m, gauges, way } = this,
      { trail, scores, end } = own;
    if (way === 'beside' || numbers === 0 || end.status !== 'done' || !leadsForth(m, trail)) return undefined;
    const wanted = wantedOf(m, gauges).map((g) => m.channel(g)),
      stated = wanted.every((c) => c.stated?.(() => ({ first: 0 }))),
      // what is no expression is recorded with less and more of every number of the state, and of the model
      each = stated ? wanted.length : 2 * recordLayout(m).width;
    if (8 * each * this.recordsOf(own) * (trail.own.y.length + numbers) > BYTES) return undefined;
    // what is made of a whole course is known forth alone
    if (way === 'forward' || gauges.length > 0 || !leadsBack(m, trail) || wanted.some((c) => c.after)) return 'forth';
    return way === 'backward' || scores.length * BACK < AGAIN + numbers * FORTH ? 'back' : 'forth';
  }
  /** By which records a score changes; nothing where it has no value, and 'unknown' where it has one and that is not known. */
  private hangs(own: Base, score: ScoreMeasured, nth: number, wanted: readonly string[]): Hangs | 'unknown' | undefined {
    if (score.value === undefined) return undefined;
    const { m } = this,
      lists = wanted.map((name) => own.of.get(name)!),
      measured = (x: ScoreMeasured) => ({ value: x.value, slopes: slopesOf(m, own, x, wanted) }),
      { slopes } = measured(score),
      rivals = slopes && rivalsOf(lists, slopes, () => measured(scoresOf(m, own)[nth]!));
    return slopes && rivals ? { slopes, rivals } : 'unknown';
  }
  private ways: Ways | undefined;
  private hangings: readonly (Hangs | 'unknown' | undefined)[] | undefined;
  /** What each number does to the scores, and to the gauges that are asked for, exactly derived. */
  private *byTrail(
    own: Base,
    pairs: readonly Asked[],
    exactly: 'back' | 'forth',
    part: number,
  ): Generator<Progress, FoundBy<Asked, NumberMoves>, void> {
    const { m, options, gauges } = this,
      wanted = wantedOf(m, gauges),
      { scores } = own,
      ways = (this.ways ??= new Ways(own.trail)),
      hangs = (this.hangings ??= scores.map((score, k) => this.hangs(own, score, k, wanted)));
    if (hangs.some((x) => x === 'unknown')) return { of: new Map(), kinked: [], faults: new Map() };
    const steps = byTrail({ ...own, options, courses: own, part, ways }, pairs, wanted, hangs as (Hangs | undefined)[], exactly === 'back');
    for (let step = steps.next(); ; step = steps.next()) {
      if (!step.done) {
        yield { part: BUILDING + RUNNING * step.value };
        continue;
      }
      const of = [...step.value.of].map(([asked, { scores: by, sides, courses }]): [Asked, NumberMoves] => {
        const { number } = asked,
          whole = wholeOf(number, m.size),
          curves = gauges.map((name) => courses![wanted.indexOf(name)]!.map((x) => x / whole)),
          moves = scores.map((s, k) => movesBy(s, by[k]!, whole, sides.get(k)));
        return [asked, { number, exactly, moves, ...(gauges.length > 0 ? { curves } : {}) }];
      });
      return { ...step.value, of: new Map(of) };
    }
  }
  /** Of numbers at a kink less and more are told apart. */
  private *apart(numbers: readonly ModelNumber[]): Generator<Progress, void, void> {
    const sided: Asked[] = [];
    for (const number of numbers) {
      this.add(sided, number, -2 * PART, 0);
      this.add(sided, number, 0, 2 * PART);
    }
    const { found } = yield* this.run(sided, this.options, this.own);
    for (const number of numbers) {
      const [less, more] = sided.flatMap((s) => (s.number === number ? [found.get(s)] : []));
      if (less && more) this.known.set(number, bothSides(less, more));
    }
  }
  /** The machines between two changes of a number. */
  private add(list: Asked[], number: ModelNumber, from: number, to: number): void {
    const { model, m, faults } = this,
      [less, more] = [from, to].map((part) => machineWith(model, number, part, m));
    if (isMachine(less) && isMachine(more)) list.push({ number, less, more });
    else faults.set(number, isMachine(less) ? (more as Diagnosis) : (less as Diagnosis));
  }

  /** The run itself. */
  private *base(how: RunOptions): Generator<Progress, Base, void> {
    const { m, gauges } = this,
      trail = new Trail(how),
      { layout, chunks, end } = yield* ran(m, how, this.way === 'beside' || notExpressed(m.system) ? undefined : trail),
      wanted = wantedOf(m, gauges),
      courses = coursesOf(m, layout, chunks, wanted),
      lists = wanted.map((name) => courses.of.get(name)!),
      { angles, memory } = offsets(layout),
      perChunk = chunks.map((c) => c.length / layout.width);
    return {
      ...courses,
      end,
      trail,
      scores: scoresOf(m, courses),
      // curves that are asked for need all of them, and so does what is made of a whole course
      which:
        gauges.length > 0 || wanted.some((name) => m.channel(name).after)
          ? undefined
          : neededRecords(lists, () => scoresOf(m, courses).map((x) => x.value)),
      may: new Map(wanted.map((name, i) => [name, mayChange(lists[i]!)])),
      angles(record) {
        let chunk = 0,
          at = record;
        while (at >= perChunk[chunk]!) at -= perChunk[chunk++]!;
        return chunks[chunk]!.subarray(at * layout.width + angles, at * layout.width + memory);
      },
    };
  }

  private *run(
    which: readonly Asked[],
    how: RunOptions,
    base?: Base,
    part = PART,
  ): Generator<Progress, Outcome & { found: Map<Asked, NumberMoves>; kinked: ModelNumber[] }, void> {
    const { m, gauges, faults } = this,
      run = base ?? (yield* this.base(how)),
      variations = new Variations(which, how, part, run);
    const { end } = yield* ran(m, how, variations),
      { scores, time } = run,
      found = new Map<Asked, NumberMoves>(),
      far: Asked[] = [],
      { said } = variations,
      farthest = said.reduce((most, x) => Math.max(most, x.farthest), 0),
      turned: Asked[] = [];
    for (const { nth, ...why } of variations.unsaid) faults.set(which[nth]!.number, unsaid(which[nth]!.number, why));
    for (const [i, { nth, less, more, farthest: own }] of said.entries()) {
      yield { part: BUILDING + RUNNING + ((1 - BUILDING - RUNNING) * i) / said.length };
      const { number } = which[nth]!;
      if (part === PART && own > FAR) {
        turned.push(which[nth]!);
        continue;
      }
      const whole = wholeOf(number, m.size),
        sides = [less, more].map((n) => {
          const courses = beside(run, coursesOf(n.m, n.layout, n.chunks, wantedOf(m, gauges)));
          return courses && { ...courses, scores: scoresOf(n.m, courses) };
        }),
        [a, b] = sides;
      if (!a || !b) {
        far.push(which[nth]!);
        continue;
      }
      found.set(which[nth]!, {
        number,
        moves: scores.map((s, k) => movesOf(s, a.scores[k], b.scores[k], whole, part)),
        ...(gauges.length > 0
          ? { curves: gauges.map((name) => b.of.get(name)!.map((x, k) => (x - a.of.get(name)![k]!) / (2 * part * whole))) }
          : {}),
      });
    }
    const again = function* (this: Study, list: readonly Asked[], options: RunOptions, from?: Base, by = part) {
      if (list.length === 0) return;
      const rest = yield* this.run(list, options, from, by);
      rest.found.forEach((x, asked) => found.set(asked, x));
    }.bind(this);
    yield* again(
      variations.otherwise.map((nth) => which[nth]!),
      { ...how, planar: 'off' },
    );
    // what moves a curve so much moves its scores from one record to others
    yield* again(far, how, { ...run, which: undefined });
    // so little more and less of a number that bodies turn little
    const closer: Asked[] = [],
      little = (PART * FAR) / farthest;
    for (const { number } of turned) this.add(closer, number, -little, little);
    yield* again(closer, how, run, little);
    return { scores, time, end, found, kinked: [...variations.kinked].map((nth) => which[nth]!.number) };
  }
}

/**
 * Runs a model, and beside it how the run changes with numbers of it.
 * @param gauges of which is told how they change over the run, names of the model
 * @param way left out: the one that is less work
 * @yields how far it has come @throws Refusal for a model that cannot run
 */
export function* sensitivities(
  model: Model,
  numbers: readonly ModelNumber[],
  options: Partial<RunOptions & { analysis: Analysis }> = {},
  gauges: readonly string[] = [],
  way?: Way,
): Generator<Progress, Sensitivities, void> {
  const report = check(model),
    errors = report.diagnoses.filter((d) => d.severity === 'error'),
    { mechanism: m } = report.built;
  if (errors.length > 0 || !m) throw new Refusal(errors);
  const asked = { ...m.resolution.run, ...options };
  if (asked.analysis && asked.analysis !== 'dynamic') {
    const found = yield* byRuns(model, m, asked, numbers, gauges);
    return { ...found, numbers: ordered(found.numbers) };
  }
  const study = new Study(model, m, asked, gauges, way),
    begun = study.begin(numbers.length);
  let together: number;
  for (let step = begun.next(); ; step = begun.next()) {
    if (step.done) {
      together = step.value;
      break;
    }
    yield { part: 0 };
  }
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
    });
  return { ...outcome!, numbers: ordered(list) };
}

/** The largest effect on any score first; those of which nothing is said last. */
function ordered(list: readonly NumberMoves[]): NumberMoves[] {
  const effect = ({ moves: all }: NumberMoves) => (all ? all.reduce((most, x) => Math.max(most, Math.abs(x?.percent ?? 0)), 0) : -1);
  return [...list].sort((x, y) => effect(y) - effect(x));
}

interface Ran {
  readonly layout: RecordLayout;
  readonly chunks: Float64Array[];
  readonly end: Extract<RunEvent, { type: 'end' }>;
}
function* ran(m: Mechanism, options: RunOptions, companion?: Companion): Generator<Progress, Ran, void> {
  const chunks: Float64Array[] = [];
  let layout: RecordLayout | undefined, end: Ran['end'] | undefined;
  for (const e of simulate(m, options, companion)) {
    if (e.type === 'begin') ({ layout } = e);
    else if (e.type === 'records') chunks.push(e.data);
    else if (e.type === 'progress') yield { part: BUILDING + (companion instanceof Variations ? (RUNNING * e.t) / options.until : 0) };
    else end = e;
  }
  return { layout: layout!, chunks, end: end! };
}
