/**
 * The dynamic run: explicit integration of order 8 on the accelerations, positions and velocities projected onto
 * the constraints after every accepted step (and at every stage near a singular position), recording through dense
 * output so that the recording interval never changes the steps. (docs/architecture.md, "The solver")
 */
import type { Diagnosis } from '../diagnosis';
import type { Mechanism } from '../system/mechanism';
import { type RecordLayout, type RunStatistics, offsets, recordLayout } from '../results/record';
import type { RunStatus } from '../results/status';
import { D } from '../quantity/dimension';
import { formatQuantity } from '../quantity/units';
import { closingError } from '../system/ledger';
import { eighthRoot } from '../quantity/elementary';
import { ledgerStates } from '../system/ledger';
import { Refusal } from '../diagnosis';
import type { System } from '../system/system';
import { assemble, close, openGroups, chooseModes } from './assemble';
import { Events, type Happening } from './events';
import type { Method } from '../model/run-settings';
import { finite, notFinite } from './finite';
import { freedomCount } from './reduced';
import { Stepper } from './stepper';
import { StopLimits } from './stop-limits';
import { ErrorScale } from './tolerance';
import { Turns } from './turns';

export interface RunOptions {
  /** End time, s. */
  until: number;
  /** Recording interval, s. */
  every: number;
  /** Asked accuracy of the motion, relative. */
  accuracy: number;
  /** Integration method; `auto` takes the explicit one until stability holds it back. */
  method?: Method;
  /** State to start from instead of the assembled one: as recorded by a run of the same mechanism. */
  start?: Float64Array;
  /** Set by the caller to end the run; what was computed is kept. */
  signal?: { cancelled: boolean };
}

export type RunEvent =
  | { type: 'records'; count: number; data: Float64Array; t: number }
  | { type: 'progress'; t: number }
  | { type: 'end'; status: RunStatus; t: number; statistics: RunStatistics; diagnoses: Diagnosis[]; happenings: Happening[] };

/** Local error per step against asked accuracy: measured over the verification problems, see docs/architecture.md. */
const CALIBRATION = 100;
const TIGHTEST = 1e-10;
/** Below this fraction of its usual value, a loop-closing pivot announces a singular position. */
const NEAR_SINGULAR = 1e-2;
const CHUNK = 256;
/** Residuals after projection beyond which a step is refused rather than recorded. */
const HELD = { position: 1e-8, velocity: 1e-7 };

/** Events at one and the same time beyond which a run gives up. */
const CROWDED = 100;
/** Happenings told one by one; beyond that they are only counted. */
const TOLD = 500;

