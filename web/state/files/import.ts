/** Parts from a file on their way into the model: read in a worker that can be stopped, looked over in a dialog, added as one undo step. */
import { create } from 'zustand';
import type { Model, RawElement } from '@vim-pivot/core/page';
import { toRollPitchYaw } from '@vim-pivot/core/drawn';
import type { ImportReply, ImportRequest, PartInfo } from '../../workers/import.worker';
import type { SharedAxis } from '../../workers/parts';
import { edit, select, useDocument } from '../document/document';
import { freeName } from '../document/elements';
import { useImportingState } from '../asking';
import { ALL, type Target, groupOf } from './part-tree';
import { keeping } from '../kept/storage';

interface Importing {
  file: string | undefined;
  /** What is being done, while reading. */
  doing: string | undefined;
  /** How much of it is done, where that is known, 0 to 1. */
  done: number | undefined;
  parts: readonly PartInfo[];
  axes: readonly SharedAxis[];
  /** Metres of a unit of the file; undefined when the file does not say. */
  metres: number | undefined;
  /** Facets to a turn of round faces; undefined when the file has triangles. */
  facets: number | undefined;
  /** Parts of the file without a surface. */
  empty: readonly string[];
}

export const useImport = create<Importing>(() => ({
  file: undefined,
  doing: undefined,
  done: undefined,
  parts: [],
  axes: [],
  metres: undefined,
  facets: undefined,
  empty: [],
}));
const { setState: set } = useImport;
useImport.subscribe((s) => useImportingState.setState({ on: s.file !== undefined }));
let worker: Worker | undefined, given: File | undefined;

const LARGEST = 400e6;

export function startImport(file: File, facets?: number): void {
  cancelImport();
  const refuse = (message: string) => {
    cancelImport();
    useDocument.setState({ refused: { file: file.name, diagnoses: [{ code: 'import-refused', severity: 'error', message }] } });
  };
  if (file.size > LARGEST) return refuse('The file is larger than 400 MB.');
  given = file;
  set({ file: file.name, doing: 'Opening', parts: [], axes: [] });
  const mine = (worker = new Worker(`/engine/import.js?v=${process.env.ENGINE_VERSION}`, { type: 'module' }));
  mine.onerror = (e) => refuse(`The file could not be read: ${e.message || 'the reader failed'}.`);
  mine.onmessage = ({ data: r }: MessageEvent<ImportReply>) => {
    if (mine !== worker) return;
    if (r.type === 'progress') set({ doing: r.text, done: r.done });
    else if (r.type === 'refused') refuse(r.message);
    else if (r.type === 'parts')
      set({ doing: undefined, parts: r.parts, axes: r.axes, metres: r.metres, facets: r.facets, empty: r.empty });
    else if (r.type !== 'piece') told?.(r);
  };
  mine.postMessage({ type: 'read', file, ...(facets ? { facets } : {}) } satisfies ImportRequest);
}

/** Reads the same file again, its round faces with another number of facets. */
export function readAgain(facets: number): void {
  if (given) startImport(given, facets);
}

/** Stops reading, or puts what was read away; the model is as it was. */
export function cancelImport(): void {
  worker?.terminate();
  worker = given = undefined;
  // nothing more will be heard of what it was storing
  told?.({ type: 'stored', names: [] });
  set({ file: undefined, doing: undefined, parts: [], axes: [], metres: undefined, facets: undefined, empty: [] });
}

/** Waits for what the worker says of storing. */
let told: ((r: Extract<ImportReply, { type: 'stored' | 'full' }>) => void) | undefined;

/** The worker stores what is wanted. @returns the names by part; undefined when there is no room, which is told */
async function stored(request: Extract<ImportRequest, { type: 'store' }>): Promise<string[] | undefined> {
  const mine = worker;
  if (!mine) return undefined;
  let names: string[] | undefined;
  await keeping('The geometry of the parts', async () => {
    const r = await new Promise<Extract<ImportReply, { type: 'stored' | 'full' }>>((resolve) => {
      told = resolve;
      mine.postMessage(request);
    });
    told = undefined;
    if (r.type === 'full') throw new Error(r.message);
    names = r.names;
  });
  return names;
}

