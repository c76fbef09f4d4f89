/**
 * Two edges of two solids that cross, one of them an arc at least: where their common perpendicular is, they touch. The nearest place of a line or a circle
 * is known in closed form; along the arc it is looked for.
 */
import { TWO_PI, atan2, cos, sin } from '../../quantity/elementary';
import { norm, sub } from '../vector';
import type { ArcEdge, Edge } from './edges';
import type { Field } from './field';
import { type Pose, type Probe, valley } from './probe';
import { type Inside, NONE, within } from './straight-crossing';

/** Looks along the arc. */
const LOOKS = 12;
const CLOSER = 8;
/** Sine of the angle below which two edges run along one another: corners and rims carry them then. */
const PARALLEL = 1e-3;

/** An edge in axes of another solid: a line from c along u (as long as it is), or an arc about c from u towards v, both as long as its radius. */
class Placed {
  readonly c = new Float64Array(3);
  readonly u = new Float64Array(3);
  readonly v = new Float64Array(3);
  readonly w = new Float64Array(3);
  /** Place, tangent and normals of both faces, at the last `go`. */
  readonly x = new Float64Array(3);
  readonly d = new Float64Array(3);
  readonly normals = [new Float64Array(3), new Float64Array(3)] as const;
  readonly size: number;
  private readonly length2: number;

  constructor(readonly edge: Edge) {
    this.size = edge.type === 'arc' ? edge.ring : norm(sub(edge.to, edge.from));
    this.length2 = this.size * this.size;
  }
  /** Takes over where it is. */
  stand({ R, p }: Pose): void {
    const { edge, c, u, v, w } = this;
    for (let k = 0; k < 3; k++) {
      const [x, y, z] = [R[3 * k]!, R[3 * k + 1]!, R[3 * k + 2]!];
      if (edge.type === 'arc') {
        const [a, b, h] = edge.centre;
        c[k] = p[k]! + x * a + y * b + z * h;
        u[k] = x * edge.ring;
        v[k] = y * edge.ring;
        w[k] = z;
        continue;
      }
      const { from, to, normals } = edge;
      c[k] = p[k]! + x * from[0] + y * from[1] + z * from[2];
      u[k] = x * (to[0] - from[0]) + y * (to[1] - from[1]) + z * (to[2] - from[2]);
      for (let i = 0; i < 2; i++) this.normals[i as 0]![k] = x * normals[i as 0]![0] + y * normals[i as 0]![1] + z * normals[i as 0]![2];
    }
  }
  /** Goes to a part of the line, or an angle of the arc. */
  go(s: number): void {
    const { edge, c, u, v, x, d } = this;
    if (edge.type === 'arc') {
      const [a, b] = [cos(s), sin(s)];
      for (let k = 0; k < 3; k++) {
        x[k] = c[k]! + a * u[k]! + b * v[k]!;
        d[k] = a * v[k]! - b * u[k]!;
      }
      return;
    }
    for (let k = 0; k < 3; k++) {
      x[k] = c[k]! + s * u[k]!;
      d[k] = u[k]!;
    }
  }
  /** Where it is nearest to a place. */
  nearest(at: Float64Array): number {
    const { edge, c, u, v, length2 } = this;
    let [along, across] = [0, 0];
    for (let k = 0; k < 3; k++) {
      along += (at[k]! - c[k]!) * u[k]!;
      across += (at[k]! - c[k]!) * v[k]!;
    }
    return edge.type === 'arc' ? atan2(across, along) : along / length2;
  }
  /** How far within its ends a place is, in parts of its length or rad. */
  within(s: number): number {
    const { edge } = this;
    if (edge.type !== 'arc') return Math.min(s, 1 - s);
    if (edge.reach >= TWO_PI) return Infinity;
    const half = edge.reach / 2,
      off = s - edge.from - half + TWO_PI / 2;
    return half - Math.abs(off - TWO_PI * Math.floor(off / TWO_PI) - TWO_PI / 2);
  }
  /** Normals of both faces where it has gone to. */
  face(): void {
    const { edge, x, c, w, normals } = this;
    if (edge.type !== 'arc') return;
    for (let i = 0; i < 2; i++) {
      const [out, up] = edge.normals[i as 0]!;
      for (let k = 0; k < 3; k++) normals[i as 0]![k] = (out * (x[k]! - c[k]!)) / edge.ring + up * w[k]!;
    }
  }
}
/**
 * How far within both faces a direction sticks out that is square to an edge: not negative between their normals.
 * @param unit along the edge
 */
function sticks({ normals: [a, b] }: Placed, [d0, d1, d2]: ArrayLike<number> & Iterable<number>, n: Float64Array, by: number): number {
  const [a0, a1, a2] = a as unknown as readonly [number, number, number],
    [b0, b1, b2] = b as unknown as readonly [number, number, number],
    sense = (a1 * b2 - a2 * b1) * d0! + (a2 * b0 - a0 * b2) * d1! + (a0 * b1 - a1 * b0) * d2! < 0 ? -by : by,
    [x, y, z] = n as unknown as readonly [number, number, number];
  return Math.min(
    sense * ((d1! * a2 - d2! * a1) * x + (d2! * a0 - d0! * a2) * y + (d0! * a1 - d1! * a0) * z),
    sense * ((b1 * d2! - b2 * d1!) * x + (b2 * d0! - b0 * d2!) * y + (b0 * d1! - b1 * d0!) * z),
  );
}

