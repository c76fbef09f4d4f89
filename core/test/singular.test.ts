/** Linkages that pass through positions in which they could branch: finer accuracy gives finer answers there too. */
import { expect, it } from 'vitest';
import { runModel } from '../src';
import { fourBars } from './benchmarks';
import { nearABranch } from './near-a-branch';

const ASKED = [1e-3, 1e-4, 1e-5, 1e-6, 3e-7, 1e-7, 5e-8, 2e-8, 1e-8, 1e-9, 1e-10];

it.each([1, 10])('%i coupled loops of four bars keep their energy to what is asked, through nine flat positions', (loops) => {
  const worst = ASKED.map((accuracy) => {
    const m = fourBars(loops),
      run = runModel({ ...m, run: { ...m.run, accuracy } });
    expect(run.end.status).toBe('done');
    const energy = run.gauge('energy');
    // against the energy of the start above the lowest position
    return Math.max(...energy.map((e) => Math.abs(e - energy[0]!))) / (9.81 * 1.5 * loops);
  });
  worst.forEach((error, i) => expect(error).toBeLessThan(ASKED[i]!));
  expect(worst.at(-1)! * 30).toBeLessThan(worst[0]!);
});

it('one branch is followed whatever accuracy is asked', () => {
  // four bodies that come near a branching position: at 1e-5 and at 1e-7 they once went different ways
  const ends = [1e-4, 1e-5, 1e-6, 1e-7, 1e-8].map((accuracy) => {
    const m = nearABranch(),
      run = runModel({ ...m, run: { ...m.run, accuracy } });
    expect(run.end.status).toBe('done');
    return Array.from(run.mechanism.system.K.r);
  });
  for (const end of ends) end.forEach((x, k) => expect(Math.abs(x - ends[0]![k]!)).toBeLessThan(1e-4));
});
