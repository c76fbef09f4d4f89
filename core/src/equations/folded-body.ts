/** A body of which that is left out which it can never do (`fold.ts`), as expressions. */
import type { Ex } from '../expressions/arithmetic';
import type { Graph } from '../expressions/graph';
import type { RotationEx, VectorEx } from '../expressions/vectors';
import { type Fold, rounded, spinsOf, turningOf } from './fold';
import type { BodyEx } from './stated/body';

/** A number that belongs to the structure of a machine: 0 or ±1. */
export const structural = (x: number): boolean => x === 0 || x === 1 || x === -1;

/** The ground: where it is, and at rest. */
export function groundBody({ zero, one }: Graph): BodyEx {
  const still: VectorEx = [zero, zero, zero];
  return { r: still, A: [one, zero, zero, zero, one, zero, zero, zero, one], v: still, w: still };
}

/** @param body as it is read @param i its number @param turned whether its rotation is read though it never changes, for those who ask what if it did */
export function foldedBody(g: Graph, fold: Fold, i: number, { r, A, v, w }: BodyEx, turned = false): BodyEx {
  const moved = (from: number, x: VectorEx) => x.map((y, k) => (fold.moves[6 * i + from + k] ? y : g.zero)) as unknown as VectorEx;
  return { r, A: turned && spinsOf(fold, i) === 0 ? A : rotation(g, fold, i, A), v: moved(0, v), w: moved(3, w) };
}

/** The rotation of a body: with what never changes in it, where it turns about one axis or none. */
function rotation(g: Graph, fold: Fold, i: number, A: RotationEx): RotationEx {
  if (spinsOf(fold, i) > 1) return A;
  const turning = turningOf(fold, i);
  if (!turning) return A.map((x, e) => (structural(fold.A[9 * i + e]!) ? g.constant(fold.A[9 * i + e]!) : x)) as unknown as RotationEx;
  // about the axis k, which lies along the axis m of the ground: the next two axes turn in the plane of the next two there
  const { own: k, ground: m, sign } = turning,
    [j, l] = [(k + 1) % 3, (k + 2) % 3] as const,
    [p, q] = [(m + 1) % 3, (m + 2) % 3] as const,
    cos = A[3 * p + j]!,
    sin = A[3 * q + j]!,
    out = new Array<Ex>(9).fill(g.zero);
  out[3 * m + k] = g.constant(sign);
  out[3 * p + j] = cos;
  out[3 * q + j] = sin;
  out[3 * p + l] = sign > 0 ? g.negate(sin) : sin;
  out[3 * q + l] = sign > 0 ? cos : g.negate(cos);
  return out as unknown as RotationEx;
}

/** The same for bodies of which the same is left out. @param turned as of `foldedBody` */
export function foldOfBody(fold: Fold, i: number, turned = false): string {
  const moves = Array.from(fold.moves.subarray(6 * i, 6 * i + 6)).join(''),
    turning = turningOf(fold, i);
  if (turning) return `${moves}${turning.own}${turning.ground}${turning.sign}`;
  if (turned || spinsOf(fold, i) > 0) return moves;
  return moves + Array.from(fold.A.subarray(9 * i, 9 * i + 9), (x) => (structural(rounded(x)) ? rounded(x) : 'x')).join();
}
