/**
 * The smallest distance between two triangulated surfaces that move against each other: a descent through two trees of
 * bounding spheres that leaves out every pair further apart than the nearest found so far (S. Quinlan, Efficient distance
 * computation between non-convex objects, ICRA 1994), triangles by their corners and edges (C. Ericson, Real-Time
 * Collision Detection, 2005, 5.1). Surfaces that cross have none: 0.
 */

/** Triangles of a leaf; numbers that describe a node. */
const LEAF = 4;
export const NODE = 7;

export class Surface {
  /** Nine numbers a triangle, in the order of the tree, m. */
  readonly triangles: Float64Array;
  /** Middle and radius of the sphere round each node, and half the sizes of the box round the same middle. */
  readonly spheres: Float64Array;
  /** First child of a node (the second follows it), or −1 − its first triangle; and the number of triangles below. */
  readonly child: Int32Array;
  readonly count: Int32Array;
  /** Which triangle of those given stands where. */
  readonly order: Int32Array;

  /** @param corners three numbers each, m @param indices three a triangle */
  constructor(corners: ArrayLike<number>, indices: ArrayLike<number>) {
    const all = indices.length / 3,
      order = Int32Array.from(
        Array.from({ length: all }, (_, i) => i).filter(
          (t) => !sliver(corners, 3 * indices[3 * t]!, 3 * indices[3 * t + 1]!, 3 * indices[3 * t + 2]!),
        ),
      ),
      n = order.length;
    this.order = order;
    const middle = new Float64Array(3 * all);
    for (let t = 0; t < all; t++)
      for (let k = 0; k < 3; k++)
        middle[3 * t + k] =
          (corners[3 * indices[3 * t]! + k]! + corners[3 * indices[3 * t + 1]! + k]! + corners[3 * indices[3 * t + 2]! + k]!) / 3;
    const spheres: number[] = [],
      child: number[] = [],
      count: number[] = [];
    const fill = (node: number, from: number, to: number): void => {
      const lo = [Infinity, Infinity, Infinity],
        hi = [-Infinity, -Infinity, -Infinity];
      const corner = (i: number, c: number, k: number) => corners[3 * indices[3 * order[i]! + c]! + k]!;
      for (let i = from; i < to; i++)
        for (let c = 0; c < 3; c++)
          for (let k = 0; k < 3; k++) {
            lo[k] = Math.min(lo[k]!, corner(i, c, k));
            hi[k] = Math.max(hi[k]!, corner(i, c, k));
          }
      const m = lo.map((x, k) => (x + hi[k]!) / 2);
      let r2 = 0;
      for (let i = from; i < to; i++)
        for (let c = 0; c < 3; c++)
          r2 = Math.max(r2, square(corner(i, c, 0) - m[0]!) + square(corner(i, c, 1) - m[1]!) + square(corner(i, c, 2) - m[2]!));
      [...m, Math.sqrt(r2), ...hi.map((x, k) => x - m[k]!)].forEach((x, k) => (spheres[NODE * node + k] = x));
      count[node] = to - from;
      if (to - from <= LEAF) {
        child[node] = -1 - from;
        return;
      }
      const axis = [0, 1, 2].reduce((a, k) => (hi[k]! - lo[k]! > hi[a]! - lo[a]! ? k : a), 0);
      const half = (from + to) >> 1,
        first = child.length;
      halve(order, from, to, half, middle, axis);
      child[node] = first;
      child.push(0, 0);
      fill(first, from, half);
      fill(first + 1, half, to);
    };
    child.push(0);
    if (n > 0) fill(0, 0, n);
    this.triangles = new Float64Array(9 * n);
    for (let i = 0; i < n; i++)
      for (let c = 0; c < 3; c++)
        for (let k = 0; k < 3; k++) this.triangles[9 * i + 3 * c + k] = corners[3 * indices[3 * order[i]! + c]! + k]!;
    this.spheres = Float64Array.from(spheres);
    this.child = Int32Array.from(child);
    this.count = Int32Array.from(count);
  }
}

