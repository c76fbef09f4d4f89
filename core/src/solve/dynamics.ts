/**
 * The dynamic run: explicit integration of order 8 on the accelerations, positions and velocities projected onto
 * the constraints after every accepted step (and at every stage near a singular position), recording through dense
 * output so that the recording interval never changes the steps. (docs/architecture.md, "The solver")
 */
import { type Diagnosis, Refusal } from '../diagnosis';
import { KIND, type StateLayout } from '../equations/layout';
import { D } from '../quantity/dimension';
import { eighthRoot } from '../quantity/elementary';
import { formatQuantity } from '../quantity/units';
import { type RecordLayout, type RunStatistics, recordLayout } from '../results/record';
import type { RunStatus } from '../results/status';
import { COMPILER } from '../system/compiler';
import type { Mechanism } from '../system/mechanism';
import { POSITION_TOLERANCE } from '../system/system';
import { apart } from './apart';
import { assemble } from './assemble';
import { CODE_DIFFERS, audit, notCompiled, roundedOff, stoodStill } from './audit';
import { breakTimes } from './break-times';
import { Creeping, switching } from './chatter';
import { Events, type Happening } from './events';
import { finite, notFinite } from './finite';
import { fireAt } from './fire';
import { HELD, near, ontoConstraints } from './held';
import { recordCount, recordTime } from './record-times';
import { passed } from './not-passed';
import { Recorder } from './recorder';
import { resume } from './resume';
import { type RunEvent, type RunOptions, noStatistics } from './run-events';
import type { Companion } from './sensitivity/companion';
import { Stepper } from './stepper';
import { StopLimits } from './stop-limits';
import { stuck } from './stuck';
import { OneByOne } from './agree';
import { leaveOut } from './leave-out';
import { longestStep } from './longest-step';
import { ErrorScale } from './tolerance';
import { Turns } from './turns';
import { withoutInertia } from './without-inertia';

/** Local error per step against asked accuracy: measured over the verification problems, see docs/architecture.md. */
const CALIBRATION = 100;
const TIGHTEST = 1e-13;
/** So many times less where anything may touch: what presses hangs on a depth that is small beside the machine. Measured over the verification problems. */
const PRESSED = 4;
/** Below this fraction of its usual value, a loop-closing pivot announces a singular position. */
const NEAR_SINGULAR = 1e-2;
/** Below this fraction no step ends, if another length helps: what the constraints leave free is badly known there. */
const TOO_NEAR = 3e-3;
/** Attempts at another length, and the factor between them. */
const SIDESTEPS = 4;
const SIDESTEP = 0.75;
/** Change of a step's length that changes nothing but its rounding, and the part of its error that is rounding from which on no shorter one is tried. */
const LAST_DIGITS = 1e-11;
const ROUNDING = 0.05;
/** Near a singular position residuals move what the constraints leave free by many times their size, so that stages go down to rounding. */
const EXACTLY = 1e-14;
/** Events without a whole step between them, nor this part of the run, beyond which a run gives up. */
const CROWDED = 100;
const APART = 1e-6;
/** Happenings listed one by one; beyond that they are only counted. */
const LISTED = 500;

/**
 * Runs a mechanism from its assembled start. Yields often enough to be cancelled.
 * @param companion goes along @throws Refusal when it cannot start
 */
export function* simulate(m: Mechanism, options: RunOptions, companion?: Companion): Generator<RunEvent, void, void> {
  yield* apart(m, function* (own) {
    try {
      yield* new DynamicRun(own, options, companion).events();
    } finally {
      own.system.fold(undefined);
    }
  });
}

/** Answers of a part of a run, and at the end whether it goes on. */
type Part = Generator<RunEvent, boolean, void>;

