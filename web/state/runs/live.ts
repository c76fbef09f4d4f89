/** Live: the run is repeated while something is moved, the latest values winning; what stands at the end is run and kept as any other. */
import type { RecordLayout } from '@vim-pivot/core';
import type { Model } from '@vim-pivot/core/page';
import { runWorker } from '../../workers/client';
import type { Reply } from '../../workers/protocol';
import { useDocument } from '../document/document';
import type { RunRow } from '../kept/db';
import { differences } from './run-names';
import { OVERLAID, startRun, useRuns } from './runs';
import { Track } from './track';

/** Records of a run that is only looked at while a hand moves. */
const MOST = 500;
/** Time that such a run may take, s. */
const SLOW = 1;
/** Rest of the hand after which what stands there is run and kept, ms. */
const REST = 700;

const { getState: get, setState: set } = useRuns;

/** A run in the worker, and the model it is of. */
interface UnderWay {
  id: string;
  model: Model;
  began: number;
  track?: Track;
  layout?: RecordLayout;
  until?: number;
}
let underWay: UnderWay | undefined;
/** The live run that is shown, and those before it whose states the worker still has. */
let shown: string | undefined;
let worn: string[] = [];
let resting: ReturnType<typeof setTimeout> | undefined;
let held = false;
let leave: (() => void)[] = [];

// once another run is shown, the last live one has done its duty
useRuns.subscribe((now) => {
  if (shown !== undefined && now.current !== shown) drop();
});

/** Switches live runs on or off by hand: what is shown of one is then run and kept. */
export function toggleLive(): void {
  setLive(!get().live);
  if (!get().live && shown !== undefined) settle();
}
/** Switches live runs on or off. */
function setLive(on: boolean): void {
  if (get().live === on) return;
  set({ live: on });
  if (!on) {
    leave.forEach((off) => off());
    leave = [];
    clearTimeout(resting);
    return;
  }
  const hold = () => (held = true),
    release = () => (held = false);
  addEventListener('pointerdown', hold, true);
  addEventListener('pointerup', release, true);
  addEventListener('pointercancel', release, true);
  leave = [
    () => removeEventListener('pointerdown', hold, true),
    () => removeEventListener('pointerup', release, true),
    () => removeEventListener('pointercancel', release, true),
    useDocument.subscribe((now, before) => {
      if (now.id !== before.id) return setLive(false);
      if (!now.model || !before.model || now.model === before.model) return;
      if (differences(before.model, now.model).some((d) => d.of === 'motion')) moved();
    }),
  ];
}

/** The model has changed in what bears on its motion. */
function moved(): void {
  clearTimeout(resting);
  resting = setTimeout(settle, REST);
  if (!underWay && !get().running) begin();
}

function begin(): void {
  const { model } = useDocument.getState();
  if (!model) return;
  const run = (underWay = { id: crypto.randomUUID(), model, began: performance.now() });
  runWorker().stream({ type: 'run', run: run.id, model, most: MOST }, (r) => take(run, r));
}

/** @returns whether that was the last of a run */
function take(run: UnderWay, r: Reply): boolean {
  if (r.type === 'started') Object.assign(run, { track: new Track(r.layout), layout: r.layout, until: r.until });
  else if (r.type === 'records') run.track!.add(r.data);
  else if (r.type === 'refused' || r.type === 'ended') {
    underWay = undefined;
    if (r.type === 'ended' && get().live && r.status !== 'cancelled') show(run, r);
    else worn.push(run.id);
    if (r.type === 'ended' && r.seconds > SLOW) tooSlow(r.seconds);
    // first the page asks for what it shows, then the next begins
    else if (run.model !== useDocument.getState().model && get().live) setTimeout(() => setTimeout(() => underWay ?? begin()));
    return true;
  }
  if (performance.now() - run.began > 2000 * SLOW && get().live) {
    void runWorker().ask({ type: 'cancel', run: run.id }, 'done');
    tooSlow((performance.now() - run.began) / 1000);
  }
  return false;
}

function show({ id, model, track, layout, until }: UnderWay, r: Extract<Reply, { type: 'ended' }>): void {
  const { runs, current, overlaid, tracks, readable, time } = get();
  const kept = runs.filter((x) => x.id !== shown),
    ghost = current !== undefined && current !== shown ? [current] : [];
  const row: RunRow = {
    ...{ id, model, project: useDocument.getState().id!, layout: layout!, until: until!, made: Date.now(), live: true },
    ...{ number: 0, reached: r.t, records: track!.count, status: r.status, seconds: r.seconds },
    ...{ statistics: r.statistics, diagnoses: r.diagnoses, happenings: r.happenings },
  };
  const before = shown;
  shown = id;
  set({
    runs: [...kept, row],
    current: id,
    overlaid: [...ghost, ...overlaid.filter((x) => x !== current)].slice(0, OVERLAID),
    tracks: new Map([...[...tracks].filter(([x]) => x !== before), [id, track!]]),
    readable: new Map([...[...readable].filter(([x]) => x !== before), [id, track!.count]]),
    view: 'run',
    time: Math.min(time, track!.end),
    refusal: [],
    tick: get().tick + 1,
  });
  // the one before may still be being read
  forget(worn);
  worn = before === undefined ? [] : [before];
}

function forget(ids: readonly string[]): void {
  for (const run of ids) void runWorker().ask({ type: 'forget', run }, 'done');
}

/** The live run leaves the list: a run that is kept has taken its place. */
function drop(): void {
  const id = shown!;
  shown = undefined;
  set((s) => ({
    runs: s.runs.filter((r) => r.id !== id),
    overlaid: s.overlaid.filter((x) => x !== id),
    tracks: new Map([...s.tracks].filter(([x]) => x !== id)),
    readable: new Map([...s.readable].filter(([x]) => x !== id)),
  }));
  forget([...worn, id]);
  worn = [];
}

/** The hand rests: what stands there is run at full length and kept. */
function settle(): void {
  if (held || underWay) resting = setTimeout(settle, REST);
  else if (!useDocument.getState().diagnoses.some((d) => d.severity === 'error')) startRun();
}

function tooSlow(seconds: number): void {
  setLive(false);
  useDocument.setState((s) => ({
    notices: [
      ...s.notices.filter((d) => d.code !== 'live-slow'),
      {
        code: 'live-slow',
        severity: 'note',
        message: `Live was switched off: a run takes ${seconds.toPrecision(2)} s, too long to follow a hand.`,
        remedy: 'Shorten the run or lower its accuracy, and switch it on again.',
      },
    ],
  }));
}
