/** What is asked is kept on smooth machines that were not used to set the tolerance of a step. */
import { describe, expect, it } from 'vitest';
import { type Model, runModel } from '../src';
import { SMOOTH } from './smooth';

/** Recorded states, and what is needed to judge them. */
function recorded(m: Model, accuracy: number) {
  const r = runModel(m, { accuracy }),
    n = r.layout.bodies;
  expect(r.end.status).toBe('done');
  const rows = Array.from(r.time, (_, i) => r.state(i).subarray(0, 13 * n));
  return { rows, n, size: r.mechanism.size };
}
const distance = (a: Float64Array, b: Float64Array, from: number, count: number) =>
  Math.hypot(...Array.from({ length: count }, (_, k) => a[from + k]! - (b[from + k] ?? 0)));

describe.each(SMOOTH)('%s', (_, make) => {
  const exact = recorded(make(), 1e-10),
    { n } = exact;
  const fastest = (from: number) =>
    Math.max(...exact.rows.flatMap((r) => Array.from({ length: n }, (_, i) => distance(r, new Float64Array(0), 7 * n + 6 * i + from, 3))));
  const [speed, spin] = [fastest(0), fastest(3)];

  it.each([1e-3, 1e-4, 1e-5, 1e-6, 1e-7, 1e-8])('asked %d: places, angles and velocities are as exact, to the end', (accuracy) => {
    const { rows } = recorded(make(), accuracy);
    expect(rows.length).toBe(exact.rows.length);
    rows.forEach((r, k) => {
      const b = exact.rows[k]!;
      for (let i = 0; i < n; i++) {
        expect(distance(r, b, 7 * i, 3) / exact.size).toBeLessThan(accuracy);
        expect(2 * distance(r, b, 7 * i + 3, 4)).toBeLessThan(accuracy);
        expect(distance(r, b, 7 * n + 6 * i, 3) / speed).toBeLessThan(accuracy);
        expect(distance(r, b, 7 * n + 6 * i + 3, 3) / spin).toBeLessThan(accuracy);
      }
    });
  });
});
