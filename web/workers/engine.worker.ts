/** The core in a worker: checks models, runs them and reads their gauges. */
import { geometriesFromStore } from './geometries';
import type { Acting, BodyLoads } from '@vim-pivot/core/on-demand';
import {
  geometriesOf,
  geometryNamed,
  needs,
  CONSTANTS,
  FAMILIES,
  type Family,
  FUNCTIONS,
  kindOf,
  type Kind,
  jsonPath,
  assemble,
  resolve,
  showComma,
  showIn,
  usesComma,
  unitNames,
  unitOf,
  kindsOf,
  type Mechanism,
  type Model,
  Readings,
  Refusal,
  check,
  recordLayout,
  startFrom,
  withGauges,
  build,
  shownUnit,
  type Channel,
  type Diagnosis,
} from '@vim-pivot/core/engine';
import { answered } from './answer';
import { buffersOf, draw } from './draw';
import type { Checked, Curve, Picture, Reply, Request, Word } from './protocol';
import { Memory, States } from './states';
import { partsFromStore } from './store';

// what it says of numbers is written as the page writes them
showComma(usesComma((self as { navigator?: Navigator }).navigator?.language ?? 'en'));

/** The solver comes once the first machine stands. */
setTimeout(() => void import('@vim-pivot/core/simulate'), 4000);

const post = (reply: Reply, transfer: Transferable[] = []): void => self.postMessage(reply, { transfer });

interface Kept {
  model: Model;
  states: States;
}
const runs = new Map<string, Kept>();
const memory = new Memory();
const keptOf = (run: string, model: Model, mechanism: Mechanism): Kept => {
  const kept = { model, states: new States(run, recordLayout(mechanism).width, memory, partsFromStore) };
  runs.set(run, kept);
  return kept;
};
const signals = new Map<string, { cancelled: boolean }>();

/** A run gives way to other messages this often, ms. */
const SLICE = 12;
/** Records travel to the page this often, ms: each message costs it a write to its store. */
const TOGETHER = 60;
const channel = new MessageChannel();
const waiting: (() => void)[] = [];
channel.port1.onmessage = () => waiting.shift()?.();
const breath = (): Promise<void> =>
  new Promise((resolve) => {
    waiting.push(resolve);
    channel.port2.postMessage(0);
  });

self.onmessage = ({ data }: MessageEvent<Request>): void => {
  void answered(
    String(data.type),
    () => handle(data),
    (diagnoses) => post({ type: 'refused', id: data.id, diagnoses }),
  );
};

/** What a model needs is loaded before it is looked at. */
async function supplied(m: Request): Promise<void> {
  const models = [...('model' in m ? [m.model] : []), ...('now' in m ? [m.now] : [])];
  const shown = models.at(-1);
  if (shown) showIn(shown.units);
  if ('packed' in m) models.push(m.packed.model);
  const wanted = [...new Set(models.flatMap(geometriesOf))].filter((id) => !geometryNamed(id));
  if (wanted.length > 0) {
    const [{ provideGeometry }, found] = await Promise.all([import('@vim-pivot/core/meshes'), geometriesFromStore(wanted).catch(() => [])]);
    for (const g of found) provideGeometry(g.id, g.positions, g.indices);
  }
  if (models.some((x) => needs(x).has('solids')))
    await (await import('@vim-pivot/core/solids')).loadSolids(() => new URL('manifold.wasm', self.location.href).href);
}

/** One after the other, so that nothing overtakes what it builds on. */
let supplying: Promise<void> = Promise.resolve();

