/** Linkages that pass through positions in which they could branch: finer accuracy gives finer answers there too. */
import { expect, it } from 'vitest';
import { runModel } from '../src';
import { fourBars } from './benchmarks';

const ASKED = [1e-4, 1e-5, 1e-6, 3e-7, 1e-7, 5e-8, 2e-8, 1e-8];

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
