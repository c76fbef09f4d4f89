/** How a place of a body moves, and what a push there does to it. */
import type { Kinematics } from '../kinematics';

/** Length of a vector. */
export const size = (x: Float64Array, at: number): number => Math.sqrt(x[at]! * x[at]! + x[at + 1]! * x[at + 1]! + x[at + 2]! * x[at + 2]!);

/** Component k (ground axes) of the velocity of a body at a place, ground axes. */
export function velocityAt({ r, A, v, w }: Kinematics, i: number, x: Float64Array, k: number): number {
  const p = 9 * i,
    q = 3 * i;
  const wx = A[p]! * w[q]! + A[p + 1]! * w[q + 1]! + A[p + 2]! * w[q + 2]!,
    wy = A[p + 3]! * w[q]! + A[p + 4]! * w[q + 1]! + A[p + 5]! * w[q + 2]!,
    wz = A[p + 6]! * w[q]! + A[p + 7]! * w[q + 1]! + A[p + 8]! * w[q + 2]!,
    dx = x[0]! - r[q]!,
    dy = x[1]! - r[q + 1]!,
    dz = x[2]! - r[q + 2]!;
  return v[q + k]! + (k === 0 ? wy * dz - wz * dy : k === 1 ? wz * dx - wx * dz : wx * dy - wy * dx);
}

/** Adds a force at a place (ground axes) to a body. */
export function push({ r, A }: Kinematics, i: number, x: Float64Array, f: Float64Array, sign: number, F: Float64Array): void {
  const p = 9 * i,
    dx = x[0]! - r[3 * i]!,
    dy = x[1]! - r[3 * i + 1]!,
    dz = x[2]! - r[3 * i + 2]!,
    mx = dy * f[2]! - dz * f[1]!,
    my = dz * f[0]! - dx * f[2]!,
    mz = dx * f[1]! - dy * f[0]!;
  for (let k = 0; k < 3; k++) {
    F[6 * i + k] = F[6 * i + k]! + sign * f[k]!;
    F[6 * i + 3 + k] = F[6 * i + 3 + k]! + sign * (A[p + k]! * mx + A[p + 3 + k]! * my + A[p + 6 + k]! * mz);
  }
}

/** Adds a moment (ground axes) to a body. */
export function turn({ A }: Kinematics, i: number, m: Float64Array, sign: number, F: Float64Array): void {
  const p = 9 * i;
  for (let k = 0; k < 3; k++)
    F[6 * i + 3 + k] = F[6 * i + 3 + k]! + sign * (A[p + k]! * m[0]! + A[p + 3 + k]! * m[1]! + A[p + 6 + k]! * m[2]!);
}
