/** Vectors of three numbers between the axes of a body and those of the ground. */

/** A vector of body i from its axes to those of the ground. @param A rotations, nine numbers a body; @param out three numbers */
export function toGround(A: Float64Array, i: number, s: Float64Array, out: Float64Array): void {
  const m = 9 * i,
    x = s[0]!,
    y = s[1]!,
    z = s[2]!;
  out[0] = A[m]! * x + A[m + 1]! * y + A[m + 2]! * z;
  out[1] = A[m + 3]! * x + A[m + 4]! * y + A[m + 5]! * z;
  out[2] = A[m + 6]! * x + A[m + 7]! * y + A[m + 8]! * z;
}
/** A vector from the axes of the ground to those of body i. @param A rotations, nine numbers a body; @param out three numbers */
export function toBody(A: Float64Array, i: number, s: Float64Array, out: Float64Array): void {
  const m = 9 * i,
    x = s[0]!,
    y = s[1]!,
    z = s[2]!;
  out[0] = A[m]! * x + A[m + 3]! * y + A[m + 6]! * z;
  out[1] = A[m + 1]! * x + A[m + 4]! * y + A[m + 7]! * z;
  out[2] = A[m + 2]! * x + A[m + 5]! * y + A[m + 8]! * z;
}
/** Scalar product of two vectors of three numbers. */
export const dot3 = (a: Float64Array, b: Float64Array): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
