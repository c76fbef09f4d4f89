/**
 * The dynamic run: explicit integration of order 8 on the accelerations, positions and velocities projected onto
 * the constraints after every accepted step (and at every stage near a singular position), recording through dense
 * output so that the recording interval never changes the steps. (docs/architecture.md, "The solver")
 */
import type { Diagnosis } from '../diagnosis';
import type { Mechanism } from '../system/mechanism';
import { type RecordLayout, type RunStatistics, offsets, recordLayout } from '../results/record';
import { D } from '../quantity/dimension';
import { formatQuantity } from '../quantity/units';
import { closingError } from '../system/ledger';
import { eighthRoot } from '../quantity/elementary';
import { assemble } from './assemble';
import { Dop853 } from './dop853';
import { ErrorScale } from './tolerance';
import { Turns } from './turns';

export interface RunOptions {
  /** End time, s. */
  until: number;
  /** Recording interval, s. */
  every: number;
  /** Asked accuracy of the motion, relative. */
  accuracy: number;
  /** Set by the caller to end the run; what was computed is kept. */
  signal?: { cancelled: boolean };
}

export type RunEvent =
  | { type: 'records'; count: number; data: Float64Array; t: number }
  | { type: 'progress'; t: number }
  | { type: 'end'; status: 'done' | 'cancelled' | 'failed'; t: number; statistics: RunStatistics; diagnoses: Diagnosis[] };

/** Local error per step against asked accuracy: measured over the verification problems, see docs/architecture.md. */
const CALIBRATION = 100;
const TIGHTEST = 1e-10;
/** Below this fraction of its usual value, a loop-closing pivot announces a singular position. */
const NEAR_SINGULAR = 1e-2;
const CHUNK = 256;
/** Residuals after projection beyond which a step is refused rather than recorded. */
const HELD = { position: 1e-8, velocity: 1e-7 };