class DynamicRun {
  private t = 0;
  private readonly y: Float64Array;
  /** A state on the constraints: of an accepted step, or of an event in it. */
  private readonly at: Float64Array;
  private readonly kept: Float64Array;
  private readonly rates: Float64Array;
  private readonly guarded: Float64Array;
  private readonly stats: RunStatistics = noStatistics();
  private readonly happenings: Happening[] = [];
  private readonly tolerance: number;
  /** Whether anything may touch. */
  private readonly touching: boolean;
  private readonly scale: ErrorScale;
  private readonly stepper: Stepper;
  private readonly layout: RecordLayout;
  private readonly recorder: Recorder;
  private readonly turns: Turns;
  private readonly limits: StopLimits;
  private readonly watched: Events;
  private readonly total: number;
  private readonly timeOf: (i: number) => number;
  /** The next record. */
  private next = 1;
  /** Near a singular position every stage is brought onto the constraints. */
  private guard = false;
  private near = false;
  /** Attempts of this step that ended too near a singular position. */
  private sidesteps = 0;
  /** Whether the step being attempted goes across a singular position, and from how far away, in time, the last that did was refused. */
  private across = false;
  private refusedFrom = Infinity;
  /** How many times more than was asked a step near a singular position was allowed, since its rounding came to that. */
  private rounded = 1;
  /** Velocities of all bodies, six a body. */
  private readonly way: Float64Array;
  /** Residual that is rounding alone; and the one to which positions and velocities are brought away from singular positions. */
  private readonly exactly: number;
  private readonly enough: number;
  /** Largest of the smallest loop-closing pivots so far. */
  private usual = 0;
  /** Longest step where none is asked for, s. */
  private readonly longest: number;
  private readonly nearEnough: ReturnType<typeof near>;
  private readonly creeping: Creeping;
  /** What was to be said at its start. */
  private readonly notes: Diagnosis[] = [];
  /** Events that follow each other closely, and the time of the last. */
  private crowd = 0;
  private lastEvent = 0;

  constructor(
    private readonly m: Mechanism,
    private readonly options: RunOptions,
    private readonly companion?: Companion,
  ) {
    const { system } = m;
    const { until, every } = options;
    if (options.start) resume(m, options.start);
    else assemble(m);
    this.turns = new Turns(system, 0);
    this.limits = new StopLimits(m, this.turns);
    system.interpret();
    const plain = new OneByOne(m, until);
    if (options.planar !== 'off' && !this.limits.loads) this.stats.folded = leaveOut(m);
    system.compile(COMPILER);
    if (!plain.agree()) {
      // a fault of the program: what is known to be right is right, and slow
      system.distrust();
      this.notes.push(CODE_DIFFERS);
    }
    const vectors = system.vectors();
    [this.y, this.at, this.kept, this.rates, this.guarded] = vectors.row(5) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    system.K.store(this.y);
    this.way = new Float64Array(system.motions);
    this.exactly = EXACTLY * Math.max(1, m.size);
    this.touching = m.assembly.forces.some((f) => f.force.touches);
    this.tolerance = Math.max(TIGHTEST, options.accuracy / CALIBRATION / (this.touching ? PRESSED : 1));
    this.enough = Math.max(this.exactly, Math.min(POSITION_TOLERANCE, this.tolerance * m.size));
    this.scale = new ErrorScale(system, m.size, this.tolerance, until);
    this.stepper = new Stepper(system, this.derivative, this.scale, options.method ?? 'auto', vectors, () => !this.guard);
    this.layout = recordLayout(m, system.told);
    this.recorder = new Recorder(this.layout, m, this.stats);
    this.total = recordCount(until, every);
    this.timeOf = recordTime(until, every);
    system.segment(0, until);
    // what was assembled is near enough for most runs, and not for a very exact one
    if (this.enough < POSITION_TOLERANCE) this.startExactly();
    system.evaluate(0, this.y, this.rates);
    this.stats.oneByOne = !system.compiled;
    this.nearEnough = near(m.size, options.accuracy);
    this.creeping = new Creeping(until);
    this.longest = longestStep(m, until);
    this.watched = new Events(system, [...m.watches, ...this.limits.watches]);
  }

  *events(): Generator<RunEvent, void, void> {
    const { m, recorder, limits } = this;
    const { until, accuracy } = this.options;
    yield { type: 'begin', layout: this.layout };
    if (!finite(this.rates) || !recorder.put(0, this.turns)) return void (yield* this.failed(notFinite(m, 0)));
    const stops = [...breakTimes(m, until, limits.times(until)), until];
    this.companion?.begin(m, this.y, stops);
    this.companion?.record?.(0, this.y);
    const wrong = passed(m, 0);
    if (wrong) return void (yield* this.failed(wrong));
    if (limits.watches.length > 0 && !(yield* this.withinLimits())) return;
    for (const [nth, stop] of stops.entries()) {
      let fresh = true;
      while (this.t < stop) {
        this.companion?.segment(this.t, nth);
        if (!(yield* this.segment(stop, fresh))) return;
        fresh = false;
      }
    }
    m.system.K.load(this.y);
    // what is found out of the whole machine is found with everything that counts
    m.system.fold(undefined);
    yield* this.over('done', [
      ...(recorder.moved ? [] : [stoodStill(m)]),
      ...this.notes,
      ...notCompiled(),
      ...roundedOff(accuracy, Math.max(this.rounded, this.scale.rounded)),
      ...audit(m, this.t, accuracy, recorder.liveliest),
    ]);
  }