/** Runs a mechanism from its assembled start. Yields often enough to be cancelled. @throws Refusal when it cannot start */
export function* simulate(m: Mechanism, options: RunOptions): Generator<RunEvent, void, void> {
  const { system } = m;
  const { K, ldlt } = system;
  const { until, every, signal } = options;
  const y = options.start ? resume(m, options.start) : assemble(m).y;
  const layout = recordLayout(m);
  const tolerance = Math.max(TIGHTEST, options.accuracy / CALIBRATION);
  const scale = new ErrorScale(system, m.size, tolerance);
  const stats = noStatistics();
  const total = recordCount(until, every),
    timeOf = recordTime(until, every);

  let guard = false,
    near = false;
  let usual = 0;
  const guarded = new Float64Array(system.size);
  const derivative = (t: number, state: Float64Array, dy: Float64Array): void => {
    if (!guard) {
      system.evaluate(t, state, dy);
      return;
    }
    K.load(state);
    system.linearise();
    system.projectPositions(t);
    system.projectVelocities(t);
    K.store(guarded);
    system.evaluate(t, guarded, dy);
  };
  const stepper = new Stepper(system, derivative, scale, options.method ?? 'auto');
  const recorder = new Recorder(layout, m, stats);
  const happenings: Happening[] = [];
  const at = new Float64Array(system.size),
    kept = new Float64Array(system.size);
  const rates = new Float64Array(system.size);

  system.segment(0, until);
  system.evaluate(0, y, rates);
  let t = 0;
  const turns = new Turns(m.angles, K, 0);
  const limits = new StopLimits(m, turns),
    events = new Events(system, [...m.watches, ...limits.watches]);
  const first = recorder.put(0, turns);
  let next = 1;
  let crowd = 0;
  const failed = (d: Omit<Diagnosis, 'severity'>): RunEvent => end('failed', [{ severity: 'error', time: t, ...d }]);
  const end = (status: RunStatus, found: Diagnosis[]): RunEvent => {
    const diagnoses = [...found, ...stepper.refused()];
    stats.evaluations = system.evaluations;
    stats.factorisations = system.factorisations;
    stats.jacobians = stepper.jacobians;
    return { type: 'end', status, t, statistics: stats, diagnoses, happenings };
  };
  /** Puts the interpolated state at a time of the last step into the system, on the constraints. */
  const stateAt = (time: number): void => {
    stepper.interpolate(time, at);
    K.load(at);
    system.linearise();
    system.projectPositions(time);
    system.projectVelocities(time);
  };

  const stopped = function* (): Generator<RunEvent, boolean, void> {
    const reason = limits.reason(K, t);
    if (!reason) return false;
    yield* recorder.flush(t);
    yield end('stopped', [reason]);
    return true;
  };
  if (!first) {
    yield failed(notFinite(m, 0));
    return;
  }
  if (limits.watches.length > 0) {
    if (yield* stopped()) return;
  }

  const stops = [...breakTimes(m, until, limits.times(until)), until];
  for (const stop of stops) {
    let fresh = true;
    while (t < stop) {
      system.segment(t, stop);
      const longest = Math.min(stop - t, until / 100);
      system.evaluate(t, y, stepper.f0);
      scale.watch();
      if (!finite(stepper.f0)) {
        yield* recorder.flush(t);
        yield failed(notFinite(m, t));
        return;
      }
      let h = firstStep(stepper.f0, system.bodies, m.size, tolerance);
      if (fresh) stepper.restart();
      fresh = false;
      // within a segment until its end or an event
      for (let event = false; t < stop && !event;) {
        if (signal?.cancelled) {
          yield* recorder.flush(t);
          yield end('cancelled', []);
          return;
        }
        const capped = h > longest;
        h = Math.min(h, longest);
        if (stop - t < 1.0001 * h) h = stop - t;
        else if (stop - t < 2 * h) h = (stop - t) / 2;
        const ratio = ldlt.tightest;
        guard = ratio < NEAR_SINGULAR * usual;
        usual = Math.max(usual, ratio);
        if (guard) {
          stats.guarded++;
          if (!near && happenings.length < TOLD)
            happenings.push({
              t,
              kind: 'singular',
              ...rowOwner(m, ldlt.tightestRow),
              values: { ratio },
              message: 'The machine passes near a singular position, where its motion could branch.',
            });
        }
        near = guard;
        let t1 = stop - t === h ? stop : t + h;
        const error = stepper.attempt(t, y, h);
        let accepted = error <= 1 && finite(stepper.y1);
        if (accepted) {
          if (stepper.implicit) system.evaluate(t1, stepper.y1, rates); // K and the factorisation of y1
          const position = system.projectPositions(t1);
          const velocity = position < HELD.position ? system.projectVelocities(t1) : Infinity;
          accepted = position < HELD.position && velocity < HELD.velocity;
          if (accepted) K.store(at);
        }
        if (!accepted) {
          stats.rejected++;
          stats.limits.error++;
          h *= stepper.cut(error);
          if (h < 1e-13 * Math.max(until, t)) {
            yield* recorder.flush(t);
            yield failed(stuck(m, t, system));
            return;
          }
          system.evaluate(t, y, rates); // the factorisation has moved on
          if (stepper.implicit) stepper.f0.set(rates);
          yield { type: 'progress', t };
          continue;
        }
        const implicit = stepper.implicit;
        if (events.watching) {
          guard = false;
          kept.set(at);
          const found = events.first(t, t1, stateAt);
          if (found !== undefined) {
            event = true;
            t1 = found;
            stateAt(t1);
            K.store(at);
          } else at.set(kept);
        }
        stats.steps++;
        if (implicit) stats.implicit++;
        stats.smallestStep = Math.min(stats.smallestStep, t1 - t);
        stats.largestStep = Math.max(stats.largestStep, t1 - t);
        while (next < total && timeOf(next) <= t1) {
          const held = guard;
          guard = false;
          const tr = timeOf(next++);
          if (tr === t1) y.set(at);
          else stepper.interpolate(tr, y);
          ontoConstraints(m, tr, y, stats, options.accuracy);
          turns.follow(K, tr);
          if (!recorder.put(tr, turns)) {
            yield* recorder.flush(t);
            yield failed(notFinite(m, tr));
            return;
          }
          guard = held;
          if (recorder.full) yield* recorder.flush(tr);
          else if (next % 16 === 0) yield { type: 'progress', t: tr };
        }
        const same = t1 === t;
        y.set(at);
        t = t1;
        if (event) {
          crowd = same || t1 - t < 1e-12 * until ? crowd + 1 : Math.max(0, crowd - 1);
          K.load(y);
          for (const x of fireAll(m, events, t)) if (happenings.length < TOLD) happenings.push(x);
          stats.limits.event++;
          K.store(y);
          if (limits.watches.some((w) => w.watch.passedAt !== undefined)) {
            ontoConstraints(m, t, y, stats, options.accuracy);
            turns.follow(K, t);
            if (next === 0 || timeOf(next - 1) !== t) recorder.put(t, turns);
            yield* stopped();
            return;
          }
          stepper.restart();
          if (crowd > CROWDED) {
            yield* recorder.flush(t);
            yield failed({
              code: 'events-crowded',
              message: `Events follow each other without end at t = ${t.toPrecision(6)} s.`,
              why: 'A friction, stop or switch changes back and forth at once.',
              remedy: 'Give the condition some width, or the stop some damping.',
              ...(happenings.at(-1) ? { element: happenings.at(-1)!.element } : {}),
            });
            return;
          }
          system.evaluate(t, y, rates);
          turns.follow(K, t);
          yield { type: 'progress', t };
          break;
        }
        crowd = 0;
        const limited = stepper.judge(h);
        if (stepper.implicit !== implicit && happenings.length < TOLD)
          happenings.push({
            t,
            kind: stepper.implicit ? 'stiff' : 'not stiff',
            element: { family: 'run', name: 'Solver' },
            values: { step: h },
            message: stepper.implicit
              ? 'The machine is stiff here: implicit steps from now on.'
              : 'No longer stiff: explicit steps from now on.',
          });
        if (guard) stats.limits.singular++;
        else if (limited) stats.limits.stability++;
        else if (capped) stats.limits.longest++;
        else stats.limits.accuracy++;
        if (system.unsettled) {
          yield* recorder.flush(t);
          yield failed({
            code: 'friction-jam',
            message: `Friction and joint loads find no balance at t = ${t.toPrecision(6)} s.`,
            why: 'The joint locks itself: more load gives more friction, and that more load.',
            remedy: 'Lower the friction coefficient, or lengthen the guide.',
          });
          return;
        }
        system.evaluate(t, y, stepper.f0);
        scale.watch();
        turns.follow(K, t);
        m.memories.follow(K);
        h *= implicit === stepper.implicit ? stepper.factor(error) : 1;
        yield { type: 'progress', t };
      }
    }
  }
  yield* recorder.flush(t);
  K.load(y);
  yield end('done', [...(recorder.moved ? [] : [stoodStill(m)]), ...audit(m, t, options.accuracy, recorder.liveliest)]);
}