/** Runs a mechanism from its assembled start. Yields often enough to be cancelled. @throws Refusal when it cannot start */
export function* simulate(m: Mechanism, options: RunOptions): Generator<RunEvent, void, void> {
  const { system } = m;
  const { K, ldlt } = system;
  const { until, every, signal } = options;
  const { y } = assemble(m);
  const layout = recordLayout(m);
  const tolerance = Math.max(TIGHTEST, options.accuracy / CALIBRATION);
  const scale = new ErrorScale(system, m.size, tolerance);
  const stats: RunStatistics = { steps: 0, rejected: 0, evaluations: 0, factorisations: 0, guarded: 0, smallestStep: Infinity, largestStep: 0, records: 0, positionResidual: 0, velocityResidual: 0 };
  const count = Math.floor(until / every + 1e-9) + 1;
  const timeOf = (i: number) => (i < count ? Math.min(until, i * every) : until);
  const total = timeOf(count - 1) < until - 1e-9 * every ? count + 1 : count;

  let guard = false;
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
  const method = new Dop853(system.size, derivative);
  const recorder = new Recorder(layout, m, stats);
  const at = new Float64Array(system.size);
  const rates = new Float64Array(system.size);

  system.segment(0, until);
  system.evaluate(0, y, method.k[0]!);
  const turns = new Turns(m.angles, K, 0);
  recorder.put(0, turns);
  let next = 1;
  let t = 0;
  const failed = (d: Omit<Diagnosis, 'severity'>): RunEvent => end('failed', [{ severity: 'error', time: t, ...d }]);
  const end = (status: 'done' | 'cancelled' | 'failed', diagnoses: Diagnosis[]): RunEvent => {
    stats.evaluations = system.evaluations;
    stats.factorisations = system.factorisations;
    return { type: 'end', status, t, statistics: stats, diagnoses };
  };

  const stops = [...breakTimes(m, until), until];
  for (const stop of stops) {
    system.segment(t, stop);
    system.evaluate(t, y, method.k[0]!);
    scale.watch();
    if (!finite(method.k[0]!)) {
      yield* recorder.flush(t);
      yield failed({ code: 'solver-not-finite', message: 'The accelerations are not finite numbers.', why: 'A formula or a force grew without limit.', remedy: 'Look at the loads and drives at this time.' });
      return;
    }
    const longest = Math.min(stop - t, until / 100);
    let h = Math.min(longest, firstStep(method.k[0]!, system.bodies, m.size, tolerance));
    while (t < stop) {
      if (signal?.cancelled) {
        yield* recorder.flush(t);
        yield end('cancelled', []);
        return;
      }
      h = Math.min(h, longest);
      if (stop - t < 1.0001 * h) h = stop - t;
      else if (stop - t < 2 * h) h = (stop - t) / 2;
      const ratio = ldlt.tightest;
      guard = ratio < NEAR_SINGULAR * usual;
      usual = Math.max(usual, ratio);
      if (guard) stats.guarded++;
      const t1 = stop - t === h ? stop : t + h;
      method.attempt(t, y, h);
      const error = finite(method.y1) ? scale.measure(h, method.error5, method.error3, y) : Infinity;
      let accepted = error <= 1;
      if (accepted) {
        // K and the factorisation are those of y1.
        const position = system.projectPositions(t1);
        const velocity = position < HELD.position ? system.projectVelocities(t1) : Infinity;
        accepted = position < HELD.position && velocity < HELD.velocity;
        if (accepted) K.store(at);
      }
      if (!accepted) {
        stats.rejected++;
        h *= Number.isFinite(error) && error > 1 ? Math.max(0.2, 0.9 / eighthRoot(error)) : 0.25;
        // The derivative at the start is still in k[0]; only the factorisation has moved on.
        if (h < 1e-12 * Math.max(until, t)) {
          yield* recorder.flush(t);
          yield failed({ code: 'solver-stuck', message: `The solver cannot get past t = ${t.toPrecision(6)} s.`, why: 'The motion changes faster and faster there: a locked or singular position, or a force that grows without limit.', remedy: 'Look at the posture at this time; check drives that ask for motion past a dead centre, and stiff springs.' });
          return;
        }
        system.evaluate(t, y, rates);
        yield { type: 'progress', t };
        continue;
      }
      stats.steps++;
      stats.smallestStep = Math.min(stats.smallestStep, h);
      stats.largestStep = Math.max(stats.largestStep, h);
      if (next < total && timeOf(next) <= t1) {
        method.prepareDense();
        guard = false;
        while (next < total && timeOf(next) <= t1) {
          const tr = timeOf(next++);
          if (tr === t1) y.set(at);
          else method.interpolate(tr, y);
          settle(m, tr, y, rates, stats);
          turns.follow(K, tr);
          recorder.put(tr, turns);
          if (recorder.full) yield* recorder.flush(tr);
          else if (next % 16 === 0) yield { type: 'progress', t: tr };
        }
      }
      y.set(at);
      t = t1;
      system.evaluate(t, y, method.k[0]!);
      scale.watch();
      turns.follow(K, t);
      h *= Math.min(6, Math.max(0.333, 0.9 / eighthRoot(Math.max(error, 1e-10))));
      yield { type: 'progress', t };
    }
  }
  yield* recorder.flush(t);
  K.load(y);
  yield end('done', [...(recorder.moved ? [] : [stoodStill(m)]), ...audit(m, t, options.accuracy, recorder.liveliest)]);
}

/** Brings an interpolated state onto the constraints and solves for its accelerations and multipliers. */
function settle({ system }: Mechanism, t: number, y: Float64Array, rates: Float64Array, stats: RunStatistics): void {
  system.evaluate(t, y, rates);
  const p0 = system.residual(t);
  const v0 = system.velocityResidual(t, true);
  let [p, v] = [p0, v0];
  if (p0 > 1e-9 || v0 > 1e-9) {
    p = system.projectPositions(t);
    v = system.projectVelocities(t);
    system.accelerate(t);
  }
  stats.positionResidual = Math.max(stats.positionResidual, p);
  stats.velocityResidual = Math.max(stats.velocityResidual, v);
}