async function handle(m: Request): Promise<void> {
  const mine = supplying.then(() => supplied(m));
  supplying = mine.catch(() => undefined);
  await mine;
  switch (m.type) {
    case 'parse': {
      // the schema is a third of the engine, and needed only when a file is opened
      const { readModel } = await import('@vim-pivot/core/file');
      const model = readModel(m.text);
      return post({ type: 'parsed', id: m.id, model, faults: build(model).diagnoses.filter((d) => d.severity === 'error') });
    }
    case 'declarations':
      return post({ type: 'declarations', id: m.id, kinds: JSON.parse(JSON.stringify(FAMILIES.flatMap((f) => kindsOf(f.key)))) as Kind[] });
    case 'check': {
      const checked = examine(m.model, (picture) => post({ type: 'drawn', id: m.id, picture }, buffersOf(picture)));
      return post({ type: 'checked', id: m.id, checked });
    }
    case 'run':
      return run(m.id, m.run, m.model, m.from);
    case 'grab':
      (await import('./hold')).grab(m.model);
      return post({ type: 'done', id: m.id });
    case 'pull':
      return post({ type: 'pulled', id: m.id, posture: (await import('./hold')).pullTo(m.body, m.at, m.to) });
    case 'keep':
      return post({ type: 'kept', id: m.id, starts: (await import('./hold')).leaders() });
    case 'explore': {
      const { explore } = await import('./explore');
      const { items, diagnoses } = explore(m.model, m.what, m.joint);
      return post({ type: 'explored', id: m.id, items, diagnoses });
    }
    case 'read-urdf': {
      const { model, left } = (await import('@vim-pivot/core/urdf')).readUrdf(m.text);
      return post({ type: 'read-urdf', id: m.id, model, left });
    }
    case 'write-urdf': {
      const mechanism = mechanismOf(m.model);
      mechanism.system.K.load(assemble(mechanism).y);
      return post({ type: 'write-urdf', id: m.id, ...(await import('@vim-pivot/core/urdf')).writeUrdf(mechanism) });
    }
    case 'kit-of': {
      const { mechanism } = build(m.model);
      return post({
        type: 'made',
        id: m.id,
        model: (await import('@vim-pivot/core/on-demand')).kitOf(m.model, m.picked, m.name, (p) => mechanism?.layout.point(p) ?? [0, 0, 0]),
      });
    }
    case 'independent':
      return post({ type: 'made', id: m.id, model: (await import('@vim-pivot/core/on-demand')).independent(m.model, m.name) });
    case 'read-kits':
      return post({ type: 'kits', id: m.id, kits: (await import('@vim-pivot/core/file')).readKits(m.text) });
    case 'pack': {
      const bytes = (await import('@vim-pivot/core/project')).pack(m.packed);
      return post({ type: 'packed', id: m.id, bytes }, [bytes.buffer]);
    }
    case 'unpack': {
      const { left, ...packed } = (await import('@vim-pivot/core/project')).unpack(m.bytes);
      return post(
        { type: 'unpacked', id: m.id, packed, left },
        packed.runs.map((r) => r.data.buffer),
      );
    }
    case 'layout':
      return post({ type: 'layout', id: m.id, layout: recordLayout(mechanismOf(m.model)) });
    case 'words':
      return post({ type: 'words', id: m.id, words: vocabulary() });
    case 'spectrum': {
      const { spectrum } = await import('@vim-pivot/core/plots');
      return post({
        type: 'spectrum',
        id: m.id,
        spectrum: spectrum({ time: m.time, values: m.values, dim: [0, 0, 0, 0, 0, 0] }, m.window),
      });
    }
    case 'identify': {
      const { identify } = await import('@vim-pivot/core/analyses');
      return post({
        type: 'identify',
        id: m.id,
        found: identify(
          m.channels.map((c) => ({ ...c, dim: [0, 0, 0, 0, 0, 0] as const })),
          m.order,
        ),
      });
    }
    case 'columns':
      return post({ type: 'columns', id: m.id, ...(await import('@vim-pivot/core/csv')).readColumns(m.text) });
    case 'work-out': {
      const known = new Map(m.known);
      try {
        const p = resolve(m.model).compile(m.text, (name) => known.get(name)?.dim);
        for (const input of p.inputs) p.set(input, known.get(input.gauge)!.value);
        p.at(0);
        return post({
          type: 'evaluated',
          id: m.id,
          ...(Number.isFinite(p.v) ? { live: { value: p.v, dim: p.dim, varies: false } } : { fault: 'The value is not a finite number.' }),
        });
      } catch (e) {
        if (!(e instanceof Error)) throw e;
        return post({ type: 'evaluated', id: m.id, fault: e.message });
      }
    }
    case 'evaluate': {
      const { live, diagnoses } = resolve(m.model);
      const value = live.get(m.path),
        fault = diagnoses.find((d) => d.severity === 'error' && d.path && jsonPath(d.path) === m.path)?.message;
      return post({ type: 'evaluated', id: m.id, ...(fault ? { fault } : value ? { live: value } : {}) });
    }
    case 'characteristic': {
      const { mechanism, resolution } = build(m.model);
      const t = m.family === 'tables' ? resolution.tables.get(m.name) : undefined;
      const curve = t
        ? { x: 'x', y: 'y', dims: t.dims, points: tabled(t) }
        : m.family === 'loads'
          ? mechanism?.characteristic(m.name)
          : undefined;
      return post({ type: 'characteristic', id: m.id, ...(curve ? { curve } : {}) });
    }
    case 'mass': {
      const mass = (await import('@vim-pivot/core/on-demand')).massFound(build(m.model), m.family, m.name);
      return post({ type: 'mass', id: m.id, ...(mass ? { mass } : {}) });
    }
    case 'features':
      return post({
        type: 'features',
        id: m.id,
        features: (await import('@vim-pivot/core/features')).findFeatures(m.positions, m.indices),
      });
    case 'cancel': {
      const signal = signals.get(m.run);
      if (signal) signal.cancelled = true;
      return post({ type: 'done', id: m.id });
    }
    case 'restore': {
      const mechanism = mechanismOf(m.model),
        { states } = keptOf(m.run, m.model, mechanism);
      if (m.width !== states.width)
        throw new Refusal([
          {
            code: 'run-older',
            severity: 'error',
            message: 'This run was recorded by an earlier version of the program: it plays, but its gauges cannot be read.',
            remedy: 'Run it again.',
          },
        ]);
      states.inStore(m.records);
      return post({ type: 'done', id: m.id });
    }
    case 'stored':
      for (const part of m.parts) runs.get(m.run)?.states.stored(part);
      return post({ type: 'done', id: m.id });
    case 'hold':
      await runs.get(m.run)?.states.hold();
      return post({ type: 'done', id: m.id });
    case 'forget':
      runs.get(m.run)?.states.forget();
      runs.delete(m.run);
      if (stood?.run === m.run) stood = undefined;
      for (const slot of ready.keys()) if (slot.startsWith(`${m.run}/`)) ready.delete(slot);
      return post({ type: 'done', id: m.id });
    case 'body-loads': {
      const { bodyLoads, snapshotChannel } = await import('@vim-pivot/core/on-demand');
      const { states, mechanism, readings } = standing(m.run),
        loads: BodyLoads[] = [];
      const channel = snapshotChannel((s) => loads.push(bodyLoads(mechanism, m.body, s)));
      let slice = performance.now();
      for await (const piece of m.record === undefined ? states.pieces(0) : [await states.record(m.record)]) {
        readings.read([channel], [piece]);
        if (performance.now() - slice > SLICE) {
          await breath();
          slice = performance.now();
        }
      }
      return post({ type: 'body-loads', id: m.id, loads });
    }
    case 'acting': {
      const { acting, snapshotChannel } = await import('@vim-pivot/core/on-demand');
      const { states, readings, mechanism } = standing(m.run),
        frames: Acting[][] = [];
      const channel = snapshotChannel((s) => frames.push(acting(mechanism, s, m.body)));
      for (const record of m.records) readings.read([channel], [await states.record(record)]);
      return post({ type: 'acting', id: m.id, frames });
    }
    case 'read':
      return read(m.id, m.run, m.now, m.gauges, m.from);
    default:
      throw new Error('there is no such request');
  }
}

