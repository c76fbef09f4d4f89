/**
 * What of a solid touches the surface of another first: corners, rims, and what it is rounded about. Each is a point, an arc or a straight line, with a
 * radius about it: 0 for a sharp corner or rim.
 */
import { TWO_PI } from '../../quantity/elementary';
import type { Outline, Piece } from '../outline';
import { type Vec3, sub, unit } from '../vector';
import { Facets } from './facets';
import type { Form } from './form';
import { sharpCorners } from './outline-field';

/** Part of a circle, square to the z axis: from an angle on, by so much, rad. */
export interface Arc {
  readonly centre: Vec3;
  readonly ring: number;
  readonly from: number;
  /** 2π for all of it. */
  readonly reach: number;
}
export type Bone =
  /** `edges`: of a sharp corner the directions, of length one, in which its edges leave it. */
  | { readonly type: 'point'; readonly at: Vec3; readonly radius: number; readonly edges?: readonly Vec3[] }
  /** `inwards`: what it bounds lies about it, and only what bulges can touch it between its ends. */
  | ({ readonly type: 'arc'; readonly radius: number; readonly inwards?: boolean } & Arc)
  /** About a line the radius may grow along it: a cone. */
  | { readonly type: 'line'; readonly from: Vec3; readonly to: Vec3; readonly radius: number };

export interface Bones {
  readonly list: readonly Bone[];
  /** Whether all of its surface is as far from them as they are thick: nothing else of it can touch anything. */
  readonly whole: boolean;
}

const ON_AXIS = 1e-12;

const about = (ring: number, height: number, radius: number): Bone => ({
  type: 'arc',
  centre: [0, 0, height],
  ring,
  from: 0,
  reach: TWO_PI,
  radius,
});
/** What an outline piece is rounded about, once it is revolved; undefined where it is not rounded outwards. */
function roundedAbout(p: Piece): Bone | undefined {
  if (p.type === 'arc') {
    if (p.to < p.from) return undefined;
    const [ring, height] = p.centre;
    return Math.abs(ring) < ON_AXIS ? { type: 'point', at: [0, 0, height], radius: p.radius } : about(ring, height, p.radius);
  }
  const [x, z] = p.from;
  return x > ON_AXIS && Math.abs(p.to[0] - x) <= ON_AXIS && p.to[1] > z
    ? { type: 'line', from: [0, 0, z], to: [0, 0, p.to[1]], radius: x }
    : undefined;
}

function ofRevolved({ outline }: Extract<Form, { type: 'revolved' }>): Bones {
  const surface = outline.filter((p) => p.type === 'arc' || Math.abs(p.from[0]) > ON_AXIS || Math.abs(p.to[0]) > ON_AXIS),
    round = surface.map(roundedAbout),
    corners = sharpCorners(outline, true).map(({ at: [ring, height] }): Bone =>
      ring > ON_AXIS ? about(ring, height, 0) : { type: 'point', at: [0, 0, height], radius: 0 },
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

/** Arcs of an outline; one for all of a circle that is made of several. */
export function arcsOf(
  outline: Outline,
): (Omit<Arc, 'centre'> & { readonly centre: readonly [number, number]; readonly inwards: boolean })[] {
  const arcs = outline.filter((p) => p.type === 'arc'),
    [first] = arcs,
    round = (p: typeof first) => p!.radius === first!.radius && p!.centre.every((x, k) => x === first!.centre[k]),
    made = (p: NonNullable<typeof first>, reach: number) => ({
      centre: p.centre,
      ring: p.radius,
      from: Math.min(p.from, p.to),
      reach: Math.min(TWO_PI, reach),
      inwards: p.to < p.from,
    });
  if (first && arcs.length === outline.length && arcs.every(round)) return [made(first, TWO_PI)];
  return arcs.map((p) => made(p, Math.abs(p.to - p.from)));
}

function ofExtruded({ outlines, half }: Extract<Form, { type: 'extruded' }>): Bones {
  const corners = outlines.flatMap((o) => sharpCorners(o)),
    arcs = outlines.flatMap(arcsOf);
  return {
    list: [-half, half].flatMap((z): Bone[] => [
      ...corners.map(({ at: [x, y], normals: [[a, b], [c, d]] }): Bone => ({
        ...{ type: 'point', at: [x, y, z], radius: 0 },
        // back along the piece before, on along the next, and along the thickness
        edges: [
          [b, -a, 0],
          [-d, c, 0],
          [0, 0, z < 0 ? 1 : -1],
        ],
      })),
      ...arcs.map(({ centre: [x, y], ...arc }): Bone => ({ type: 'arc', ...arc, centre: [x, y, z], radius: 0 })),
    ]),
    whole: false,
  };
}

function ofFacets({ corners, edges }: Facets): Bone[] {
  const leaving = new Map<string, Vec3[]>(),
    take = (from: Vec3, to: Vec3) => {
      const key = from.join(),
        list = leaving.get(key) ?? [];
      list.push(unit(sub(to, from)));
      leaving.set(key, list);
    };
  for (const { from, to } of edges) {
    take(from, to);
    take(to, from);
  }
  return corners.map((at) => ({ type: 'point', at, radius: 0, edges: leaving.get(at.join()) ?? [] }));
}

/** By each type of form its bones. */
const BONES: { readonly [T in Form['type']]: (form: Extract<Form, { type: T }>) => Bones } = {
  ball: ({ radius }) => ({ list: [{ type: 'point', at: [0, 0, 0], radius }], whole: true }),
  // it is flat everywhere: what touches it does so with its own
  'half-space': () => ({ list: [], whole: false }),
  facets: (form) => ({ list: ofFacets(Facets.of(form)), whole: false }),
  extruded: ofExtruded,
  revolved: ofRevolved,
};
/** Its bones, in its own axes, m. */
export const bonesOf = (form: Form): Bones => (BONES[form.type] as (f: Form) => Bones)(form);
