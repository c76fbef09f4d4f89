/** How much room the browser gives, looked at after every save of size; told before it runs out. */
import { create } from 'zustand';
import { db } from './db';

interface Storage {
  used: number;
  quota: number;
  /** Why the last thing could not be kept. */
  failed: string | undefined;
}
export const useStorage = create<Storage>(() => ({ used: 0, quota: 0, failed: undefined }));

/** Part of the room from which on the user is warned. */
export const WARN_AT = 0.8;

let looked = 0;
export async function lookAtStorage(now = false): Promise<void> {
  if (!now && Date.now() - looked < 10_000) return;
  looked = Date.now();
  const e = await globalThis.navigator?.storage?.estimate?.();
  useStorage.setState({ used: e?.usage ?? 0, quota: e?.quota ?? 0 });
}

/** Why the store took nothing. */
function reasonOf(e: unknown): string {
  const text = e instanceof Error ? `${e.name} ${e.message} ${String((e as { inner?: unknown }).inner)}` : '';
  if (/quota/i.test(text)) return 'its storage is full';
  return /abort|unknown|internal|backing store/i.test(text) ? 'it cannot be written; the disk may be full' : 'the browser gave no reason';
}

const closed = (e: unknown): boolean => !db.isOpen() || (e instanceof Error && /Closed|InvalidState|ConnectionIsClosing/i.test(e.name));

/** Keeps something; a failure is told and not thrown. @returns whether it is kept */
export async function keeping(what: string, act: () => Promise<unknown>): Promise<boolean> {
  try {
    // a full store may close the connection: it is opened anew, and what was asked tried once more
    await act().catch(async (e: unknown) => {
      if (!closed(e)) throw e;
      db.close();
      await db.open();
      await act();
    });
    if (useStorage.getState().failed) useStorage.setState({ failed: undefined });
    void lookAtStorage();
    return true;
  } catch (e) {
    useStorage.setState({ failed: `${what} could not be kept in this browser: ${reasonOf(e)}.` });
    void lookAtStorage(true);
    return false;
  }
}
