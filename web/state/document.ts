/** The open project: the only owner of its model. Every edit is a set of patches, so that all of it can be undone. */
import { type Patch, applyPatches, enablePatches, produceWithPatches } from 'immer';
import { create } from 'zustand';
import { type Diagnosis, type Family, type LiveValue, type Model, Refusal, complete, register } from '@vim-pivot/core/page';
import { checkModel, fetchDeclarations, setGeometrySource } from '../workers/client';
import type { Checked, Picture } from '../workers/protocol';
import { type ProjectRow, db } from './db';
import { keepRevision } from './keep';
import { keeping } from './storage';
import { EXAMPLES } from './examples';

enablePatches();

interface Change {
  label: string;
  forward: Patch[];
  back: Patch[];
}

export interface Selected {
  family: Family;
  name: string;
}

interface DocumentState {
  id: string | undefined;
  model: Model | undefined;
  projects: { id: string; name: string; changed: number }[];
  savedAt: number | undefined;
  past: Change[];
  future: Change[];
  /** What the Card shows: the last of what is picked. */
  selected: Selected | undefined;
  picked: readonly Selected[];
  /** Findings and live values of the model as it is; live values keep their last good ones. */
  diagnoses: Diagnosis[];
  /** What an import left out, told until another project is opened. */
  notices: readonly Diagnosis[];
  live: ReadonlyMap<string, LiveValue>;
  mobility: Checked['mobility'];
  gauges: Checked['gauges'];
  /** The last picture that could be drawn. */
  picture: Picture | undefined;
  /** The picture is not that of the model as it is, because of an error. */
  stale: boolean;
  /** A file that was refused; its model when it is well-formed and only its content is in error. */
  refused: { file: string; diagnoses: readonly Diagnosis[]; model?: Model } | undefined;
  ready: boolean;
}

export const useDocument = create<DocumentState>(() => ({
  id: undefined, model: undefined, projects: [], savedAt: undefined, past: [], future: [], selected: undefined, picked: [], diagnoses: [], notices: [],
  live: new Map(), mobility: undefined, gauges: [], picture: undefined, stale: false, refused: undefined, ready: false,
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

/** The same with a recipe that gives the model anew. */
export function replace(label: string, recipe: (m: Model) => Model): void {
  const { model, past } = get();
  if (!model) return;
  const [next, forward, back] = produceWithPatches(model, recipe);
  if (forward.length === 0) return;
  set({ model: next, past: [...past.slice(-MOST_UNDO), { label, forward, back }], future: [] });
  changed();
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
      const { model: base, past } = begun;
      // something else has changed the model meanwhile: what was begun is over
      if (!base || (last ?? base) !== get().model) return;
      const [next, forward, back] = produceWithPatches(base, (m: Model) => {
        recipe(m);
      });
      last = next;
      set(forward.length === 0 ? { model: base, past } : { model: next, past: [...past.slice(-MOST_UNDO), { label, forward, back }], future: [] });
      changed();
    },
    cancel() {
      if (!last || last !== get().model) return;
      set({ model: begun.model, past: begun.past, future: begun.future });
      changed();
    },
  };
}

export function undo(): void {
  const { model, past, future } = get();
  const last = past.at(-1);
  if (!model || !last) return;
  set({ model: applyPatches(model, last.back), past: past.slice(0, -1), future: [last, ...future] });
  changed();
}

export function redo(): void {
  const { model, past, future } = get();
  const [first, ...rest] = future;
  if (!model || !first) return;
  set({ model: applyPatches(model, first.forward), past: [...past, first], future: rest });
  changed();
}

export const select = (selected: Selected | undefined): void => set({ selected, picked: selected ? [selected] : [] });
/** Adds to what is picked, or takes out of it. */
export function pickAlso(one: Selected): void {
  const { picked } = get();
  const rest = picked.filter((p) => p.family !== one.family || p.name !== one.name);
  const next = rest.length < picked.length ? rest : [...picked, one];
  set({ picked: next, selected: next.at(-1) });
}
export const dismissRefusal = (): void => set({ refused: undefined });

function changed(): void {
  save();
  void recheck();
}

/** Other windows with the same projects. */
const windows = typeof BroadcastChannel === 'undefined' ? { postMessage() {}, onmessage: null } : new BroadcastChannel('vim-pivot-projects');
/** The model as it is kept. */
let settled: Model | undefined;

/** Another window has saved the project that is open here: its state comes in as an edit, so that undo brings back what stood here. */
windows.onmessage = ({ data }: MessageEvent<{ id: string }>) => {
  if (data.id !== get().id) return;
  void (async () => {
    const row = await db.projects.get(data.id);
    const { id, model } = get();
    if (!row || !model || id !== data.id || JSON.stringify(row.model) === JSON.stringify(model)) return;
    // what stands here and is not kept yet is kept as a revision before it gives way
    if (model !== settled) await keepRevision(id, 'Edited here while another window saved', model, true);
    clearTimeout(saving);
    const next = complete(row.model);
    replace('Change in another window', () => next);
    settled = get().model;
    clearTimeout(saving);
  })();
};

let saving: ReturnType<typeof setTimeout> | undefined;
/** Autosave, shortly after the last change. */
function save(): void {
  clearTimeout(saving);
  saving = setTimeout(() => void saveNow(), 200);
}
export async function saveNow(): Promise<void> {
  clearTimeout(saving);
  const { id, model, past } = get();
  if (!id || !model || model === settled) return;
  const row: ProjectRow = { id, name: model.name, model, changed: Date.now() };
  const kept = await keeping('The last change', () => db.transaction('rw', db.projects, async () => {
    // what is kept of it besides, such as its picture, stays
    if ((await db.projects.update(id, { ...row })) === 0) await db.projects.put(row);
  }));
  if (!kept) return;
  settled = model;
  windows.postMessage({ id, changed: row.changed });
  await keepRevision(id, past.at(-1)?.label ?? 'Opened', model);
  set((s) => ({ savedAt: row.changed, projects: s.projects.map((p) => (p.id === id ? { id, name: row.name, changed: row.changed } : p)) }));
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
    const live = new Map([...get().live, ...checked.live]);
    set({
      diagnoses: checked.diagnoses, live, stale: !checked.picture,
      ...(checked.picture ? { picture: checked.picture, mobility: checked.mobility, gauges: checked.gauges } : {}),
    });
  } while (again);
  checking = false;
}