/** A table's function, finely enough to be seen. */
function tabled(t: { x: Float64Array; at(u: number): { f: number } }): [number, number][] {
  const from = t.x[0]!,
    to = t.x[t.x.length - 1]!;
  return Array.from({ length: 161 }, (_, i) => {
    const x = from + ((to - from) * i) / 160;
    return [x, t.at(x).f];
  });
}

/** Functions, constants and units of formulas. */
const vocabulary = (): Word[] => [
  ...Object.entries(FUNCTIONS)
    .filter(([, f]) => !f.operator)
    .map(([name, f]): Word => ({ type: 'function', name, args: [...f.args], help: f.help ?? '' })),
  ...Object.keys(CONSTANTS).map((name): Word => ({ type: 'constant', name, args: [], help: 'constant' })),
  ...unitNames().map((name): Word => ({ type: 'unit', name, args: [], help: unitOf(name)!.label })),
];

function examine(model: Model, show: (p: Picture) => void): Omit<Checked, 'picture'> {
  const report = check(model, ({ mechanism }, start) => show(draw(mechanism!, start)));
  const { mechanism, resolution } = report.built;
  // values of what instances bring are not in the document
  const live = [...resolution.live].filter(([path]) => inDocument(model, path));
  const more = resolution.model === model ? {} : broughtInto(model, resolution.model);
  if (!mechanism) return { diagnoses: report.diagnoses, live, gauges: [], ...more };
  const gauges = mechanism.gauges.map((name) => {
    const c = mechanism.channel(name);
    return { name, dim: c.dim, unit: c.unit ?? shownUnit(c.dim), positive: c.positive, ...(c.sign ? { sign: c.sign } : {}) };
  });
  const { mobility } = report;
  return {
    diagnoses: report.diagnoses,
    live,
    gauges,
    ...more,
    ...(mobility
      ? {
          mobility: {
            joints: mobility.joints,
            free: mobility.free,
            redundant: mobility.redundant,
            notUnique: [...mobility.notUnique],
            counted: mobility.counted,
            loops: [...mobility.loops],
            motions: [...mobility.motions],
            details: [...mobility.details],
          },
        }
      : {}),
  };
}

