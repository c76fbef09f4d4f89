/**
 * Runs made of postures instead of integration: the kinematic run (no freedom left; every time is a solution of its own, with the loads by
 * inverse dynamics) and the quasi-static run (equilibrium at every time).
 */
import { type Diagnosis, Refusal } from '../diagnosis';
import { type RecordLayout, recordLayout } from '../results/record';
import { COMPILER } from '../system/compiler';
import type { Mechanism } from '../system/mechanism';
import { assemble, close, frictionless } from './assemble';
import type { RunStatus } from '../results/status';
import { stoodStill } from './audit';
import { breakTimes } from './break-times';
import { ontoConstraints } from './held';
import { recordCount, recordTime } from './record-times';
import { passed } from './not-passed';
import { Recorder } from './recorder';
import { type RunEvent, type RunOptions, noStatistics } from './run-events';
import { finite, notFinite } from './finite';
import { freeMotions } from './motions';
import { freedomCount } from './reduced';
import { equilibrium, frictionNotes } from './statics';
import { StopLimits } from './stop-limits';
import { Turns } from './turns';
import { where } from '../model/where';

/** @throws Refusal when a freedom is left */
export function* kinematicRun(m: Mechanism, options: RunOptions): Generator<RunEvent, void, void> {
  const { system } = m;
  const { K } = system;
  system.compile(COMPILER);
  const { y } = assemble(m);
  frictionless(m);
  const d = freedomCount(system);
  if (d > 0) {
    const free = freeMotions(m).map((f) => f.name);
    throw new Refusal([
      {
        code: 'kinematic-free',
        severity: 'error',
        message: `The drives leave ${d} freedom${d === 1 ? '' : 's'} open: ${free.join(', ')}.`,
        why: 'A kinematic run follows the drives alone.',
        remedy: 'Drive these too, or make a dynamic run.',
        others: freeMotions(m).map((f) => f.element),
      },
    ]);
  }
  const [first, middle, last] = [0, 1, 2].map(() => new Float64Array(system.size)) as [Float64Array, Float64Array, Float64Array];
  const kept = new Float64Array(system.size);
  system.evaluate(0, y, first);
  const breaks = breakTimes(m, options.until);
  yield* march(m, options, y, (t, from) => {
    system.evaluate(from, y, first);
    const stops = [...breaks.filter((b) => b > from && b < t), t];
    for (const [i, stop] of stops.entries()) {
      const begin = i === 0 ? from : stops[i - 1]!;
      if (stop <= begin) continue;
      system.segment(begin, stop);
      // from half to half, in smaller parts when that does not close
      let good = false;
      for (let parts = 1; parts <= 64 && !good; parts *= 4) {
        K.load(y);
        kept.set(y);
        good = true;
        for (let p = 0; p < parts && good; p++) {
          const a = begin + ((stop - begin) * p) / parts,
            b = begin + ((stop - begin) * (p + 1)) / parts;
          good = goTo(m, a, (a + b) / 2);
          if (!good) break;
          K.store(kept);
          system.evaluate((a + b) / 2, kept, middle);
          good = goTo(m, (a + b) / 2, b);
          if (!good) break;
          K.store(kept);
          system.evaluate(b, kept, last);
          for (const e of system.extras)
            if (e.ledger)
              for (let k = 0; k < e.states; k++) {
                const at = K.layout.further + e.first + k;
                K.z[e.first + k] = K.z[e.first + k]! + ((b - a) / 6) * (first[at]! + 4 * middle[at]! + last[at]!); // Simpson's rule
              }
          first.set(last);
        }
      }
      if (!good) return locked(m, stop);
      rub(m, stop);
      K.store(y);
    }
    return undefined;
  });
}

/** From the posture and motion in K at one time to those of another near by. @returns whether the joints close there */
function goTo(m: Mechanism, from: number, to: number): boolean {
  const { system, counters } = m;
  advance(m, to - from);
  for (const d of m.drives) d.course.travel(system.K, from, to);
  system.linearise();
  if (!(system.projectPositions(to) < 1e-8 || close(system, to) < 1e-8)) return false;
  for (const c of counters) if (c.states > 0) system.K.z[c.first] = c.value(system.K);
  system.linearise();
  if (!(system.projectVelocities(to) < 1e-6)) return false;
  system.accelerate(to);
  return true;
}

/** Moves all bodies by their velocities and accelerations of the last solution. */
function advance({ system }: Mechanism, h: number): void {
  const { K, acceleration } = system;
  const step = new Float64Array(system.motions);
  K.motion(step);
  for (let i = 0; i < step.length; i++) step[i] = h * (step[i]! + 0.5 * h * acceleration[i]!);
  K.displace(step, 1);
}

/** Frictions rub against the motion at hand; one at rest carries nothing. */
function rub(m: Mechanism, t: number): void {
  for (const { force } of m.assembly.forces)
    if (force.holding) {
      if (force.sticks) force.begin?.(m.system.K, t);
      m.system.hold(force.holding.constraint, false);
    }
  m.system.accelerate(t);
}

function locked(m: Mechanism, t: number): Diagnosis {
  const { system } = m;
  const group = system.ownerOf(system.ldlt.tightestRow);
  return {
    code: 'kinematic-locked',
    severity: 'error',
    time: t,
    message: `The machine cannot follow its drives past t = ${t.toPrecision(6)} s${group ? `; ${group.name} binds` : ''}.`,
    why: 'It comes to a dead centre, or the drive asks for more than the links can reach.',
    remedy: 'Shorten the stroke, or drive another joint.',
    ...(group ? where(m.model, group.family, group.name) : {}),
  };
}