/** Puts the lower half before `half` and the rest behind it, in no order (quickselect: C. A. R. Hoare, Comm. ACM 4(7), 1961). */
function halve(order: Int32Array, from: number, to: number, half: number, middle: Float64Array, axis: number): void {
  for (let lo = from, hi = to - 1; lo < hi;) {
    const pivot = middle[3 * order[(lo + hi) >> 1]! + axis]!;
    let i = lo,
      j = hi;
    while (i <= j) {
      while (middle[3 * order[i]! + axis]! < pivot) i++;
      while (middle[3 * order[j]! + axis]! > pivot) j--;
      if (i > j) break;
      const t = order[i]!;
      order[i++] = order[j]!;
      order[j--] = t;
    }
    if (half <= j) hi = j;
    else if (half >= i) lo = i;
    else return;
  }
}

const square = (x: number): number => x * x;

/** A triangle without area has no side to speak of; what it bounds, its neighbours bound as well. */
const NO_AREA = 1e-9;
function sliver(c: ArrayLike<number>, i: number, j: number, k: number): boolean {
  const ux = c[j]! - c[i]!,
    uy = c[j + 1]! - c[i + 1]!,
    uz = c[j + 2]! - c[i + 2]!,
    vx = c[k]! - c[i]!,
    vy = c[k + 1]! - c[i + 1]!,
    vz = c[k + 2]! - c[i + 2]!;
  const area = Math.sqrt(square(uy * vz - uz * vy) + square(uz * vx - ux * vz) + square(ux * vy - uy * vx)),
    long = Math.max(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz);
  return !(area > NO_AREA * long);
}

/** Distance of a place, given from a node's middle, from its box. */
function outside(x: number, y: number, z: number, nodes: Float64Array, n: number): number {
  const a = Math.abs(x) - nodes[n + 4]!,
    b = Math.abs(y) - nodes[n + 5]!,
    c = Math.abs(z) - nodes[n + 6]!;
  return Math.sqrt((a > 0 ? a * a : 0) + (b > 0 ? b * b : 0) + (c > 0 ? c * c : 0));
}

/** The distance of two surfaces, posture after posture; what was nearest last is tried first. */
export class Gap {
  /** Triangles that were nearest. */
  private near: [number, number] = [0, 0];
  private best = Infinity;
  /** Nodes count that are nearer than this part of the nearest found so far. */
  private counts = 1;
  private readonly q = new Float64Array(9);
  private R: ArrayLike<number> = [];
  private p: ArrayLike<number> = [];

  constructor(
    private readonly a: Surface,
    private readonly b: Surface,
  ) {}

  /**
   * @param R rotation that takes b's axes to a's, nine numbers by rows @param p b's origin in a's axes, m
   * @param part of the distance that it may be told too small by, which is quicker: 0 to 1
   * @returns m; Infinity when one of them has no triangle
   */
  measure(R: ArrayLike<number>, p: ArrayLike<number>, part = 0): number {
    if (this.a.triangles.length === 0 || this.b.triangles.length === 0) return Infinity;
    this.R = R;
    this.p = p;
    this.best = Infinity;
    this.pair(this.near[0], this.near[1]);
    this.counts = 1 - part;
    this.descend(0, 0);
    return this.best * this.counts;
  }

  /** Least distance that two nodes can have: of the middle of each from the box of the other, less its radius. */
  private apart(i: number, j: number): number {
    const { R, p } = this,
      A = this.a.spheres,
      B = this.b.spheres,
      m = NODE * i,
      n = NODE * j,
      x = B[n]!,
      y = B[n + 1]!,
      z = B[n + 2]!;
    const dx = R[0]! * x + R[1]! * y + R[2]! * z + p[0]! - A[m]!,
      dy = R[3]! * x + R[4]! * y + R[5]! * z + p[1]! - A[m + 1]!,
      dz = R[6]! * x + R[7]! * y + R[8]! * z + p[2]! - A[m + 2]!;
    const fromA = outside(dx, dy, dz, A, m) - B[n + 3]!;
    const fromB =
      outside(R[0]! * dx + R[3]! * dy + R[6]! * dz, R[1]! * dx + R[4]! * dy + R[7]! * dz, R[2]! * dx + R[5]! * dy + R[8]! * dz, B, n) -
      A[m + 3]!;
    return fromA > fromB ? fromA : fromB;
  }

