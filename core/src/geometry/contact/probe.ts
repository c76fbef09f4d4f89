/** Where bones of one solid are nearest to the surface of another: candidates for points at which both touch. */
import { TWO_PI, cos, sin } from '../../quantity/elementary';
import { type Vec3, add, norm, scale, sub } from '../vector';
import type { Ball } from './ball-tree';
import type { Bone } from './bones';
import type { Field } from './field';

/** Pose of the solid that has the bones, as the other sees it: rotation, row by row, and its origin, m. */
export interface Pose {
  readonly R: Float64Array;
  readonly p: Float64Array;
}

/** A place where a bone may touch: found anew at each posture. */
export interface Probe {
  /** How thick the bone is, m. */
  readonly radius: number;
  /** In which all that touches there lies, as its own solid sees it; left out: not known. */
  readonly ball?: Ball;
  /** What must not fall below zero, as of the last `seek`, for it to go on touching, whatever the gap is; left out: nothing. */
  readonly margin?: number;
  /**
   * @param x,n take the place on the bone and the outward direction of the surface there, as the other solid sees them
   * @param on it touches: it goes on as it does where that ends, until that is found
   * @returns the gap, m: negative where both overlap, Infinity where it cannot touch
   */
  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array, on?: boolean): number;
}

/** A place in the axes of the other solid. */
export function put({ R, p }: Pose, at: ArrayLike<number>, x: Float64Array): void {
  for (let k = 0; k < 3; k++) x[k] = p[k]! + R[3 * k]! * at[0]! + R[3 * k + 1]! * at[1]! + R[3 * k + 2]! * at[2]!;
}

/** A direction in the axes of the other solid. */
function turn({ R }: Pose, [a, b, c]: Vec3, d: Float64Array): void {
  for (let k = 0; k < 3; k++) d[k] = R[3 * k]! * a + R[3 * k + 1]! * b + R[3 * k + 2]! * c;
}

class PointProbe implements Probe {
  readonly ball: Ball;
  private readonly at: Float64Array;
  /** Its edges, and as the other solid sees them; of what is sharp. */
  private readonly edges: readonly Vec3[];
  private readonly leave: Float64Array;
  private readonly edge = new Float64Array(3);
  constructor(
    at: Vec3,
    readonly radius: number,
    edges: readonly Vec3[] = [],
  ) {
    this.at = Float64Array.from(at);
    this.ball = { centre: at, radius };
    this.edges = edges;
    this.leave = new Float64Array(3 * edges.length);
  }
  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array): number {
    put(pose, this.at, x);
    const gap = this.from(pose, field, x) - this.radius;
    n.set(field.n);
    return gap;
  }
  private from(pose: Pose, field: Field, x: Float64Array): number {
    const { edges, leave, edge } = this;
    if (!field.under || edges.length === 0) return field.at(x[0]!, x[1]!, x[2]!);
    for (let i = 0; i < edges.length; i++) {
      turn(pose, edges[i]!, edge);
      leave.set(edge, 3 * i);
    }
    return field.under(x[0]!, x[1]!, x[2]!, leave);
  }
}

/** What touches a side that is straight along the axis of its solid alone. */
class BesideProbe implements Probe {
  constructor(private readonly of: Probe) {}
  get radius(): number {
    return this.of.radius;
  }
  get ball(): Ball | undefined {
    return this.of.ball;
  }
  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array): number {
    const gap = this.of.seek(pose, field, x, n);
    return n[2] === 0 ? gap : Infinity;
  }
}

/** Looks round a circle, and steps that close in on the nearest place. */
const ROUND = 12;
const MOST = 60;
const TURN = TWO_PI;
/** Last digits of an angle or a part of a length. */
const LAST = 4 * Number.EPSILON;
/** Slope of a distance along what is sharp, in parts of its own, beyond which it has a corner where it is least: it crosses an edge there. */
export const CORNER = 1e-4;
/** Reach from which on an arc carries what lies on it at three places, rad. */
const WIDE = TWO_PI / 3;

/** The nearest place of an arc; of one that goes round far enough, those a third of it to either side as well: they carry what lies flat on it. */
class ArcProbe implements Probe {
  constructor(
    private readonly arc: Extract<Bone, { type: 'arc' }>,
    /** −1, 0 or 1 thirds. */
    private readonly third: number,
  ) {}
  get radius(): number {
    return this.arc.radius;
  }
  get ball(): Ball {
    return { centre: this.arc.centre, radius: this.arc.ring + this.arc.radius };
  }
  private at(pose: Pose, field: Field, a: number, x: Float64Array): number {
    const { ring, centre } = this.arc,
      { R, p } = pose,
      u = centre[0] + ring * cos(a),
      v = centre[1] + ring * sin(a),
      w = centre[2];
    for (let k = 0; k < 3; k++) x[k] = p[k]! + R[3 * k]! * u + R[3 * k + 1]! * v + R[3 * k + 2]! * w;
    return field.at(x[0]!, x[1]!, x[2]!);
  }
  /** How the distance grows along the arc, m/rad, at the last `at`. */
  private slope({ R }: Pose, { n }: Field, a: number): number {
    const c = this.arc.ring * cos(a),
      s = this.arc.ring * sin(a);
    let sum = 0;
    for (let k = 0; k < 3; k++) sum += n[k]! * (R[3 * k + 1]! * c - R[3 * k]! * s);
    return sum;
  }
  /** The angle at which it is nearest; NaN where that is across an edge. */
  private nearest(pose: Pose, field: Field, x: Float64Array): number {
    const { from, reach, ring, radius } = this.arc,
      closed = reach >= TURN,
      steps = closed ? ROUND : Math.max(2, Math.ceil((ROUND * reach) / TURN)),
      step = reach / steps;
    let best = Infinity,
      near = 0;
    for (let i = closed ? 1 : 0; i <= steps; i++) {
      const d = this.at(pose, field, from + i * step, x);
      if (d < best) {
        best = d;
        near = i;
      }
    }
    const lo = from + (closed ? near - 1 : Math.max(0, near - 1)) * step,
      hi = from + (closed ? near + 1 : Math.min(steps, near + 1)) * step,
      slope = (s: number) => {
        this.at(pose, field, s, x);
        return this.slope(pose, field, s);
      },
      a = valley(lo, from + near * step, hi, slope);
    // what is sharp may cross an edge there, which is looked at as such (`crossing.ts`)
    const sharp = radius === 0 && a > lo && a < hi && Math.abs(slope(a)) > CORNER * ring;
    return sharp ? NaN : a;
  }
  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array): number {
    const { arc, third } = this,
      a = this.nearest(pose, field, x);
    if (!(a === a)) return Infinity;
    const on = a - arc.from + (third * arc.reach) / 3,
      gap = this.at(pose, field, third === 0 ? a : arc.from + on - arc.reach * Math.floor(on / arc.reach), x) - arc.radius;
    n.set(field.n);
    // what lies about the solid that it bounds meets no more than what bulges
    return arc.inwards && !field.bent ? Infinity : gap;
  }
}