/** @throws Refusal when there is no equilibrium to start from */
export function* quasiStaticRun(m: Mechanism, options: RunOptions): Generator<RunEvent, void, void> {
  const { system } = m;
  const { y } = assemble(m);
  system.K.load(y);
  const first = equilibrium(m, 0),
    { neutral } = first;
  y.set(first.y);
  const notes = frictionNotes(first),
    told = new Set(first.slipped);
  if (neutral.length > 0)
    notes.push({
      code: 'statics-neutral',
      severity: 'warning',
      message: `Nothing pulls back along ${neutral.join(', ')}.`,
      why: 'The machine rests there at any place; the one shown is one of many.',
    });
  yield* march(
    m,
    options,
    y,
    (t, from) => {
      system.K.load(y);
      for (const d of m.drives) d.course.travel(system.K, from, t);
      try {
        const found = equilibrium(m, t),
          slipped = found.slipped.filter((n) => !told.has(n));
        y.set(found.y);
        for (const n of slipped) told.add(n);
        notes.push(...frictionNotes({ ...found, held: [], slipped, rubbing: [] }, t));
        return undefined;
      } catch (e) {
        if (!(e instanceof Refusal)) throw e;
        return { ...e.diagnoses[0]!, time: t };
      }
    },
    notes,
  );
}

/** Static equilibrium as a run of one record. */
export function* staticRun(m: Mechanism, options: RunOptions): Generator<RunEvent, void, void> {
  yield* quasiStaticRun(m, { ...options, until: 0 });
}

/** Steps from record to record. @param solve brings the state of the last record to a time; returns why it cannot */
function* march(
  m: Mechanism,
  { until, every, accuracy, signal }: RunOptions,
  y: Float64Array,
  solve: (t: number, from: number) => Diagnosis | undefined,
  notes: readonly Diagnosis[] = [],
): Generator<RunEvent, void, void> {
  const { system } = m;
  const { K } = system;
  const stats = noStatistics();
  const layout: RecordLayout = { ...recordLayout(m), standing: system.K.standing },
    recorder = new Recorder(layout, m, stats);
  const total = until > 0 ? recordCount(until, every) : 1,
    timeOf = recordTime(until, every);
  const work = new Float64Array(system.size);
  system.segment(0, 0);
  K.load(y);
  system.accelerate(0);
  const turns = new Turns(system, 0);
  const end = (status: RunStatus, t: number, diagnoses: Diagnosis[]): RunEvent => {
    stats.evaluations = system.evaluations;
    stats.factorisations = system.factorisations;
    return { type: 'end', status, t, statistics: stats, diagnoses, happenings: [] };
  };
  const limits = new StopLimits(m, turns),
    watching = limits.watches.length > 0,
    before = new Float64Array(system.size);
  const times = [...new Set([...Array.from({ length: total }, (_, i) => timeOf(i)), ...limits.times(until)])].sort((a, b) => a - b);
  yield { type: 'begin', layout };
  let from = 0;
  for (const next of times) {
    let t = next;
    if (signal?.cancelled) {
      yield* recorder.flush(from);
      yield end('cancelled', from, []);
      return;
    }
    before.set(y);
    // where a formula has a kink, the record is that of the time before it
    system.segment(0, t);
    const fault = solve(t, from) ?? beyond(t, y);
    if (fault) {
      yield* recorder.flush(from);
      yield end('failed', from, [{ ...fault, severity: 'error' }]);
      return;
    }
    work.set(y);
    ontoConstraints(m, t, work, stats, accuracy);
    K.load(y);
    system.accelerate(t);
    const passed = watching && limits.passed(K, t);
    if (passed) {
      t = locate(from, t);
      K.load(y);
      system.accelerate(t);
    }
    turns.follow(t);
    if (!finite(system.solution) || !recorder.put(t, turns)) {
      yield* recorder.flush(from);
      yield end('failed', from, [{ severity: 'error', time: t, ...notFinite(m, t) }]);
      return;
    }
    stats.steps++;
    if (passed) {
      yield* recorder.flush(t);
      yield end('stopped', t, [limits.reason(K, t)!]);
      return;
    }
    from = t;
    if (recorder.full) yield* recorder.flush(t);
    yield { type: 'progress', t };
  }
  /** Whether the posture in y lies beyond what must not be passed. */
  function beyond(t: number, y: Float64Array): Omit<Diagnosis, 'severity'> | undefined {
    K.load(y);
    return passed(m, t);
  }
  /** Where between two records a limit is passed, just beyond; leaves the posture there in y. */
  function locate(lo: number, hi: number): number {
    const start = before.slice(),
      good = y.slice();
    for (let k = 0, a = lo; k < 40 && hi - a > 1e-9 * until; k++) {
      const mid = a + (hi - a) / 2;
      y.set(start);
      K.load(y);
      if (mid <= a || mid >= hi || solve(mid, lo)) break;
      K.load(y);
      system.accelerate(mid);
      if (limits.passed(K, mid)) {
        hi = mid;
        good.set(y);
      } else a = mid;
    }
    y.set(good);
    return hi;
  }
  yield* recorder.flush(from);
  yield end('done', from, [...notes, ...(recorder.moved || total === 1 ? [] : [stoodStill(m)])]);
}
