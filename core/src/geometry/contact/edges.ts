/** Edges of a solid: where two of its faces meet and stick out. */
import { TWO_PI } from '../../quantity/elementary';
import { type Vec3, cross, dot, norm, scale } from '../vector';
import { type Arc, arcsOf } from './bones';
import { Facets } from './facets';
import type { Form } from './form';
import { endsOf, sharpCorners } from './outline-field';
import type { StraightEdge } from './straight-edge';

export type { StraightEdge } from './straight-edge';

/** An arc with the outward normals of the faces that meet in it: normals by their parts away from its middle and along z. */
export interface ArcEdge extends Arc {
  readonly type: 'arc';
  readonly normals: readonly [readonly [number, number], readonly [number, number]];
}
export type Edge = StraightEdge | ArcEdge;

const ON_AXIS = 1e-12;

function ofExtruded({ outlines, half }: Extract<Form, { type: 'extruded' }>): Edge[] {
  const upright = outlines.flatMap((o) =>
      sharpCorners(o).map(({ at: [x, y], normals: [a, b] }): Edge => ({
        type: 'straight',
        from: [x, y, -half],
        to: [x, y, half],
        normals: [
          [...a, 0],
          [...b, 0],
        ],
      })),
    ),
    lines = outlines.flat().flatMap((p) => {
      if (p.type !== 'line') return [];
      const [[a, b], [c, d]] = endsOf(p),
        length = norm([c - a, d - b, 0]),
        side: Vec3 = [(d - b) / length, (a - c) / length, 0];
      return length > 0
        ? [-1, 1].map((up): Edge => ({ type: 'straight', from: [a, b, up * half], to: [c, d, up * half], normals: [side, [0, 0, up]] }))
        : [];
    }),
    arcs = outlines.flatMap(arcsOf).flatMap(({ centre: [x, y], inwards, ...arc }) =>
      [-1, 1].map((up): Edge => ({
        type: 'arc',
        ...arc,
        centre: [x, y, up * half],
        normals: [
          [inwards ? -1 : 1, 0],
          [0, up],
        ],
      })),
    );
  return [...upright, ...lines, ...arcs];
}
const ofRevolved = ({ outline }: Extract<Form, { type: 'revolved' }>): Edge[] =>
  sharpCorners(outline, true).flatMap(({ at: [ring, height], normals }): Edge[] =>
    ring > ON_AXIS ? [{ type: 'arc', centre: [0, 0, height], ring, from: 0, reach: TWO_PI, normals }] : [],
  );

/** By each type of form its edges. */
const EDGES: { readonly [T in Form['type']]: (form: Extract<Form, { type: T }>) => Edge[] } = {
  ball: () => [],
  'half-space': () => [],
  facets: (form) => [...Facets.of(form).edges],
  extruded: ofExtruded,
  revolved: ofRevolved,
};
/** Edges of a form, in its own axes. */
export const edgesOf = (form: Form): Edge[] => (EDGES[form.type] as (f: Form) => Edge[])(form);

/** Directions in which an edge sticks out: on the inner side of both planes through it. One square to it does where both products are not negative. */
export function coneOf(along: Vec3, [a, b]: readonly [Vec3, Vec3]): readonly [Vec3, Vec3] {
  const unit = scale(along, 1 / norm(along)),
    // from the first face to the second about the edge
    sense = dot(cross(a, b), unit) < 0 ? -1 : 1;
  return [scale(cross(unit, a), sense), scale(cross(b, unit), sense)];
}
