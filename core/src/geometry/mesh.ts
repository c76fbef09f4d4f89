/**
 * Meshes from outside: corners welded, normals smoothed up to a crease, mass properties by the divergence theorem (signed tetrahedra, as in
 * B. Mirtich, J. Graphics Tools 1(2), 1996), and what is wrong with them.
 */
import { sameCorners } from './corners';
import { sharpSides } from './edges';
import type { MassProperties } from './mass';
import { type Sides, eachSide, sidesOf } from './sides';
import type { Mesh } from './solid';
import type { Mat3, Vec3 } from './vector';

/** What was found in a mesh. */
export interface MeshReport {
  /** Sides that belong to one triangle only: the surface is open there. */
  open: number;
  /** Sides where more than two triangles meet: the surface touches itself. */
  touching: number;
  /** The surface is inside out. */
  inverted: boolean;
  triangles: number;
  /** Of an open surface: how far its volume depends on the place from which it is reckoned, relative to it; 0 where it is closed. */
  doubt: number;
}

export interface Geometry {
  mesh: Mesh;
  /** Of unit density; of an open mesh what its triangles and the origin enclose. */
  mass: MassProperties;
  report: MeshReport;
}

/** Cosine of the crease angle, 35°. */
const CREASE = 0.8191520442889918;
/** Cosine of half of it. */
const HALF_CREASE = 0.9537169507482269;

/**
 * Corners at one place made one (within 1e-6 of the size), triangles without area left out.
 * @param positions three numbers a corner, m; nine a triangle when there are no indices
 */
export function weld(positions: Float32Array, indices?: Uint32Array): { positions: Float32Array; indices: Uint32Array } {
  const n = positions.length / 3;
  const { one, kept } = sameCorners(positions);
  const out = new Float32Array(3 * kept.length);
  for (let v = 0; v < kept.length; v++) for (let c = 0; c < 3; c++) out[3 * v + c] = positions[3 * kept[v]! + c]!;
  const corners = indices?.length ?? n;
  const triangles = new Uint32Array(corners - (corners % 3));
  let t = 0;
  for (let c = 0; c + 2 < corners; c += 3) {
    const p = one[indices ? indices[c]! : c]!,
      q = one[indices ? indices[c + 1]! : c + 1]!,
      r = one[indices ? indices[c + 2]! : c + 2]!;
    if (p === q || q === r || r === p) continue;
    triangles[t++] = p;
    triangles[t++] = q;
    triangles[t++] = r;
  }
  return { positions: out, indices: triangles.slice(0, t) };
}

/** @param positions welded corners, m @param indices three a triangle */
export function geometryOf(positions: Float32Array, indices: Uint32Array): Geometry {
  const sides = sidesOf(indices, positions.length / 3),
    report = inspect(indices, sides);
  let mass = massOf(positions, indices);
  report.inverted = mass.mass < 0;
  const seen = report.inverted ? turnedOver(indices) : indices;
  if (report.inverted) mass = massOf(positions, seen);
  if (report.open > 0) report.doubt = doubt(positions, seen, mass.mass);
  return { mesh: creased(positions, seen, sides), mass, report };
}

const turnedOver = (indices: Uint32Array): Uint32Array => {
  const out = indices.slice();
  for (let t = 0; t < out.length; t += 3) [out[t + 1], out[t + 2]] = [out[t + 2]!, out[t + 1]!];
  return out;
};

/** Counts of sides by how many triangles share them. */
export function inspect(indices: Uint32Array, all: Sides): MeshReport {
  let open = 0,
    touching = 0;
  eachSide(all, (_low, _high, _sides, from, to) => {
    if (to - from === 1) open++;
    else if (to - from > 2) touching++;
  });
  return { open, touching, inverted: false, triangles: indices.length / 3, doubt: 0 };
}

/**
 * The volume of a surface reckoned from a place o is that from the origin less o · S / 3, where S is the sum of its area vectors: zero when it is
 * closed. How much that is for places within the part, relative to the volume.
 */
