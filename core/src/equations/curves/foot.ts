/**
 * A point and a curve. The parameter on the curve is not an unknown of the system: it is the foot of the point, the place where the line to it is square
 * to the curve, found anew from where it last was. With the unit tangent t, the curvature vector κ and the offset d of the point from its foot, the foot
 * moves along the curve by t · dp / (1 − κ · d) when the point moves by dp.
 */
import { type Curve, footFrom, nearest } from '../../geometry/curve';
import { NormalField } from '../../geometry/normals';
import type { Outside } from '../../expressions/graph';
import type { Memory } from '../memory';
import type { Asked } from '../stated/stated';

/** As `footFrom`: behind the centre of curvature a curve counts as straight. */
const LEAST = 0.1;

class Foot {
  private readonly p = new Float64Array(3);
  u = NaN;
  /** t, κ and d. */
  readonly tangent = new Float64Array(3);
  readonly curvature = new Float64Array(3);
  readonly offset = new Float64Array(3);
  /** 1 − κ · d. */
  spread = 1;
  readonly memory: Memory = {
    cells: 1,
    keep: (out, at) => (out[at] = this.u),
    recall: (from, at) => (this.u = from[at]!),
  };
  constructor(readonly curve: Curve) {}

  find(x: Float64Array, at: number): void {
    const { p, curve, tangent: t, curvature, offset } = this,
      { c, c1, c2 } = curve;
    for (let k = 0; k < 3; k++) p[k] = x[at + k]!;
    this.u = Number.isNaN(this.u) ? nearest(curve, p) : footFrom(curve, p, this.u);
    curve.at(this.u);
    const pace2 = c1[0]! * c1[0]! + c1[1]! * c1[1]! + c1[2]! * c1[2]!,
      pace = Math.sqrt(pace2);
    let along = 0,
      bent = 0;
    for (let k = 0; k < 3; k++) {
      t[k] = c1[k]! / pace;
      along += c2[k]! * t[k]!;
      offset[k] = p[k]! - c[k]!;
    }
    for (let k = 0; k < 3; k++) {
      curvature[k] = (c2[k]! - along * t[k]!) / pace2;
      bent += curvature[k]! * offset[k]!;
    }
    this.spread = 1 - bent > LEAST ? 1 - bent : 1;
  }
}

/**
 * How far a point is off a curve along two normals: n · d, with the gradient n and, since n turns by −(κ · n) t as the foot moves on, the Hessian
 * −(κ · n) t tᵀ/(1 − κ · d).
 */
export class OffCurve implements Asked {
  readonly name = 'off a curve';
  readonly args = 3;
  readonly values = 2;
  private readonly foot: Foot;
  private readonly field: NormalField;
  private readonly normals = [new Float64Array(3), new Float64Array(3)] as const;
  readonly memory: Memory;
  constructor(curve: Curve) {
    this.foot = new Foot(curve);
    this.field = new NormalField(curve);
    this.memory = this.foot.memory;
  }
  forget(): void {
    this.foot.u = NaN;
  }
  at(x: Float64Array, at: number, out: Float64Array, to: number): void {
    const { foot, normals } = this;
    foot.find(x, at);
    const { tangent: t, curvature, offset, spread } = foot;
    const [n, m] = normals;
    this.field.at(foot.u, t, n);
    m[0] = t[1]! * n[2]! - t[2]! * n[1]!;
    m[1] = t[2]! * n[0]! - t[0]! * n[2]!;
    m[2] = t[0]! * n[1]! - t[1]! * n[0]!;
    for (let k = 0; k < 2; k++) {
      const normal = normals[k as 0],
        o = to + 13 * k;
      let off = 0,
        bent = 0;
      for (let i = 0; i < 3; i++) {
        off += normal[i]! * offset[i]!;
        bent += normal[i]! * curvature[i]!;
        out[o + 1 + i] = normal[i]!;
      }
      out[o] = off;
      for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) out[o + 4 + 3 * i + j] = (-bent * t[i]! * t[j]!) / spread;
    }
  }
}

/** The path length at the foot: its gradient is t/(1 − κ · d) and, on the curve, its Hessian κ tᵀ + t κᵀ. */
export class AlongCurve implements Asked {
  readonly name = 'along a curve';
  readonly args = 3;
  readonly values = 1;
  private readonly foot: Foot;
  readonly memory: Memory;
  /** What was found last, m; whole rounds count as long as the foot is followed. */
  length = 0;
  constructor(curve: Curve) {
    this.foot = new Foot(curve);
    this.memory = this.foot.memory;
  }
  forget(): void {
    this.foot.u = NaN;
  }
  at(x: Float64Array, at: number, out: Float64Array, to: number): void {
    this.slopes.at(x, at, out, to);
    out[to] = this.length = this.foot.curve.lengthTo(this.foot.u);
  }
  readonly slopes: Outside = {
    ...{ name: this.name, args: this.args, values: this.values },
    at: (x, at, out, to) => {
      const { foot } = this;
      foot.find(x, at);
      const { tangent: t, curvature: c } = foot,
        by = 1 / foot.spread;
      for (let i = 0; i < 3; i++) {
        out[to + 1 + i] = t[i]! * by;
        for (let j = 0; j < 3; j++) out[to + 4 + 3 * i + j] = (c[i]! * t[j]! + t[i]! * c[j]!) * by * by;
      }
    },
  };
}
