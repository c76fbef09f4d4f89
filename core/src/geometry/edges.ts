/** Sharp edges of a mesh, for drawing it: borders, and sides where the surface bends by more than 35°. */
import { Sides, sameCorners } from './corners';

const SHARP = 0.8191520442889918;
const CLOSED = -2;

/** @param positions three numbers a vertex @param indices three a triangle @returns pairs of vertices */
export function sharpEdges(positions: Float32Array, indices: Uint32Array): Uint32Array {
  const { one, kept } = sameCorners(positions);
  const normals = new Float64Array(indices.length);
  const sides = new Sides(indices.length), { value } = sides;
  const out: number[] = [];
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
    const ux = positions[3 * b]! - positions[3 * a]!, uy = positions[3 * b + 1]! - positions[3 * a + 1]!, uz = positions[3 * b + 2]! - positions[3 * a + 2]!;
    const vx = positions[3 * c]! - positions[3 * a]!, vy = positions[3 * c + 1]! - positions[3 * a + 1]!, vz = positions[3 * c + 2]! - positions[3 * a + 2]!;
    const nx = uy * vz - uz * vy, ny = uz * vx - ux * vz, nz = ux * vy - uy * vx, l = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (one[a] === one[b] || one[b] === one[c] || one[c] === one[a] || l === 0) continue;
    normals[t] = nx / l;
    normals[t + 1] = ny / l;
    normals[t + 2] = nz / l;
    for (let k = 0; k < 3; k++) {
      const p = one[indices[t + k]!]!, q = one[indices[t + ((k + 1) % 3)]!]!;
      const side = sides.slot(p, q), mate = value[side]!;
      // met an odd number of times it is open, and keeps the last triangle
      if (mate < 0) value[side] = t;
      else {
        value[side] = CLOSED;
        if (normals[t]! * normals[mate]! + normals[t + 1]! * normals[mate + 1]! + normals[t + 2]! * normals[mate + 2]! <= SHARP) out.push(kept[p]!, kept[q]!);
      }
    }
  }
  for (let i = 0; i < value.length; i++) if (value[i]! >= 0) out.push(...sides.cornersOf(i).map((v) => kept[v]!));
  return Uint32Array.from(out);
}
