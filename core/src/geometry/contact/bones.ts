/**
 * What of a solid touches the surface of another first: corners, rims, and what it is rounded about. Each is a point, a circle or a straight line, with a
 * radius about it: 0 for a sharp corner or rim.
 */
import type { Form } from './form';
import { sharpCorners } from './outline-field';
import type { Piece } from '../outline';
import type { Vec3 } from '../vector';

export type Bone =
  | { readonly type: 'point'; readonly at: Vec3; readonly radius: number }
  /** About the z axis. */
  | { readonly type: 'circle'; readonly height: number; readonly ring: number; readonly radius: number }
  | { readonly type: 'line'; readonly from: Vec3; readonly to: Vec3; readonly radius: number };

export interface Bones {
  readonly list: readonly Bone[];
  /** Whether all of its surface is as far from them as they are thick: nothing else of it can touch anything. */
  readonly whole: boolean;
}

const ON_AXIS = 1e-12;

/** What an outline piece is rounded about, once it is revolved; undefined where it is not rounded outwards. */
function about(p: Piece): Bone | undefined {
  if (p.type === 'arc') {
    if (p.to < p.from) return undefined;
    const [ring, height] = p.centre;
    return Math.abs(ring) < ON_AXIS
      ? { type: 'point', at: [0, 0, height], radius: p.radius }
      : { type: 'circle', height, ring, radius: p.radius };
  }
  const [x, z] = p.from;
  return x > ON_AXIS && Math.abs(p.to[0] - x) <= ON_AXIS && p.to[1] > z
    ? { type: 'line', from: [0, 0, z], to: [0, 0, p.to[1]], radius: x }
    : undefined;
}

function ofRevolved({ outline }: Extract<Form, { type: 'revolved' }>): Bones {
  const surface = outline.filter((p) => p.type === 'arc' || Math.abs(p.from[0]) > ON_AXIS || Math.abs(p.to[0]) > ON_AXIS),
    round = surface.map(about),
    corners = sharpCorners(outline, true).map(({ at: [ring, height] }): Bone =>
      ring > ON_AXIS ? { type: 'circle', height, ring, radius: 0 } : { type: 'point', at: [0, 0, height], radius: 0 },
    ),
    whole = corners.length === 0 && round.every((b) => b !== undefined),
    // the sides of what has ends that are not round touch by their rims
    kept = round.filter((b) => b !== undefined).filter((b) => whole || b.type !== 'line');
  return { list: whole ? withoutEnds(kept) : [...corners, ...kept], whole };
}
/** A line's ends are touched as well: points there that are as thick are none of their own. */
function withoutEnds(list: readonly Bone[]): Bone[] {
  const lines = list.filter((b) => b.type === 'line');
  return list.filter(
    (b) =>
      b.type !== 'point' ||
      !lines.some((l) => l.radius === b.radius && [l.from, l.to].some((e) => e.every((x, k) => Math.abs(x - b.at[k]!) <= ON_AXIS))),
  );
}

function ofExtruded({ outlines, half }: Extract<Form, { type: 'extruded' }>): Bones {
  const corners = outlines.flatMap((o) => sharpCorners(o));
  return {
    list: corners.flatMap(({ at: [x, y] }) => [-half, half].map((z): Bone => ({ type: 'point', at: [x, y, z], radius: 0 }))),
    whole: false,
  };
}

/** By each type of form its bones. */
const BONES: { readonly [T in Form['type']]: (form: Extract<Form, { type: T }>) => Bones } = {
  ball: ({ radius }) => ({ list: [{ type: 'point', at: [0, 0, 0], radius }], whole: true }),
  // it is flat everywhere: what touches it does so with its own
  'half-space': () => ({ list: [], whole: false }),
  extruded: ofExtruded,
  revolved: ofRevolved,
};
/** Its bones, in its own axes, m. */
export const bonesOf = (form: Form): Bones => (BONES[form.type] as (f: Form) => Bones)(form);

/** Whether it has sides that are round and stick out. */
export const hasRoundSide = (form: Form): boolean =>
  form.type === 'revolved' || (form.type === 'extruded' && form.outlines.some((o) => o.some((p) => p.type === 'arc' && p.to > p.from)));
