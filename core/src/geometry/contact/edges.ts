/** Straight edges of two solids that cross: each touches the other between its ends, along what is square to both. */
import type { Field } from './field';
import { endsOf, sharpCorners } from './outline-field';
import type { Extent } from './extent';
import type { Form } from './form';
import type { Pose, Probe } from './probe';
import { type Vec3, cross, dot, norm, scale, sub } from '../vector';

/** An edge that sticks out, with the outward normals of the faces that meet in it. */
export interface Edge {
  readonly from: Vec3;
  readonly to: Vec3;
  readonly normals: readonly [Vec3, Vec3];
}

/** Sine of the angle below which two edges are parallel: corners carry them then. */
const PARALLEL = 1e-3;
/** A margin that is none; and the part of a depth that what is as deep has to be within a surface. */
const NONE = 1e-9;
const INSIDE = 0.9;

/** Straight edges of a form. */
export function straightEdges(form: Form): Edge[] {
  if (form.type !== 'extruded') return [];
  const { outlines, half } = form,
    upright = outlines.flatMap((o) =>
      sharpCorners(o).map(({ at: [x, y], normals: [a, b] }): Edge => ({
        from: [x, y, -half],
        to: [x, y, half],
        normals: [
          [...a, 0],
          [...b, 0],
        ],
      })),
    ),
    round = outlines.flat().flatMap((p) => {
      if (p.type !== 'line') return [];
      const [[a, b], [c, d]] = endsOf(p),
        length = norm([c - a, d - b, 0]),
        side: Vec3 = [(d - b) / length, (a - c) / length, 0];
      return length > 0 ? [-1, 1].map((up): Edge => ({ from: [a, b, up * half], to: [c, d, up * half], normals: [side, [0, 0, up]] })) : [];
    });
  return [...upright, ...round];
}

/** Directions in which an edge sticks out: on the inner side of both planes through it. One square to it does where both products are not negative. */
function coneOf({ from, to, normals: [a, b] }: Edge): readonly [Vec3, Vec3] {
  const along = sub(to, from),
    unit = scale(along, 1 / norm(along)),
    // from the first face to the second about the edge
    sense = dot(cross(a, b), unit) < 0 ? -1 : 1;
  return [scale(cross(unit, a), sense), scale(cross(b, unit), sense)];
}

/** All edges of one solid against all of another. */
export class Crossing {
  readonly probes: readonly Probe[];
  private readonly surface: readonly Edge[];
  /** Of each edge of the surface whether it comes near the other solid. */
  private readonly near: Uint8Array;

  /** @param reach a ball in which all of the first lies, in its axes */
  constructor(
    bones: Form,
    surface: Form,
    private readonly reach: Pick<Extent, 'centre' | 'radius'>,
  ) {
    this.surface = straightEdges(surface);
    this.near = new Uint8Array(this.surface.length);
    this.probes = straightEdges(bones).flatMap((a) => this.surface.map((b, k) => new EdgeProbe(a, b, this.near, k)));
  }
  /** Takes over where both are. */
  stand({ R, p }: Pose): void {
    const { surface, near, reach } = this,
      [x, y, z] = reach.centre,
      c0 = p[0]! + R[0]! * x + R[1]! * y + R[2]! * z,
      c1 = p[1]! + R[3]! * x + R[4]! * y + R[5]! * z,
      c2 = p[2]! + R[6]! * x + R[7]! * y + R[8]! * z;
    for (let k = 0; k < near.length; k++) {
      const { from, to } = surface[k]!,
        w0 = c0 - from[0],
        w1 = c1 - from[1],
        w2 = c2 - from[2],
        d0 = to[0] - from[0],
        d1 = to[1] - from[1],
        d2 = to[2] - from[2],
        along = w0 * d0 + w1 * d1 + w2 * d2,
        length = d0 * d0 + d1 * d1 + d2 * d2,
        s = along < 0 ? 0 : along > length ? 1 : along / length;
      near[k] = w0 * w0 + w1 * w1 + w2 * w2 - 2 * s * along + s * s * length > reach.radius * reach.radius ? 0 : 1;
    }
  }
}

