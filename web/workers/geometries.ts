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
export const geometriesToStore = (rows: readonly StoredRow[]): Promise<void> =>
  within('geometries', 'readwrite', (t) => {
    for (const r of rows) t.put(r);
  });
