/** Signed distance from a closed surface of triangles, by a tree of boxes; the nearest place of one after C. Ericson, Real-Time Collision Detection, 2005. */
import { NODE } from '../gap';
import { type Vec3, norm, sub } from '../vector';
import { type Field, TINY, opposes } from './distance-field';
import { type FacetForm, Facets } from './facets';

/** What of a triangle is nearest: its face; from 1 on its corners, from 4 on its sides. */
const FACE = 0;
const CORNERS = 1;
const SIDES = 4;
/** Numbers of normals to a triangle. */
const NORMALS = 21;

export class FacetField implements Field {
  readonly n = new Float64Array([0, 0, 1]);
  face = -1;
  readonly bent = false;
  readonly flat = true;
  readonly ball: { readonly centre: Vec3; readonly radius: number } | undefined;
  private readonly facets: Facets;
  private readonly stack = new Int32Array(128);
  /** The nearest triangle so far, what of it, where, and the square of how far. */
  private triangle = 0;
  private feature = FACE;
  private readonly at3 = new Float64Array(3);
  private readonly near = new Float64Array(3);
  private best = Infinity;
  /** While those faces alone are looked at on which a corner with these may press. */
  private edges: Float64Array | undefined;
  /** How far beside a face a corner is still on its border, m. */
  private readonly tiny: number;
  private what = FACE;

  /** @param part of the surface that is met alone; left out: all of it */
  constructor(
    form: FacetForm,
    private readonly part = -1,
  ) {
    this.facets = Facets.of(form);
    this.tiny = TINY * norm(sub(this.facets.high, this.facets.low));
    this.ball = part < 0 ? undefined : ballOf(this.facets, part);
    if (part >= 0) this.triangle = this.facets.part.indexOf(part);
  }

  at(x: number, y: number, z: number): number {
    const { facets, n, near } = this;
    this.nearest(x, y, z);
    const p = NORMALS * this.triangle + 3 * this.feature,
      { normals } = facets,
      dx = x - near[0]!,
      dy = y - near[1]!,
      dz = z - near[2]!,
      out = dx * normals[p]! + dy * normals[p + 1]! + dz * normals[p + 2]!,
      far = Math.sqrt(this.best),
      onFace = this.feature === FACE;
    this.face = onFace ? facets.face[this.triangle]! : -1;
    for (let k = 0; k < 3; k++) n[k] = normals[p + k]!;
    if (onFace) return out;
    if (far > 0) {
      const sign = out < 0 ? -1 / far : 1 / far;
      n[0] = dx * sign;
      n[1] = dy * sign;
      n[2] = dz * sign;
    }
    return out < 0 ? -far : far;
  }

  under(x: number, y: number, z: number, edges: Float64Array): number {
    const { facets, n, near, tiny } = this,
      d = this.at(x, y, z);
    // on its border a normal is that of rounding
    if (d > tiny || (d < -tiny && opposes(edges, n[0]!, n[1]!, n[2]!))) return d;
    // once more, of those faces alone that it may press on
    this.edges = edges;
    this.nearest(x, y, z);
    this.edges = undefined;
    const p = NORMALS * this.triangle,
      a = facets.normals[p]!,
      b = facets.normals[p + 1]!,
      c = facets.normals[p + 2]!,
      out = (x - near[0]!) * a + (y - near[1]!) * b + (z - near[2]!) * c,
      aside = this.best - out * out;
    // none, or it is not under that
    if (this.best === Infinity || out > tiny || aside > tiny * tiny) return this.at(x, y, z);
    this.face = facets.face[this.triangle]!;
    n[0] = a;
    n[1] = b;
    n[2] = c;
    return out;
  }

