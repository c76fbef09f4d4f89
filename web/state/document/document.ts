/** The open project: the only owner of its model. Every edit is a set of patches, so that all of it can be undone. */
import { type Patch, applyPatches, enablePatches, produceWithPatches } from 'immer';
import { create } from 'zustand';
import {
  type Diagnosis,
  type Family,
  type LiveValue,
  type Model,
  Refusal,
  complete,
  homeOf,
  register,
  showComma,
  showIn,
  usesComma,
} from '@vim-pivot/core/page';
import { checkModel, fetchDeclarations } from '../../workers/client';
import type { Checked, Picture, Within } from '../../workers/protocol';
import { type ProjectRow, db, dropRecords } from '../kept/db';
import { keepRevision } from '../kept/keep';
import { keeping, useStorage } from '../kept/storage';
import { type Kept, type Shelf, Sync } from '../kept/sync';
import { isSound } from '../kept/sound';
import { EXAMPLES } from '../adding/examples';
import { dropUnusedGeometry } from '../kept/unused-geometry';
import { changeOf, viewOf } from './kit-view';
import { liveAfter } from './live-after';

enablePatches();

interface Change {
  label: string;
  forward: Patch[];
  back: Patch[];
  /** The kit that was open. */
  inside: string | undefined;
}

export interface Selected {
  family: Family;
  name: string;
}

const NONE_WITHIN: Within = { homes: {}, joints: [] };

interface DocumentState {
  id: string | undefined;
  /** What is worked on: the whole, or the kit that is open. */
  model: Model | undefined;
  /** The document as it is kept. */
  whole: Model | undefined;
  /** The kit that is open. */
  inside: string | undefined;
  projects: { id: string; name: string; changed: number; /** What is kept of it is no model. */ damaged?: boolean }[];
  savedAt: number | undefined;
  /** Why the last changes are not in the store; they are tried again by themselves. */
  unsaved: string | undefined;
  past: Change[];
  future: Change[];
  /** What the Card shows: the last of what is picked. */
  selected: Selected | undefined;
  picked: readonly Selected[];
  /** The next thing selected is added to it. */
  adding: boolean;
  /** Findings and live values of the model as it is; live values keep their last good ones. */
  diagnoses: Diagnosis[];
  /** What an import left out, told until another project is opened. */
  notices: readonly Diagnosis[];
  live: ReadonlyMap<string, LiveValue>;
  mobility: Checked['mobility'];
  /** The model of which findings, live values and picture are told. */
  checked: Model | undefined;
  gauges: Checked['gauges'];
  /** Names of what instances bring, by family. */
  brought: NonNullable<Checked['brought']>;
  /** How what they bring hangs together. */
  within: Within;
  /** The last picture that could be drawn. */
  picture: Picture | undefined;
  /** The picture is not that of the model as it is, because of an error. */
  stale: boolean;
  /** A file that was refused; its model when it is well-formed and only its content is in error. */
  refused: { file: string; diagnoses: readonly Diagnosis[]; model?: Model } | undefined;
  ready: boolean;
}

export const useDocument = create<DocumentState>(() => ({
  id: undefined,
  model: undefined,
  whole: undefined,
  inside: undefined,
  projects: [],
  savedAt: undefined,
  unsaved: undefined,
  past: [],
  future: [],
  selected: undefined,
  picked: [],
  adding: false,
  diagnoses: [],
  notices: [],
  live: new Map(),
  mobility: undefined,
  checked: undefined,
  gauges: [],
  brought: {},
  within: NONE_WITHIN,
  picture: undefined,
  stale: false,
  refused: undefined,
  ready: false,
}));

const { getState: get, setState: set } = useDocument;
const MOST_UNDO = 500;
const LAST_OPEN = 'last-project';

/** Changes the model as one undo step. @param recipe changes the draft in place */
export function edit(label: string, recipe: (m: Model) => void): void {
  replace(label, (m) => {
    recipe(m);
    return m;
  });
}

/** Shows a state of the whole; a kit that is no longer there is left. */
function take(whole: Model, inside: string | undefined): Partial<DocumentState> {
  showIn(whole.units);
  const still = inside !== undefined && whole.kits.some((k) => k.name === inside) ? inside : undefined;
  return { whole, inside: still, model: viewOf(whole, still) };
}

/** The same with a recipe that gives the model anew. */
export function replace(label: string, recipe: (m: Model) => Model): void {
  const { model, whole, inside, past } = get();
  if (!model || !whole) return;
  const [next, forward, back] = changeOf(whole, model, inside, recipe);
  if (forward.length === 0) return;
  set({ ...take(next, inside), past: [...past.slice(-MOST_UNDO), { label, forward, back, inside }], future: [] });
  changed();
}

