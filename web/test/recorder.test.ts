/**
 * Parts of a run on their way to the store: all of them, in order, one transaction at a time; a store that is full ends it, and only what is kept may
 * leave the worker.
 */
import { beforeEach, describe, expect, it, vi } from 'vitest';

type Part = { run: string; index: number; data: Float64Array };
const written: number[][] = [],
  stored: number[][] = [];
let busy = 0,
  most = 0,
  fails = Infinity;
vi.mock('../state/kept/db', () => ({
  db: { isOpen: () => true },
  keepParts: async (parts: readonly Part[]) => {
    most = Math.max(most, ++busy);
    await new Promise((r) => setTimeout(r, 5));
    busy--;
    if (written.length >= fails) throw new DOMException('full', 'QuotaExceededError');
    written.push(parts.map((p) => p.index));
  },
}));
vi.mock('../workers/client', () => ({ runWorker: () => ({ ask: async (m: { parts: number[] }) => void stored.push(m.parts) }) }));
const { Recorder } = await import('../state/kept/recorder');
const { useStorage } = await import('../state/kept/storage');

const nothing = { times: new Float64Array(1), places: new Float64Array(3), turns: new Float32Array(4) };
beforeEach(() => {
  written.length = stored.length = most = 0;
  fails = Infinity;
  useStorage.setState({ failed: undefined });
});
const record = async (n: number, begun = true): Promise<boolean> => {
  const r = new Recorder('r', 'Run 1', Promise.resolve(begun));
  for (let i = 0; i < n; i++) {
    r.add(i, new Float64Array(7), nothing);
    if (i % 7 === 0) await new Promise((done) => setTimeout(done, 3));
  }
  return r.done;
};

describe('a recorder', () => {
  it('keeps every part once and in order, never two transactions at a time', async () => {
    expect(await record(60)).toBe(true);
    expect(written.flat()).toEqual(Array.from({ length: 60 }, (_, i) => i));
    expect(written.length).toBeLessThan(60); // what waited went together
    expect(most).toBe(1);
    expect(stored.flat()).toEqual(written.flat());
  });
  it('stops when the store is full: it says so, and what was not kept stays in the worker', async () => {
    fails = 2;
    expect(await record(60)).toBe(false);
    expect(written.length).toBe(2);
    expect(stored.flat()).toEqual(written.flat());
    expect(useStorage.getState().failed).toContain('Run 1 could not be kept in this browser: its storage is full');
  });
  it('keeps no parts of a run that itself could not be kept', async () => {
    expect(await record(10, false)).toBe(false);
    expect(written).toEqual([]);
  });
  it('takes parts again after it has been at rest', async () => {
    const r = new Recorder('r', 'Run 1', Promise.resolve(true));
    r.add(0, new Float64Array(7), nothing);
    expect(await r.done).toBe(true);
    r.add(1, new Float64Array(7), nothing);
    expect(await r.done).toBe(true);
    expect(written).toEqual([[0], [1]]);
  });
});