/** Fires the watches at the state in K and brings the mechanism onto the rows that now hold; energy lost at once is accounted for. */
function fireAll(m: Mechanism, events: Events, t: number): Happening[] {
  const { system, ledgers } = m;
  const { K } = system;
  const before = ledgers.kinetic(K);
  const list = events.fire(t, () => {
    system.linearise();
    system.projectPositions(t);
    system.projectVelocities(t);
    chooseModes(m, t);
  });
  const jump = ledgers.kinetic(K) - before;
  K.z[ledgers.start.first] = K.z[ledgers.start.first]! + jump;
  const [first, ...rest] = list;
  if (!first || Math.abs(jump) <= 1e-6 * Math.max(before, 1e-12)) return list;
  return [
    {
      ...first,
      message: `${first.message} ${formatQuantity(Math.abs(jump), D.energy, 'J', 3)} ${jump < 0 ? 'lost' : 'put in'} at once.`,
      values: { ...first.values, energy: jump },
    },
    ...rest,
  ];
}

/** A recorded state as a start. @throws Refusal when it is of another mechanism */
function resume(m: Mechanism, start: Float64Array): Float64Array {
  const { system } = m;
  const y = assemble(m).y;
  const same = 13 * system.bodies;
  if (start.length < same)
    throw new Refusal([
      {
        code: 'start-other',
        severity: 'error',
        message: 'The state to start from has other bodies than this model.',
        remedy: 'Start from a run of this model.',
      },
    ]);
  y.set(start.subarray(0, same));
  const { K } = system;
  K.load(y);
  for (const g of system.groups) for (const c of g.constraints) c.reset();
  for (const d of m.drives) d.course.begin(K);
  for (const q of m.counters) q.begin(K);
  for (const s of m.switches) s.switch.begin(K, 0);
  const remembered = start.length === system.size + m.memories.cells ? start.subarray(system.size) : undefined;
  if (remembered) m.memories.recall(remembered);
  system.linearise();
  const gap = close(system);
  const open = openGroups(m);
  if (open.length > 0 || gap > HELD.position) throw new Refusal(open);
  for (const f of m.assembly.forces) f.force.begin?.(K, 0);
  if (remembered) m.memories.recall(remembered);
  system.linearise();
  system.projectVelocities(0);
  chooseModes(m);
  for (const l of ledgerStates(m.ledgers)) l.begin(K);
  K.store(y);
  return y;
}

