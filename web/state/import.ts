/** Parts from a file on their way into the model: read in a worker that can be stopped, looked over in a dialog, added as one undo step. */
import { create } from 'zustand';
import type { Model, RawElement } from '@vim-pivot/core/page';
import type { ImportReply } from '../workers/import.worker';
import type { ImportedPart, SharedAxis } from '../workers/parts';
import { db } from './db';
import { edit, select, useDocument } from './document';
import { freeName } from './elements';
import { useImportingState } from './asking';
import { keeping } from './storage';

interface Importing {
  file: string | undefined;
  /** What is being done, while reading. */
  doing: string | undefined;
  parts: readonly ImportedPart[];
  axes: readonly SharedAxis[];
  /** Metres of a unit of the file; undefined when the file does not say. */
  metres: number | undefined;
}

export const useImport = create<Importing>(() => ({ file: undefined, doing: undefined, parts: [], axes: [], metres: undefined }));
const { setState: set } = useImport;
useImport.subscribe((s) => useImportingState.setState({ on: s.file !== undefined }));
let worker: Worker | undefined;

const LARGEST = 400e6;

export async function startImport(file: File): Promise<void> {
  cancelImport();
  const refuse = (message: string) => {
    cancelImport();
    useDocument.setState({ refused: { file: file.name, diagnoses: [{ code: 'import-refused', severity: 'error', message }] } });
  };
  if (file.size > LARGEST) return refuse('The file is larger than 400 MB.');
  set({ file: file.name, doing: 'Opening', parts: [], axes: [] });
  const mine = (worker = new Worker(`/engine/import.js?v=${process.env.ENGINE_VERSION}`, { type: 'module' }));
  mine.onerror = (e) => refuse(`The file could not be read: ${e.message || 'the reader failed'}.`);
  mine.onmessage = ({ data: r }: MessageEvent<ImportReply>) => {
    if (mine !== worker) return;
    if (r.type === 'progress') set({ doing: r.text });
    else if (r.type === 'refused') refuse(r.message);
    else set({ doing: undefined, parts: r.parts, axes: r.axes, metres: r.metres });
  };
  const bytes = await file.arrayBuffer().catch(() => undefined);
  if (!bytes) return refuse('The file could not be opened.');
  if (mine === worker) mine.postMessage({ name: file.name, bytes }, [bytes]);
}

/** Stops reading, or puts what was read away; the model is as it was. */
export function cancelImport(): void {
  worker?.terminate();
  worker = undefined;
  set({ file: undefined, doing: undefined, parts: [], axes: [], metres: undefined });
}

/** A name made of the content, so that the same part is kept once. */
function nameOf(...lists: (Float32Array | Uint32Array)[]): string {
  const h = [0xdeadbeef, 0x41c6ce57, 0x9e3779b9, 0x85ebca6b];
  for (const list of lists) {
    const bits = new Uint32Array(list.buffer, list.byteOffset, list.length);
    for (let i = 0; i < bits.length; i++) for (let k = 0; k < 4; k++) h[k] = Math.imul(h[k]! ^ (bits[i]! + k), [2654435761, 1597334677, 2246822507, 3266489909][k]!) ^ (h[k]! >>> 15);
  }
  return h.map((x) => (x >>> 0).toString(16).padStart(8, '0')).join('');
}

export interface ImportChoice {
  /** Metres of a unit of the file. */
  metres: number;
  /** For each part: a body of its own, all of these together, fixed in the ground, or left out. */
  targets: readonly ('own' | 'together' | 'ground' | 'none')[];
  material: string | undefined;
  /** Shared axes that become revolute joints, by index. */
  joints: readonly number[];
}

/** Adds the parts as one undo step. */
export async function finishImport({ metres, targets, material, joints }: ImportChoice): Promise<void> {
  const { parts, axes, file } = useImport.getState();
  const stored: string[] = [];
  for (const p of parts) {
    const positions = p.positions.map((x) => x * metres);
    const id = nameOf(positions, p.indices);
    stored.push(id);
    if (!(await keeping(`The geometry of “${p.path.at(-1)}”`, () => db.geometries.put({ id, positions, indices: p.indices })))) return;
  }
  const { model } = useDocument.getState();
  if (!model) return;
  const bodyOf: (string | undefined)[] = [];
  edit(`Import ${file ?? 'parts'}`, (m: Model) => {
    const add = (family: 'bodies' | 'shapes' | 'joints' | 'points', base: string, e: Omit<RawElement, 'name'>): string => {
      const name = freeName(family, base, m);
      m[family].push({ name, ...e } as RawElement);
      return name;
    };
    let shared: string | undefined;
    parts.forEach((p, i) => {
      const label = p.path.at(-1) ?? 'Part', target = targets[i];
      if (target === 'none') return void bodyOf.push(undefined);
      const mass = material ? { material } : {};
      const body = target === 'ground' ? m.ground : target === 'together' ? (shared ??= add('bodies', (file ?? 'Part').replace(/\.[^.]*$/, '').slice(0, 60), mass)) : add('bodies', label, mass);
      bodyOf.push(body);
      add('shapes', `${label} part`, { kind: 'mesh', body, geometry: stored[i]!, ...(p.colour ? { colour: p.colour } : {}) });
    });
    const mm = (x: number) => `${Number((1000 * metres * x).toFixed(5))} mm`;
    for (const k of joints) {
      const { parts: [a, b], at, axis } = axes[k]!;
      const [first, second] = [bodyOf[a], bodyOf[b]];
      if (!first || !second || first === second) continue;
      // the ground comes first: motion is measured from it
      const bodies = second === m.ground ? [second, first] : [first, second];
      const name = `${bodies[1]} pin`;
      const point = add('points', name, { at: at.map(mm) });
      add('joints', name, { kind: 'revolute', bodies, at: [point], axis: axis.map((x) => Number(x.toFixed(9)) + 0) });
    }
  });
  cancelImport();
  const first = bodyOf.find((b) => b && b !== model.ground);
  if (first) select({ family: 'bodies', name: first });
}