function show(stored: ProjectRow): void {
  // a project kept by an earlier version may lack families that came later
  const row = { ...stored, model: complete(stored.model) };
  settled = row.model;
  set({ id: row.id, model: row.model, savedAt: row.changed, past: [], future: [], selected: undefined, picked: [], diagnoses: [], notices: [], live: new Map(), picture: undefined, mobility: undefined, gauges: [], stale: false });
  localStorage.setItem(LAST_OPEN, row.id);
  void recheck();
}

/** Geometry that no project, run, revision or edit of this session refers to is let go. */
async function dropUnusedGeometry(): Promise<void> {
  const names = new Set(await db.geometries.toCollection().primaryKeys());
  const spare = (what: unknown) => {
    if (names.size === 0) return;
    const text = JSON.stringify(what);
    for (const n of names) if (text.includes(n)) names.delete(n);
  };
  await db.projects.each((r) => spare(r.model));
  await db.runs.each((r) => spare(r.model));
  await db.revisions.each((r) => spare(r.model));
  const { model, past, future } = get();
  spare([model, past, future]);
  await db.geometries.bulkDelete([...names]);
}

const listProjects = async () => (await db.projects.orderBy('changed').reverse().toArray()).map(({ id, name, changed }) => ({ id, name, changed }));

/** Opens the project last used; on a first visit the demo machine. */
export async function start(): Promise<void> {
  if (get().ready) return;
  setGeometrySource((name) => db.geometries.get(name));
  set({ ready: true });
  const declared = fetchDeclarations();
  if ((await db.projects.count()) === 0) {
    for (const example of EXAMPLES) await db.projects.put({ id: crypto.randomUUID(), name: example.name, model: example as Model, changed: Date.now() });
  }
  set({ projects: await listProjects() });
  const last = localStorage.getItem(LAST_OPEN);
  const row = (last ? await db.projects.get(last) : undefined) ?? (await db.projects.orderBy('changed').last());
  register(await declared);
  if (row) show(row);
}

export async function openProject(id: string): Promise<void> {
  await saveNow();
  const row = await db.projects.get(id);
  if (row) show(row);
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
  if (!row) return;
  const name = `${row.name} copy`.slice(0, 80);
  await keeping('The copy', () => db.projects.put({ ...row, id: crypto.randomUUID(), name, model: { ...row.model, name }, changed: Date.now() }));
  set({ projects: await listProjects() });
}

export async function deleteProject(id: string): Promise<void> {
  await db.transaction('rw', db.projects, db.runs, db.chunks, db.revisions, async () => {
    const runs = await db.runs.where('project').equals(id).primaryKeys();
    await db.revisions.where('project').equals(id).delete();
    for (const run of runs) await db.chunks.filter((c) => c.run === run).delete();
    await db.runs.bulkDelete(runs);
    await db.projects.delete(id);
  });
  await dropUnusedGeometry();
  const projects = await listProjects();
  set({ projects });
  if (get().id !== id) return;
  const next = projects[0];
  if (next) await openProject(next.id);
  else await addProject(blank('Untitled machine'));
}

export const blank = (name: string): Model => complete({
  format: 'vim-pivot-model', version: 1, name, ground: 'Frame', run: { until: '2 s', every: '1 ms', accuracy: 1e-5 },
  materials: [{ name: 'Steel', density: '7850 kg/m^3' }], loads: [{ name: 'Gravity', kind: 'gravity' }],
});
