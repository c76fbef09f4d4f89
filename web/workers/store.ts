/** The browser's store as workers use it. Its tables are declared in state/kept/db.ts. */
const NAME = 'vim-pivot';

function opened(): Promise<IDBDatabase> {
  return new Promise((resolve, reject) => {
    const ask = indexedDB.open(NAME); // of the version that is there: the page has opened it before
    ask.onsuccess = () => {
      // a page that opens a later version must not wait for us
      ask.result.onversionchange = () => ask.result.close();
      resolve(ask.result);
    };
    ask.onerror = () => reject(ask.error ?? new Error('the store cannot be opened'));
  });
}

/** One transaction on one table: all of it or nothing. A table that is not there is left alone. @throws what the store says, when it is full for one */
export async function within(
  table: 'geometries' | 'chunks',
  mode: IDBTransactionMode,
  act: (table: IDBObjectStore) => void,
): Promise<void> {
  const db = await opened();
  try {
    if (!db.objectStoreNames.contains(table)) return;
    await new Promise<void>((resolve, reject) => {
      const t = db.transaction(table, mode);
      act(t.objectStore(table));
      t.oncomplete = () => resolve();
      t.onabort = t.onerror = () => reject(t.error ?? new Error('the store is full'));
    });
  } finally {
    db.close();
  }
}

/** Recorded states of a run as they are kept: its parts from the one to the other, in order. */
export async function partsFromStore(run: string, from: number, to: number): Promise<{ index: number; data: Float64Array }[]> {
  let asked: IDBRequest<{ index: number; data: Float64Array }[]> | undefined;
  await within('chunks', 'readonly', (t) => {
    asked = t.index('[run+index]').getAll(IDBKeyRange.bound([run, from], [run, to]));
  });
  return asked?.result ?? [];
}