  private readonly derivative = (t: number, state: Float64Array, dy: Float64Array): void => {
    const { system } = this.m;
    if (!this.guard) {
      system.evaluate(t, state, dy);
      return;
    }
    system.load(state);
    this.project(t, this.exactly);
    system.K.store(this.guarded);
    system.evaluate(t, this.guarded, dy);
  };

  /** Brings the state in K onto the constraints. @param tolerance residual at which that is enough */
  private project(t: number, tolerance = this.enough): void {
    const { system } = this.m;
    system.linearise();
    system.projectPositions(t, tolerance);
    system.projectVelocities(t, 3 * tolerance);
  }

  /** Puts the interpolated state at a time of the last step into K, on the constraints. */
  private readonly stateAt = (time: number): void => {
    this.stepper.interpolate(time, this.at);
    this.m.system.load(this.at);
    this.project(time);
  };

  /** Steps until the end of a segment, in which no formula has a kink, or until an event. */
  private *segment(stop: number, fresh: boolean): Part {
    const { m, stepper, scale, y, stats } = this;
    const { system } = m;
    const { until, signal, longest: asked = this.longest } = this.options;
    system.segment(this.t, stop);
    const longest = Math.min(stop - this.t, asked);
    system.evaluate(this.t, y, stepper.f0);
    scale.watch();
    if (!finite(stepper.f0)) return yield* this.failed(notFinite(m, this.t));
    let h = firstStep(stepper.f0, system.K.layout, m.size, this.tolerance);
    if (fresh) stepper.restart();
    while (this.t < stop) {
      if (signal?.cancelled) return yield* this.over('cancelled', []);
      const most = Math.min(longest, this.watched.lasts),
        capped = h > most;
      h = stepWithin(stop - this.t, Math.min(h, most));
      this.across = false;
      const outside = !this.near,
        ratio = system.ldlt.tightest;
      this.watchSingularity();
      const singular = this.guard;
      if (singular && outside) this.startExactly();
      if (singular) h = stepWithin(stop - this.t, this.stepOver(h));
      const t1 = stop - this.t === h ? stop : this.t + h;
      const error = stepper.attempt(this.t, y, h);
      const landed = error <= 1 && this.endsTooNear(ratio);
      if (landed || !this.accepts(t1, error <= 1 ? error : error / this.leeway(error, h))) {
        stats.rejected++;
        stats.limits[landed ? 'singular' : 'error']++;
        h *= landed ? SIDESTEP : stepper.cut(error);
        if (h < 1e-13 * Math.max(until, this.t) || this.creeping.stands) return yield* this.failed(stuck(m, this.t));
        system.evaluate(this.t, y, this.rates); // the factorisation has moved on
        this.creeping.attempt(this.t, true);
        const switches = this.creeping.creeps ? switching(m, this.t, y, this.rates, h) : undefined;
        if (switches) return yield* this.failed(switches);
        this.creeping.creeps = false;
        if (stepper.implicit) stepper.f0.set(this.rates);
        yield { type: 'progress', t: this.t };
        continue;
      }
      this.sidesteps = 0;
      this.creeping.attempt(this.t, false);
      if (this.creeping.stands) return yield* this.failed(stuck(m, this.t));
      if (this.across) this.refusedFrom = Infinity;
      const { implicit } = stepper;
      const event = this.eventIn(t1);
      const reached = event ?? t1;
      this.countStep(reached - this.t, implicit);
      this.companion?.step(this.t, y, reached, this.at, implicit, event !== undefined);
      if (!(yield* this.record(reached))) return false;
      y.set(this.at);
      this.t = reached;
      if (event !== undefined) return yield* this.atEvent();
      this.crowd = 0;
      const held = stepper.judge(h, capped);
      this.tellOfMethod(implicit, h);
      stats.limits[singular ? 'singular' : held ? 'stability' : capped ? 'longest' : 'accuracy']++;
      if (system.unsettled) return yield* this.failed(jammed(this.t));
      system.evaluate(this.t, y, stepper.f0);
      scale.watch();
      this.turns.follow(this.t);
      m.memories.follow(system.K);
      h *= implicit === stepper.implicit ? stepper.factor(error) : 1;
      yield { type: 'progress', t: this.t };
    }
    return true;
  }

