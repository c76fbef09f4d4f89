import { describe, expect, it } from 'vitest';
import { Dop853 } from '../src/solve/dop853';
import { A, C } from '../src/solve/dop853-coefficients';

describe('Dormand-Prince 8(5,3)', () => {
  it('has stages that sum to their times and weights that integrate t⁰ to t⁷', () => {
    A.forEach((row, i) => expect(row.reduce((s, [, a]) => s + a, 0)).toBeCloseTo(C[i]!, 13));
    for (let p = 0; p < 8; p++) expect(A[12]!.reduce((s, [j, b]) => s + b * C[j]! ** p, 0)).toBeCloseTo(1 / (p + 1), 13);
  });

  const arnold = (t: number, y: Float64Array, dy: Float64Array) => {
    dy[0] = y[1]! + Math.sin(t);
    dy[1] = -y[0]! * y[0]! * 0.3;
  };
  const integrate = (n: number, dense = false) => {
    const m = new Dop853(2, arnold);
    const y = Float64Array.of(1, 0.5),
      out = new Float64Array(2);
    for (let i = 0; i < n; i++) {
      arnold(i / n, y, m.k[0]!);
      m.attempt(i / n, y, 1 / n);
      if (dense && i === Math.floor(n / 2)) {
        m.prepareDense();
        m.interpolate((i + 0.37) / n, out);
        return out;
      }
      y.set(m.y1);
    }
    return y;
  };

  it('converges with order 8', () => {
    const best = integrate(40);
    const error = (n: number) => Math.hypot(integrate(n)[0]! - best[0]!, integrate(n)[1]! - best[1]!);
    expect(Math.log2(error(2) / error(4))).toBeGreaterThan(7.3);
  });

  it('interpolates inside the step to order 7', () => {
    const exact = (n: number) => {
      // reference by many small steps up to the same time
      const t1 = (Math.floor(n / 2) + 0.37) / n;
      const m = new Dop853(2, arnold);
      const y = Float64Array.of(1, 0.5);
      for (let i = 0; i < 50; i++) {
        arnold((t1 * i) / 50, y, m.k[0]!);
        m.attempt((t1 * i) / 50, y, t1 / 50);
        y.set(m.y1);
      }
      return y;
    };
    const error = (n: number) => Math.abs(integrate(n, true)[0]! - exact(n)[0]!);
    expect(error(2)).toBeLessThan(1e-6);
    expect(error(4)).toBeLessThan(error(2) / 40);
  });
});
