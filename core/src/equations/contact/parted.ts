/**
 * What a place that opens leaves to another at the same spot: of faces that lie flush now a corner of one stands on the other, now a corner of that, or two
 * edges cross there. What is pressed and held goes on as it was.
 */
import type { Meeting } from './meeting';
import type { Places } from './places';

export interface Left {
  readonly a: number;
  readonly b: number;
  /** Where it was, and its normal, ground axes. */
  readonly at: readonly number[];
  readonly n: readonly number[];
  /** As in `Places`, with its states. */
  readonly from: number;
  readonly met: number;
  readonly does: number;
  readonly z: readonly number[];
}

/** Cosine of the angle between two normals that are the same. */
const SAME = 0.999;

/** @param at,n of all places at the end of the last step @param first where states of the places begin in z */
export const leaves = (m: Meeting, i: number, places: Places, at: Float64Array, n: Float64Array, z: Float64Array, first: number): Left => ({
  ...{ a: m.a, b: m.b, from: places.from[i]!, met: places.met[i]!, does: places.does[i]! },
  at: [...at.subarray(3 * i, 3 * i + 3)],
  n: [...n.subarray(3 * i, 3 * i + 3)],
  z: [...z.subarray(first + 3 * i, first + 3 * i + 3)],
});

/** Whether it is left to a place of the same bodies that was just looked at, and overlaps so deep. */
export function isLeftTo(left: Left, { a, b, x, n }: Meeting, depth: number): boolean {
  const sign = a === left.a && b === left.b ? 1 : a === left.b && b === left.a ? -1 : 0;
  let [far, along] = [0, 0];
  for (let k = 0; k < 3; k++) {
    const d = x[k]! - left.at[k]!;
    far += d * d;
    along += sign * n[k]! * left.n[k]!;
  }
  return far <= depth * depth && along > SAME;
}

/** A place that was just made goes on with it. */
export function goesOn(left: Left, { a }: Meeting, i: number, places: Places, z: Float64Array, first: number): void {
  places.from[i] = left.from;
  places.met[i] = left.met;
  places.does[i] = left.does;
  for (let k = 0; k < 3; k++) z[first + 3 * i + k] = (a === left.a ? 1 : -1) * left.z[k]!;
}