  private descend(i: number, j: number): void {
    if (this.best === 0) return;
    const ci = this.a.child[i]!,
      cj = this.b.child[j]!;
    if (ci < 0 && cj < 0) {
      for (let s = -1 - ci, n = s + this.a.count[i]!; s < n; s++)
        for (let t = -1 - cj, m = t + this.b.count[j]!; t < m; t++) this.pair(s, t);
      return;
    }
    // the larger one is opened
    const openA = cj < 0 || (ci >= 0 && this.a.spheres[NODE * i + 3]! >= this.b.spheres[NODE * j + 3]!);
    const i1 = openA ? ci : i,
      j1 = openA ? j : cj,
      i2 = openA ? ci + 1 : i,
      j2 = openA ? j : cj + 1;
    const d1 = this.apart(i1, j1),
      d2 = this.apart(i2, j2);
    const { counts } = this;
    if (d1 <= d2) {
      if (d1 < counts * this.best) this.descend(i1, j1);
      if (d2 < counts * this.best) this.descend(i2, j2);
    } else {
      if (d2 < counts * this.best) this.descend(i2, j2);
      if (d1 < counts * this.best) this.descend(i1, j1);
    }
  }

  private pair(s: number, t: number): void {
    const { R, p, q } = this,
      B = this.b.triangles;
    for (let c = 0; c < 9; c += 3) {
      const x = B[9 * t + c]!,
        y = B[9 * t + c + 1]!,
        z = B[9 * t + c + 2]!;
      q[c] = R[0]! * x + R[1]! * y + R[2]! * z + p[0]!;
      q[c + 1] = R[3]! * x + R[4]! * y + R[5]! * z + p[1]!;
      q[c + 2] = R[6]! * x + R[7]! * y + R[8]! * z + p[2]!;
    }
    const d = triangles(this.a.triangles, 9 * s, q, 0);
    if (d < this.best) {
      this.best = d;
      this.near = [s, t];
    }
  }
}

/** Distance of two triangles that begin at `i` of `a` and `j` of `b`. */
export function triangles(a: ArrayLike<number>, i: number, b: ArrayLike<number>, j: number): number {
  let least = Infinity;
  for (let e = 0; e < 3; e++) {
    const p = i + 3 * e,
      q = i + 3 * ((e + 1) % 3);
    for (let f = 0; f < 3; f++) least = Math.min(least, segments(a, p, q, b, j + 3 * f, j + 3 * ((f + 1) % 3)));
    if (pierces(a, p, q, b, j) || pierces(b, j + 3 * e, j + 3 * ((e + 1) % 3), a, i)) return 0;
    least = Math.min(least, corner(a, p, b, j), corner(b, j + 3 * e, a, i));
  }
  return Math.sqrt(least);
}

/** Square of the distance of a corner from a triangle's plane, where it stands over the triangle. */
function corner(a: ArrayLike<number>, p: number, b: ArrayLike<number>, j: number): number {
  const ux = b[j + 3]! - b[j]!,
    uy = b[j + 4]! - b[j + 1]!,
    uz = b[j + 5]! - b[j + 2]!,
    vx = b[j + 6]! - b[j]!,
    vy = b[j + 7]! - b[j + 1]!,
    vz = b[j + 8]! - b[j + 2]!;
  const wx = a[p]! - b[j]!,
    wy = a[p + 1]! - b[j + 1]!,
    wz = a[p + 2]! - b[j + 2]!;
  const uu = ux * ux + uy * uy + uz * uz,
    uv = ux * vx + uy * vy + uz * vz,
    vv = vx * vx + vy * vy + vz * vz,
    wu = wx * ux + wy * uy + wz * uz,
    wv = wx * vx + wy * vy + wz * vz;
  const det = uu * vv - uv * uv;
  if (!(det > 0)) return Infinity;
  const s = (wu * vv - wv * uv) / det,
    t = (wv * uu - wu * uv) / det;
  if (s < 0 || t < 0 || s + t > 1) return Infinity;
  return square(wx - s * ux - t * vx) + square(wy - s * uy - t * vy) + square(wz - s * uz - t * vz);
}

