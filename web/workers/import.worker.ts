/** Reads parts from files in a worker of its own, which is stopped to cancel. What was read stays here until it is stored: the page is told of it only. */
import { type Placed, instancesAmong } from './congruent';
import { contentName } from '@vim-pivot/core/meshes';
import { geometriesToStore } from './geometries';
import type { MeshFault } from '@vim-pivot/core/meshes';
import { type ImportedPart, type Raw, type Read, Refused, type SharedAxis, faultsOf, looker, readParts, triangulated } from './parts';

/** A part as the page is told of it. */
export interface PartInfo {
  path: string[];
  nodes: number[];
  solid?: true;
  triangles: number;
  /** What is wrong with its surface, and what that does to its mass. */
  faults: MeshFault[];
  colour?: string;
  /** Smallest and largest coordinates, in units of the file. */
  low: [number, number, number];
  high: [number, number, number];
  /** Of the same shape as an earlier part, elsewhere. */
  same?: Placed;
}

export type ImportRequest =
  /** What a worker asks another: triangles of a piece of a STEP file. */
  | { type: 'piece'; bytes: Uint8Array; facets: number }
  | { type: 'read'; file: File; facets?: number }
  /** Stores what is wanted, in metres; `shared` where a part stands for its instances. */
  | { type: 'store'; metres: number; wanted: boolean[]; shared: boolean[] };
export type ImportReply =
  | { type: 'progress'; text: string; done?: number }
  | { type: 'parts'; parts: PartInfo[]; axes: SharedAxis[]; metres: number | undefined; facets: number | undefined; empty: string[] }
  | { type: 'piece'; raw: Raw[] }
  | { type: 'refused'; message: string }
  /** Names of the stored geometry by part; empty where it is not wanted. */
  | { type: 'stored'; names: string[] }
  | { type: 'full'; message: string };

const post = (r: ImportReply, transfer: Transferable[] = []) => self.postMessage(r, { transfer });
const wasm = () => new URL('/engine/occt-import-js.wasm', self.location.origin).href;
const why = (e: unknown): string =>
  e instanceof Refused ? e.message : `The file cannot be read: ${e instanceof Error ? e.message.slice(0, 200) : 'it is damaged'}.`;
/** Pieces of a file that are read at a time: one processor is left to the page, but two at the least share the work. Each takes up to half a gigabyte. */
const MANY = Math.min(4, Math.max(2, (self.navigator.hardwareConcurrency || 2) - 1));
let read: Read | undefined;
let same: (Placed | undefined)[] = [];

self.onmessage = ({ data }: MessageEvent<ImportRequest>): void => {
  if (data.type === 'store')
    return void store(data).then(
      (names) => post({ type: 'stored', names }),
      (e: unknown) => post({ type: 'full', message: e instanceof Error ? e.message : 'the store is full' }),
    );
  if (data.type === 'piece') {
    return void triangulated(false, data.bytes, wasm, data.facets).then(
      (raw) =>
        post(
          { type: 'piece', raw },
          raw.flatMap((r) => [r.positions.buffer, ...(r.indices ? [r.indices.buffer] : [])]),
        ),
      (e: unknown) => post({ type: 'refused', message: why(e) }),
    );
  }
  const ways = { wasm, facets: data.facets, beside: { many: MANY, triangulated: elsewhere } };
  void data.file
    .arrayBuffer()
    .then((bytes) =>
      readParts(data.file.name, bytes, (text, done) => post({ type: 'progress', text, ...(done === undefined ? {} : { done }) }), ways),
    )
    .then((found) => {
      read = found;
      post({ type: 'progress', text: 'Looking for parts that occur more than once' });
      same = instancesAmong(found.parts);
      const looked = looker(),
        faults: MeshFault[][] = [];
      found.parts.forEach((p, i) => {
        const of = same[i]?.of;
        if (i % 20 === 0) post({ type: 'progress', text: 'Looking the surfaces over', done: i / found.parts.length });
        faults.push(of === undefined ? faultsOf(p, looked(p)) : faults[of]!);
      });
      post({
        type: 'parts',
        parts: found.parts.map((p, i) => told(p, faults[i]!, same[i])),
        axes: found.axes,
        metres: found.metres,
        facets: found.facets,
        empty: found.empty,
      });
    })
    .catch((e: unknown) => post({ type: 'refused', message: why(e) }));
};

/** A piece in a worker of its own, which takes its memory with it when it ends; it ends too when this one is stopped. */
function elsewhere(bytes: Uint8Array, facets: number): Promise<Raw[]> {
  return new Promise((resolve, reject) => {
    const other = new Worker(self.location.href, { type: 'module' });
    other.onerror = (e) => reject(new Refused(`The file could not be read: ${e.message || 'the reader failed'}.`));
    other.onmessage = ({ data: r }: MessageEvent<ImportReply>) => {
      other.terminate();
      if (r.type === 'piece') resolve(r.raw);
      else reject(new Refused(r.type === 'refused' ? r.message : 'The file cannot be read.'));
    };
    other.postMessage({ type: 'piece', bytes, facets } satisfies ImportRequest, [bytes.buffer]);
  });
}

function told({ path, nodes, solid, positions, indices, colour }: ImportedPart, faults: MeshFault[], placed: Placed | undefined): PartInfo {
  const low: [number, number, number] = [Infinity, Infinity, Infinity],
    high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    const k = (i % 3) as 0 | 1 | 2,
      x = positions[i]!;
    if (x < low[k]) low[k] = x;
    if (x > high[k]) high[k] = x;
  }
  return {
    path,
    nodes,
    ...(solid ? { solid } : {}),
    triangles: indices.length / 3,
    faults,
    low,
    high,
    ...(colour ? { colour } : {}),
    ...(placed ? { same: placed } : {}),
  };
}

async function store({ metres, wanted, shared }: Extract<ImportRequest, { type: 'store' }>): Promise<string[]> {
  const rows = new Map<number, { id: string; positions: Float32Array; indices: Uint32Array }>();
  const names = (read?.parts ?? []).map((_part, i) => {
    if (!wanted[i]) return '';
    const from = shared[i] && same[i] ? same[i].of : i;
    if (!rows.has(from)) {
      const { positions: raw, indices } = read!.parts[from]!;
      const positions = metres === 1 ? raw : raw.map((x) => x * metres);
      rows.set(from, { id: contentName(positions, indices), positions, indices });
    }
    return rows.get(from)!.id;
  });
  await geometriesToStore([...rows.values()]);
  return names;
}