/** Two edges, one of each solid. */
class EdgeProbe implements Probe {
  readonly radius = 0;
  margin = 0;
  private readonly cone: readonly [Vec3, Vec3];
  private readonly surfaceCone: readonly [Vec3, Vec3];
  private readonly a = new Float64Array(3);
  private readonly d = new Float64Array(3);
  private readonly c1 = new Float64Array(3);
  private readonly c2 = new Float64Array(3);
  private readonly within: number;
  private readonly along: Vec3;
  private readonly other: Vec3;

  /** @param edge of the solid that has the bones @param surface of the other */
  constructor(
    private readonly edge: Edge,
    private readonly surface: Edge,
    /** Whether it is near the other solid, and which of those that is. */
    private readonly near: Uint8Array,
    private readonly nth: number,
  ) {
    this.cone = coneOf(edge);
    this.surfaceCone = coneOf(surface);
    // between its faces nothing is farther from the nearer one than by half the angle of their normals
    this.within = INSIDE * Math.sqrt((1 + dot(...surface.normals)) / 2);
    this.along = sub(edge.to, edge.from);
    this.other = sub(surface.to, surface.from);
  }

  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array, on = false): number {
    if (!on && this.near[this.nth] === 0) return Infinity;
    const { a, d, c1, c2, edge, along, other, surface, cone, surfaceCone } = this,
      { R, p } = pose,
      [e0, e1, e2] = other,
      [f0, f1, f2] = surface.from;
    for (let k = 0; k < 3; k++) {
      const r = R[3 * k]!,
        s = R[3 * k + 1]!,
        t = R[3 * k + 2]!;
      a[k] = p[k]! + r * edge.from[0] + s * edge.from[1] + t * edge.from[2];
      d[k] = r * along[0] + s * along[1] + t * along[2];
      c1[k] = r * cone[0][0] + s * cone[0][1] + t * cone[0][2];
      c2[k] = r * cone[1][0] + s * cone[1][1] + t * cone[1][2];
    }
    const [d0, d1, d2] = [d[0]!, d[1]!, d[2]!];
    // square to both, out of the surface
    let [n0, n1, n2] = [d1 * e2 - d2 * e1, d2 * e0 - d0 * e2, d0 * e1 - d1 * e0];
    const size = Math.sqrt(n0 * n0 + n1 * n1 + n2 * n2),
      dd = d0 * d0 + d1 * d1 + d2 * d2,
      ee = e0 * e0 + e1 * e1 + e2 * e2;
    if (!(size > PARALLEL * Math.sqrt(dd * ee))) {
      this.margin = -1;
      return on ? 0 : Infinity;
    }
    const [s1, s2] = surfaceCone,
      out = n0 * (s1[0] + s2[0]) + n1 * (s1[1] + s2[1]) + n2 * (s1[2] + s2[2]) < 0 ? -1 / size : 1 / size;
    n0 *= out;
    n1 *= out;
    n2 *= out;
    // where both are nearest to each other
    const w0 = a[0]! - f0,
      w1 = a[1]! - f1,
      w2 = a[2]! - f2,
      de = d0 * e0 + d1 * e1 + d2 * e2,
      dw = d0 * w0 + d1 * w1 + d2 * w2,
      ew = e0 * w0 + e1 * w1 + e2 * w2,
      det = dd * ee - de * de,
      s = (de * ew - ee * dw) / det,
      t = (dd * ew - de * dw) / det;
    for (let k = 0; k < 3; k++) x[k] = a[k]! + s * d[k]!;
    const gap = w0 * n0 + w1 * n1 + w2 * n2;
    this.margin = Math.min(
      s,
      1 - s,
      t,
      1 - t,
      n0 * s1[0] + n1 * s1[1] + n2 * s1[2],
      n0 * s2[0] + n1 * s2[1] + n2 * s2[2],
      -(n0 * c1[0]! + n1 * c1[1]! + n2 * c1[2]!),
      -(n0 * c2[0]! + n1 * c2[1]! + n2 * c2[2]!),
    );
    // what lies just under a face is not pushed out past a far edge of it: as deep as both overlap it must be within the surface
    if (gap < 0 && this.margin >= -NONE)
      this.margin = Math.min(this.margin, (this.within * gap - field.at(x[0]!, x[1]!, x[2]!)) / Math.sqrt(ee));
    if (!on && this.margin < -NONE) return Infinity;
    n[0] = n0;
    n[1] = n1;
    n[2] = n2;
    return gap;
  }
}
