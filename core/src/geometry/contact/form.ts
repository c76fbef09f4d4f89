/** What a solid is exactly, in axes of its own, for what touches it: a ball, an outline extruded or revolved, or facets. */
import type { Outline } from '../outline';
import type { Mat3, Vec3 } from '../vector';

export type Form =
  | { readonly type: 'ball'; readonly radius: number }
  /** Outer outline counter-clockwise, holes clockwise, extruded by ±half along z. */
  | { readonly type: 'extruded'; readonly outlines: readonly Outline[]; readonly half: number }
  /** An outline in the half-plane of radius and height, counter-clockwise, revolved about z. */
  | { readonly type: 'revolved'; readonly outline: Outline }
  /** A closed surface of triangles, counter-clockwise seen from outside: three numbers a corner, m, and three corners a triangle. */
  | { readonly type: 'facets'; readonly positions: Float32Array | Float64Array; readonly indices: Uint32Array }
  /** Everything below z = 0. */
  | { readonly type: 'half-space' };

/** A form where it stands: its axes as columns of `turn`, its origin at `shift`. */
export interface PlacedForm {
  readonly form: Form;
  readonly turn: Mat3;
  readonly shift: Vec3;
}
