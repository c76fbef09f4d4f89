/** Rotation matrix of the unit quaternion at q[p…p+3] (its first the scalar part), row by row into A[m…m+8]. */
export function rotationInto(A: Float64Array, m: number, q: Float64Array, p: number): void {
  const a = q[p]!,
    b = q[p + 1]!,
    c = q[p + 2]!,
    d = q[p + 3]!;
  A[m] = 1 - 2 * (c * c + d * d);
  A[m + 1] = 2 * (b * c - a * d);
  A[m + 2] = 2 * (b * d + a * c);
  A[m + 3] = 2 * (b * c + a * d);
  A[m + 4] = 1 - 2 * (b * b + d * d);
  A[m + 5] = 2 * (c * d - a * b);
  A[m + 6] = 2 * (b * d - a * c);
  A[m + 7] = 2 * (c * d + a * b);
  A[m + 8] = 1 - 2 * (b * b + c * c);
}