  /** Finds the nearest place of the surface. */
  private nearest(x: number, y: number, z: number): void {
    const { stack, facets } = this,
      { spheres, child, count } = facets.surface;
    this.best = Infinity;
    // what was nearest last is tried first
    this.look(this.triangle, x, y, z);
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const i = stack[--top]!,
        first = child[i]!;
      if (boxed(spheres, NODE * i, x, y, z) >= this.best) continue;
      if (first < 0) {
        for (let t = -1 - first, end = t + count[i]!; t < end; t++)
          if (this.part < 0 || facets.part[t] === this.part) this.look(t, x, y, z);
        continue;
      }
      // the nearer one is opened first
      const a = boxed(spheres, NODE * first, x, y, z),
        b = boxed(spheres, NODE * (first + 1), x, y, z);
      stack[top++] = a < b ? first + 1 : first;
      stack[top++] = a < b ? first : first + 1;
    }
  }
  private look(t: number, x: number, y: number, z: number): void {
    const { at3, near, edges } = this,
      p = NORMALS * t,
      { normals } = this.facets;
    if (edges && !opposes(edges, normals[p]!, normals[p + 1]!, normals[p + 2]!)) return;
    const d = this.toTriangle(t, x, y, z);
    if (!(d < this.best)) return;
    this.best = d;
    this.triangle = t;
    this.feature = this.what;
    for (let k = 0; k < 3; k++) near[k] = at3[k]!;
  }
  /** @returns the square of the distance of a triangle; where that is into `at3`, and what of it into `what` */
  private toTriangle(t: number, x: number, y: number, z: number): number {
    const c = this.facets.surface.triangles,
      p = 9 * t,
      ax = c[p]!,
      ay = c[p + 1]!,
      az = c[p + 2]!,
      ux = c[p + 3]! - ax,
      uy = c[p + 4]! - ay,
      uz = c[p + 5]! - az,
      vx = c[p + 6]! - ax,
      vy = c[p + 7]! - ay,
      vz = c[p + 8]! - az,
      wx = x - ax,
      wy = y - ay,
      wz = z - az,
      d1 = ux * wx + uy * wy + uz * wz,
      d2 = vx * wx + vy * wy + vz * wz,
      uu = ux * ux + uy * uy + uz * uz,
      uv = ux * vx + uy * vy + uz * vz,
      vv = vx * vx + vy * vy + vz * vz,
      d3 = d1 - uu,
      d4 = d2 - uv,
      d5 = d1 - uv,
      d6 = d2 - vv,
      vc = d1 * d4 - d3 * d2,
      vb = d5 * d2 - d1 * d6,
      va = d3 * d6 - d5 * d4;
    let s = 0,
      r = 0,
      what = FACE;
    if (d1 <= 0 && d2 <= 0) what = CORNERS;
    else if (d3 >= 0 && d4 <= d3) {
      s = 1;
      what = CORNERS + 1;
    } else if (d6 >= 0 && d5 <= d6) {
      r = 1;
      what = CORNERS + 2;
    } else if (vc <= 0 && d1 >= 0 && d3 <= 0) {
      s = d1 / (d1 - d3);
      what = SIDES;
    } else if (vb <= 0 && d2 >= 0 && d6 <= 0) {
      r = d2 / (d2 - d6);
      what = SIDES + 2;
    } else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      r = (d4 - d3) / (d4 - d3 + (d5 - d6));
      s = 1 - r;
      what = SIDES + 1;
    } else {
      const sum = va + vb + vc;
      s = vb / sum;
      r = vc / sum;
    }
    this.what = what;
    const { at3 } = this,
      dx = wx - s * ux - r * vx,
      dy = wy - s * uy - r * vy,
      dz = wz - s * uz - r * vz;
    at3[0] = x - dx;
    at3[1] = y - dy;
    at3[2] = z - dz;
    return dx * dx + dy * dy + dz * dz;
  }
}

/** Square of the distance from the box of a node. */
function boxed(nodes: Float64Array, p: number, x: number, y: number, z: number): number {
  const a = Math.abs(x - nodes[p]!) - nodes[p + 4]!,
    b = Math.abs(y - nodes[p + 1]!) - nodes[p + 5]!,
    c = Math.abs(z - nodes[p + 2]!) - nodes[p + 6]!;
  return (a > 0 ? a * a : 0) + (b > 0 ? b * b : 0) + (c > 0 ? c * c : 0);
}

function ballOf({ surface, part }: Facets, of: number): { centre: Vec3; radius: number } {
  const low = [Infinity, Infinity, Infinity],
    high = [-Infinity, -Infinity, -Infinity];
  part.forEach((p, t) => {
    if (p !== of) return;
    for (let i = 0; i < 9; i++) {
      low[i % 3] = Math.min(low[i % 3]!, surface.triangles[9 * t + i]!);
      high[i % 3] = Math.max(high[i % 3]!, surface.triangles[9 * t + i]!);
    }
  });
  const centre = low.map((x, k) => (x + high[k]!) / 2) as unknown as Vec3;
  return { centre, radius: Math.sqrt(low.reduce((s, x, k) => s + (x - centre[k as 0]) * (x - centre[k as 0]), 0)) };
}
