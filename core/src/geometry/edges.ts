/** Sharp edges of a mesh, for drawing it: borders, and sides where the surface bends by more than 35°. */
import { sameCorners } from './corners';
import { type Sides, eachSide, sidesOf } from './sides';

const SHARP = 0.8191520442889918;

/** @param positions three numbers a vertex @param indices three a triangle @returns pairs of vertices */
export function sharpEdges(positions: Float32Array, indices: Uint32Array): Uint32Array {
  const { one, kept } = sameCorners(positions),
    corners = indices.map((v) => one[v]!);
  return sharpSides(sidesOf(corners, kept.length), normalsOf(positions, indices, corners)).map((v) => kept[v]!);
}

/** @param normals of the triangles, three numbers each of unit length; naught of those that are none @returns pairs of corners */
export function sharpSides(all: Sides, normals: Float32Array): Uint32Array {
  const out: number[] = [];
  eachSide(all, (low, high, sides, from, to) => {
    // where several triangles meet, the first bends to the second, the third to the fourth; an odd one is at a border
    let mate = -1,
      sharp = false;
    for (let i = from; i < to; i++) {
      const t = sides[i]! - (sides[i]! % 3),
        x = normals[t]!,
        y = normals[t + 1]!,
        z = normals[t + 2]!;
      if (x === 0 && y === 0 && z === 0) continue;
      if (mate < 0) mate = t;
      else {
        sharp ||= x * normals[mate]! + y * normals[mate + 1]! + z * normals[mate + 2]! <= SHARP;
        mate = -1;
      }
    }
    if (sharp || mate >= 0) out.push(low, high);
  });
  return Uint32Array.from(out);
}

function normalsOf(positions: Float32Array, indices: Uint32Array, corners: Uint32Array): Float32Array {
  const out = new Float32Array(indices.length);
  for (let t = 0; t < indices.length; t += 3) {
    if (corners[t] === corners[t + 1] || corners[t + 1] === corners[t + 2] || corners[t + 2] === corners[t]) continue;
    const a = 3 * indices[t]!,
      b = 3 * indices[t + 1]!,
      c = 3 * indices[t + 2]!;
    const ux = positions[b]! - positions[a]!,
      uy = positions[b + 1]! - positions[a + 1]!,
      uz = positions[b + 2]! - positions[a + 2]!;
    const vx = positions[c]! - positions[a]!,
      vy = positions[c + 1]! - positions[a + 1]!,
      vz = positions[c + 2]! - positions[a + 2]!;
    const x = uy * vz - uz * vy,
      y = uz * vx - ux * vz,
      z = ux * vy - uy * vx,
      l = Math.sqrt(x * x + y * y + z * z) || 1;
    out[t] = x / l;
    out[t + 1] = y / l;
    out[t + 2] = z / l;
  }
  return out;
}