/** What instances add to a model: the names of it, and how its points and joints hang on its bodies. */
function broughtInto(model: Model, whole: Model): Pick<Checked, 'brought' | 'within'> {
  const added = (family: Family) => whole[family].slice(model[family].length);
  const two = (b: unknown): b is [string, string] => Array.isArray(b) && typeof b[0] === 'string' && typeof b[1] === 'string';
  return {
    brought: Object.fromEntries(FAMILIES.map(({ key }) => [key, added(key).map((e) => e.name)])),
    within: {
      homes: Object.fromEntries(added('points').map((p) => [p.name, String(p.body ?? whole.ground)])),
      joints: added('joints').flatMap((j) =>
        two(j.bodies) ? [{ name: j.name, kind: kindOf('joints', j)?.label ?? '', bodies: j.bodies }] : [],
      ),
    },
  };
}

const PLACE = /^\$\.(\w+)\[(\d+)\]/;
const inDocument = (model: Model, path: string): boolean => {
  const m = PLACE.exec(path);
  return !m || Number(m[2]) < (model[m[1] as 'points']?.length ?? Infinity);
};

/** A recorded state of a kept run. @throws Refusal when it is not at hand or of another mechanism */
async function stateOf({ run: name, record }: { run: string; record: number }, mechanism: Mechanism): Promise<Float64Array> {
  const kept = runs.get(name);
  const other = {
    code: 'start-other',
    severity: 'error' as const,
    message: 'The run to start from is of another machine.',
    remedy: 'Start from a run of this model, or as assembled.',
  };
  if (!kept) throw new Refusal([{ ...other, message: 'The run to start from is not at hand.' }]);
  const layout = recordLayout(mechanismOf(kept.model));
  if (layout.bodies !== recordLayout(mechanism).bodies) throw new Refusal([other]);
  return startFrom(layout, await kept.states.record(record));
}

async function run(id: number, name: string, model: Model, from?: { run: string; record: number }): Promise<void> {
  const report = check(model);
  const errors = report.diagnoses.filter((d) => d.severity === 'error');
  const { mechanism } = report.built;
  if (errors.length > 0 || !mechanism) return post({ type: 'refused', id, diagnoses: errors });
  const start = from && (await stateOf(from, mechanism));
  // other analyses bring the eigenvalue library along, and are loaded when asked for
  const analysis =
    mechanism.resolution.run.analysis === 'dynamic'
      ? (await import('@vim-pivot/core/simulate')).simulate
      : (await import('@vim-pivot/core/analyses')).analyse;
  const signal = { cancelled: false };
  signals.set(name, signal);
  const settings = mechanism.resolution.run;
  const layout = recordLayout(mechanism);
  const { states } = keptOf(name, model, mechanism);
  post({ type: 'started', id, layout, until: settings.until });
  const began = performance.now();
  let slice = began,
    sent = began,
    fresh: Float64Array[] = [];
  /** What was recorded since the last time, in one message. */
  const send = () => {
    sent = performance.now();
    if (fresh.length === 0) return;
    const data = new Float64Array(fresh.reduce((n, c) => n + c.length, 0));
    let at = 0;
    for (const c of fresh) {
      data.set(c, at);
      at += c.length;
    }
    fresh = [];
    post({ type: 'records', id, part: states.add(data), data });
  };
  const { Pace, holdUp } = await import('@vim-pivot/core/on-demand'),
    pace = new Pace(settings.until, performance.now() / 1000);
  let held: Diagnosis[] = [];
  for (const e of analysis(mechanism, { ...settings, signal, ...(start ? { start } : {}) })) {
    const slow = e.type === 'progress' && pace.look(e.t, performance.now() / 1000);
    if (slow) {
      held = [holdUp(mechanism, e.t, slow)];
      post({ type: 'slow', id, diagnoses: held });
    }
    if (e.type === 'records') {
      fresh.push(e.data);
      if (performance.now() - sent > TOGETHER) send();
    } else if (e.type === 'end') {
      send();
      const { status, t, statistics, diagnoses, happenings } = e;
      post({
        type: 'ended',
        id,
        status,
        t,
        seconds: (performance.now() - began) / 1000,
        statistics,
        diagnoses: [...diagnoses, ...held],
        happenings,
      });
    }
    if (performance.now() - slice > SLICE) {
      if (e.type === 'progress') post({ type: 'progress', id, t: e.t });
      await breath();
      slice = performance.now();
    }
  }
  signals.delete(name);
}

