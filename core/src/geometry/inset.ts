/** A closed surface of triangles drawn in by a little: what crosses it has gone into the solid by so much. */
import type { Corners } from './gaps';

/** Parts of its size in which corners are the same. */
const SAME = 1e-7;

/** Area, m², and volume, m³, of a closed surface whose triangles run counter-clockwise seen from outside. */
export function areaAndVolume({ corners, indices }: Corners): { area: number; volume: number } {
  let area = 0,
    volume = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const n = areaVector(corners, indices, t),
      i = 3 * indices[t]!;
    area += Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]);
    volume += (n[0] * corners[i]! + n[1] * corners[i + 1]! + n[2] * corners[i + 2]!) / 3;
  }
  return { area, volume };
}
/** Area of a triangle as a vector along its normal. */
function areaVector(c: ArrayLike<number>, indices: ArrayLike<number>, t: number): readonly [number, number, number] {
  const i = 3 * indices[t]!,
    j = 3 * indices[t + 1]!,
    k = 3 * indices[t + 2]!,
    ux = c[j]! - c[i]!,
    uy = c[j + 1]! - c[i + 1]!,
    uz = c[j + 2]! - c[i + 2]!,
    vx = c[k]! - c[i]!,
    vy = c[k + 1]! - c[i + 1]!,
    vz = c[k + 2]! - c[i + 2]!;
  return [(uy * vz - uz * vy) / 2, (uz * vx - ux * vz) / 2, (ux * vy - uy * vx) / 2];
}

/**
 * The same with each corner moved in along the middle of the directions of the faces round it, each counted once.
 * @param by m; small beside the thickness of the solid
 */
export function inset({ corners, indices }: Corners, by: number): Corners {
  const size = Array.from(corners).reduce((m, x) => Math.max(m, Math.abs(x)), 0) * SAME || 1,
    key = (i: number) => [0, 1, 2].map((k) => Math.round(corners[3 * i + k]! / size)).join(),
    at = new Map<string, { normals: (readonly [number, number, number])[] }>(),
    of = Array.from({ length: corners.length / 3 }, (_, i) => {
      const k = key(i);
      if (!at.has(k)) at.set(k, { normals: [] });
      return at.get(k)!;
    });
  for (let t = 0; t < indices.length; t += 3) {
    const n = areaVector(corners, indices, t),
      long = Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]);
    if (!(long > 0)) continue;
    const u = [n[0] / long, n[1] / long, n[2] / long] as const;
    for (let c = 0; c < 3; c++) {
      const { normals } = of[indices[t + c]!]!;
      if (!normals.some((m) => m[0] * u[0] + m[1] * u[1] + m[2] * u[2] > ALIKE)) normals.push(u);
    }
  }
  const out = Float64Array.from(corners);
  of.forEach(({ normals }, i) => {
    const sum = [0, 1, 2].map((k) => normals.reduce((s, n) => s + n[k as 0]!, 0)),
      long = Math.sqrt(sum.reduce((s, x) => s + x * x, 0));
    if (!(long > 0)) return;
    // so that the face that turns away most is drawn in by as much
    const least = Math.min(...normals.map((n) => sum.reduce((s, x, k) => s + x * n[k]!, 0) / long));
    for (let k = 0; k < 3; k++) out[3 * i + k] = out[3 * i + k]! - (by * sum[k]!) / long / Math.max(STEEP, least);
  });
  return { corners: out, indices };
}
/** Cosine from which on two faces at a corner are one. */
const ALIKE = 0.999;
/** Least cosine of a face from the middle of all. */
const STEEP = 0.3;