  /** Sets the guard where the smallest loop-closing pivot is far below its usual size. */
  private watchSingularity(): void {
    const { ldlt } = this.m.system;
    const ratio = ldlt.tightest;
    this.guard = ratio < NEAR_SINGULAR * this.usual;
    this.usual = Math.max(this.usual, ratio);
    if (this.guard) {
      this.stats.guarded++;
      const owner = this.m.system.ownerOf(ldlt.tightestRow);
      if (!this.near)
        this.list({
          t: this.t,
          kind: 'singular',
          element: { family: owner?.family ?? 'joints', name: owner?.name ?? '' },
          values: { ratio },
          message: 'The machine passes near a singular position, where its motion could branch.',
        });
    }
    this.near = this.stepper.careful = this.guard;
  }

  /** The state at hand as exactly on the constraints as the stages of a guarded step. */
  private startExactly(): void {
    const { system } = this.m;
    system.K.load(this.y);
    this.project(this.t, this.exactly);
    system.K.store(this.y);
    system.evaluate(this.t, this.y, this.stepper.f0);
  }

  /**
   * A singular position within the next step is put into its middle, where no stage of the method lies (0.333 and 0.6 are next to it): stages close to
   * it would be brought onto constraints that say next to nothing. The square root of the smallest pivot vanishes linearly in time there.
   * Needs the factorisation at the start of the step. @returns the length of the step, s
   */
  private stepOver(h: number): number {
    const { way } = this,
      { system } = this.m;
    const { K, ldlt } = system;
    const now = Math.sqrt(ldlt.tightest),
      ahead = 1e-3 * h;
    K.motion(way);
    K.displace(way, ahead);
    system.linearise();
    const then = Math.sqrt(ldlt.tightest);
    system.evaluate(this.t, this.y, this.rates);
    const until = then < now ? (now * ahead) / (now - then) : Infinity;
    if (!Number.isFinite(until)) this.refusedFrom = Infinity;
    // from half as far a step across is half as long
    if (until < 0.6 * this.refusedFrom && (until < h || this.refusedFrom < Infinity)) {
      this.across = true;
      this.refusedFrom = until;
      return 2 * until;
    }
    return Math.min(h, this.refusedFrom < Infinity ? Math.max(0.5 * until, until - 0.5 * this.refusedFrom) : h);
  }

  /**
   * How much more than the error of a step is allowed, 1 at least. Near a singular position rounding may come to more than a step is allowed, and a shorter
   * step only makes it worse: what differs when the step is made again, its length changed in the last digits, is rounding alone.
   */
  private leeway(error: number, h: number): number {
    if (!this.across || this.stepper.implicit) return 1;
    const again = this.stepper.attempt(this.t, this.y, h * (1 + LAST_DIGITS));
    if (!(Math.abs(again - error) > ROUNDING * error)) return 1;
    this.rounded = Math.max(this.rounded, (error * this.tolerance) / this.options.accuracy);
    return error;
  }

  /**
   * Whether the step just attempted ends next to a singular position, having begun further away, while another might not. Its last stage lies at its end.
   * @param ratio of the tightest pivot at its start
   */
  private endsTooNear(ratio: number): boolean {
    const { ldlt } = this.m.system,
      near = TOO_NEAR * this.usual;
    if (this.stepper.implicit || ratio < near || !(ldlt.tightest < near) || this.sidesteps >= SIDESTEPS) return false;
    this.sidesteps++;
    return true;
  }

  /** Whether the step just attempted holds, on the constraints as well; the state at its end is then in `at`. */
  private accepts(t1: number, error: number): boolean {
    const { stepper, rates } = this;
    const { system } = this.m;
    if (!(error <= 1 && finite(stepper.y1))) return false;
    if (stepper.implicit) system.evaluate(t1, stepper.y1, rates); // K and the factorisation of y1
    const enough = this.guard ? this.exactly : this.enough;
    if (!(system.projectPositions(t1, enough) < HELD.position && system.projectVelocities(t1, 3 * enough) < HELD.velocity)) return false;
    system.K.store(this.at);
    return true;
  }

