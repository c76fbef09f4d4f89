/** The runs of the open project: made in their worker, kept in the browser, played in the scene. */
import { create } from 'zustand';
import type { RecordLayout } from '@vim-pivot/core';
import { type Diagnosis, type Model, Refusal, complete, isTold } from '@vim-pivot/core/page';
import { checkModel, onEngineLost, runWorker } from '../../workers/client';
import type { Picture, Reply } from '../../workers/protocol';
import { type RunRow, db, dropRun, posturesOfRun } from '../kept/db';
import { useDocument } from '../document/document';
import { NOTHING, useReadings } from '../readings/readings';
import { Recorder } from '../kept/recorder';
import { isSound } from '../kept/sound';
import { keeping } from '../kept/storage';
import { Track, posturesOf } from './track';

interface RunsState {
  runs: RunRow[];
  /** The run that is played, and those overlaid in charts. */
  current: string | undefined;
  overlaid: string[];
  /** Runs of the project whose rows in the store cannot be read. */
  damaged: readonly string[];
  tracks: ReadonlyMap<string, Track>;
  /** Grows with every record that arrives, so that views know to look again. */
  tick: number;
  /** Records that charts may read by now; grows a few times a second, not with every record. */
  readable: ReadonlyMap<string, number>;
  running: string | undefined;
  /** Runs that wait until the present one is done: the model as it was when they were asked for. */
  queue: readonly { model: Model; inside: string | undefined; from: { run: string; record: number } | undefined }[];
  progress: number;
  /** Why the last Run could not start. */
  refusal: readonly Diagnosis[];
  time: number;
  playing: boolean;
  /** On its way back, when it is played to and fro. */
  backward: boolean;
  speed: number;
  /** Runs are repeated while something is moved. */
  live: boolean;
  /** The next run starts at the state shown of the current one. */
  fromShown: boolean;
  /** Whether the scene stands at the model's start posture or at a time of the current run. */
  view: 'model' | 'run';
  /** What to draw for a run whose model is not the present one. */
  pictures: ReadonlyMap<string, Picture>;
}

export const useRuns = create<RunsState>(() => ({
  runs: [],
  damaged: [],
  current: undefined,
  overlaid: [],
  tracks: new Map(),
  tick: 0,
  readable: new Map(),
  running: undefined,
  queue: [],
  progress: 0,
  refusal: [],
  time: 0,
  playing: false,
  backward: false,
  speed: 1,
  view: 'model',
  pictures: new Map(),
  fromShown: false,
  live: false,
}));
/** Runs that are overlaid at most. */
export const OVERLAID = 3;

/** The time shown, s: while the model is looked at, it stands at its start. */
export const timeShown = ({ view, time }: Pick<RunsState, 'view' | 'time'> = useRuns.getState()): number => (view === 'run' ? time : 0);

const { getState: get, setState: set } = useRuns;

// An edit shows in the scene at once: the model's own posture takes the place of the run's.
useDocument.subscribe((now, before) => {
  if (now.id !== before.id) set({ view: 'model', playing: false });
  else if (now.model !== before.model && !get().live) set({ view: 'model', playing: false });
});

/** Makes sure there is a picture of the current run's own model when that is no longer the open one. */
async function drawRun(id: string): Promise<void> {
  const row = rowOf(id);
  if (!row || get().pictures.has(id) || row.model === useDocument.getState().model) return;
  const { picture } = await checkModel(row.model);
  if (picture) set((s) => ({ pictures: new Map([...s.pictures, [id, picture]]) }));
}

/** Puts the scene at the current run's time. */
function viewRun(): void {
  const { current } = get();
  if (!current) return;
  set({ view: 'run' });
  void drawRun(current);
}

/** How often charts read on while a run goes on, ms. */
const ANNOUNCE = 350;

const patch = (id: string, change: Partial<RunRow>): void =>
  set((s) => ({ runs: s.runs.map((r) => (r.id === id ? { ...r, ...change } : r)) }));
const rowOf = (id: string) => get().runs.find((r) => r.id === id);

/** A run during which the page was closed: what was kept of it is there. */
const interrupted = (r: RunRow): Partial<RunRow> => ({
  status: 'cancelled',
  diagnoses: [
    ...r.diagnoses,
    {
      code: 'run-interrupted',
      severity: 'warning',
      message: `Run ${r.number} was interrupted when its page was closed. What it had recorded up to then is kept.`,
      remedy: 'Run it again for the rest.',
    },
  ],
});

/** Whether a row has what a run needs to be shown. */
export const isSoundRun = (r: RunRow): boolean =>
  isSound(r.model) &&
  Number.isFinite(r.number) &&
  Number.isFinite(r.until) &&
  Array.isArray(r.diagnoses) &&
  typeof r.layout === 'object' &&
  r.layout !== null &&
  Number.isFinite(r.layout.width) &&
  Number.isFinite(r.layout.bodies) &&
  (r.layout.told === undefined || isTold(r.layout.told, r.layout.bodies));

