/**
 * Signed distance from a solid, negative inside, with the direction in which it grows: exact for balls and for outlines that are extruded or revolved,
 * from inside a bore or a bowl as well.
 */
import { bonesOf } from './bones';
import { type Field, TINY, opposes } from './distance-field';
import { FacetField } from './facet-field';
import type { Form } from './form';
import { OutlineField } from './outline-field';

export type { Field } from './distance-field';

class BallField implements Field {
  readonly n = new Float64Array(3);
  readonly face = 0;
  readonly bent = true;
  readonly flat = false;
  readonly convex = true;
  constructor(private readonly radius: number) {}
  at(x: number, y: number, z: number): number {
    const { n } = this,
      d = Math.sqrt(x * x + y * y + z * z);
    n[0] = d > 0 ? x / d : 0;
    n[1] = d > 0 ? y / d : 0;
    n[2] = d > 0 ? z / d : 1;
    return d - this.radius;
  }
}

/** What is round about a line along z, its distance from that: a capsule. Its faces are both ends and what is between. */
class CapsuleField implements Field {
  readonly n = new Float64Array(3);
  face = 1;
  readonly bent = true;
  readonly flat = false;
  readonly convex = true;
  constructor(
    private readonly low: number,
    private readonly high: number,
    private readonly radius: number,
  ) {}
  at(x: number, y: number, z: number): number {
    const { n, low, high } = this,
      up = z < low ? z - low : z > high ? z - high : 0,
      d = Math.sqrt(x * x + y * y + up * up);
    this.face = up < 0 ? 0 : up > 0 ? 2 : 1;
    n[0] = d > 0 ? x / d : 1;
    n[1] = d > 0 ? y / d : 0;
    n[2] = d > 0 ? up / d : 0;
    return d - this.radius;
  }
}

class HalfSpaceField implements Field {
  readonly n = new Float64Array([0, 0, 1]);
  readonly face = 0;
  readonly bent = false;
  readonly flat = true;
  readonly convex = true;
  at(_x: number, _y: number, z: number): number {
    return z;
  }
}

/** Both ends of what is extruded, after the faces of its outline. */
const ENDS = 1e6;

class ExtrudedField implements Field {
  readonly n = new Float64Array(3);
  face = -1;
  bent = false;
  flat = false;
  private readonly outline: OutlineField;
  private readonly half: number;
  /** How far beside a face a corner is still on its border, m. */
  private readonly tiny: number;
  constructor({ outlines, half }: Extract<Form, { type: 'extruded' }>) {
    this.half = half;
    this.outline = new OutlineField(outlines);
    this.tiny = TINY * Math.max(half, this.outline.reach);
  }
  at(x: number, y: number, z: number): number {
    const { n, outline } = this,
      side = outline.at(x, y),
      end = Math.abs(z) - this.half,
      up = z < 0 ? -1 : 1;
    if (side > 0 && end > 0) {
      const d = Math.sqrt(side * side + end * end);
      n[0] = (outline.nx * side) / d;
      n[1] = (outline.ny * side) / d;
      n[2] = (up * end) / d;
      this.face = -1;
      this.bent = false;
      this.flat = !outline.isArc;
      return d;
    }
    const across = side > end;
    this.face = across ? outline.nearest : ENDS + up;
    this.flat = across ? !outline.isArc : outline.straight;
    this.bent = across && outline.isArc;
    n[0] = across ? outline.nx : 0;
    n[1] = across ? outline.ny : 0;
    n[2] = across ? 0 : up;
    return across ? side : end;
  }
  /** A corner that stands on the border of a face came through that, however near it is to the next one. */
  under(x: number, y: number, z: number, edges: Float64Array): number {
    const { n, outline, half, tiny } = this,
      d = this.at(x, y, z);
    // on a border a normal is that of rounding
    if (d > tiny || (d < -tiny && opposes(edges, n[0]!, n[1]!, n[2]!))) return d;
    const up = z < 0 ? -1 : 1,
      end = opposes(edges, 0, 0, up) ? Math.abs(z) - half : -Infinity,
      side = outline.under(x, y, edges, tiny);
    if (!(Math.max(side, end) > -Infinity)) return d;
    const across = side > end;
    this.face = across ? outline.nearest : ENDS + up;
    this.flat = true;
    this.bent = false;
    n[0] = across ? outline.nx : 0;
    n[1] = across ? outline.ny : 0;
    n[2] = across ? 0 : up;
    return across ? side : end;
  }
}

/** Less of a unit vector is across an axis: what is square to it is flat. */
const FLAT = 1e-9;

/** What is revolved about z, by the distance in the half-plane of radius and height. */
export class RevolvedField implements Field {
  readonly n = new Float64Array(3);
  face = -1;
  bent = false;
  readonly flat = false;
  constructor(private readonly outline: OutlineField) {}
  at(x: number, y: number, z: number): number {
    const { n, outline } = this,
      radius = Math.sqrt(x * x + y * y),
      d = outline.at(radius, z);
    n[0] = radius > 0 ? (outline.nx * x) / radius : outline.nx;
    n[1] = radius > 0 ? (outline.nx * y) / radius : 0;
    n[2] = outline.ny;
    this.face = outline.nearest;
    this.bent = this.face >= 0 && Math.abs(outline.nx) > FLAT;
    return d;
  }
}

/** By each type of form its field. */
const FIELDS: { readonly [T in Form['type']]: (form: Extract<Form, { type: T }>) => Field } = {
  ball: ({ radius }) => new BallField(radius),
  'half-space': () => new HalfSpaceField(),
  facets: (form) => new FacetField(form),
  extruded: (form) => new ExtrudedField(form),
  revolved: (form) => capsuleOf(form) ?? new RevolvedField(new OutlineField([form.outline], true)),
};
/** The field of what is round about one line along its axis. */
function capsuleOf(form: Form): Field | undefined {
  const { whole, list } = bonesOf(form),
    [bone] = list;
  if (!whole || list.length !== 1 || bone?.type !== 'line') return undefined;
  const { from, to, radius } = bone;
  return [...from.slice(0, 2), ...to.slice(0, 2)].every((x) => x === 0)
    ? new CapsuleField(Math.min(from[2], to[2]), Math.max(from[2], to[2]), radius)
    : undefined;
}

/** The distance from it, in its own axes. */
export const fieldOf = (form: Form): Field => (FIELDS[form.type] as (f: Form) => Field)(form);
