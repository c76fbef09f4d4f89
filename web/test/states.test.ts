/** States of runs: what is read is what was recorded, however little memory there is; and a track made of parts is the same as one made at once. */
import { describe, expect, it } from 'vitest';
import { Refusal } from '@vim-pivot/core';
import { Track, posturesOf } from '../state/runs/track';
import { Memory, States } from '../workers/states';

const WIDTH = 7;
/** Records from one on: each number tells where it is. */
const records = (from: number, n: number) =>
  Float64Array.from({ length: n * WIDTH }, (_, i) => (from + Math.floor(i / WIDTH)) * 100 + (i % WIDTH));

/** A run of 5,000 records in parts of odd sizes, with a store behind that has them when told. */
function recorded(bytes: number) {
  const store = new Map<number, Float64Array>(),
    asked: [number, number][] = [],
    memory = new Memory(bytes);
  const states = new States('r', WIDTH, memory, async (_run, from, to) => {
    asked.push([from, to]);
    return [...store]
      .filter(([i]) => i >= from && i <= to)
      .sort((a, b) => a[0] - b[0])
      .map(([index, data]) => ({ index, data: data.slice() }));
  });
  const sizes: number[] = [];
  for (let at = 0, k = 0; at < 5000; k++) {
    const n = Math.min(5000 - at, 1 + ((k * 37) % 113)),
      data = records(at, n);
    store.set(states.add(data), data);
    sizes.push(n);
    at += n;
  }
  return { store, asked, memory, states, sizes };
}

async function read(states: States, from: number, most?: number): Promise<number[]> {
  const seen: number[] = [];
  for await (const piece of states.pieces(from, most)) for (let p = 0; p < piece.length; p += WIDTH) seen.push(piece[p]! / 100);
  return seen;
}
const upTo = (from: number, to: number) => Array.from({ length: to - from }, (_, i) => from + i);

describe('states of a run', () => {
  it('that nothing has kept stay in memory, whatever the bound', async () => {
    const { states, asked } = recorded(1000);
    expect(await read(states, 0)).toEqual(upTo(0, 5000));
    expect(asked).toEqual([]);
  });
  it('that are kept leave memory down to its bound and read the same from any record on', async () => {
    const { states, memory, sizes, asked } = recorded(20_000);
    sizes.forEach((_, i) => states.stored(i));
    expect(memory.held).toBeLessThanOrEqual(20_000);
    for (const [from, n] of [
      [0, 5000],
      [1234, 3000],
      [4999, 1],
      [17, 1],
      [0, 1],
    ] as const)
      expect(await read(states, from, n)).toEqual(upTo(from, from + n));
    expect(asked.length).toBeGreaterThan(0);
    expect(memory.held).toBeLessThanOrEqual(20_000 + 8 * WIDTH * Math.max(...sizes));
  });
  it('of a run that is only in the store are fetched in pieces, not whole', async () => {
    const { store, sizes } = recorded(1e9),
      asked: number[] = [];
    const wide = 8 * 1e6; // one part of the store counts as eight megabytes
    const states = new States('r', WIDTH, new Memory(wide), async (_run, from, to) => {
      asked.push(to - from + 1);
      return upTo(from, to + 1).map((index) => ({ index, data: store.get(index)! }));
    });
    states.inStore(sizes);
    expect(states.count).toBe(5000);
    expect(await read(states, 0)).toEqual(upTo(0, 5000));
    expect(asked.reduce((a, b) => a + b)).toBe(sizes.length);
    expect((await states.record(3210))[1]).toBe(321001);
  });
  it('that do not reach so far, or that the store has lost, are refused in words', async () => {
    const { states, store, sizes } = recorded(1000);
    await expect(states.record(5000)).rejects.toThrow(Refusal);
    sizes.forEach((_, i) => states.stored(i));
    store.delete(0);
    await expect(states.record(0)).rejects.toThrow(/not in the store any more/);
  });
  it('that the store is about to lose are held whole, beyond the bound, and read without it', async () => {
    const { states, store, sizes, memory } = recorded(20_000);
    sizes.forEach((_, i) => states.stored(i));
    expect(memory.held).toBeLessThanOrEqual(20_000);
    await states.hold();
    store.clear();
    expect(await read(states, 0)).toEqual(upTo(0, 5000));
    expect(memory.held).toBe(5000 * WIDTH * 8);
  });
  it('grow while they are read', async () => {
    const { states } = recorded(1e9),
      seen: number[] = [];
    for await (const piece of states.pieces(4000, 1000)) {
      seen.push(piece[0]! / 100);
      if (states.count === 5000) states.add(records(5000, 10));
    }
    expect(seen[0]).toBe(4000);
    expect(await read(states, 4995)).toEqual(upTo(4995, 5010));
  });
  it('of a run that is forgotten hold nothing', () => {
    const { states, memory } = recorded(1e9);
    expect(memory.held).toBe(5000 * WIDTH * 8);
    states.forget();
    expect(memory.held).toBe(0);
  });
});

describe('a track', () => {
  const layout = { bodies: 2, extra: 0, rows: 0, angles: 0, memory: 0, width: 1 + 26 + 12 };
  const data = Float64Array.from({ length: 400 * layout.width }, (_, i) => {
    const record = Math.floor(i / layout.width),
      k = i % layout.width,
      c = (k - 1) % 7;
    if (k === 0) return record * 0.01;
    return k > 14
      ? 0
      : c < 3
        ? Math.sin(record * 0.1 + k) * 40
        : c === 3
          ? Math.cos(record * 0.03 + (k > 7 ? 1 : 0))
          : c === 5
            ? Math.sin(record * 0.03 + (k > 7 ? 1 : 0))
            : 0;
  });
  it('of many parts gives the postures of one part, at records and between, across parts too', () => {
    const whole = new Track(layout),
      split = new Track(layout);
    whole.add(data);
    for (let i = 0, n = 1; i < 400; i += n, n = 1 + ((n * 5) % 17))
      split.append(posturesOf(data.slice(i * layout.width, Math.min(400, i + n) * layout.width), layout));
    expect([split.count, split.end, split.bodies]).toEqual([400, whole.end, 2]);
    const a = new Float64Array(14),
      b = new Float64Array(14);
    for (let t = -0.01; t < 4.02; t += 0.0037) {
      whole.at(t, a);
      split.at(t, b);
      expect(Array.from(b)).toEqual(Array.from(a));
      expect(split.recordAt(t)).toBe(whole.recordAt(t));
    }
    for (let i = 0; i < 400; i++) expect(split.timeOf(i)).toBe(data[i * layout.width]);
  });
  it('keeps places exactly, and turns to single precision', () => {
    const track = new Track(layout),
      out = new Float64Array(14);
    track.add(data);
    for (const i of [0, 7, 123, 399]) {
      track.at(track.timeOf(i), out);
      for (let k = 0; k < 14; k++) expect(Math.abs(out[k]! - data[i * layout.width + 1 + k]!)).toBeLessThan(k % 7 < 3 ? 1e-300 : 1e-7);
    }
  });
});