/** What is kept of a run whose row cannot be read, without its states. */
export const rawRun = async (id: string): Promise<string> => JSON.stringify(await db.runs.get(id), null, 1);
export async function dropDamaged(id: string): Promise<void> {
  await dropRun(id);
  set((s) => ({ damaged: s.damaged.filter((x) => x !== id) }));
}

/** Lists the kept runs of a project and makes the latest the one that is played. */
export async function showRunsOf(project: string): Promise<void> {
  const kept = await db.runs.where('project').equals(project).toArray(),
    damaged = kept.filter((r) => !isSoundRun(r));
  const rows = kept
    .filter(isSoundRun)
    .sort((a, b) => a.number - b.number)
    .map((r): RunRow => ({ ...r, model: complete(r.model), ...(r.status === 'running' ? interrupted(r) : {}) }));
  if (useDocument.getState().id !== project) return;
  useReadings.setState({ ...NOTHING, cursors: [] });
  set({
    runs: rows,
    damaged: damaged.map((r) => r.id),
    current: rows.at(-1)?.id,
    overlaid: [],
    tracks: new Map(),
    pictures: new Map(),
    running: undefined,
    queue: [],
    refusal: [],
    time: 0,
    playing: false,
    tick: get().tick + 1,
  });
  const last = rows.at(-1);
  const base = rows.find((r) => r.baseline && r !== last);
  if (last) await fetchRun(last.id);
  if (base && useDocument.getState().id === project) await fetchRun(base.id);
}

/** Tells the worker where the states of a run are. */
async function restore(row: RunRow, records: readonly number[]): Promise<void> {
  try {
    await runWorker().ask({ type: 'restore', run: row.id, model: row.model, layout: row.layout, records: [...records] }, 'done');
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    patch(row.id, { diagnoses: [...row.diagnoses, ...e.diagnoses] });
  }
}

// A worker that took over knows nothing of the runs that are shown.
onEngineLost((which) => {
  useDocument.setState((s) => ({
    notices: [
      ...s.notices.filter((d) => d.code !== 'engine-lost'),
      {
        code: 'engine-lost',
        severity: 'warning',
        message: 'A part of the program stopped and was started anew. Your work is safe; what it was doing must be asked for again.',
      },
    ],
  }));
  if (which !== 'run') return;
  for (const id of get().tracks.keys()) {
    const row = rowOf(id);
    if (row && row.status !== 'running')
      void posturesOfRun(id, (data) => posturesOf(data, row.layout)).then((parts) =>
        restore(
          row,
          parts.map((p) => p.times.length),
        ),
      );
  }
});

const fetching = new Map<string, Promise<void>>();
/** Brings the postures of a kept run to the scene, and tells the worker where to find its states. */
export function fetchRun(id: string): Promise<void> {
  const row = rowOf(id);
  if (!row || get().tracks.has(id)) return Promise.resolve();
  const busy = fetching.get(id);
  if (busy) return busy;
  const work = (async () => {
    const parts = await posturesOfRun(id, (data) => posturesOf(data, row.layout)),
      track = new Track(row.layout);
    for (const p of parts) track.append(p);
    // what is asked of the worker later comes after this: playing need not wait for it
    const restored = restore(
      row,
      parts.map((p) => p.times.length),
    );
    // of an interrupted run only the parts themselves tell how far it came
    if (row.reached !== track.end && row.status !== 'running') patch(id, { reached: track.end, records: track.count });
    set((s) => ({ tracks: new Map([...s.tracks, [id, track]]), readable: new Map([...s.readable, [id, track.count]]), tick: s.tick + 1 }));
    await restored;
  })().finally(() => fetching.delete(id));
  fetching.set(id, work);
  return work;
}

export function startRun(): void {
  const { model, inside } = useDocument.getState();
  if (!model) return;
  const { fromShown, current, time, tracks, running, queue } = get();
  const shown = fromShown && current ? tracks.get(current) : undefined;
  const from = shown && current ? { run: current, record: shown.recordAt(time) } : undefined;
  if (running) set({ queue: [...queue, { model, inside, from }] });
  else begin(model, inside, from);
}

/** Takes a waiting run out of the queue. */
export const unqueue = (i: number): void => set((s) => ({ queue: s.queue.filter((_, k) => k !== i) }));

/** The next that waits. */
function next(): void {
  const [first, ...queue] = get().queue;
  if (!first || get().running) return;
  set({ queue });
  begin(first.model, first.inside, first.from);
}