/** A further change of the whole that belongs to the last one: one undo step. */
export function joinLast(recipe: (m: Model) => Model): void {
  const { whole, inside, past } = get();
  const last = past.at(-1);
  if (!whole || !last) return;
  const [next, forward, back] = produceWithPatches(whole, recipe as (m: Model) => Model);
  if (forward.length === 0) return;
  set({
    ...take(next, inside),
    past: [...past.slice(0, -1), { ...last, forward: [...last.forward, ...forward], back: [...back, ...last.back] }],
  });
  changed();
}

/** A change of the whole document, whatever kit is open. */
export function replaceWhole(label: string, recipe: (m: Model) => unknown, then: string | undefined = get().inside): void {
  const { whole, inside, past } = get();
  if (!whole) return;
  const [next, forward, back] = produceWithPatches(whole, recipe as (m: Model) => Model);
  if (forward.length === 0) return;
  set({ ...take(next, then), past: [...past.slice(-MOST_UNDO), { label, forward, back, inside }], future: [] });
  changed();
}

/** Opens a kit to be worked on, or goes back to the machine. */
export function openKit(name: string | undefined): void {
  const { whole } = get();
  if (!whole) return;
  set({ ...take(whole, name), selected: undefined, picked: [], picture: undefined, live: new Map() });
  void recheck();
}

/**
 * A change that grows while the hand moves, such as dragging a point: every call works on the model as it was at the beginning, so that
 * the whole is one undo step.
 */
export function gesture(): { set(label: string, recipe: (m: Model) => void): void; cancel(): void } {
  const begun = get();
  let last: Model | undefined;
  return {
    set(label, recipe) {
      const { model, whole, inside, past } = begun;
      // something else has changed the model meanwhile: what was begun is over
      if (!model || !whole || (last ?? whole) !== get().whole) return;
      const [next, forward, back] = changeOf(whole, model, inside, (m: Model) => {
        recipe(m);
      });
      last = next;
      set(
        forward.length === 0
          ? { whole, model, past }
          : { ...take(next, inside), past: [...past.slice(-MOST_UNDO), { label, forward, back, inside }], future: [] },
      );
      changed();
    },
    cancel() {
      if (!last || last !== get().whole) return;
      set({ model: begun.model, whole: begun.whole, past: begun.past, future: begun.future });
      changed();
    },
  };
}

export function undo(): void {
  const { whole, past, future } = get();
  const last = past.at(-1);
  if (!whole || !last) return;
  set({ ...take(applyPatches(whole, last.back), last.inside), past: past.slice(0, -1), future: [last, ...future] });
  changed();
}

export function redo(): void {
  const { whole, past, future } = get();
  const [first, ...rest] = future;
  if (!whole || !first) return;
  set({ ...take(applyPatches(whole, first.forward), first.inside), past: [...past, first], future: rest });
  changed();
}

/** What an instance brought stands for the instance; but its points are picked as points are. */
const ownOf = (s: Selected): Selected | undefined => {
  const { model, within } = get();
  return model && !(s.family === 'points' && s.name in within.homes) ? homeOf(model, s.family, s.name) : s;
};
/** The next thing selected is added to what is picked: what Ctrl does, by the mouse alone. */
export const pickAnother = (on: boolean): void => set({ adding: on });
export function select(what: Selected | undefined): void {
  if (get().adding) {
    set({ adding: false });
    if (what) return pickAlso(what);
  }
  const selected = what && (ownOf(what) ?? what);
  set({ selected, picked: selected ? [selected] : [] });
}
/** Adds to what is picked, or takes out of it. */
export function pickAlso(what: Selected): void {
  const { picked } = get(),
    one = ownOf(what) ?? what;
  const rest = picked.filter((p) => p.family !== one.family || p.name !== one.name);
  const next = rest.length < picked.length ? rest : [...picked, one];
  set({ picked: next, selected: next.at(-1) });
}
/** Picks these of a family, and keeps what is picked of others. */
export function pickRows(family: Family, names: readonly string[]): void {
  const { picked } = get();
  const next = [...picked.filter((p) => p.family !== family), ...names.map((name) => ({ family, name }))];
  set({ picked: next, selected: next.at(-1) });
}
export const dismissRefusal = (): void => set({ refused: undefined });

function changed(): void {
  save();
  void recheck();
}

/** Other windows with the same projects. */
const windows =
  typeof BroadcastChannel === 'undefined' ? { postMessage() {}, onmessage: null } : new BroadcastChannel('vim-pivot-projects');
