/** Machines made at random: one motion, whichever way it is computed. */
import { describe, expect, it } from 'vitest';
import { type FinishedRun, Readings, Refusal, build, runModel, simulate } from '../src';
import type { RecordLayout } from '../src/results/record';
import { randomMachine } from './random-machines';

/** A run by equations one by one, and what all gauges read of it so. */
function oneByOne(of: FinishedRun['mechanism']['model']): { gauges: readonly string[]; values: Float64Array[] } {
  const m = build(of).mechanism!,
    chunks: Float64Array[] = [];
  let layout: RecordLayout | undefined;
  m.system.distrust();
  for (const x of simulate(m, m.resolution.run))
    if (x.type === 'begin') ({ layout } = x);
    else if (x.type === 'records') chunks.push(x.data);
  const { gauges } = m;
  return {
    gauges,
    values: new Readings(m, layout!).read(
      gauges.map((g) => m.channel(g)),
      chunks,
    ),
  };
}
function alike(run: FinishedRun, of: (gauge: string) => Float64Array, part: number, gauges = run.mechanism.gauges): void {
  for (const g of gauges) {
    const [a, b] = [run.gauge(g), of(g)],
      size = Math.max(1, ...a.map(Math.abs));
    expect(b).toHaveLength(a.length);
    a.forEach((x, i) => expect(Math.abs(x - b[i]!) / size, `${g}, record ${i}`).toBeLessThan(part));
  }
}
/** Undefined where a machine cannot be started: some do not. */
function run(of: ReturnType<typeof randomMachine>, options: Parameters<typeof runModel>[1] = {}): FinishedRun | undefined {
  try {
    const found = runModel(of, options);
    return found.end.status === 'done' ? found : undefined;
  } catch (error) {
    if (error instanceof Refusal) return undefined;
    throw error;
  }
}
const seeds = (from: number, count: number) => Array.from({ length: count }, (_, i) => from + 7919 * i);

describe('machines made at random', () => {
  it.each([
    ['open', 30],
    ['closed', 40],
  ] as const)('%s, move in their plane as in space, and by code as by their equations one by one', (sort, count) => {
    let compared = 0;
    for (const seed of seeds(1, count)) {
      const of = randomMachine(seed, sort),
        base = run(of);
      if (!base) continue;
      expect(base.end.diagnoses.map((d) => d.code)).not.toContain('code-differs');
      const space = run(of, { planar: 'off' }),
        { gauges, values } = oneByOne(of);
      expect(space, of.name).toBeDefined();
      alike(base, (g) => space!.gauge(g), 1e-5);
      alike(base, (g) => values[gauges.indexOf(g)]!, 1e-5);
      compared++;
    }
    expect(compared).toBeGreaterThan(25);
  });
  it('that drives move alone do so in a kinematic run as in a dynamic one, with the same loads; and at rest in a quasi-static one', () => {
    let compared = 0;
    for (const seed of seeds(3, 30)) {
      const of = randomMachine(seed, 'driven'),
        base = run(of),
        kinematic = run(of, { analysis: 'kinematic' });
      if (!base || !kinematic) continue;
      alike(
        base,
        (g) => kinematic.gauge(g),
        1e-5,
        base.mechanism.gauges.filter((g) => g !== 'Energy'),
      );
      const still = run(of, { analysis: 'quasi-static' });
      expect(still, of.name).toBeDefined();
      alike(
        base,
        (g) => still!.gauge(g),
        1e-6,
        base.mechanism.gauges.filter((g) => g.endsWith('place')),
      );
      compared++;
    }
    expect(compared).toBeGreaterThan(25);
  });
});
