/** Sharp edges of a mesh, for drawing it: borders, and sides where the surface bends by more than 35°. */
import { type Corners, sameCorners } from './corners';
import { eachSide } from './sides';

const SHARP = 0.8191520442889918;

/** @param positions three numbers a vertex @param indices three a triangle @param same which vertices stand at one place @returns pairs of vertices */
export function sharpEdges(positions: Float32Array, indices: Uint32Array, { one, kept }: Corners = sameCorners(positions)): Uint32Array {
  const corners = new Uint32Array(indices.length), normals = new Float32Array(indices.length);
  let n = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t]!, 3 * indices[t + 1]!, 3 * indices[t + 2]!];
    const [p, q, r] = [one[indices[t]!]!, one[indices[t + 1]!]!, one[indices[t + 2]!]!];
    const ux = positions[b]! - positions[a]!, uy = positions[b + 1]! - positions[a + 1]!, uz = positions[b + 2]! - positions[a + 2]!;
    const vx = positions[c]! - positions[a]!, vy = positions[c + 1]! - positions[a + 1]!, vz = positions[c + 2]! - positions[a + 2]!;
    const nx = uy * vz - uz * vy, ny = uz * vx - ux * vz, nz = ux * vy - uy * vx, l = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (p === q || q === r || r === p || l === 0) continue;
    normals[n] = nx / l;
    normals[n + 1] = ny / l;
    normals[n + 2] = nz / l;
    corners[n++] = p;
    corners[n++] = q;
    corners[n++] = r;
  }
  const out: number[] = [];
  eachSide(corners.subarray(0, n), kept.length, (low, high, sides, from, to) => {
    // where several triangles meet, the first bends to the second, the third to the fourth; an odd one is a border
    let sharp = (to - from) % 2 === 1;
    for (let i = from; i + 1 < to && !sharp; i += 2) {
      const t = sides[i]! - (sides[i]! % 3), u = sides[i + 1]! - (sides[i + 1]! % 3);
      sharp = normals[t]! * normals[u]! + normals[t + 1]! * normals[u + 1]! + normals[t + 2]! * normals[u + 2]! <= SHARP;
    }
    if (sharp) out.push(kept[low]!, kept[high]!);
  });
  return Uint32Array.from(out);
}
