/** Stored geometry, read and written where it is used: the page never holds it. */
import { within } from './store';

export interface StoredRow {
  id: string;
  positions: Float32Array;
  indices: Uint32Array;
}

/** Those that are there. */
export async function geometriesFromStore(ids: readonly string[]): Promise<StoredRow[]> {
  const asked: IDBRequest<StoredRow | undefined>[] = [];
  await within('geometries', 'readonly', (t) => {
    for (const id of ids) asked.push(t.get(id) as IDBRequest<StoredRow | undefined>);
  });
  return asked.flatMap((r) => r.result ?? []);
}

/** All or nothing. @throws what the store says, when it is full for one */
export const geometriesToStore = (rows: readonly StoredRow[]): Promise<void> => within('geometries', 'readwrite', (t) => {
  for (const r of rows) t.put(r);
});

/** A name made of the content, so that the same part is kept once. */
export function nameOf(...lists: (Float32Array | Uint32Array)[]): string {
  const h = [0xdeadbeef, 0x41c6ce57, 0x9e3779b9, 0x85ebca6b];
  let [a, b, c, d] = h as [number, number, number, number];
  for (const list of lists) {
    const bits = new Uint32Array(list.buffer, list.byteOffset, list.length);
    for (let i = 0; i < bits.length; i++) {
      const x = bits[i]!;
      a = Math.imul(a ^ x, 2654435761) ^ (a >>> 15);
      b = Math.imul(b ^ (x + 1), 1597334677) ^ (b >>> 15);
      c = Math.imul(c ^ (x + 2), 2246822507) ^ (c >>> 15);
      d = Math.imul(d ^ (x + 3), 3266489909) ^ (d >>> 15);
    }
  }
  return [a, b, c, d].map((x) => (x >>> 0).toString(16).padStart(8, '0')).join('');
}
