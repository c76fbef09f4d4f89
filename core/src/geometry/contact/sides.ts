/**
 * What lies across a face that is bent: straight edges, and sides of cylinders and cones, which are rounded about a line. Where it is nearest between its
 * ends it counts by how much deeper it is there than straight from where it comes over that face to where it leaves it: what lies along a face is carried
 * by edges and corners.
 */
import { TWO_PI, atan2 } from '../../quantity/elementary';
import { type Vec3, norm, sub } from '../vector';
import { type Edge, edgesOf } from './edges';
import type { Field } from './field';
import type { Form } from './form';
import type { Ball } from './ball-tree';
import { CORNER, type Pose, type Probe, ballAbout, put, valley } from './probe';

/** A line, with a radius about it that grows evenly along it. */
interface Side {
  readonly from: Vec3;
  readonly to: Vec3;
  readonly radii: readonly [number, number];
  /** Angles about z at which it is there, of what is extruded: from one on, so far. */
  readonly over?: { readonly from: number; readonly reach: number };
}

/** Looks along the line, and halvings that tell where a face ends. */
const LOOKS = 8;
const HALVINGS = 50;
/** Radii of which the least part differs are one. */
const FLAT = 1e-9;

/** Sides of a form that are rounded outwards about a line. */
function roundSides(form: Form): Side[] {
  if (form.type === 'extruded')
    return form.outlines.flat().flatMap((p): Side[] => {
      if (p.type !== 'arc' || p.to < p.from) return [];
      const [x, y] = p.centre;
      return [
        {
          from: [x, y, -form.half],
          to: [x, y, form.half],
          radii: [p.radius, p.radius],
          over: { from: p.from, reach: Math.min(TWO_PI, p.to - p.from) },
        },
      ];
    });
  if (form.type !== 'revolved') return [];
  return form.outline.flatMap((p): Side[] => {
    if (p.type !== 'line' || !(p.to[1] - p.from[1] > FLAT * Math.abs(p.to[0] - p.from[0]))) return [];
    // the normal of a cone meets its axis farther on, and is longer than its radius there
    const grows = (p.to[0] - p.from[0]) / (p.to[1] - p.from[1]),
      longer = Math.sqrt(1 + grows * grows),
      [a, b] = [p.from, p.to].map(([r, z]) => z + grows * r) as [number, number];
    return [{ from: [0, 0, a], to: [0, 0, b], radii: [p.from[0] * longer, p.to[0] * longer] }];
  });
}
/** Whether a form has a face that is bent. */
const isBent = (form: Form): boolean =>
  form.type === 'revolved' || (form.type === 'extruded' && form.outlines.some((o) => o.some((p) => p.type === 'arc')));

const sharp = (e: Edge): Side[] => (e.type === 'straight' ? [{ from: e.from, to: e.to, radii: [0, 0] }] : []);

/** What of a form may lie across bent faces of another. @param both round sides of either are looked at here */
export const sideProbes = (bones: Form, surface: Form, both: boolean): Probe[] =>
  isBent(surface) ? [...edgesOf(bones).flatMap(sharp), ...(both ? roundSides(bones) : [])].map((s) => new SideProbe(s)) : [];

class SideProbe implements Probe {
  radius = 0;
  private readonly a = new Float64Array(3);
  private readonly b = new Float64Array(3);
  private readonly length: number;
  /** By how much its radius grows from its middle on. */
  private readonly more: number;
  readonly ball: Ball;
  constructor(private readonly side: Side) {
    const { from, to, radii } = side;
    this.radius = radii[0];
    this.ball = ballAbout(from, to, Math.max(...radii));
    this.length = norm(sub(to, from));
    this.more = Math.abs(radii[1] - radii[0]) / 2;
  }
  private at(field: Field, s: number, x: Float64Array): number {
    const { a, b, side } = this,
      [r0, r1] = side.radii;
    for (let k = 0; k < 3; k++) x[k] = a[k]! + s * (b[k]! - a[k]!);
    this.radius = r0 + s * (r1 - r0);
    return field.at(x[0]!, x[1]!, x[2]!) - this.radius;
  }
  private slope({ n }: Field): number {
    const { a, b } = this,
      [r0, r1] = this.side.radii;
    return n[0]! * (b[0]! - a[0]!) + n[1]! * (b[1]! - a[1]!) + n[2]! * (b[2]! - a[2]!) - (r1 - r0);
  }
  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array): number {
    const { side, length } = this;
    put(pose, side.from, this.a);
    put(pose, side.to, this.b);
    // all of it is nearer to its middle than its end is
    if (this.at(field, 0.5, x) > length / 2 + this.more) return Infinity;
    const slope = (u: number) => {
        this.at(field, u, x);
        return this.slope(field);
      },
      s = this.nearest(field, x, slope);
    if (!(s > 0 && s < 1) || Math.abs(slope(s)) > CORNER * length || !field.bent || !this.isOver(pose, field)) return Infinity;
    const gap = this.at(field, s, x);
    n.set(field.n);
    if (gap >= 0) return gap;
    const { face } = field;
    if (!this.isBehind(field, gap, x, n)) return Infinity;
    const lo = this.leaves(field, face, s, 0, x),
      hi = this.leaves(field, face, s, 1, x),
      before = Math.min(0, this.at(field, lo, x)),
      after = Math.min(0, this.at(field, hi, x)),
      part = (s - lo) / (hi - lo);
    this.at(field, s, x);
    return gap - (1 - part) * before - part * after;
  }
  /** Where the line is nearest, from 0 to 1. */
  private nearest(field: Field, x: Float64Array, slope: (u: number) => number): number {
    if (field.convex) return slope(0) < 0 && slope(1) > 0 ? valley(0, 0.5, 1, slope) : 0;
    let best = Infinity,
      near = 0;
    for (let i = 0; i <= LOOKS; i++) {
      const d = this.at(field, i / LOOKS, x);
      if (d < best) {
        best = d;
        near = i;
      }
    }
    return valley(Math.max(0, near - 1) / LOOKS, near / LOOKS, Math.min(LOOKS, near + 1) / LOOKS, slope);
  }
  /** Whether the surface of what is rounded there is as deep behind the face: not behind another that is nearer. */
  private isBehind(field: Field, gap: number, x: Float64Array, n: Float64Array): boolean {
    const { radius } = this;
    return field.at(x[0]! - radius * n[0]!, x[1]! - radius * n[1]!, x[2]! - radius * n[2]!) <= gap + CORNER * (radius - gap);
  }
  /** Where the line leaves a face on its way to an end. */
  private leaves(field: Field, face: number, s: number, end: 0 | 1, x: Float64Array): number {
    this.at(field, end, x);
    if (field.face === face) return end;
    let [on, off] = [s, end as number];
    for (let i = 0; i < HALVINGS; i++) {
      const mid = (on + off) / 2;
      this.at(field, mid, x);
      if (field.face === face) on = mid;
      else off = mid;
    }
    return on;
  }
  /** Whether it is rounded where the face is. */
  private isOver({ R }: Pose, { n }: Field): boolean {
    const { over } = this.side;
    if (!over || over.reach >= TWO_PI) return true;
    const u = -(R[0]! * n[0]! + R[3]! * n[1]! + R[6]! * n[2]!),
      v = -(R[1]! * n[0]! + R[4]! * n[1]! + R[7]! * n[2]!),
      a = atan2(v, u) - over.from;
    return a - TWO_PI * Math.floor(a / TWO_PI) <= over.reach;
  }
}