function begin(model: Model, inside: string | undefined, from: { run: string; record: number } | undefined): void {
  const { id: project } = useDocument.getState();
  if (!project) return;
  const run = new UnderWay(project, model, inside);
  set({ running: run.id, progress: 0, refusal: [], playing: false });
  runWorker().stream({ type: 'run', run: run.id, model, ...(from ? { from } : {}) }, (r) => run.take(r));
}

type Ended = Extract<Reply, { type: 'ended' }>;

/** A run that goes on in the worker: shown as it grows, and kept part by part. */
class UnderWay {
  readonly id = crypto.randomUUID();
  private readonly number = Math.max(0, ...get().runs.map((r) => r.number)) + 1;
  private readonly name = `Run ${this.number}`;
  private track: Track | undefined;
  private recorder: Recorder | undefined;
  private announced = performance.now();
  constructor(
    private readonly project: string,
    private readonly model: Model,
    private readonly inside: string | undefined,
  ) {}

  /** @returns whether that was the last of it */
  take(r: Reply): boolean {
    if (r.type === 'refused') this.refused(r.diagnoses);
    else if (r.type === 'started') this.started(r.layout, r.until);
    else if (r.type === 'records') this.records(r.part, r.data);
    else if (r.type === 'progress') set({ progress: r.t });
    else if (r.type === 'slow') patch(this.id, { diagnoses: r.diagnoses });
    else if (r.type === 'ended') this.ended(r);
    return r.type === 'refused' || r.type === 'ended';
  }

  private refused(diagnoses: Diagnosis[]): void {
    const { id, track, recorder } = this;
    set({ running: undefined, refusal: diagnoses });
    // it had begun: what was recorded stays, with why it ended
    if (track) {
      const change = { status: 'failed' as const, reached: track.end, records: track.count, diagnoses };
      patch(id, change);
      void recorder!.done.then((kept) => kept && keeping(this.name, () => db.runs.update(id, change)));
    }
    next();
  }

  private started(layout: RecordLayout, until: number): void {
    const { id, project, number, model, inside } = this;
    const row: RunRow = {
      ...{ id, project, number, model, layout, until },
      made: Date.now(),
      reached: 0,
      records: 0,
      status: 'running',
      seconds: 0,
      diagnoses: [],
      ...(inside === undefined ? {} : { kit: inside }),
    };
    const track = (this.track = new Track(layout));
    set((s) => ({
      runs: [...s.runs, row],
      current: id,
      time: s.live ? Math.min(s.time, until) : 0,
      playing: false,
      view: 'run',
      tracks: new Map([...s.tracks, [id, track]]),
    }));
    this.recorder = new Recorder(
      id,
      this.name,
      keeping(this.name, () => db.runs.put(row)),
    );
  }

  private records(part: number, data: Float64Array): void {
    const track = this.track!;
    this.recorder!.add(part, data, track.add(data));
    set((s) => ({ progress: track.end, tick: s.tick + 1 }));
    if (performance.now() - this.announced > ANNOUNCE) this.announce();
  }

  /** What has come in can be read from now on. */
  private announce(): void {
    const { id } = this,
      track = this.track!;
    this.announced = performance.now();
    set((s) => ({
      readable: new Map([...s.readable, [id, track.count]]),
      ...(s.playing || s.live || s.current !== id ? {} : { time: track.end }),
    }));
  }

  private ended({ status, t: reached, seconds, statistics, diagnoses, happenings }: Ended): void {
    const { id } = this;
    const change = { status, reached, seconds, statistics, records: this.track!.count, diagnoses, happenings };
    patch(id, change);
    set((s) => ({ running: undefined, tick: s.tick + 1 }));
    this.announce();
    next();
    // what was made now plays from its start
    if (get().current === id && !get().playing && !get().live) set({ time: 0, playing: true });
    void this.recorder!.done.then(async (kept) => {
      if (!kept || !(await keeping(this.name, () => db.runs.update(id, change)))) await this.notKept(diagnoses);
      if (!get().live) await this.lookThrough();
    });
  }

  /** What went through what, though nothing holds it apart, is told afterwards. */
  private async lookThrough(): Promise<void> {
    const found = await runWorker()
      .ask({ type: 'passings', run: this.id }, 'passings')
      .catch(() => undefined);
    const row = rowOf(this.id);
    if (!row || !found || found.diagnoses.length === 0) return;
    const diagnoses = [...row.diagnoses, ...found.diagnoses];
    patch(this.id, { diagnoses });
    await db.runs.update(this.id, { diagnoses });
  }

  /** Until the page is closed it can still be read: what had left the worker is read back before the store deletes it. */
  private async notKept(diagnoses: Diagnosis[]): Promise<void> {
    const { id } = this;
    await runWorker()
      .ask({ type: 'hold', run: id }, 'done')
      .catch(() => undefined);
    await dropRun(id).catch(() => undefined);
    const lost: Diagnosis = {
      code: 'run-not-saved',
      severity: 'warning',
      message: 'The run could not be kept. It is lost when the page is closed.',
      remedy: 'Delete old runs or projects, or export what you need now.',
    };
    patch(id, { diagnoses: [...diagnoses, lost] });
  }
}