/** Least cosine between a direction and the normals of both faces. */
const least = ({ normals: [p, q] }: Placed, n: Float64Array, by: 1 | -1): number =>
  Math.min(by * (n[0]! * p[0]! + n[1]! * p[1]! + n[2]! * p[2]!), by * (n[0]! * q[0]! + n[1]! * q[1]! + n[2]! * q[2]!));

const HERE: Pose = { R: Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1), p: new Float64Array(3) };

export class CurvedProbe implements Probe {
  readonly radius = 0;
  margin = 0;
  private readonly a: Placed;
  private readonly b: Placed;
  /** The one of both that is gone along, and the other. */
  private readonly along: Placed;
  private readonly other: Placed;
  private readonly arc: ArcEdge;
  /** Squares of distances at looks along the arc. */
  private readonly far: Float64Array;

  /** @param edge of the solid that has the bones @param surface of the other @param which of the places where they are nearest, in their order along the arc */
  constructor(
    edge: Edge,
    surface: Edge,
    /** Whether each is near the other solid. */
    private readonly near: () => boolean,
    private readonly which: number,
    private readonly inside: Inside,
  ) {
    this.a = new Placed(edge);
    this.b = new Placed(surface);
    this.b.stand(HERE);
    [this.along, this.other] = edge.type === 'arc' ? [this.a, this.b] : [this.b, this.a];
    this.arc = this.along.edge as ArcEdge;
    this.far = new Float64Array(LOOKS + 1);
  }
  /** Half of how the square of the distance grows along the arc. */
  private readonly slope = (s: number): number => {
    const { along, other } = this;
    along.go(s);
    other.go(other.nearest(along.x));
    let sum = 0;
    for (let k = 0; k < 3; k++) sum += (along.x[k]! - other.x[k]!) * along.d[k]!;
    return sum;
  };
  /** The angle at which both are nearest; NaN where there is none. */
  private find(): number {
    const { arc, far, along, other, which } = this,
      closed = arc.reach >= TWO_PI,
      step = arc.reach / LOOKS;
    for (let i = 0; i <= LOOKS; i++) {
      along.go(arc.from + i * step);
      other.go(other.nearest(along.x));
      let d = 0;
      for (let k = 0; k < 3; k++) d += (along.x[k]! - other.x[k]!) * (along.x[k]! - other.x[k]!);
      far[i] = d;
    }
    let found = 0;
    for (let i = 0; i < (closed ? LOOKS : LOOKS + 1); i++) {
      const before = i > 0 ? far[i - 1]! : closed ? far[LOOKS - 1]! : Infinity,
        after = i < LOOKS ? far[i + 1]! : Infinity;
      if (!(far[i]! < before && far[i]! <= after)) continue;
      const lo = arc.from + (closed ? i - 1 : Math.max(0, i - 1)) * step,
        hi = arc.from + (closed ? i + 1 : Math.min(LOOKS, i + 1)) * step,
        mid = arc.from + i * step;
      // where both are that near they may run beside one another: then there may be two
      if (far[i]! > step * step * this.along.size * this.along.size) {
        if (found++ === which) return valley(lo, mid, hi, this.slope);
        continue;
      }
      for (let k = 0, from = lo, falls = this.slope(lo) < 0; k < CLOSER; k++) {
        const to = lo + ((k + 1) * (hi - lo)) / CLOSER,
          rises = this.slope(to) > 0;
        if (falls && rises && found++ === which) return valley(from, from, to, this.slope);
        from = to;
        falls = !rises;
      }
    }
    return NaN;
  }

  seek(pose: Pose, field: Field, x: Float64Array, n: Float64Array, on = false): number {
    if (!on && !this.near()) return Infinity;
    const { a, b, along, other } = this;
    a.stand(pose);
    const s = this.find();
    this.margin = -1;
    // at an end of the arc both are not nearest, but cut off
    if (!(along.within(s) > 0)) return on ? 0 : Infinity;
    along.go(s);
    const t = other.nearest(along.x);
    other.go(t);
    a.face();
    b.face();
    const [d0, d1, d2] = a.d as unknown as readonly [number, number, number],
      [e0, e1, e2] = b.d as unknown as readonly [number, number, number],
      [n0, n1, n2] = [d1 * e2 - d2 * e1, d2 * e0 - d0 * e2, d0 * e1 - d1 * e0],
      size = Math.sqrt(n0 * n0 + n1 * n1 + n2 * n2);
    if (!(size > PARALLEL * a.size * b.size)) return on ? 0 : Infinity;
    n[0] = n0 / size;
    n[1] = n1 / size;
    n[2] = n2 / size;
    // out of the surface
    let out = 0;
    for (let k = 0; k < 3; k++) out += n[k]! * (b.normals[0][k]! + b.normals[1][k]!);
    let gap = 0;
    for (let k = 0; k < 3; k++) {
      if (out < 0) n[k] = -n[k]!;
      x[k] = a.x[k]!;
      gap += (x[k]! - b.x[k]!) * n[k]!;
    }
    this.margin = Math.min(along.within(s), other.within(t), sticks(b, b.d, n, 1 / b.size), sticks(a, a.d, n, -1 / a.size));
    if (gap < 0 && this.margin >= -NONE)
      this.margin = Math.min(
        this.margin,
        (gap + this.inside.deepest) / b.size,
        within(gap, least(b, n, 1), field.at(x[0]!, x[1]!, x[2]!)) / b.size,
        within(gap, least(a, n, -1), this.inside.at(pose, x, -gap, n)) / a.size,
      );
    return !on && this.margin < -NONE ? Infinity : gap;
  }
}
