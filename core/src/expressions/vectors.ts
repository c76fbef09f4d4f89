/** Vectors and rotations of expressions. */
import type { Arithmetic, Ex } from './arithmetic';

/** Three expressions. */
export type VectorEx = readonly [Ex, Ex, Ex];
/** A rotation matrix row by row: from the axes of a body to those of the ground. */
export type RotationEx = readonly [Ex, Ex, Ex, Ex, Ex, Ex, Ex, Ex, Ex];

/** A quaternion, scalar first. */
export type QuaternionEx = readonly [Ex, Ex, Ex, Ex];

/** x + y */
export const plus = (g: Arithmetic, x: VectorEx, y: VectorEx): VectorEx => [g.add(x[0], y[0]), g.add(x[1], y[1]), g.add(x[2], y[2])];
/** x − y */
export const minus = (g: Arithmetic, x: VectorEx, y: VectorEx): VectorEx => [
  g.subtract(x[0], y[0]),
  g.subtract(x[1], y[1]),
  g.subtract(x[2], y[2]),
];
/** s x */
export const times = (g: Arithmetic, s: Ex, x: VectorEx): VectorEx => [g.multiply(s, x[0]), g.multiply(s, x[1]), g.multiply(s, x[2])];
/** The scalar product x · y. */
export const dot = (g: Arithmetic, x: VectorEx, y: VectorEx): Ex =>
  g.add(g.add(g.multiply(x[0], y[0]), g.multiply(x[1], y[1])), g.multiply(x[2], y[2]));
/** The vector product x × y. */
export const cross = (g: Arithmetic, x: VectorEx, y: VectorEx): VectorEx => {
  const part = (i: 0 | 1 | 2, j: 0 | 1 | 2) => g.subtract(g.multiply(x[i], y[j]), g.multiply(x[j], y[i]));
  return [part(1, 2), part(2, 0), part(0, 1)];
};
/** Length of a vector. */
export const norm = (g: Arithmetic, x: VectorEx): Ex => g.root(dot(g, x, x));

const rowOf = (A: RotationEx, k: 0 | 1 | 2): VectorEx => [A[3 * k]!, A[3 * k + 1]!, A[3 * k + 2]!];
const columnOf = (A: RotationEx, k: 0 | 1 | 2): VectorEx => [A[k]!, A[3 + k]!, A[6 + k]!];
/** From body axes to those of the ground. */
export const toGround = (g: Arithmetic, A: RotationEx, s: VectorEx): VectorEx => [
  dot(g, rowOf(A, 0), s),
  dot(g, rowOf(A, 1), s),
  dot(g, rowOf(A, 2), s),
];
/** From the axes of the ground to those of the body. */
export const toBody = (g: Arithmetic, A: RotationEx, s: VectorEx): VectorEx => [
  dot(g, columnOf(A, 0), s),
  dot(g, columnOf(A, 1), s),
  dot(g, columnOf(A, 2), s),
];

/** Rotation of a unit quaternion (scalar first). */
export function rotationOf(g: Arithmetic, [a, b, c, d]: QuaternionEx): RotationEx {
  const two = (x: Ex) => g.multiply(g.constant(2), x),
    sum = (x: Ex, y: Ex, z: Ex, w: Ex) => two(g.add(g.multiply(x, y), g.multiply(z, w))),
    difference = (x: Ex, y: Ex, z: Ex, w: Ex) => two(g.subtract(g.multiply(x, y), g.multiply(z, w))),
    rest = (x: Ex, y: Ex) => g.subtract(g.one, two(g.add(g.square(x), g.square(y))));
  return [
    rest(c, d),
    difference(b, c, a, d),
    sum(b, d, a, c),
    sum(b, c, a, d),
    rest(b, d),
    difference(c, d, a, b),
    difference(b, d, a, c),
    sum(c, d, a, b),
    rest(b, c),
  ];
}

/** Rate of a rotation that turns with an angular velocity in body axes: A (w ×). */
export function spun(g: Arithmetic, A: RotationEx, w: VectorEx): RotationEx {
  const row = (k: 0 | 1 | 2): VectorEx => cross(g, rowOf(A, k), w);
  const [x, y, z] = [row(0), row(1), row(2)];
  return [...x, ...y, ...z];
}