/** The element a row belongs to. */
const rowOwner = ({ system }: Mechanism, row: number): { element: { family: string; name: string } } => {
  const g = system.groups.find((x) => x.constraints.some((c) => row >= c.row && row < c.row + c.rows));
  return { element: { family: g?.family ?? 'joints', name: g?.name ?? '' } };
};

/** Why the step shrank to nothing: a formula that is not finite, a locked position with the joint that binds, or forces without limit. */
function stuck(m: Mechanism, t: number, system: System): Omit<Diagnosis, 'severity'> {
  const { ldlt } = system;
  const at = ldlt.tightestRow;
  const group = system.groups.find((g) => g.constraints.some((c) => at >= c.row && at < c.row + c.rows));
  if (ldlt.tightest < 1e-4 && group) {
    return {
      code: 'solver-locked',
      message: `The mechanism locks at t = ${t.toPrecision(6)} s; ${group.name} binds.`,
      why: 'It has come to a dead centre or a singular position, past which the drive cannot lead it.',
      remedy: 'Drive another joint, or shorten the stroke.',
      element: { family: group.family, name: group.name },
      path: [group.family, m.model[group.family].findIndex((e) => e.name === group.name)],
    };
  }
  return {
    code: 'solver-stuck',
    message: `The solver cannot get past t = ${t.toPrecision(6)} s.`,
    why: 'The motion changes faster and faster there: a locked position, or a force that grows without limit.',
    remedy: 'Look at the posture at this time; check formulas that divide, and very stiff springs.',
  };
}

export const noStatistics = (): RunStatistics => ({
  steps: 0,
  rejected: 0,
  evaluations: 0,
  factorisations: 0,
  jacobians: 0,
  guarded: 0,
  implicit: 0,
  smallestStep: Infinity,
  largestStep: 0,
  records: 0,
  positionResidual: 0,
  velocityResidual: 0,
  limits: { accuracy: 0, stability: 0, longest: 0, singular: 0, event: 0, error: 0 },
});

const wholeCount = (until: number, every: number): number => Math.floor(until / every + 1e-9) + 1;
export const recordTime =
  (until: number, every: number) =>
  (i: number): number =>
    i < wholeCount(until, every) ? Math.min(until, i * every) : until;
