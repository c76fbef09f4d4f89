/**
 * Two plane curves, told in the plane of the first: the second is displaced by (x, y) and turned by θ. Between the places whose tangents are parallel and
 * that lie opposite each other (t₁ · (p₂ − p₁) = 0, n₁ · t₂ = 0; n = t turned by 90°) the gap is h = n₁ · (p₂ − p₁). As the places are such that h
 * does not change with them, its gradient is n₁ by the displacement and n₁ · (ẑ × r₂) by the angle, r₂ = p₂ − (x, y). The places move along the curves by
 *   (1 − κ₁ h) ds₁ − σ ds₂ = w,   κ₁ ds₁ − κ₂ ds₂ = dθ,   w = t₁ · (dx, dy) + t₁ · (ẑ × r₂) dθ,   σ = t₁ · t₂ = ±1,
 * from which, with dn₁ = −κ₁ t₁ ds₁, follows the Hessian.
 */
import type { Curve } from '../../geometry/curve';
import type { Vec3 } from '../../geometry/vector';
import { cos, sin } from '../../quantity/elementary';
import type { Memory } from '../memory';
import type { Asked } from '../stated/stated';

/** A curve seen in a plane, at one of its places. */
class PlaneCurve {
  u = NaN;
  x = 0;
  y = 0;
  /** Unit tangent. */
  tx = 1;
  ty = 0;
  pace = 1;
  curvature = 0;
  /** @param e1,e2 axes of the plane */
  constructor(
    readonly curve: Curve,
    private readonly e1: Vec3,
    private readonly e2: Vec3,
  ) {}
  at(u: number): void {
    const { curve, e1, e2 } = this,
      { c, c1, c2 } = curve;
    curve.at(u);
    this.u = u;
    this.x = seen(c, e1);
    this.y = seen(c, e2);
    const dx = seen(c1, e1),
      dy = seen(c1, e2),
      pace = Math.sqrt(dx * dx + dy * dy);
    this.pace = pace;
    this.tx = dx / pace;
    this.ty = dy / pace;
    this.curvature = (this.tx * seen(c2, e2) - this.ty * seen(c2, e1)) / (pace * pace);
  }
}
const seen = (v: Float64Array, e: Vec3): number => v[0]! * e[0] + v[1]! * e[1] + v[2]! * e[2];

/** Places of each curve that are tried at the start. */
const SAMPLES = 120;

export class Touching implements Asked {
  readonly name = 'gap between curves';
  readonly args = 3;
  readonly values = 1;
  readonly memory: Memory;
  /** The second curve where it lies: cosine and sine of its angle; its place and tangent there. */
  private c = 1;
  private s = 0;
  private rx = 0;
  private ry = 0;
  private qx = 0;
  private qy = 0;
  private sx = 1;
  private sy = 0;
  private readonly one: PlaneCurve;
  private readonly two: PlaneCurve;

  /** @param a,b axes of the plane in each body */
  constructor(one: Curve, a: readonly [Vec3, Vec3], two: Curve, b: readonly [Vec3, Vec3]) {
    const first = (this.one = new PlaneCurve(one, ...a)),
      second = (this.two = new PlaneCurve(two, ...b));
    this.memory = {
      cells: 2,
      keep(out, at) {
        out[at] = first.u;
        out[at + 1] = second.u;
      },
      recall(from, at) {
        first.u = from[at]!;
        second.u = from[at + 1]!;
      },
    };
  }
  forget(): void {
    this.one.u = this.two.u = NaN;
  }

  /** Puts the second curve where it lies. */
  private lie(x: number, y: number): void {
    const { two, c, s } = this;
    this.rx = c * two.x - s * two.y;
    this.ry = s * two.x + c * two.y;
    this.qx = x + this.rx;
    this.qy = y + this.ry;
    this.sx = c * two.tx - s * two.ty;
    this.sy = s * two.tx + c * two.ty;
  }

  at(args: Float64Array, from: number, out: Float64Array, to: number): void {
    const { one, two } = this,
      x = args[from]!,
      y = args[from + 1]!,
      angle = args[from + 2]!;
    this.c = cos(angle);
    this.s = sin(angle);
    if (Number.isNaN(one.u)) this.search(x, y);
    this.find(x, y);
    const { tx, ty, curvature: k1 } = one,
      { curvature: k2 } = two,
      { rx, ry, qx, qy, sx, sy } = this;
    const h = tx * (qy - one.y) - ty * (qx - one.x),
      sigma = tx * sx + ty * sy < 0 ? -1 : 1,
      /** Of each argument, by how much the second curve slips along the first, and turns. */
      turned = ty * rx - tx * ry,
      det = sigma * k1 - k2 * (1 - k1 * h);
    out[to] = h;
    out[to + 1] = -ty;
    out[to + 2] = tx;
    out[to + 3] = tx * rx + ty * ry;
    for (let j = 0; j < 3; j++) {
      const w = j === 0 ? tx : j === 1 ? ty : turned,
        dt = j === 2 ? 1 : 0,
        ds1 = (sigma * dt - k2 * w) / det,
        ds2 = ((1 - k1 * h) * dt - k1 * w) / det;
      out[to + 4 + j] = -k1 * tx * ds1;
      out[to + 7 + j] = -k1 * ty * ds1;
      out[to + 10 + j] = -k1 * turned * ds1 + sigma * ds2 + (ty * rx - tx * ry) * dt;
    }
  }

  /** Newton's way to the pair of places from where they last were. */
  private find(x: number, y: number): void {
    const { one, two } = this;
    for (let i = 0; i < 40; i++) {
      one.at(one.u);
      two.at(two.u);
      this.lie(x, y);
      const { tx, ty, curvature: k1, pace: p1 } = one,
        { curvature: k2, pace: p2 } = two,
        { qx, qy, sx, sy } = this;
      const f1 = tx * (qx - one.x) + ty * (qy - one.y),
        gap = tx * (qy - one.y) - ty * (qx - one.x),
        f2 = tx * sy - ty * sx,
        c = tx * sx + ty * sy;
      // in path lengths
      const a11 = k1 * gap - 1,
        a21 = -k1 * c,
        a22 = k2 * c,
        det = a11 * a22 - c * a21;
      const d1 = (c * f2 - f1 * a22) / det,
        d2 = (f1 * a21 - f2 * a11) / det;
      const most = 0.05 * Math.min(one.curve.end * p1, two.curve.end * p2),
        cut = Math.min(1, most / Math.max(Math.abs(d1), Math.abs(d2), 1e-300));
      if (!Number.isFinite(d1 + d2) || Math.max(Math.abs(d1), Math.abs(d2)) < 1e-14 * (1 + most)) break;
      one.u += (cut * d1) / p1;
      two.u += (cut * d2) / p2;
    }
  }

  /** The nearest pair of samples with about parallel tangents. */
  private search(x: number, y: number): void {
    const { one, two } = this;
    let least = Infinity,
      first = 0,
      second = 0;
    for (let i = 0; i < SAMPLES; i++) {
      one.at((one.curve.end * (i + 0.5)) / SAMPLES);
      for (let j = 0; j < SAMPLES; j++) {
        two.at((two.curve.end * (j + 0.5)) / SAMPLES);
        this.lie(x, y);
        const c = one.tx * this.sx + one.ty * this.sy,
          dx = one.x - this.qx,
          dy = one.y - this.qy,
          merit = (dx * dx + dy * dy) * (1 + 4 * (1 - c * c));
        if (merit >= least) continue;
        least = merit;
        first = one.u;
        second = two.u;
      }
    }
    one.u = first;
    two.u = second;
  }
}
