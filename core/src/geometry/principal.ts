/** Principal moments of an inertia tensor, by cyclic Jacobi rotations (C. G. J. Jacobi, J. reine angew. Math. 30, 1846). */
import { square } from '../quantity/elementary';
import type { Mat3, Vec3 } from './vector';

/** @param inertia symmetric, kg·m² @returns the three moments, smallest first */
export function principalMoments(inertia: Mat3): Vec3 {
  const m = [...inertia];
  const at = (i: number, j: number) => m[3 * i + j]!;
  for (let sweep = 0; sweep < 30; sweep++) {
    const off = square(at(0, 1)) + square(at(1, 2)) + square(at(0, 2));
    if (off <= 1e-34 * (square(at(0, 0)) + square(at(1, 1)) + square(at(2, 2)))) break;
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ] as const) {
      const g = at(p, q);
      if (g === 0) continue;
      const theta = (at(q, q) - at(p, p)) / (2 * g),
        t = (theta < 0 ? -1 : 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1)),
        c = 1 / Math.sqrt(t * t + 1),
        s = t * c;
      const r = 3 - p - q,
        a = at(r, p),
        b = at(r, q);
      m[4 * p] = at(p, p) - t * g;
      m[4 * q] = at(q, q) + t * g;
      m[3 * p + q] = m[3 * q + p] = 0;
      m[3 * r + p] = m[3 * p + r] = c * a - s * b;
      m[3 * r + q] = m[3 * q + r] = s * a + c * b;
    }
  }
  return [at(0, 0), at(1, 1), at(2, 2)].sort((x, y) => x - y) as unknown as Vec3;
}