/** Keeps the open project and the store alike, whatever other windows do. */
let sync: Sync<Model> | undefined, synced: string | undefined;

const shelfOf = (id: string): Shelf<Model> => ({
  read: async () => keptOf(await db.projects.get(id)),
  update: (change) =>
    db.transaction('rw', [db.projects, db.revisions], async () => {
      const row = await db.projects.get(id),
        next = change(keptOf(row));
      // what is kept of it besides, such as its picture, stays
      await db.projects.put({ ...row, id, name: next.model.name, model: next.model, changed: Date.now(), revision: next.revision });
      if (next.lost)
        await db.revisions.add({ project: id, made: Date.now(), label: 'Another window, where both changed the same', model: next.lost });
      return next;
    }),
});
const keptOf = (row: ProjectRow | undefined): Kept<Model> | undefined =>
  row && isSound(row.model) ? { model: complete(row.model), revision: row.revision ?? 0 } : undefined;

windows.onmessage = ({ data }: MessageEvent<{ id: string; revision?: number }>) => {
  if (data.id === get().id) void hear(data.revision ?? Infinity);
};
async function hear(revision: number): Promise<void> {
  clearTimeout(saving);
  if (await keeping('The last change', () => sync!.heard(revision))) noteSaved();
  else retryLater();
}
// a window that was asleep looks whether others have saved meanwhile
if (typeof document !== 'undefined')
  document.addEventListener('visibilitychange', () => document.visibilityState === 'visible' && sync && void hear(Infinity));

let saving: ReturnType<typeof setTimeout> | undefined;
/** Autosave, shortly after the last change. */
function save(): void {
  clearTimeout(saving);
  saving = setTimeout(() => void saveNow(), 200);
}
/** What could not be saved is tried again until it is. */
const RETRY = 2500;
function retryLater(): void {
  set({ unsaved: useStorage.getState().failed ?? 'The last change could not be kept in this browser.' });
  clearTimeout(saving);
  saving = setTimeout(() => void saveNow(), RETRY);
}
function noteSaved(): void {
  const { id, whole, unsaved } = get();
  if (!id || !whole || !sync?.saved) return;
  const changed = Date.now();
  set((s) => ({
    ...(unsaved ? { unsaved: undefined } : {}),
    savedAt: changed,
    projects: s.projects.map((p) => (p.id === id ? { id, name: whole.name, changed } : p)),
  }));
}
export async function saveNow(): Promise<void> {
  clearTimeout(saving);
  const { id, past } = get();
  if (!id) return;
  const mine = sync && synced === id ? sync : follow(id, undefined, 0);
  if (mine.saved) return;
  if (!(await keeping('The last change', () => mine.save()))) return mine === sync ? retryLater() : undefined;
  if (mine !== sync) return;
  noteSaved();
  await keepRevision(id, past.at(-1)?.label ?? 'Opened', get().whole!).catch(() => undefined);
}

let checking = false;
let again = false;
/** Checks and assembles the model in its worker; while it works, later edits wait and only the last counts. */
async function recheck(): Promise<void> {
  if (checking) {
    again = true;
    return;
  }
  checking = true;
  try {
    await checkUntilDone();
  } finally {
    checking = false;
  }
}

async function checkUntilDone(): Promise<void> {
  do {
    again = false;
    const { model, id } = get();
    if (!model) break;
    const checked = await checkModel(model, (picture) => get().id === id && set({ picture })).catch((e: unknown): Checked => {
      if (!(e instanceof Refusal)) throw e;
      return { diagnoses: [...e.diagnoses], live: [], gauges: [] };
    });
    if (get().id !== id) {
      again = true;
      continue;
    }
    const live = liveAfter(get().live, checked);
    set({
      checked: model,
      diagnoses: checked.diagnoses,
      live,
      brought: checked.brought ?? {},
      within: checked.within ?? NONE_WITHIN,
      stale: !checked.picture,
      ...(checked.picture ? { picture: checked.picture, mobility: checked.mobility, gauges: checked.gauges } : {}),
    });
  } while (again);
}

function show(stored: ProjectRow): void {
  // a project kept by an earlier version may lack families that came later
  const row = { ...stored, model: complete(stored.model) };
  clearTimeout(saving);
  showIn(row.model.units);
  set({
    id: row.id,
    model: row.model,
    whole: row.model,
    inside: undefined,
    unsaved: undefined,
    savedAt: row.changed,
    past: [],
    future: [],
    selected: undefined,
    picked: [],
    diagnoses: [],
    notices: [],
    brought: {},
    within: NONE_WITHIN,
    live: new Map(),
    picture: undefined,
    mobility: undefined,
    gauges: [],
    stale: false,
  });
  follow(row.id, row.model, row.revision ?? 0);
  localStorage.setItem(LAST_OPEN, row.id);
  void recheck();
}