  /** The time of the first event of the step just accepted, if there is one; its state is then in `at`. */
  private eventIn(t1: number): number | undefined {
    if (!this.watched.watching) return undefined;
    this.guard = false;
    this.kept.set(this.at);
    const found = this.watched.first(this.t, t1, this.stateAt);
    if (found === undefined) this.at.set(this.kept);
    else if (!this.endsAt(found)) {
      this.stateAt(found);
      this.m.system.K.store(this.at);
    }
    return found;
  }
  /**
   * Takes a step anew that ends where an event is, an implicit one, or one in which solids part: across a corner its polynomial is not to be relied on.
   * @returns whether that was done
   */
  private endsAt(t: number): boolean {
    const { stepper } = this;
    return (stepper.implicit || this.touching) && t > this.t && stepper.attempt(this.t, this.y, t - this.t) <= 1 && this.accepts(t, 0);
  }

  private countStep(length: number, implicit: boolean): void {
    const { stats } = this;
    stats.steps++;
    if (implicit) stats.implicit++;
    stats.smallestStep = Math.min(stats.smallestStep, length);
    stats.largestStep = Math.max(stats.largestStep, length);
  }

  /** Records what falls into the step that ends at t1. */
  private *record(t1: number): Part {
    const { m, y, stats, recorder, turns } = this;
    const { guard } = this;
    this.guard = false;
    let together = m.memories.cells === 0 && !this.companion?.record;
    while (this.next < this.total && this.timeOf(this.next) <= t1) {
      if (together) {
        const before = this.next;
        // one that has to be brought onto the constraints is made by itself, and those after it are likely to be as well
        together = this.recordTogether(t1);
        if (recorder.full) yield* recorder.flush(this.timeOf(this.next - 1));
        if (this.next > before) continue;
      }
      const t = this.timeOf(this.next++);
      if (t === t1) y.set(this.at);
      else this.stepper.interpolate(t, y);
      ontoConstraints(m, t, y, stats, this.options.accuracy, this.enough);
      turns.follow(t);
      if (!recorder.put(t, turns)) return yield* this.failed(notFinite(m, t));
      if (this.companion?.record) {
        m.system.K.store(y);
        this.companion.record(t, y);
      }
      if (recorder.full) yield* recorder.flush(t);
      else if (this.next % 16 === 0) yield { type: 'progress', t };
    }
    this.guard = guard;
    return true;
  }

  /**
   * Records what falls into the step and ends before t1 by the machine's own code, as far as there is room for it.
   * @returns whether the next may be recorded so as well
   */
  private recordTogether(t1: number): boolean {
    const { stepper, recorder, turns, stats, nearEnough } = this,
      how = stepper.recording();
    if (!how) return false;
    const { times, rows, stride, told } = how,
      most = Math.min(how.most, recorder.room, this.total - this.next);
    let n = 0;
    for (; n < most; n++) {
      const t = this.timeOf(this.next + n);
      if (!(t < t1)) break;
      times[n] = t;
    }
    if (n === 0) return false;
    stepper.record(how, n);
    for (let i = 0, at = 0; i < n; i++, at += stride) {
      const look = at + told,
        position = rows[look]!,
        velocity = rows[look + 1]!;
      if (!(position <= nearEnough.position && velocity <= nearEnough.velocity)) return false;
      turns.note(times[i]!, rows, look + 3);
      if (!recorder.take(rows, at, turns, rows[look + 2]!)) return false;
      stats.positionResidual = Math.max(stats.positionResidual, position);
      stats.velocityResidual = Math.max(stats.velocityResidual, velocity);
      this.next++;
    }
    return true;
  }

  /** Modes change at the state in y. */
  private *atEvent(): Part {
    const { m, t, y, turns, rates, limits } = this;
    const { system } = m;
    this.crowd = t - this.lastEvent > APART * this.options.until ? 1 : this.crowd + 1;
    this.lastEvent = t;
    system.K.load(y);
    const refused = this.happens();
    if (refused) return yield* this.failed(refused);
    this.stats.limits.event++;
    system.K.store(y);
    this.companion?.changed(t, y, this.watched.fired);
    if (limits.watches.some((w) => w.watch.passedAt !== undefined)) {
      ontoConstraints(m, t, y, this.stats, this.options.accuracy);
      turns.follow(t);
      if (this.timeOf(this.next - 1) !== t && this.recorder.put(t, turns)) {
        system.K.store(y);
        this.companion?.record?.(t, y, true);
      }
      return yield* this.withinLimits();
    }
    const wrong = passed(m, t);
    if (wrong) return yield* this.failed(wrong);
    this.stepper.restart();
    if (this.crowd > CROWDED) return yield* this.failed(crowded(t, this.happenings.at(-1)));
    system.evaluate(t, y, rates);
    turns.follow(t);
    yield { type: 'progress', t };
    return true;
  }