/** Number of recorded times: the end is always one of them. */
export const recordCount = (until: number, every: number): number => {
  const count = wholeCount(until, every);
  return recordTime(until, every)(count - 1) < until - 1e-9 * every ? count + 1 : count;
};

/** Brings an interpolated state onto the constraints and solves for its accelerations and multipliers. */
export function ontoConstraints({ system, size }: Mechanism, t: number, y: Float64Array, stats: RunStatistics, accuracy: number): void {
  // what is left may be a hundredth of the accuracy asked
  const slack = 0.01 * accuracy * size;
  system.K.load(y);
  system.accelerate(t);
  const p0 = system.residual(t);
  const v0 = system.velocityResidual(t, true);
  let [p, v] = [p0, v0];
  if (p0 > Math.min(slack, 0.5 * HELD.position) || v0 > Math.min(slack, 0.5 * HELD.velocity)) {
    p = system.projectPositions(t);
    v = system.projectVelocities(t);
    system.accelerate(t);
  }
  stats.positionResidual = Math.max(stats.positionResidual, p);
  stats.velocityResidual = Math.max(stats.velocityResidual, v);
}

/** A first step small enough for the accelerations at hand (they move a body by the tolerance's eighth root of its size). */
function firstStep(dy: Float64Array, bodies: number, size: number, tolerance: number): number {
  let rate = 1e-3;
  for (let i = 0; i < bodies; i++) {
    for (let k = 0; k < 3; k++) {
      rate = Math.max(rate, Math.abs(dy[7 * i + k]!) / size, Math.sqrt(Math.abs(dy[7 * bodies + 6 * i + k]!) / size));
      rate = Math.max(rate, Math.sqrt(Math.abs(dy[7 * bodies + 6 * i + 3 + k]!)));
    }
    for (let k = 3; k < 7; k++) rate = Math.max(rate, Math.abs(dy[7 * i + k]!));
  }
  return (0.5 * eighthRoot(tolerance)) / rate;
}

/** Times at which a formula of time has a kink: the run is split there. */
export function breakTimes(m: Mechanism, until: number, others: readonly number[] = []): number[] {
  const programs = [
    ...m.drives.map((d) => d.course.law),
    ...m.switches.flatMap((s) => s.switch.programs),
    ...m.assembly.forces.flatMap((f) => f.force.programs ?? []),
  ];
  const times = [...programs.flatMap((p) => p.kinks(0, until).map((k) => k.t)), ...others].sort((a, b) => a - b);
  return times.filter((t, i) => i === 0 || t - times[i - 1]! > 1e-9 * until);
}

/** Energy that nothing has put in, and passive loads that feed energy in. @param liveliest largest kinetic energy of the run, J */
function audit(m: Mechanism, t: number, accuracy: number, liveliest: number): Diagnosis[] {
  const { system, ledgers, model } = m;
  const { K } = system;
  const scale = Math.max(liveliest, ...ledgers.drives.map((d) => Math.abs(d.work(K))), ...ledgers.loads.map((l) => Math.abs(l.fed(K, t))));
  const open = closingError(ledgers, K);
  const out: Diagnosis[] = [];
  // below a billionth of what lifting the machine by its own size takes there is nothing to be said of energy
  const floor = Math.max(100 * accuracy * scale, 1e-9 * 9.80665 * m.size * m.bodies.reduce((s, b) => s + b.mass, 0));
  if (Math.abs(open) > floor) {
    out.push({
      code: 'energy-open',
      severity: 'warning',
      message: `The energy balance stays open by ${formatQuantity(open, D.energy, 'J', 3)} at the end.`,
      why: 'The motion was not followed accurately enough, or a force does not say the energy it stores.',
      remedy: 'Run again with a finer accuracy and compare.',
      time: t,
    });
  }
  m.bodies.forEach((b, i) => {
    const way = [0, 1, 2].map((k) => K.r[3 * i + k]! - b.origin[k as 0]),
      far = Math.max(...way.map(Math.abs));
    const leaving = way.reduce((s, x, k) => s + x * K.v[3 * i + k]!, 0) / far;
    // what has come to rest there is held
    if (far > 100 * m.size && leaving * t > 0.1 * far)
      out.push({
        code: 'body-away',
        severity: 'warning',
        message: `It ended ${formatQuantity(far, D.length, 'm', 3)} away from where it was drawn, and moves on at ${formatQuantity(leaving, D.speed, 'm/s', 3)}.`,
        why: 'Perhaps nothing carries it or holds it back.',
        remedy: 'Add the joint, stop or spring that should carry it.',
        time: t,
        element: { family: 'bodies', name: b.name },
        path: ['bodies', model.bodies.findIndex((x) => x.name === b.name)],
      });
  });
  for (const l of ledgers.loads) {
    const passive = !l.force.programs?.length;
    const fed = l.fed(K, t);
    if (!passive || fed <= floor) continue;
    out.push({
      code: 'energy-fed',
      severity: 'warning',
      message: `It has fed ${formatQuantity(fed, D.energy, 'J', 3)} into the machine.`,
      why: 'A spring, damper or bushing can only store and take energy.',
      remedy: 'Check the signs of its damping.',
      time: t,
      element: { family: 'loads', name: l.name },
      path: ['loads', model.loads.findIndex((x) => x.name === l.name)],
    });
  }
  return out;
}