export function doubt(positions: ArrayLike<number>, indices: Uint32Array, volume: number): number {
  const S = [0, 0, 0],
    low = [Infinity, Infinity, Infinity],
    high = [-Infinity, -Infinity, -Infinity];
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t]!, 3 * indices[t + 1]!, 3 * indices[t + 2]!];
    const ux = positions[b]! - positions[a]!,
      uy = positions[b + 1]! - positions[a + 1]!,
      uz = positions[b + 2]! - positions[a + 2]!;
    const vx = positions[c]! - positions[a]!,
      vy = positions[c + 1]! - positions[a + 1]!,
      vz = positions[c + 2]! - positions[a + 2]!;
    S[0]! += (uy * vz - uz * vy) / 2;
    S[1]! += (uz * vx - ux * vz) / 2;
    S[2]! += (ux * vy - uy * vx) / 2;
    for (const v of [a, b, c])
      for (let k = 0; k < 3; k++) {
        low[k] = Math.min(low[k]!, positions[v + k]!);
        high[k] = Math.max(high[k]!, positions[v + k]!);
      }
  }
  const spread = S.reduce((s, x, k) => s + Math.abs(x) * (high[k]! - low[k]!), 0) / 3;
  return volume === 0 ? Infinity : spread / Math.abs(volume);
}

/**
 * Volume, centre and inertia of what a closed mesh encloses, unit density. Sums are taken about the first corner, so that a part far from the origin
 * loses no digits.
 */
export function massOf(positions: ArrayLike<number>, indices: Uint32Array): MassProperties {
  const o = [positions[0] ?? 0, positions[1] ?? 0, positions[2] ?? 0];
  const [ox, oy, oz] = o as [number, number, number];
  // moments of the tetrahedra on each triangle: zeroth, first times 4, second times 20
  let volume = 0,
    x = 0,
    y = 0,
    z = 0,
    xx = 0,
    xy = 0,
    xz = 0,
    yy = 0,
    yz = 0,
    zz = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const a = 3 * indices[t]!,
      b = 3 * indices[t + 1]!,
      c = 3 * indices[t + 2]!;
    const ax = positions[a]! - ox,
      ay = positions[a + 1]! - oy,
      az = positions[a + 2]! - oz;
    const bx = positions[b]! - ox,
      by = positions[b + 1]! - oy,
      bz = positions[b + 2]! - oz;
    const cx = positions[c]! - ox,
      cy = positions[c + 1]! - oy,
      cz = positions[c + 2]! - oz;
    const v = (ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)) / 6;
    const sx = ax + bx + cx,
      sy = ay + by + cy,
      sz = az + bz + cz;
    volume += v;
    x += v * sx;
    y += v * sy;
    z += v * sz;
    xx += v * (sx * sx + ax * ax + bx * bx + cx * cx);
    xy += v * (sx * sy + ax * ay + bx * by + cx * cy);
    xz += v * (sx * sz + ax * az + bx * bz + cx * cz);
    yy += v * (sy * sy + ay * ay + by * by + cy * cy);
    yz += v * (sy * sz + ay * az + by * bz + cy * cz);
    zz += v * (sz * sz + az * az + bz * bz + cz * cz);
  }
  if (volume === 0) return { mass: 0, centre: [0, 0, 0], inertia: [0, 0, 0, 0, 0, 0, 0, 0, 0] };
  const c = [x / 4 / volume, y / 4 / volume, z / 4 / volume] as const,
    second = [xx, xy, xz, xy, yy, yz, xz, yz, zz];
  const s = (i: number, j: number) => second[3 * i + j]! / 20 - volume * c[i]! * c[j]!;
  const trace = s(0, 0) + s(1, 1) + s(2, 2);
  const inertia = [0, 1, 2].flatMap((i) => [0, 1, 2].map((j) => (i === j ? trace : 0) - s(i, j))) as unknown as Mat3;
  return { mass: volume, centre: c.map((x, k) => x + o[k]!) as unknown as Vec3, inertia };
}

