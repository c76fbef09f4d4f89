/** Runs: begun, told of while they go on, cancelled; and their states kept, restored and forgotten. */
import { type Diagnosis, type Mechanism, type Model, Refusal, check, recordLayout } from '@vim-pivot/core/engine';
import type { Request } from '../protocol';
import type { States } from '../states';
import { Breather } from './breath';
import { forget, keep, layoutOf, startOf, statesOf } from './kept-runs';
import { mechanismOf } from './machine';
import { type Handlers, post } from './post';

const signals = new Map<string, { cancelled: boolean }>();

export const RUNNING: Handlers<'run' | 'ready' | 'cancel' | 'layout' | 'restore' | 'stored' | 'hold' | 'forget'> = {
  run,
  ready: async ({ id, model }) => {
    await makeReady(model);
    post({ type: 'done', id });
  },
  cancel: ({ id, run }) => {
    const signal = signals.get(run);
    if (signal) signal.cancelled = true;
    post({ type: 'done', id });
  },
  layout: ({ id, model, width, told }) => {
    const mechanism = mechanismOf(model);
    post({
      type: 'layout',
      id,
      layout: width === undefined ? recordLayout(mechanism) : layoutOf(mechanism, { width, ...(told ? { told } : {}) }),
    });
  },
  restore: ({ id, run, model, layout, records }) => {
    const { states } = keep(run, model, layout);
    layoutOf(mechanismOf(model), layout);
    states.inStore(records);
    post({ type: 'done', id });
  },
  stored: ({ id, run, parts }) => {
    for (const part of parts) statesOf(run)?.stored(part);
    post({ type: 'done', id });
  },
  hold: async ({ id, run }) => {
    await statesOf(run)?.hold();
    post({ type: 'done', id });
  },
  forget: ({ id, run }) => {
    forget(run);
    post({ type: 'done', id });
  },
};

/** Bodies up to which a machine is made ready; how many records it is run for, and for how long at most, ms. */
const MOST = 60;
const FEW = 400;
const ENOUGH = 3000;

/** The first run of a machine then takes no longer than later ones. */
async function makeReady(model: Model): Promise<void> {
  const { mechanism } = check(model).built;
  if (!mechanism || model.bodies.length > MOST) return;
  const { run: settings } = mechanism.resolution,
    analysis = await analysisOf(mechanism),
    breather = new Breather(),
    began = performance.now();
  for (const e of analysis(mechanism, { ...settings, until: Math.min(settings.until, FEW * settings.every) })) {
    if (e.type === 'end' || performance.now() - began > ENOUGH) return;
    await breather.ifDue();
  }
}

async function run(request: Extract<Request, { type: 'run' }>): Promise<void> {
  // it can be cancelled from now on: what is waited for below lets other requests in
  const signal = { cancelled: false };
  signals.set(request.run, signal);
  try {
    await goThrough(request, signal);
  } finally {
    signals.delete(request.run);
  }
}

async function goThrough(
  { id, run: name, model, from, most = Infinity }: Extract<Request, { type: 'run' }>,
  signal: { cancelled: boolean },
): Promise<void> {
  const report = check(model);
  const errors = report.diagnoses.filter((d) => d.severity === 'error');
  const { mechanism } = report.built;
  if (errors.length > 0 || !mechanism) throw new Refusal(errors);
  const start = from && (await startOf(from, mechanism));
  const asked = mechanism.resolution.run,
    settings = { ...asked, every: Math.max(asked.every, asked.until / most) };
  const analysis = await analysisOf(mechanism);
  const began = performance.now();
  let records: Bundled | undefined;
  const watch = await slowness(id, mechanism);
  const breather = new Breather();
  let held: Diagnosis[] = [];
  for (const e of analysis(mechanism, { ...settings, signal, ...(start ? { start } : {}) })) {
    if (e.type === 'progress') held = watch(e.t) ?? held;
    if (e.type === 'begin') {
      const { layout } = e;
      records = new Bundled(id, keep(name, model, layout).states);
      post({ type: 'started', id, layout, until: settings.until });
    } else if (e.type === 'records') records!.add(e.data);
    else if (e.type === 'end') {
      records!.send();
      const { status, t, statistics, happenings } = e;
      const seconds = (performance.now() - began) / 1000;
      post({ type: 'ended', id, status, t, seconds, statistics, diagnoses: [...e.diagnoses, ...held], happenings });
    }
    if (breather.due) {
      if (e.type === 'progress') post({ type: 'progress', id, t: e.t });
      await breather.giveWay();
    }
  }
}

/** Analyses other than a dynamic run bring the eigenvalue library along, and are loaded when asked for. */
const analysisOf = async ({ resolution }: Mechanism) =>
  resolution.run.analysis === 'dynamic'
    ? (await import('@vim-pivot/core/simulate')).simulate
    : (await import('@vim-pivot/core/analyses')).analyse;

/** Tells the page once a run advances too slowly, and what holds it up. */
async function slowness(id: number, mechanism: Mechanism): Promise<(t: number) => Diagnosis[] | undefined> {
  const { Pace, holdUp } = await import('@vim-pivot/core/on-demand');
  const now = () => performance.now() / 1000;
  const pace = new Pace(mechanism.resolution.run.until, now());
  return (t) => {
    const slow = pace.look(t, now());
    if (!slow) return undefined;
    const diagnoses = [holdUp(mechanism, t, slow)];
    post({ type: 'slow', id, diagnoses });
    return diagnoses;
  };
}

/** Records travel to the page this often, ms: each message costs it a write to its store. */
const TOGETHER = 60;

/** Records of a run, several in one message. */
class Bundled {
  private fresh: Float64Array[] = [];
  private sent = performance.now();
  constructor(
    private readonly id: number,
    private readonly states: States,
  ) {}
  add(data: Float64Array): void {
    this.fresh.push(data);
    if (performance.now() - this.sent > TOGETHER) this.send();
  }
  send(): void {
    this.sent = performance.now();
    if (this.fresh.length === 0) return;
    const data = new Float64Array(this.fresh.reduce((n, c) => n + c.length, 0));
    let at = 0;
    for (const c of this.fresh) {
      data.set(c, at);
      at += c.length;
    }
    this.fresh = [];
    post({ type: 'records', id: this.id, part: this.states.add(data), data });
  }
}
