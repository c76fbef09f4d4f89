/** Runs read: gauges over their records, loads on a body, forces to be drawn, and what is worked out of curves. */
import { type Diagnosis, type Model, Refusal, resolve, shownUnit } from '@vim-pivot/core/engine';
import type { Acting, BodyLoads } from '@vim-pivot/core/on-demand';
import type { Curve, Request } from '../protocol';
import { Breather } from './breath';
import { keptRun, prepare, standing } from './kept-runs';
import { type Handlers, post } from './post';

const onDemand = () => import('@vim-pivot/core/on-demand');
/** Of a curve whose dimension plays no part. */
const DIM = [0, 0, 0, 0, 0, 0] as const;

export const READING: Handlers<'read' | 'measure' | 'body-loads' | 'acting' | 'passings' | 'spectrum' | 'identify'> = {
  read,
  measure,
  'body-loads': async ({ id, run, body, record }) => {
    const { bodyLoads, snapshotChannel } = await onDemand();
    const { states, mechanism, readings } = await standing(run),
      loads: BodyLoads[] = [];
    const channel = snapshotChannel((s) => loads.push(bodyLoads(mechanism, body, s)));
    const breather = new Breather();
    for await (const piece of record === undefined ? states.pieces(0) : [await states.record(record)]) {
      readings.read([channel], [piece]);
      await breather.ifDue();
    }
    post({ type: 'body-loads', id, loads });
  },
  acting: async ({ id, run, records, body }) => {
    const { acting, snapshotChannel } = await onDemand();
    const { states, readings, mechanism } = await standing(run),
      frames: Acting[][] = [];
    const channel = snapshotChannel((s) => frames.push(acting(mechanism, s, body)));
    for (const record of records) readings.read([channel], [await states.record(record)]);
    post({ type: 'acting', id, frames });
  },
  passings: async ({ id, run }) => {
    const { Passings, passedThrough } = await import('@vim-pivot/core/passings');
    const { states, mechanism, readings } = await standing(run),
      passings = new Passings(mechanism),
      breather = new Breather();
    for await (const piece of states.pieces(0)) {
      readings.read([passings.channel], [piece]);
      await breather.ifDue();
    }
    const looking = passings.look();
    for (let next = looking.next(); ; next = looking.next()) {
      if (next.done) return post({ type: 'passings', id, diagnoses: passedThrough(mechanism, next.value, passings.complete) });
      await breather.ifDue();
    }
  },
  spectrum: async ({ id, time, values, window }) => {
    const { spectrum } = await import('@vim-pivot/core/plots');
    post({ type: 'spectrum', id, spectrum: spectrum({ time, values, dim: DIM }, window) });
  },
  identify: async ({ id, channels, order }) => {
    const { identify } = await import('@vim-pivot/core/analyses');
    const curves = channels.map((c) => ({ ...c, dim: DIM }));
    post({ type: 'identify', id, found: identify(curves, order) });
  },
};

/** Gauges over all or a part of a run. */
interface Course {
  /** The record at which it begins: 0 where something is made of the whole course. */
  first: number;
  time: Float64Array;
  curves: Curve[];
  failures: Diagnosis[];
}

async function courseOf(run: string, now: Model, gauges: string[], from: number): Promise<Course> {
  const kept = keptRun(run);
  const { readings, usable, channels, failures } = await prepare(run, kept, now, gauges);
  const { states } = kept,
    { width } = states;
  // what is made of a whole course is made anew from its beginning
  const first = channels.some((c) => c.after) ? 0 : from,
    count = Math.max(0, states.count - first);
  const time = new Float64Array(count),
    values = channels.map(() => new Float64Array(count)),
    raw = channels.map(({ after: _after, ...c }) => c);
  // in pieces, so that a run goes on and can be cancelled while much is read
  const breather = new Breather();
  let done = 0;
  for await (const piece of states.pieces(first, count)) {
    readings.read(raw, [piece]).forEach((v, k) => values[k]!.set(v, done));
    for (let p = 0; p < piece.length; p += width) time[done++] = piece[p]!;
    await breather.ifDue();
  }
  channels.forEach((c, k) => c.after && values[k]!.set(c.after(time, values[k]!)));
  const curves = usable.map((gauge, k): Curve => {
    const { dim, unit = shownUnit(dim), positive } = channels[k]!;
    return { gauge, dim, unit, positive, values: values[k]! };
  });
  return { first, time, curves, failures };
}

async function read({ id, run, now, gauges, from }: Extract<Request, { type: 'read' }>): Promise<void> {
  const { first, time, curves, failures } = await courseOf(run, now, gauges, from);
  post({ type: 'read', id, from: first, time, curves, failures }, [time.buffer, ...curves.map((c) => c.values.buffer)] as Transferable[]);
}

async function measure({ id, run, now }: Extract<Request, { type: 'measure' }>): Promise<void> {
  const { measured } = await import('@vim-pivot/core/measures');
  const resolution = resolve(now),
    { scores, limits } = resolution.model;
  const gauges = [...scores, ...limits].flatMap((e) => [e.gauge, e.other]).filter((g) => typeof g === 'string' && g !== '') as string[];
  const { time, curves, failures } = await courseOf(run, now, [...new Set(gauges)], 0);
  const named = (gauge: string) => curves.find((c) => c.gauge === gauge);
  const found = measured({
    resolution,
    series: (gauge) => {
      const known = named(gauge);
      if (!known) throw new Refusal([failures.find((d) => d.element?.name === gauge) ?? unread(gauge)]);
      const { values, dim } = known;
      return { time, values, dim };
    },
    unitOf: (gauge) => named(gauge)?.unit,
  });
  post({ type: 'measured', id, ...found });
}
const unread = (gauge: string): Diagnosis => ({
  code: 'gauge-unread',
  severity: 'error',
  message: `“${gauge}” cannot be read in this run.`,
});
