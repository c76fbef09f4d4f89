/** Reads parts from files in a worker of its own, which is stopped to cancel. What was read stays here until it is stored: the page is told of it only. */
import { type Placed, instancesAmong } from './congruent';
import { geometriesToStore, nameOf } from './geometries';
import { type ImportedPart, type Read, Refused, type SharedAxis, readParts } from './parts';

/** A part as the page is told of it. */
export interface PartInfo {
  path: string[];
  triangles: number;
  /** Sides of triangles at which the surface is open. */
  open: number;
  colour?: string;
  /** Smallest and largest coordinates, in units of the file. */
  low: [number, number, number];
  high: [number, number, number];
  /** Of the same shape as an earlier part, elsewhere. */
  same?: Placed;
}

export type ImportRequest =
  | { type: 'read'; file: File; facets?: number }
  /** Stores what is wanted, in metres; `shared` where a part stands for its instances. */
  | { type: 'store'; metres: number; wanted: boolean[]; shared: boolean[] };
export type ImportReply =
  | { type: 'progress'; text: string; done?: number }
  | { type: 'parts'; parts: PartInfo[]; axes: SharedAxis[]; metres: number | undefined; facets: number | undefined; empty: string[] }
  | { type: 'refused'; message: string }
  /** Names of the stored geometry by part; empty where it is not wanted. */
  | { type: 'stored'; names: string[] }
  | { type: 'full'; message: string };

const post = (r: ImportReply) => self.postMessage(r);
let read: Read | undefined;
let same: (Placed | undefined)[] = [];

self.onmessage = ({ data }: MessageEvent<ImportRequest>): void => {
  if (data.type === 'store') return void store(data).then((names) => post({ type: 'stored', names }), (e: unknown) => post({ type: 'full', message: e instanceof Error ? e.message : 'the store is full' }));
  void data.file.arrayBuffer().then((bytes) => readParts(data.file.name, bytes, (text, done) => post({ type: 'progress', text, ...(done === undefined ? {} : { done }) }), () => new URL('/engine/occt-import-js.wasm', self.location.origin).href, data.facets)).then(
    (found) => {
      read = found;
      post({ type: 'progress', text: 'Looking for parts that occur more than once' });
      same = instancesAmong(found.parts);
      post({ type: 'parts', parts: found.parts.map((p, i) => told(p, same[i])), axes: found.axes, metres: found.metres, facets: found.facets, empty: found.empty });
    },
    (e: unknown) => post({ type: 'refused', message: e instanceof Refused ? e.message : `The file cannot be read: ${e instanceof Error ? e.message.slice(0, 200) : 'it is damaged'}.` }),
  );
};

function told({ path, positions, indices, open, colour }: ImportedPart, placed: Placed | undefined): PartInfo {
  const low: [number, number, number] = [Infinity, Infinity, Infinity], high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    const k = (i % 3) as 0 | 1 | 2, x = positions[i]!;
    if (x < low[k]) low[k] = x;
    if (x > high[k]) high[k] = x;
  }
  return { path, triangles: indices.length / 3, open, low, high, ...(colour ? { colour } : {}), ...(placed ? { same: placed } : {}) };
}

async function store({ metres, wanted, shared }: Extract<ImportRequest, { type: 'store' }>): Promise<string[]> {
  const rows = new Map<number, { id: string; positions: Float32Array; indices: Uint32Array }>();
  const names = (read?.parts ?? []).map((_part, i) => {
    if (!wanted[i]) return '';
    const from = shared[i] && same[i] ? same[i].of : i;
    if (!rows.has(from)) {
      const { positions: raw, indices } = read!.parts[from]!;
      const positions = metres === 1 ? raw : raw.map((x) => x * metres);
      rows.set(from, { id: nameOf(positions, indices), positions, indices });
    }
    return rows.get(from)!.id;
  });
  await geometriesToStore([...rows.values()]);
  return names;
}