/**
 * A straight line: its ends, and where it is nearest between them. There it counts by how much deeper it is than a line straight from one end to the other,
 * so that what lies flat is carried by its ends, and what crosses an edge by the place where it does.
 */
class LineProbe implements Probe {
  private readonly from: Float64Array;
  private readonly to: Float64Array;
  private readonly a = new Float64Array(3);
  private readonly b = new Float64Array(3);
  readonly ball: Ball;
  constructor(
    from: Vec3,
    to: Vec3,
    readonly radius: number,
  ) {
    this.from = Float64Array.from(from);
    this.to = Float64Array.from(to);
    this.ball = ballAbout(from, to, radius);
  }
  private at(field: Field, s: number, x: Float64Array): number {
    const { a, b } = this;
    for (let k = 0; k < 3; k++) x[k] = a[k]! + s * (b[k]! - a[k]!);
    return field.at(x[0]!, x[1]!, x[2]!) - this.radius;
  }
  private slope({ n }: Field): number {
    const { a, b } = this;
    return n[0]! * (b[0]! - a[0]!) + n[1]! * (b[1]! - a[1]!) + n[2]! * (b[2]! - a[2]!);
  }
  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array): number {
    put(pose, this.from, this.a);
    put(pose, this.to, this.b);
    const first = this.at(field, 0, x),
      down = this.slope(field) < 0,
      second = this.at(field, 1, x),
      up = this.slope(field) > 0;
    if (!down || !up) return Infinity;
    const s = root(0, 1, (u) => {
        this.at(field, u, x);
        return this.slope(field);
      }),
      gap = this.at(field, s, x);
    // on a flat face it lies on edges, which are looked at as such (`sides.ts`)
    if (field.flat) return Infinity;
    n.set(field.n);
    return gap - (1 - s) * Math.min(0, first) - s * Math.min(0, second);
  }
}

/** Where what is negative at `lo` and positive at `hi` vanishes (the Illinois method; Dowell, Jarratt, BIT 11, 1971). */
function root(lo: number, hi: number, f: (s: number) => number): number {
  let a = f(lo),
    b = f(hi),
    side = 0;
  if (!(a < 0 && b > 0)) return a >= 0 && b <= 0 ? (lo + hi) / 2 : a >= 0 ? lo : hi;
  for (let i = 0; i < MOST && hi - lo > LAST * Math.max(1, Math.abs(lo), Math.abs(hi)); i++) {
    const s = lo + (hi - lo) * (a / (a - b)),
      v = f(s);
    if (v === 0) return s;
    if (v < 0) {
      lo = s;
      a = v;
      if (side < 0) b /= 2;
      side = -1;
    } else {
      hi = s;
      b = v;
      if (side > 0) a /= 2;
      side = 1;
    }
  }
  return (lo + hi) / 2;
}

/** Where something is least about a place that is lower than two beside it, by how it grows. */
export function valley(lo: number, mid: number, hi: number, slope: (s: number) => number): number {
  return slope(mid) > 0 ? root(lo, mid, slope) : root(mid, hi, slope);
}

/** In which a line of some thickness lies. */
export const ballAbout = (from: Vec3, to: Vec3, radius: number): Ball => ({
  centre: scale(add(from, to), 0.5),
  radius: norm(sub(to, from)) / 2 + radius,
});

/** Where a bone may touch. */
export function probesOf(bone: Bone): Probe[] {
  if (bone.type === 'point') return [new PointProbe(bone.at, bone.radius, bone.edges)];
  if (bone.type === 'arc') return (bone.reach < WIDE || bone.inwards ? [0] : [0, 1, -1]).map((third) => new ArcProbe(bone, third));
  const { from, to, radius } = bone;
  return [new PointProbe(from, radius), new PointProbe(to, radius), new LineProbe(from, to, radius)];
}
/** Where a sharp corner may touch what is round. */
export const cornersOf = (bone: Bone): Probe[] => (bone.type === 'point' && bone.radius === 0 ? probesOf(bone) : []);
/** Ends of a line beside the side of another. */
export const endsOf = (bone: Bone): Probe[] =>
  bone.type === 'line' ? [bone.from, bone.to].map((at) => new BesideProbe(new PointProbe(at, bone.radius))) : [];
