/** Two straight edges of two solids that cross: they touch between their ends, along what is square to both. */
import { type Vec3, sub } from '../vector';
import { type StraightEdge, coneOf } from './edges';
import { type Field, fieldOf } from './field';
import type { Form } from './form';
import type { Pose, Probe } from './probe';

/** Sine of the angle below which two edges are parallel: corners carry them then. */
const PARALLEL = 1e-3;
/** A margin that is none; and the part of a depth that what is as deep has to be within a surface. */
export const NONE = 1e-9;
const INSIDE = 0.9;
/** Part of an edge that is as good as its end. */
const ENDS = 1e-7;

/** Two edges, one of each solid. */
export class EdgeProbe implements Probe {
  readonly radius = 0;
  margin = 0;
  private readonly cone: readonly [Vec3, Vec3];
  private readonly surfaceCone: readonly [Vec3, Vec3];
  private readonly a = new Float64Array(3);
  private readonly d = new Float64Array(3);
  private readonly c1 = new Float64Array(3);
  private readonly c2 = new Float64Array(3);
  private readonly along: Vec3;
  private readonly other: Vec3;

  /** @param edge of the solid that has the bones @param surface of the other */
  constructor(
    private readonly edge: StraightEdge,
    private readonly surface: StraightEdge,
    /** Whether each is near the other solid. */
    private readonly near: () => boolean,
    private readonly inside: Inside,
  ) {
    this.cone = conesOf(edge);
    this.surfaceCone = conesOf(surface);
    this.along = sub(edge.to, edge.from);
    this.other = sub(surface.to, surface.from);
  }

  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array, on = false): number {
    if (!on && !this.near()) return Infinity;
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
    n[0] = n0;
    n[1] = n1;
    n[2] = n2;
    if (gap < 0 && this.margin >= -NONE) {
      const [m, o] = surface.normals,
        near = Math.min(n0 * m[0] + n1 * m[1] + n2 * m[2], n0 * o[0] + n1 * o[1] + n2 * o[2]),
        [q, r] = edge.normals,
        own = Math.min(-turnedDot(R, q, n), -turnedDot(R, r, n));
      this.margin = Math.min(
        this.margin,
        (gap + this.inside.deepest) / Math.sqrt(ee),
        within(gap, near, field.at(x[0]!, x[1]!, x[2]!)) / Math.sqrt(ee),
        within(gap, own, this.inside.at(pose, x, -gap, n)) / Math.sqrt(dd),
      );
    }
    // what begins where an edge ends is a corner
    return !on && (this.margin < -NONE || Math.min(s, 1 - s, t, 1 - t) < ENDS) ? Infinity : gap;
  }
}

/** n · R m */
const turnedDot = (R: Float64Array, [a, b, c]: Vec3, n: Float64Array): number =>
  n[0]! * (R[0]! * a + R[1]! * b + R[2]! * c) + n[1]! * (R[3]! * a + R[4]! * b + R[5]! * c) + n[2]! * (R[6]! * a + R[7]! * b + R[8]! * c);
const conesOf = ({ from, to, normals }: StraightEdge): readonly [Vec3, Vec3] => coneOf(sub(to, from), normals);

/**
 * What lies just under a face is not pushed out past a far edge of it: as deep as both overlap each edge must be within the other solid, but where that is so
 * sharp that it need not be within it at all.
 * @param near least cosine between what is square to both edges and the normals of the solid @returns m, negative where it is not
 */
export const within = (gap: number, near: number, distance: number): number => (near > 0 ? INSIDE * gap * near : -gap / INSIDE) - distance;

/** What says whether edges of one solid are within it, as another sees it. */
export class Inside {
  private readonly field: Field;
  /** @param deepest that anything can be, m */
  constructor(
    form: Form,
    readonly deepest: number,
  ) {
    this.field = fieldOf(form);
  }
  /** @param x as the other sees it, with `by` times n added */
  at({ R, p }: Pose, x: Float64Array, by: number, n: Float64Array): number {
    const a = x[0]! + by * n[0]! - p[0]!,
      b = x[1]! + by * n[1]! - p[1]!,
      c = x[2]! + by * n[2]! - p[2]!;
    return this.field.at(R[0]! * a + R[3]! * b + R[6]! * c, R[1]! * a + R[4]! * b + R[7]! * c, R[2]! * a + R[5]! * b + R[8]! * c);
  }
}
