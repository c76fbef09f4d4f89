/** Code of a machine that differs from its equations one by one is never run. */
import { afterEach, expect, it, vi } from 'vitest';
import { runModel } from '../src';
import { COMPILER } from '../src/system/compiler';
import { MACHINES } from './machines';

afterEach(() => vi.restoreAllMocks());

const SHORT = 0.2;
it.each(MACHINES.slice(0, 5))('%s: a term that is lost in it is noticed before the run, told, and not run with', (_, of) => {
  const model = { ...of(), run: { ...of().run, until: SHORT, accuracy: 1e-8 } },
    right = runModel(model, { planar: 'off' }),
    { whole } = COMPILER;
  vi.spyOn(COMPILER, 'whole').mockImplementation((parts, ...rest) => {
    const made = whole(parts, ...rest),
      accelerate = made.accelerate.bind(made);
    made.accelerate = (t, y, dy) => {
      accelerate(t, y, dy);
      parts.solution[0] = parts.solution[0]! * 1.01 + 0.01;
    };
    return made;
  });
  const wary = runModel(model, { planar: 'off' });
  expect(wary.end.diagnoses.map((d) => d.code)).toContain('code-differs');
  expect(right.end.diagnoses.map((d) => d.code)).not.toContain('code-differs');
  for (const g of wary.mechanism.gauges) {
    const [a, b] = [right.gauge(g), wary.gauge(g)],
      size = Math.max(1e-3, ...b.map(Math.abs));
    expect(a).toHaveLength(b.length);
    a.forEach((x, i) => expect(Math.abs(x - b[i]!) / size).toBeLessThan(1e-6));
  }
});
