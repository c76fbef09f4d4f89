/** What equations read of a body, as expressions. */
import type { Ex } from '../../expressions/arithmetic';
import { type RotationEx, type VectorEx, cross, plus, spun, toBody, toGround } from '../../expressions/vectors';
import type { Graph } from '../../expressions/graph';

/** Place of the centre of mass (ground axes), rotation, velocity (ground axes), angular velocity (body axes). */
export interface BodyEx {
  readonly r: VectorEx;
  readonly A: RotationEx;
  readonly v: VectorEx;
  readonly w: VectorEx;
}

/** Bases of a body's place, rotation, velocity and angular velocity. */
export const BODY_BASES = 4;
/** A body whose four parts lie at bases of their own, from one on. */
export function bodyAt(g: Graph, base: number): BodyEx {
  const at = (k: number, count: number): Ex[] => Array.from({ length: count }, (_, i) => g.load(base + k, i));
  return {
    r: at(0, 3) as unknown as VectorEx,
    A: at(1, 9) as unknown as RotationEx,
    v: at(2, 3) as unknown as VectorEx,
    w: at(3, 3) as unknown as VectorEx,
  };
}

/** A point fixed in a body, in ground axes. */
export const place = (g: Graph, { r, A }: BodyEx, s: VectorEx): VectorEx => plus(g, r, toGround(g, A, s));
/** Velocity of a point fixed in a body, in ground axes. */
export const velocity = (g: Graph, { A, v, w }: BodyEx, s: VectorEx): VectorEx => plus(g, v, toGround(g, A, cross(g, w, s)));
/** Angular velocity of a body, in ground axes. */
export const spin = (g: Graph, { A, w }: BodyEx): VectorEx => toGround(g, A, w);
/** A direction fixed in a body, in ground axes. */
export const direction = (g: Graph, { A }: BodyEx, u: VectorEx): VectorEx => toGround(g, A, u);
/** A vector of the ground in the axes of a body. */
export const seenFrom = (g: Graph, { A }: BodyEx, x: VectorEx): VectorEx => toBody(g, A, x);

/** How place and rotation change while a body moves with velocities v and w. */
export function moving(g: Graph, { r, A }: BodyEx, v: VectorEx, w: VectorEx): [Ex, Ex][] {
  const dA = spun(g, A, w);
  return [...r.map((x, k): [Ex, Ex] => [x, v[k]!]), ...A.map((x, k): [Ex, Ex] => [x, dA[k]!])];
}