/** Square of the distance of two segments. */
function segments(a: ArrayLike<number>, p: number, q: number, b: ArrayLike<number>, r: number, s: number): number {
  const dx = a[q]! - a[p]!,
    dy = a[q + 1]! - a[p + 1]!,
    dz = a[q + 2]! - a[p + 2]!,
    ex = b[s]! - b[r]!,
    ey = b[s + 1]! - b[r + 1]!,
    ez = b[s + 2]! - b[r + 2]!;
  const wx = a[p]! - b[r]!,
    wy = a[p + 1]! - b[r + 1]!,
    wz = a[p + 2]! - b[r + 2]!;
  const dd = dx * dx + dy * dy + dz * dz,
    de = dx * ex + dy * ey + dz * ez,
    ee = ex * ex + ey * ey + ez * ez,
    dw = dx * wx + dy * wy + dz * wz,
    ew = ex * wx + ey * wy + ez * wz;
  const clamp = (x: number) => (x < 0 ? 0 : x > 1 ? 1 : x);
  const det = dd * ee - de * de;
  let x = det > 1e-14 * dd * ee ? clamp((de * ew - ee * dw) / det) : 0,
    y = ee > 0 ? (de * x + ew) / ee : -1;
  if (y < 0 || y > 1) {
    y = clamp(y);
    x = dd > 0 ? clamp((de * y - dw) / dd) : 0;
  }
  return square(wx + x * dx - y * ex) + square(wy + x * dy - y * ey) + square(wz + x * dz - y * ez);
}

/** Whether a segment goes through a triangle; strictly: from one side to the other, and not through its rim. */
export function pierces(a: ArrayLike<number>, p: number, q: number, b: ArrayLike<number>, j: number, strictly = false): boolean {
  const ux = b[j + 3]! - b[j]!,
    uy = b[j + 4]! - b[j + 1]!,
    uz = b[j + 5]! - b[j + 2]!,
    vx = b[j + 6]! - b[j]!,
    vy = b[j + 7]! - b[j + 1]!,
    vz = b[j + 8]! - b[j + 2]!;
  const nx = uy * vz - uz * vy,
    ny = uz * vx - ux * vz,
    nz = ux * vy - uy * vx;
  const hp = (a[p]! - b[j]!) * nx + (a[p + 1]! - b[j + 1]!) * ny + (a[p + 2]! - b[j + 2]!) * nz,
    hq = (a[q]! - b[j]!) * nx + (a[q + 1]! - b[j + 1]!) * ny + (a[q + 2]! - b[j + 2]!) * nz;
  // by signs, not by their product: that of two tiny heights is nothing
  if ((hp > 0 && hq > 0) || (hp < 0 && hq < 0) || hp === hq) return false;
  if (strictly) {
    const size =
      NO_CROSS *
      (Math.abs(hp) +
        Math.abs(hq) +
        Math.sqrt((nx * nx + ny * ny + nz * nz) * Math.max(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz)));
    if (Math.abs(hp) < size || Math.abs(hq) < size) return false;
  }
  const k = hp / (hp - hq),
    wx = a[p]! + k * (a[q]! - a[p]!) - b[j]!,
    wy = a[p + 1]! + k * (a[q + 1]! - a[p + 1]!) - b[j + 1]!,
    wz = a[p + 2]! + k * (a[q + 2]! - a[p + 2]!) - b[j + 2]!;
  const uu = ux * ux + uy * uy + uz * uz,
    uv = ux * vx + uy * vy + uz * vz,
    vv = vx * vx + vy * vy + vz * vz,
    wu = wx * ux + wy * uy + wz * uz,
    wv = wx * vx + wy * vy + wz * vz,
    det = uu * vv - uv * uv;
  if (!(det > 0)) return false;
  const s = (wu * vv - wv * uv) / det,
    t = (wv * uu - wu * uv) / det;
  return strictly ? s > NO_CROSS && t > NO_CROSS && s + t < 1 - NO_CROSS : s >= 0 && t >= 0 && s + t <= 1;
}
/** Of its own size: as much as single precision leaves open. */
const NO_CROSS = 1e-6;