function mechanismOf(model: Model): Mechanism {
  const built = build(model);
  if (!built.mechanism) throw new Refusal(built.diagnoses.filter((d) => d.severity === 'error'));
  return built.mechanism;
}

/** The machine of the run that was looked at last, for reading its states one by one. */
let stood: { run: string; mechanism: Mechanism; readings: Readings } | undefined;
function standing(run: string): { states: States; mechanism: Mechanism; readings: Readings } {
  const kept = runs.get(run);
  if (!kept) throw new Refusal([{ code: 'run-missing', severity: 'error', message: 'The states of this run are not at hand.' }]);
  if (stood?.run !== run) {
    const mechanism = mechanismOf(kept.model);
    stood = { run, mechanism, readings: new Readings(mechanism) };
  }
  return { states: kept.states, ...stood };
}

/** The gauges asked for, and those their formulas name. */
function withInputs(now: Model, gauges: readonly string[]): Model['gauges'] {
  const names = new Set(gauges);
  for (let grown = 0; grown !== names.size;) {
    grown = names.size;
    for (const g of now.gauges)
      if (names.has(g.name))
        for (const v of Object.values(g)) if (typeof v === 'string') for (const [, n] of v.matchAll(/\{([^{}]+)\}/g)) names.add(n!.trim());
  }
  return now.gauges.filter((g) => names.has(g.name));
}

/** Gauges made ready for a run; made anew when a definition changes, not for every reading. */
interface Ready {
  key: string;
  readings: Readings;
  usable: string[];
  channels: Channel[];
  failures: Diagnosis[];
}
const ready = new Map<string, Ready>();

function prepare(name: string, kept: Kept, now: Model, gauges: string[]): Ready {
  const wanted = withInputs(now, gauges);
  const key = JSON.stringify([wanted, now.points.length]);
  const slot = `${name}/${gauges.join('/')}`;
  const known = ready.get(slot);
  if (known?.key === key) return known;
  const built = build(withGauges(kept.model, { ...now, gauges: wanted }));
  const mechanism = built.mechanism ?? mechanismOf(kept.model);
  const usable = built.mechanism ? gauges.filter((g) => mechanism.gauges.includes(g)) : [];
  const made = {
    key,
    readings: new Readings(mechanism),
    usable,
    channels: usable.map((g) => mechanism.channel(g)),
    failures: built.diagnoses.filter((d) => d.severity === 'error'),
  };
  ready.set(slot, made);
  return made;
}

async function read(id: number, name: string, now: Model, gauges: string[], from: number): Promise<void> {
  const kept = runs.get(name);
  if (!kept) throw new Refusal([{ code: 'run-missing', severity: 'error', message: 'The states of this run are not at hand.' }]);
  const { readings, usable, channels, failures } = prepare(name, kept, now, gauges);
  const { states } = kept,
    { width } = states;
  // what is made of a whole course is made anew from its beginning
  const first = channels.some((c) => c.after) ? 0 : from,
    count = Math.max(0, states.count - first);
  const time = new Float64Array(count),
    values = channels.map(() => new Float64Array(count)),
    raw = channels.map(({ after: _after, ...c }) => c);
  // in pieces, so that a run goes on and can be cancelled while much is read
  let done = 0,
    slice = performance.now();
  for await (const piece of states.pieces(first, count)) {
    readings.read(raw, [piece]).forEach((v, k) => values[k]!.set(v, done));
    for (let p = 0; p < piece.length; p += width) time[done++] = piece[p]!;
    if (performance.now() - slice > SLICE) {
      await breath();
      slice = performance.now();
    }
  }
  channels.forEach((c, k) => c.after && values[k]!.set(c.after(time, values[k]!)));
  const curves = usable.map((gauge, k): Curve => {
    const { dim, unit = shownUnit(dim), positive } = channels[k]!;
    return { gauge, dim, unit, positive, values: values[k]! };
  });
  post({ type: 'read', id, from: first, time, curves, failures }, [time.buffer, ...values.map((v) => v.buffer)] as Transferable[]);
}
