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
async function run(webAssembly: Global['WebAssembly'], which: 'small' | 'large' | 'rubs' | 'gears') {
  (globalThis as Global).WebAssembly = webAssembly;
  vi.resetModules();
  const { runModel } = (await import('../src')) as typeof Core,
    { sliderCrank } = await import('./models'),
    { chainOf } = await import('./chain'),
    { gears, rubbing } = await import('./benchmarks');
  const models = { small: sliderCrank, large: () => chainOf(45), rubs: () => rubbing(sliderCrank()), gears },
    r = runModel(models[which](), { until: 0.02, every: 0.001 });
  return { kinds: r.end.statistics.oneByOne, numbers: r.chunks.map((c) => Array.from(c)), notes: r.end.diagnoses.map((d) => d.code) };
}
const forbidden = (): Global['WebAssembly'] => ({
  ...(Object.fromEntries(Object.getOwnPropertyNames(given).map((k) => [k, (given as Record<string, unknown>)[k]])) as object),
  Module: function Module() {
    throw new Error('forbidden');
  },
});

it.each([
  ['a machine compiled as a whole', 'small'],
  ['one that rubs', 'rubs'],
  ['one with teeth', 'gears'],
  ['one compiled kind by kind', 'large'],
] as const)('%s: to the last bit', async (_, which) => {
  const usual = await run(given, which);
  expect(usual.kinds).toBe(which === 'large');
  expect(usual.notes).not.toContain('not-compiled');
  for (const other of [undefined, forbidden()]) {
    const { numbers, notes } = await run(other, which);
    expect(numbers).toEqual(usual.numbers);
    expect(notes).toContain('not-compiled');
  }
});