function finite(v: Float64Array): boolean {
  for (let i = 0; i < v.length; i++) if (!Number.isFinite(v[i]!)) return false;
  return true;
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
export function breakTimes(m: Mechanism, until: number): number[] {
  const programs = [...m.drives.map((d) => d.course.program), ...m.assembly.forces.flatMap((f) => f.force.programs ?? [])];
  const times = programs.flatMap((p) => p.kinks(0, until).map((k) => k.t)).sort((a, b) => a - b);
  return times.filter((t, i) => i === 0 || t - times[i - 1]! > 1e-9 * until);
}

/** Energy that nothing has put in, and passive loads that feed energy in. @param liveliest largest kinetic energy of the run, J */
function audit({ system, ledgers, model }: Mechanism, t: number, accuracy: number, liveliest: number): Diagnosis[] {
  const { K } = system;
  const scale = Math.max(liveliest, ...ledgers.drives.map((d) => Math.abs(d.work(K))), ...ledgers.loads.map((l) => Math.abs(l.fed(K, t))));
  const open = closingError(ledgers, K);
  const out: Diagnosis[] = [];
  if (Math.abs(open) > 100 * accuracy * scale) {
    out.push({ code: 'energy-open', severity: 'warning', message: `The energy balance stays open by ${formatQuantity(open, D.energy, 'J', 3)} at the end.`, why: 'The motion was not followed accurately enough, or a force does not say the energy it stores.', remedy: 'Run again with a finer accuracy and compare.', time: t });
  }
  for (const l of ledgers.loads) {
    const passive = !l.force.programs?.length;
    const fed = l.fed(K, t);
    if (!passive || fed <= 100 * accuracy * scale) continue;
    out.push({ code: 'energy-fed', severity: 'warning', message: `It has fed ${formatQuantity(fed, D.energy, 'J', 3)} into the machine.`, why: 'A spring, damper or mount can only store and take energy.', remedy: 'Check the signs of its damping.', time: t, element: { family: 'loads', name: l.name }, path: ['loads', model.loads.findIndex((x) => x.name === l.name)] });
  }
  return out;
}

function stoodStill(m: Mechanism): Diagnosis {
  const reasons = [
    ...(m.drives.length === 0 ? ['there is no drive'] : []),
    ...(m.assembly.forces.length === 0 ? ['there is no load, not even gravity'] : []),
    'all freedoms may be held by joints',
    'gravity may act along a held direction',
  ];
  return { code: 'run-still', severity: 'warning', message: 'Nothing moved in this run.', why: `Likely reasons: ${reasons.join('; ')}.`, remedy: 'See the mobility above the scene, and what each joint holds.' };
}

/** Gathers recorded states and hands them on in chunks. */
class Recorder {
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
  put(t: number, turns: Turns): void {
    const { system, size } = this.m;
    const row = this.chunk.subarray(this.filled * this.layout.width, (this.filled + 1) * this.layout.width);
    row[0] = t;
    system.K.store(row.subarray(this.from.state, this.from.acceleration));
    row.set(system.acceleration, this.from.acceleration);
    row.set(system.multipliers, this.from.multipliers);
    row.set(turns.angle, this.from.angles);
    this.liveliest = Math.max(this.liveliest, this.m.ledgers.kinetic(system.K));
    this.filled++;
    this.stats.records++;
    if (this.moved) return;
    const positions = row.subarray(this.from.state, this.from.state + 7 * system.bodies);
    this.first ??= positions.slice();
    const first = this.first;
    this.moved = positions.some((x, i) => Math.abs(x - first[i]!) > (i % 7 < 3 ? 1e-9 * size : 1e-9));
  }
  *flush(t: number): Generator<RunEvent, void, void> {
    if (this.filled === 0) return;
    yield { type: 'records', count: this.filled, data: this.chunk.slice(0, this.filled * this.layout.width), t };
    this.filled = 0;
  }
}
