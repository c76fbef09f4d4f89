/** What a kind of instance declares, and how its members come to their places. */
import { IDENTITY, type Vec3, add, apply, applyT, mul, scale, transpose } from '../geometry/vector';
import type { RawElement } from './document';
import type { Fields, ValuesOf } from './fields';
import type { Kind } from './kinds';
import type { Pose } from './layout';

export interface InstanceKind<F extends Fields = Fields> extends Kind<F> {
  family: 'instances';
  makes: 'one' | 'many' | 'mirrored';
  /**
   * Where the members stand, in the axes in which the instance is given; a turn of determinant −1 mirrors.
   * @param at coordinates of a point in those axes, m
   * @throws Refusal
   */
  members(v: ValuesOf<F>, count: number, at: (point: string) => Vec3): readonly Pose[];
}

/** Which member of which instance an element belongs to. */
export interface Placing {
  /** Name of the instance. */
  readonly instance: string;
  readonly member: number;
}

const PLACES = Symbol('placings');
const NONE: readonly Placing[] = [];

/** The instances an element comes from, innermost first; empty for those of the model itself. */
export const placingsOf = (e: RawElement): readonly Placing[] => (e as { [PLACES]?: readonly Placing[] })[PLACES] ?? NONE;
/** Notes on an element of an instance which instances bring it, innermost first. */
export const placed = (e: RawElement, placings: readonly Placing[]): RawElement => Object.assign(e, { [PLACES]: placings });

/** First the inner, then the outer. */
export const together = (outer: Pose, inner: Pose): Pose => ({
  turn: mul(outer.turn, inner.turn),
  origin: add(outer.origin, apply(outer.turn, inner.origin)),
});
export const HERE: Pose = { turn: IDENTITY, origin: [0, 0, 0] };
/** The motion back. */
export const inverse = ({ turn, origin }: Pose): Pose => ({ turn: transpose(turn), origin: scale(applyT(turn, origin), -1) });
/** What carries both of two elements: the placings, innermost first, with which both end. */
export function commonTail(a: readonly Placing[], b: readonly Placing[]): readonly Placing[] {
  let n = 0;
  while (n < a.length && n < b.length && a.at(-1 - n)!.instance === b.at(-1 - n)!.instance && a.at(-1 - n)!.member === b.at(-1 - n)!.member)
    n++;
  return n === a.length ? a : a.slice(a.length - n);
}
