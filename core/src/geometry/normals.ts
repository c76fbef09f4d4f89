/**
 * Normals along a curve that turn as little as they can (parallel transport by double reflection, W. Wang et al., ACM Trans. Graphics 27(1), 2008). On a closed
 * curve what is left over after one round is spread along it. They depend on the place alone, so that what is read later is read in the same axes.
 */
import { atan2, cos, sin } from '../quantity/elementary';
import type { Curve } from './curve';
import { type Vec3, add, cross, dot, norm, perpendicular, scale, sub, unit } from './vector';

export class NormalField {
  private readonly normals: Float64Array;
  constructor(
    private readonly curve: Curve,
    private readonly count = 512,
  ) {
    const at = (k: number): { c: Vec3; t: Vec3 } => {
      curve.at((curve.end * k) / count);
      return { c: [curve.c[0]!, curve.c[1]!, curve.c[2]!], t: unit([curve.c1[0]!, curve.c1[1]!, curve.c1[2]!]) };
    };
    this.normals = new Float64Array(3 * (count + 1));
    let here = at(0),
      n = perpendicular(here.t);
    const first = n,
      tangents = [here.t];
    this.normals.set(n, 0);
    for (let k = 1; k <= count; k++) {
      const next = at(k);
      n = carried(here, n, next);
      this.normals.set(n, 3 * k);
      tangents.push(next.t);
      here = next;
    }
    if (!curve.closed) return;
    const left = atan2(dot(cross(n, first), here.t), dot(n, first));
    for (let k = 1; k <= count; k++) {
      const t = tangents[k]!,
        m: Vec3 = [this.normals[3 * k]!, this.normals[3 * k + 1]!, this.normals[3 * k + 2]!],
        angle = (left * k) / count;
      this.normals.set(add(scale(m, cos(angle)), scale(cross(t, m), sin(angle))), 3 * k);
    }
  }

  /** A unit normal at parameter u, square to the tangent t there. */
  at(u: number, t: ArrayLike<number>, out: Float64Array): void {
    const { curve, count, normals } = this;
    const s = curve.closed ? u - Math.floor(u / curve.end) * curve.end : Math.min(Math.max(u, 0), curve.end);
    const k = 3 * Math.min(count, Math.floor((s / curve.end) * count + 0.5));
    const along = normals[k]! * t[0]! + normals[k + 1]! * t[1]! + normals[k + 2]! * t[2]!;
    for (let i = 0; i < 3; i++) out[i] = normals[k + i]! - along * t[i]!;
    const size = 1 / Math.sqrt(out[0]! * out[0]! + out[1]! * out[1]! + out[2]! * out[2]!);
    for (let i = 0; i < 3; i++) out[i] = out[i]! * size;
  }
}

/** Two reflections: in the plane between the places, then in that between the tangents. */
function carried(from: { c: Vec3; t: Vec3 }, n: Vec3, to: { c: Vec3; t: Vec3 }): Vec3 {
  const v = sub(to.c, from.c),
    vv = dot(v, v);
  const mirrored = (x: Vec3, w: Vec3, ww: number): Vec3 => (ww > 0 ? sub(x, scale(w, (2 * dot(w, x)) / ww)) : x);
  const r = mirrored(n, v, vv),
    t = mirrored(from.t, v, vv),
    w = sub(to.t, t);
  const out = mirrored(r, w, dot(w, w));
  const square = sub(out, scale(to.t, dot(out, to.t)));
  return norm(square) > 1e-9 ? unit(square) : perpendicular(to.t);
}