/** Corners parted where the surface is creased, each with a normal over the triangles that meet there smoothly. */
export function creased(positions: Float32Array, indices: Uint32Array, sides: Sides = sidesOf(indices, positions.length / 3)): Mesh {
  const count = positions.length / 3,
    corners = indices.length;
  const facet = new Float32Array(corners); // three numbers a triangle, of the length of twice its area
  for (let t = 0; t < corners; t += 3) {
    const [a, b, c] = [3 * indices[t]!, 3 * indices[t + 1]!, 3 * indices[t + 2]!];
    const ux = positions[b]! - positions[a]!,
      uy = positions[b + 1]! - positions[a + 1]!,
      uz = positions[b + 2]! - positions[a + 2]!;
    const vx = positions[c]! - positions[a]!,
      vy = positions[c + 1]! - positions[a + 1]!,
      vz = positions[c + 2]! - positions[a + 2]!;
    facet[t] = uy * vz - uz * vy;
    facet[t + 1] = uz * vx - ux * vz;
    facet[t + 2] = ux * vy - uy * vx;
  }
  // triangles round each corner
  const start = new Uint32Array(count + 1);
  for (const v of indices) start[v + 1]!++;
  for (let v = 0; v < count; v++) start[v + 1]! += start[v]!;
  const round = new Uint32Array(corners),
    fill = start.slice();
  for (let i = 0; i < corners; i++) round[fill[indices[i]!]!++] = i;
  const length = new Float32Array(corners / 3);
  for (let t = 0; t < corners; t += 3) length[t / 3] = length3(facet[t]!, facet[t + 1]!, facet[t + 2]!) || 1;
  const at = new Float32Array(3 * corners),
    normal = new Float32Array(3 * corners);
  const outIndex = new Uint32Array(corners),
    own = new Uint32Array(count);
  let made = 0;
  for (let v = 0; v < count; v++) {
    const first = (own[v] = made);
    const begin = start[v]!,
      end = start[v + 1]!;
    if (smooth(facet, length, round, begin, end)) {
      let nx = 0,
        ny = 0,
        nz = 0;
      for (let q = begin; q < end; q++) {
        const u = round[q]! - (round[q]! % 3);
        nx += facet[u]!;
        ny += facet[u + 1]!;
        nz += facet[u + 2]!;
      }
      const n = length3(nx, ny, nz) || 1;
      for (let c = 0; c < 3; c++) at[3 * made + c] = positions[3 * v + c]!;
      normal[3 * made] = nx / n;
      normal[3 * made + 1] = ny / n;
      normal[3 * made + 2] = nz / n;
      for (let r = begin; r < end; r++) outIndex[round[r]!] = made;
      if (end > begin) made++;
      continue;
    }
    for (let r = start[v]!; r < start[v + 1]!; r++) {
      const corner = round[r]!,
        t = corner - (corner % 3),
        l = length[t / 3]!;
      let nx = 0,
        ny = 0,
        nz = 0;
      for (let q = start[v]!; q < start[v + 1]!; q++) {
        const u = round[q]! - (round[q]! % 3);
        if (facet[t]! * facet[u]! + facet[t + 1]! * facet[u + 1]! + facet[t + 2]! * facet[u + 2]! < CREASE * l * length[u / 3]!) continue;
        nx += facet[u]!;
        ny += facet[u + 1]!;
        nz += facet[u + 2]!;
      }
      const n = length3(nx, ny, nz) || 1;
      nx /= n;
      ny /= n;
      nz /= n;
      let known = first;
      while (known < made && normal[3 * known]! * nx + normal[3 * known + 1]! * ny + normal[3 * known + 2]! * nz <= 0.9999) known++;
      if (known === made) {
        for (let c = 0; c < 3; c++) at[3 * made + c] = positions[3 * v + c]!;
        normal[3 * made] = nx;
        normal[3 * made + 1] = ny;
        normal[3 * made + 2] = nz;
        made++;
      }
      outIndex[corner] = known;
    }
  }
  for (let t = 0; t < corners; t++) facet[t]! /= length[Math.floor(t / 3)]!;
  const edges = sharpSides(sides, facet);
  for (let i = 0; i < edges.length; i++) edges[i] = own[edges[i]!]!;
  return { positions: at.slice(0, 3 * made), normals: normal.slice(0, 3 * made), indices: outIndex, edges };
}

/** Whether all triangles round a corner are within half the crease angle of the first, and so within it of each other. */
function smooth(facet: Float32Array, length: Float32Array, round: Uint32Array, begin: number, end: number): boolean {
  const t = round[begin]! - (round[begin]! % 3),
    l = length[t / 3]!;
  for (let q = begin + 1; q < end; q++) {
    const u = round[q]! - (round[q]! % 3);
    if (facet[t]! * facet[u]! + facet[t + 1]! * facet[u + 1]! + facet[t + 2]! * facet[u + 2]! < HALF_CREASE * l * length[u / 3]!)
      return false;
  }
  return true;
}

const length3 = (x: number, y: number, z: number): number => Math.sqrt(x * x + y * y + z * z);