export interface ImportChoice {
  /** Metres of a unit of the file. */
  metres: number;
  /** What becomes of each part. */
  targets: readonly Target[];
  material: string | undefined;
  /** Shared axes that become revolute joints, by index. */
  joints: readonly number[];
}

/** When the page has drawn what it shows; a page that is not seen draws nothing, and does not wait for it. */
const drawn = (): Promise<void> =>
  new Promise((resolve) => {
    requestAnimationFrame(() => setTimeout(resolve));
    setTimeout(resolve, 200);
  });

/** Adds the parts as one undo step. */
export async function finishImport({ metres, targets, material, joints }: ImportChoice): Promise<void> {
  const { parts, axes, file } = useImport.getState(),
    project = useDocument.getState().id;
  // instances share what is stored where each has axes of its own to be placed by
  const shared = parts.map((p, i) => !!p.same && targets[i] === 'own' && targets[p.same.of] !== undefined);
  const names = await stored({ type: 'store', metres, wanted: targets.map((t) => t !== 'none'), shared });
  if (names?.length !== parts.length) return;
  // the dialog goes, the parts come, the first is selected: each in a task of its own, so that none holds the page up
  cancelImport();
  await drawn();
  const { model, id } = useDocument.getState();
  if (!model || id !== project) return;
  const bodyOf: (string | undefined)[] = [];
  edit(`Import ${file ?? 'parts'}`, (m: Model) => {
    const add = (family: 'bodies' | 'shapes' | 'joints' | 'points', base: string, e: Omit<RawElement, 'name'>): string => {
      const name = freeName(family, base, m);
      m[family].push({ name, ...e } as RawElement);
      return name;
    };
    const wholes = new Map<number, string>(),
      title = (file ?? 'Part').replace(/\.[^.]*$/, '').slice(0, 60);
    /** Axes of an instance: those of the first, moved along. */
    const standing = (same: NonNullable<PartInfo['same']>, label: string): Partial<RawElement> => {
      const turn = toRollPitchYaw(same.turn).map((a) => Number(a.toFixed(12)) + 0);
      return {
        origin: add('points', `${label} origin`, { at: same.shift.map(mm) }),
        ...(turn.some((a) => a !== 0) ? { rotation: turn } : {}),
      };
    };
    const mm = (x: number) => `${Number((1000 * metres * x).toFixed(6))} mm`;
    parts.forEach((p, i) => {
      const label = p.path.at(-1) ?? 'Part',
        target = targets[i];
      if (target === 'none') return void bodyOf.push(undefined);
      const mass = material ? { material } : {};
      const group = groupOf(target!),
        known =
          group === undefined
            ? undefined
            : (wholes.get(group) ?? add('bodies', group === ALL ? title : p.path[p.nodes.indexOf(group)]!, mass));
      if (group !== undefined) wholes.set(group, known!);
      const body =
        target === 'ground'
          ? m.ground
          : known !== undefined
            ? known
            : add('bodies', label, { ...mass, ...(shared[i] ? standing(p.same!, label) : {}) });
      bodyOf.push(body);
      add('shapes', `${label} part`, { kind: 'mesh', body, geometry: names[i]!, ...(p.colour ? { colour: p.colour } : {}) });
    });
    for (const k of joints) {
      const {
        parts: [a, b],
        at,
        axis,
      } = axes[k]!;
      const [first, second] = [bodyOf[a], bodyOf[b]];
      if (!first || !second || first === second) continue;
      // the ground comes first: motion is measured from it
      const bodies = second === m.ground ? [second, first] : [first, second];
      const name = `${bodies[1]} pin`;
      const point = add('points', name, { at: at.map(mm) });
      add('joints', name, { kind: 'revolute', bodies, at: [point], axis: axis.map((x) => Number(x.toFixed(9)) + 0) });
    }
  });
  await drawn();
  const first = bodyOf.find((b) => b && b !== model.ground);
  if (first) select({ family: 'bodies', name: first });
}