/** From now on this document and the store are kept alike. */
function follow(id: string, model: Model | undefined, revision: number): Sync<Model> {
  synced = id;
  return (sync = new Sync<Model>(
    shelfOf(id),
    {
      now: () => get().whole!,
      take: (model) => {
        replaceWhole('Change in another window', () => model);
        clearTimeout(saving);
      },
      tell: (now) => windows.postMessage({ id, revision: now }),
    },
    model as Model,
    revision,
  ));
}

/** A name for a project of which not even that can be read. */
export const nameOfRow = (r: ProjectRow): string => (typeof r.name === 'string' && r.name !== '' ? r.name : 'Project without a name');
const listProjects = async () =>
  (await db.projects.toArray())
    .sort((a, b) => Number(b.changed) - Number(a.changed))
    .map((r) => ({ id: r.id, name: nameOfRow(r), changed: Number(r.changed) || 0, ...(isSound(r.model) ? {} : { damaged: true }) }));

/** Opens the project last used; on a first visit the demo machine. */
export async function start(): Promise<void> {
  if (get().ready) return;
  set({ ready: true });
  showComma(usesComma(navigator.language));
  const declared = fetchDeclarations();
  if ((await db.projects.count()) === 0) {
    for (const example of EXAMPLES)
      await db.projects.put({ id: crypto.randomUUID(), name: example.name, model: example as Model, changed: Date.now() });
  }
  set({ projects: await listProjects() });
  const last = localStorage.getItem(LAST_OPEN);
  const sound = get().projects.filter((p) => !p.damaged);
  const row = await db.projects.get(sound.find((p) => p.id === last)?.id ?? sound[0]?.id ?? '');
  register(await declared);
  if (row) show(row);
  else await addProject(blank('Untitled machine'));
}

export async function openProject(id: string): Promise<void> {
  await saveNow();
  const row = await db.projects.get(id);
  if (row && isSound(row.model)) show(row);
  else if (row)
    set({
      refused: {
        file: nameOfRow(row),
        diagnoses: [
          {
            code: 'project-damaged',
            severity: 'error',
            message: 'What is kept of this project is no model.',
            remedy: 'Export what is there under “Projects”, or go back to a copy of your own.',
          },
        ],
      },
    });
}

/** What is kept of a project as it is, for whoever can make something of it. */
export async function rawProject(id: string): Promise<string> {
  return JSON.stringify(
    { project: await db.projects.get(id), revisions: await db.revisions.where('project').equals(id).toArray() },
    null,
    1,
  );
}

/** Adds a project and opens it. */
export async function addProject(model: Model): Promise<void> {
  await saveNow();
  const row: ProjectRow = { id: crypto.randomUUID(), name: model.name, model, changed: Date.now() };
  await keeping('The project', () => db.projects.put(row));
  show(row);
  set({ projects: await listProjects() });
}

/** A project of the same content and another name; its runs stay with the first. */
export async function duplicateProject(id: string): Promise<void> {
  await saveNow();
  const row = await db.projects.get(id);
  if (!row || !isSound(row.model)) return;
  const name = `${row.name} copy`.slice(0, 80);
  await keeping('The copy', () =>
    db.projects.put({ ...row, id: crypto.randomUUID(), name, model: { ...row.model, name }, changed: Date.now() }),
  );
  set({ projects: await listProjects() });
}

export async function deleteProject(id: string): Promise<void> {
  await db.transaction('rw', [db.projects, db.runs, db.chunks, db.postures, db.revisions], async () => {
    const runs = await db.runs.where('project').equals(id).primaryKeys();
    await db.revisions.where('project').equals(id).delete();
    for (const run of runs) await dropRecords(run);
    await db.runs.bulkDelete(runs);
    await db.projects.delete(id);
  });
  await dropUnusedGeometry(() => {
    const { whole, past, future } = get();
    return [whole, past, future];
  });
  const projects = await listProjects();
  set({ projects });
  if (get().id !== id) return;
  const next = projects.find((p) => !p.damaged);
  if (next) await openProject(next.id);
  else await addProject(blank('Untitled machine'));
}

export const blank = (name: string): Model =>
  complete({
    format: 'vim-pivot-model',
    version: 1,
    name,
    ground: 'Frame',
    run: { until: '2 s', every: '1 ms', accuracy: 1e-6 },
    materials: [{ name: 'Steel', density: '7850 kg/m^3' }],
    loads: [{ name: 'Gravity', kind: 'gravity' }],
  });
