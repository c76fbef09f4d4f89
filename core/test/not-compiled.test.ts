/** Where there is no WebAssembly, or it is forbidden, a run is evaluated in plain JavaScript: the same numbers, and it says so. */
import { afterEach, expect, it, vi } from 'vitest';
import type * as Core from '../src';

type Global = { WebAssembly?: { Module: unknown } };
const given = (globalThis as Global).WebAssembly;
afterEach(() => {
  (globalThis as Global).WebAssembly = given;
  // files that follow share the modules that are loaded: they must not find those that compile nothing
  vi.resetModules();
});

/** A run with the core loaded anew. */
async function run(webAssembly: Global['WebAssembly']) {
  (globalThis as Global).WebAssembly = webAssembly;
  vi.resetModules();
  const { runModel } = (await import('../src')) as typeof Core,
    { sliderCrank } = await import('./models');
  const r = runModel(sliderCrank(), { until: 0.02 });
  return { numbers: r.chunks.map((c) => Array.from(c)), notes: r.end.diagnoses.map((d) => d.code) };
}
const forbidden = (): Global['WebAssembly'] => ({
  ...(Object.fromEntries(Object.getOwnPropertyNames(given).map((k) => [k, (given as Record<string, unknown>)[k]])) as object),
  Module: function Module() {
    throw new Error('forbidden');
  },
});

it('to the last bit', async () => {
  const usual = await run(given);
  expect(usual.notes).not.toContain('not-compiled');
  for (const other of [undefined, forbidden()]) {
    const { numbers, notes } = await run(other);
    expect(numbers).toEqual(usual.numbers);
    expect(notes).toContain('not-compiled');
  }
});
