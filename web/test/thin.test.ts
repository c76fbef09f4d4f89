import fc from 'fast-check';
import { expect, it } from 'vitest';
import { thin } from '../features/readings/thin';

it('never hides a peak, keeps both ends and the order of time', () => {
  fc.assert(fc.property(fc.integer({ min: 1, max: 5000 }), fc.integer({ min: 1, max: 200 }), fc.integer(), (n, width, seed) => {
    const time = Float64Array.from({ length: n }, (_, i) => i * 1e-3);
    const values = Float64Array.from({ length: n }, (_, i) => Math.sin(i * 0.7 + seed) * ((i * 7919) % 101));
    const points = thin(time, values, 2, width);
    const ys = points.map((p) => p.y);
    expect(Math.max(...ys)).toBe(Math.max(...values) / 2);
    expect(Math.min(...ys)).toBe(Math.min(...values) / 2);
    expect(points[0]!.x).toBe(0);
    expect(points.at(-1)!.x).toBe(time[n - 1]);
    expect(points.length).toBeLessThanOrEqual(4 * width);
    points.forEach((p, i) => i > 0 && expect(p.x).toBeGreaterThan(points[i - 1]!.x));
  }));
});