export function cancelRun(): void {
  const { running } = get();
  if (running) void runWorker().ask({ type: 'cancel', run: running }, 'done');
}

export async function showRun(id: string): Promise<void> {
  set((s) => ({ current: id, overlaid: s.overlaid.filter((x) => x !== id), playing: false }));
  viewRun();
  await fetchRun(id);
}

export async function toggleOverlay(id: string): Promise<void> {
  set((s) => ({ overlaid: s.overlaid.includes(id) ? s.overlaid.filter((x) => x !== id) : [...s.overlaid, id] }));
  await fetchRun(id);
}

export async function deleteRun(id: string): Promise<void> {
  set((s) => {
    const runs = s.runs.filter((r) => r.id !== id);
    const tracks = new Map(s.tracks);
    tracks.delete(id);
    return { runs, tracks, overlaid: s.overlaid.filter((x) => x !== id), current: s.current === id ? runs.at(-1)?.id : s.current };
  });
  await dropRun(id);
  await runWorker().ask({ type: 'forget', run: id }, 'done');
  const { current } = get();
  if (current) await fetchRun(current);
}

/** Name, note or pin of a run. */
export async function describeRun(id: string, change: Pick<Partial<RunRow>, 'label' | 'note' | 'pinned'>): Promise<void> {
  patch(id, change);
  await keeping('What was said of the run', () => db.runs.update(id, change));
}

/** Makes a run the one that others are compared with, or none. */
export async function setBaseline(id: string | undefined): Promise<void> {
  for (const r of get().runs)
    if (!!r.baseline !== (r.id === id)) {
      patch(r.id, { baseline: r.id === id });
      await keeping('Which run is the baseline', () => db.runs.update(r.id, { baseline: r.id === id }));
    }
  if (id !== undefined) await fetchRun(id);
}

/** What a run takes in the store, bytes. */
export const sizeOf = (r: RunRow): number => r.records * (8 * r.layout.width + 8 + 40 * r.layout.bodies); // states, and postures beside them

/**
 * Deletes runs that are not pinned, but never the latest nor the baseline.
 * @param older made longer ago than this, ms; left out: of any age
 * @param least the largest go until all together take no more than this, bytes; left out: all go
 */
export async function tidyRuns(older = 0, least?: number): Promise<void> {
  const { runs, running } = get(),
    last = runs.at(-1)?.id,
    now = Date.now();
  let total = runs.reduce((s, r) => s + sizeOf(r), 0);
  const may = runs.filter((r) => !r.pinned && !r.baseline && r.id !== last && r.id !== running && now - r.made >= older);
  for (const r of least === undefined ? may : may.sort((a, b) => sizeOf(b) - sizeOf(a))) {
    if (least !== undefined && total <= least) break;
    total -= sizeOf(r);
    await deleteRun(r.id);
  }
}

export function setTime(time: number): void {
  set({ time, playing: false });
  viewRun();
}
/** One record on, or back. */
export function stepFrame(by: 1 | -1): void {
  const { current, tracks } = get(),
    track = current ? tracks.get(current) : undefined;
  if (track && track.count > 0) setTime(track.timeOf(Math.max(0, Math.min(track.count - 1, track.recordAt(timeShown()) + by))));
}
export const setFromShown = (fromShown: boolean): void => set({ fromShown });
export const setSpeed = (speed: number): void => set({ speed });

export function togglePlay(): void {
  const { playing, time, current, tracks } = get();
  const end = current ? (tracks.get(current)?.end ?? 0) : 0;
  viewRun();
  set({ playing: !playing && end > 0, ...(time >= end - 1e-9 && !playing ? { time: 0 } : {}) });
}

/** Advances playback by a frame; called by the one clock of the page while something plays. */
export function advance(seconds: number): void {
  const { time, speed, current, tracks, running, backward } = get();
  const end = current ? (tracks.get(current)?.end ?? 0) : 0;
  if (backward) {
    const back = time - seconds * speed,
      on = useReadings.getState().loop === 'to and fro';
    return set(back > 0 && on ? { time: back } : { time: on ? Math.min(end, -back) : time, backward: false });
  }
  const next = time + seconds * speed;
  if (next < end) set({ time: next });
  else if (running === current) set({ time: end });
  else if (end > 0 && useReadings.getState().loop === 'loop') set({ time: next % end });
  else if (end > 0 && useReadings.getState().loop === 'to and fro') set({ time: Math.max(0, 2 * end - next), backward: true });
  else set({ time: end, playing: false });
}