  /** Lets happen what happens now. @returns why the run cannot go on from there */
  private happens(): Diagnosis | undefined {
    try {
      for (const x of this.fire()) this.list(x);
      return undefined;
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      return { ...e.diagnoses[0]!, time: this.t };
    }
  }

  /** Fires the watches at the state in K and brings the mechanism onto the rows that now hold; energy lost at once is accounted for. */
  private fire(): Happening[] {
    const { list, before, jump } = fireAt(this.m, this.watched, this.t, () => this.project(this.t));
    const [first, ...rest] = list;
    if (!first || Math.abs(jump) <= 1e-6 * Math.max(before, 1e-12)) return list;
    const energy = `${formatQuantity(Math.abs(jump), D.energy, 'J', 3)} ${jump < 0 ? 'lost' : 'put in'} at once.`;
    return [{ ...first, message: `${first.message} ${energy}`, values: { ...first.values, energy: jump } }, ...rest];
  }

  private list(x: Happening): void {
    if (this.happenings.length < LISTED) this.happenings.push(x);
  }

  private tellOfMethod(before: boolean, step: number): void {
    const { implicit } = this.stepper;
    if (implicit === before) return;
    this.list({
      t: this.t,
      kind: implicit ? 'stiff' : 'not stiff',
      element: { family: 'run', name: 'Solver' },
      values: { step },
      message: implicit ? 'The machine is stiff here: implicit steps from now on.' : 'No longer stiff: explicit steps from now on.',
    });
  }

  /** Ends the run where a limit that stops it has been passed. */
  private *withinLimits(): Part {
    const { system } = this.m;
    system.accelerate(this.t);
    const reason = this.limits.reason(system.K, this.t);
    return reason ? yield* this.over('stopped', [reason]) : true;
  }

  private *failed(d: Omit<Diagnosis, 'severity'>): Part {
    return yield* this.over('failed', [{ severity: 'error', time: this.t, ...(withoutInertia(this.m) ?? d) }]);
  }

  private *over(status: RunStatus, found: readonly Diagnosis[]): Part {
    const { stats, stepper, happenings, t } = this;
    const { evaluations, factorisations } = this.m.system;
    yield* this.recorder.flush(t);
    Object.assign(stats, { evaluations, factorisations, jacobians: stepper.jacobians });
    yield { type: 'end', status, t, statistics: stats, diagnoses: [...found, ...stepper.refused()], happenings };
    return false;
  }
}

/** A step that ends at the segment's end, or leaves at least as much to the next. */
const stepWithin = (left: number, h: number): number => (left < 1.0001 * h ? left : left < 2 * h ? left / 2 : h);

/** A first step small enough for the accelerations at hand (they move a body by the tolerance's eighth root of its size). */
function firstStep(dy: Float64Array, { kind }: StateLayout, size: number, tolerance: number): number {
  let rate = 1e-3;
  for (let j = 0; j < kind.length; j++) {
    const x = Math.abs(dy[j]!);
    if (kind[j] === KIND.place) rate = Math.max(rate, x / size);
    else if (kind[j] === KIND.turn) rate = Math.max(rate, x);
    else if (kind[j] === KIND.velocity) rate = Math.max(rate, Math.sqrt(x / size));
    else if (kind[j] === KIND.spin) rate = Math.max(rate, Math.sqrt(x));
  }
  return (0.5 * eighthRoot(tolerance)) / rate;
}

const jammed = (t: number): Omit<Diagnosis, 'severity'> => ({
  code: 'friction-jam',
  message: `Friction and joint loads find no balance at t = ${t.toPrecision(6)} s.`,
  why: 'The joint locks itself: more load gives more friction, and that more load.',
  remedy: 'Lower the friction coefficient, or lengthen the guide.',
});

const crowded = (t: number, last: Happening | undefined): Omit<Diagnosis, 'severity'> => ({
  code: 'events-crowded',
  message: `Events follow each other without end at t = ${t.toPrecision(6)} s.`,
  why: 'A friction, stop or switch changes back and forth at once.',
  remedy: 'Give the condition some width, or the stop some damping.',
  ...(last ? { element: last.element } : {}),
});