export function stoodStill(m: Mechanism): Diagnosis {
  const free = freedomCount(m.system),
    { forces } = m.assembly;
  if (free > 0 && forces.length > 0)
    return {
      code: 'run-still',
      severity: 'note',
      message: 'Nothing moved: the machine stands in equilibrium.',
      why: `Its loads balance each other along its ${free} free degree${free === 1 ? '' : 's'} of freedom.`,
      remedy: 'Give it a start motion or a drive if it should move.',
    };
  const why =
    free > 0
      ? 'There is no drive and no load, not even gravity.'
      : m.drives.length > 0
        ? 'Its joints and drives hold every degree of freedom, and the drives stand still.'
        : 'Its joints hold every degree of freedom.';
  return {
    code: 'run-still',
    severity: 'warning',
    message: 'Nothing moved in this run.',
    why,
    remedy: 'See the mobility above the scene, and what each joint holds.',
  };
}

/** Gathers recorded states and hands them on in chunks. */
export class Recorder {
  moved = false;
  /** Largest kinetic energy recorded, J. */
  liveliest = 0;
  private chunk: Float64Array;
  private filled = 0;
  private readonly from: ReturnType<typeof offsets>;
  private first: Float64Array | undefined;
  constructor(
    private readonly layout: RecordLayout,
    private readonly m: Mechanism,
    private readonly stats: RunStatistics,
  ) {
    this.chunk = new Float64Array(CHUNK * layout.width);
    this.from = offsets(layout);
  }
  get full(): boolean {
    return this.filled === CHUNK;
  }
  /** @returns false, and keeps nothing, when a number of it is not finite */
  put(t: number, turns: Turns): boolean {
    const { system, size, memories } = this.m;
    const row = this.chunk.subarray(this.filled * this.layout.width, (this.filled + 1) * this.layout.width);
    row[0] = t;
    system.K.store(row.subarray(this.from.state, this.from.acceleration));
    row.set(system.acceleration, this.from.acceleration);
    row.set(system.multipliers, this.from.multipliers);
    row.set(turns.angle, this.from.angles);
    memories.follow(system.K);
    memories.keep(row, this.from.memory);
    if (!finite(row)) return false;
    this.liveliest = Math.max(this.liveliest, this.m.ledgers.kinetic(system.K));
    this.filled++;
    this.stats.records++;
    if (this.moved) return true;
    const positions = row.subarray(this.from.state, this.from.state + 7 * system.bodies);
    this.first ??= positions.slice();
    const first = this.first;
    this.moved = positions.some((x, i) => Math.abs(x - first[i]!) > (i % 7 < 3 ? 1e-9 * size : 1e-9));
    return true;
  }
  *flush(t: number): Generator<RunEvent, void, void> {
    if (this.filled === 0) return;
    yield { type: 'records', count: this.filled, data: this.chunk.slice(0, this.filled * this.layout.width), t };
    this.filled = 0;
  }
}
