/** Where bones of one solid are nearest to the surface of another: candidates for points at which both touch. */
import { cos, sin } from '../../quantity/elementary';
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
function put({ R, p }: Pose, at: ArrayLike<number>, x: Float64Array): void {
  for (let k = 0; k < 3; k++) x[k] = p[k]! + R[3 * k]! * at[0]! + R[3 * k + 1]! * at[1]! + R[3 * k + 2]! * at[2]!;
}

class PointProbe implements Probe {
  private readonly at: Float64Array;
  constructor(
    at: ArrayLike<number>,
    readonly radius: number,
  ) {
    this.at = Float64Array.from(at);
  }
  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array): number {
    put(pose, this.at, x);
    const gap = field.at(x[0]!, x[1]!, x[2]!) - this.radius;
    n.set(field.n);
    return gap;
  }
}

/** Looks round a circle, and steps that close in on the nearest place. */
const ROUND = 12;
const MOST = 60;
const TURN = 6.283185307179586;
/** Last digits of an angle or a part of a length. */
const LAST = 4 * Number.EPSILON;

/** The nearest place of a circle, and those a third of a turn to either side of it: they carry what lies flat on it. */
class CircleProbe implements Probe {
  constructor(
    private readonly circle: Extract<Bone, { type: 'circle' }>,
    /** −1, 0 or 1 thirds of a turn. */
    private readonly third: number,
  ) {}
  get radius(): number {
    return this.circle.radius;
  }
  private at(pose: Pose, field: Field, a: number, x: Float64Array): number {
    const { ring, height } = this.circle,
      { R, p } = pose,
      u = ring * cos(a),
      v = ring * sin(a);
    for (let k = 0; k < 3; k++) x[k] = p[k]! + R[3 * k]! * u + R[3 * k + 1]! * v + R[3 * k + 2]! * height;
    return field.at(x[0]!, x[1]!, x[2]!);
  }
  /** How the distance grows along the circle, m/rad, at the last `at`. */
  private slope({ R }: Pose, { n }: Field, a: number): number {
    const c = this.circle.ring * cos(a),
      s = this.circle.ring * sin(a);
    let sum = 0;
    for (let k = 0; k < 3; k++) sum += n[k]! * (R[3 * k + 1]! * c - R[3 * k]! * s);
    return sum;
  }
  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array): number {
    let best = Infinity,
      nearest = 0;
    for (let i = 0; i < ROUND; i++) {
      const a = (TURN * i) / ROUND,
        d = this.at(pose, field, a, x);
      if (d < best) {
        best = d;
        nearest = a;
      }
    }
    const a = root(nearest - TURN / ROUND, nearest + TURN / ROUND, (s) => {
      this.at(pose, field, s, x);
      return this.slope(pose, field, s);
    });
    const gap = this.at(pose, field, a + (this.third * TURN) / 3, x) - this.circle.radius;
    n.set(field.n);
    return gap;
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
  constructor(
    from: ArrayLike<number>,
    to: ArrayLike<number>,
    readonly radius: number,
  ) {
    this.from = Float64Array.from(from);
    this.to = Float64Array.from(to);
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

/** Where a bone may touch. */
export function probesOf(bone: Bone): Probe[] {
  if (bone.type === 'point') return [new PointProbe(bone.at, bone.radius)];
  if (bone.type === 'circle') return [0, 1, -1].map((third) => new CircleProbe(bone, third));
  const { from, to, radius } = bone;
  return [new PointProbe(from, radius), new PointProbe(to, radius), new LineProbe(from, to, radius)];
}
