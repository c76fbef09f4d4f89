/**
 * Whether a closed surface bounds its volume once everywhere. Triangles that cross each other are found by a descent of the tree of boxes against
 * itself. How often a place is enclosed is the number of times a ray from it leaves less enters (the winding number): 0 outside, 1 inside; 2 where
 * volume counts twice, −1 where a shell is inside out. It is taken on both sides of triangles spread over the surface.
 */
import { NODE, Surface, pierces } from './gap';

export interface Enclosure {
  /** Pairs of triangles that cross; those that share a corner are not looked at. */
  crossing: number;
  /** Smallest and largest winding number found. */
  windings: readonly [number, number];
}

/** Triangles up to which it is looked for. */
export const LOOKED_AT = 100_000;
const SAMPLES = 160;
/** Two directions without a simple relation to any axis; both must agree. */
const RAYS = [
  [0.4123, 0.7711, 0.4853],
  [-0.6581, 0.3371, 0.6732],
] as const;

/** @param positions welded corners, m @param indices three a triangle @returns undefined where there are too many to look at */
export function enclosure(positions: ArrayLike<number>, indices: ArrayLike<number>): Enclosure | undefined {
  if (indices.length / 3 > LOOKED_AT || indices.length === 0) return undefined;
  const s = new Surface(positions, indices);
  return { crossing: crossings(s, indices), windings: windings(s) };
}

/** Pairs of triangles that go through each other. */
function crossings(s: Surface, indices: ArrayLike<number>): number {
  const { child, count, spheres, triangles, order } = s;
  const apart = (i: number, j: number): boolean => {
    const p = NODE * i,
      q = NODE * j;
    for (let k = 0; k < 3; k++) if (Math.abs(spheres[p + k]! - spheres[q + k]!) > spheres[p + 4 + k]! + spheres[q + 4 + k]!) return true;
    return false;
  };
  const share = (a: number, b: number): boolean => {
    for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) if (indices[3 * a + i] === indices[3 * b + j]) return true;
    return false;
  };
  let found = 0;
  const stack = [0, 0];
  while (stack.length > 0) {
    const j = stack.pop()!,
      i = stack.pop()!,
      ci = child[i]!,
      cj = child[j]!;
    if (i !== j && apart(i, j)) continue;
    if (ci < 0 && cj < 0) {
      for (let a = -1 - ci, n = a + count[i]!; a < n; a++)
        for (let b = i === j ? a + 1 : -1 - cj, m = -1 - cj + count[j]!; b < m; b++)
          if (!share(order[a]!, order[b]!) && cross(triangles, 9 * a, 9 * b)) found++;
    } else if (i === j) stack.push(ci, ci, ci + 1, ci + 1, ci, ci + 1);
    else if (cj < 0 || (ci >= 0 && count[i]! >= count[j]!)) stack.push(ci, j, ci + 1, j);
    else stack.push(i, cj, i, cj + 1);
  }
  return found;
}

function cross(t: Float64Array, a: number, b: number): boolean {
  for (let e = 0; e < 3; e++) {
    const p = 3 * e,
      q = 3 * ((e + 1) % 3);
    if (pierces(t, a + p, a + q, t, b, true) || pierces(t, b + p, b + q, t, a, true)) return true;
  }
  return false;
}

/** Smallest and largest winding number beside triangles spread over the surface. */
function windings(s: Surface): [number, number] {
  const { triangles: t } = s,
    n = t.length / 9,
    reach = 2 * s.spheres[3]!,
    step = Math.max(1, Math.floor(n / SAMPLES));
  let low = 0,
    high = 0;
  const p = [0, 0, 0];
  for (let i = 0; i < n; i += step) {
    const o = 9 * i;
    const ux = t[o + 3]! - t[o]!,
      uy = t[o + 4]! - t[o + 1]!,
      uz = t[o + 5]! - t[o + 2]!,
      vx = t[o + 6]! - t[o]!,
      vy = t[o + 7]! - t[o + 1]!,
      vz = t[o + 8]! - t[o + 2]!;
    const normal = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx],
      l = Math.sqrt(normal[0]! * normal[0]! + normal[1]! * normal[1]! + normal[2]! * normal[2]!);
    for (const side of [-1, 1]) {
      // off the triangle by a hundred thousandth of the whole
      for (let k = 0; k < 3; k++) p[k] = (t[o + k]! + t[o + 3 + k]! + t[o + 6 + k]!) / 3 + (side * 1e-5 * reach * normal[k]!) / l;
      const [one, two] = RAYS.map((r) => along(s, p, r, 2 * reach));
      if (one !== two) continue;
      low = Math.min(low, one!);
      high = Math.max(high, one!);
    }
  }
  return [low, high];
}

/** Times a ray leaves the surface less the times it enters. */
function along(s: Surface, p: readonly number[], d: readonly [number, number, number], far: number): number {
  const { child, count, spheres, triangles: t } = s;
  let sum = 0;
  const stack = [0];
  while (stack.length > 0) {
    const i = stack.pop()!,
      q = NODE * i;
    let from = 0,
      to = far;
    for (let k = 0; k < 3; k++) {
      const mid = spheres[q + k]! - p[k]!,
        half = spheres[q + 4 + k]!,
        a = (mid - half) / d[k]!,
        b = (mid + half) / d[k]!;
      from = Math.max(from, Math.min(a, b));
      to = Math.min(to, Math.max(a, b));
    }
    if (from > to) continue;
    const c = child[i]!;
    if (c >= 0) {
      stack.push(c, c + 1);
      continue;
    }
    for (let k = -1 - c, n = k + count[i]!; k < n; k++) sum += hit(t, 9 * k, p, d);
  }
  return sum;
}

/** 1 where the ray leaves through a triangle, −1 where it enters (T. Möller and B. Trumbore, J. Graphics Tools 2(1), 1997). */
function hit(t: Float64Array, o: number, p: readonly number[], d: readonly [number, number, number]): number {
  const ux = t[o + 3]! - t[o]!,
    uy = t[o + 4]! - t[o + 1]!,
    uz = t[o + 5]! - t[o + 2]!,
    vx = t[o + 6]! - t[o]!,
    vy = t[o + 7]! - t[o + 1]!,
    vz = t[o + 8]! - t[o + 2]!;
  const hx = d[1] * vz - d[2] * vy,
    hy = d[2] * vx - d[0] * vz,
    hz = d[0] * vy - d[1] * vx,
    det = ux * hx + uy * hy + uz * hz;
  if (det === 0) return 0;
  const wx = p[0]! - t[o]!,
    wy = p[1]! - t[o + 1]!,
    wz = p[2]! - t[o + 2]!,
    a = (wx * hx + wy * hy + wz * hz) / det;
  if (a < 0 || a > 1) return 0;
  const qx = wy * uz - wz * uy,
    qy = wz * ux - wx * uz,
    qz = wx * uy - wy * ux,
    b = (d[0] * qx + d[1] * qy + d[2] * qz) / det;
  if (b < 0 || a + b > 1 || (vx * qx + vy * qy + vz * qz) / det < 0) return 0;
  return det < 0 ? 1 : -1;
}
