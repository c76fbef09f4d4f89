/** Parts of one shape in different places: instances of one part, as an assembly has them. */
import { type Mat3, type Vec3, add, apply, cross, dot, fromColumns, mul, norm, scale, sub, transpose, unit } from '@vim-pivot/core/drawn';

export interface Placed {
  /** Index of the part it is an instance of. */
  of: number;
  /** x ↦ shift + turn·x takes that part's corners to this one's. */
  turn: Mat3;
  shift: Vec3;
}

interface Corners {
  positions: Float32Array;
  indices: Uint32Array;
}

const corner = (p: Float32Array, i: number): Vec3 => [p[3 * i]!, p[3 * i + 1]!, p[3 * i + 2]!];

/** Three corners that span a frame well: the first, the farthest from it, and the farthest from the line through both. */
function spanning(p: Float32Array): [number, number, number] | undefined {
  const n = p.length / 3,
    o = corner(p, 0);
  let a = 0,
    far = 0;
  for (let i = 1; i < n; i++) {
    const d = norm(sub(corner(p, i), o));
    if (d > far) [a, far] = [i, d];
  }
  if (far === 0) return undefined;
  const x = unit(sub(corner(p, a), o));
  let b = 0,
    off = 0;
  for (let i = 1; i < n; i++) {
    const d = sub(corner(p, i), o),
      e = norm(sub(d, scale(x, dot(d, x))));
    if (e > off) [b, off] = [i, e];
  }
  return off > 1e-6 * far ? [0, a, b] : undefined;
}

function frameAt(p: Float32Array, [o, a, b]: readonly [number, number, number]): Mat3 {
  const x = unit(sub(corner(p, a), corner(p, o))),
    d = sub(corner(p, b), corner(p, o));
  const y = unit(sub(d, scale(x, dot(d, x))));
  return fromColumns(x, y, cross(x, y));
}

/** The motion that takes one part onto another, corner by corner; undefined when they differ, or one is the other's mirror image. */
export function congruent(one: Corners, other: Corners): { turn: Mat3; shift: Vec3 } | undefined {
  if (one.positions.length !== other.positions.length || one.indices.length !== other.indices.length) return undefined;
  for (let i = 0; i < one.indices.length; i++) if (one.indices[i] !== other.indices[i]) return undefined;
  const base = spanning(one.positions);
  if (!base) return undefined;
  const turn = mul(frameAt(other.positions, base), transpose(frameAt(one.positions, base)));
  const shift = sub(corner(other.positions, base[0]), apply(turn, corner(one.positions, base[0])));
  let size = 0;
  for (const x of other.positions) size = Math.max(size, Math.abs(x));
  for (const x of one.positions) size = Math.max(size, Math.abs(x));
  const near = 4e-6 * size; // single precision, and what the frames make of it
  for (let i = 0; i < one.positions.length / 3; i++)
    if (norm(sub(add(shift, apply(turn, corner(one.positions, i))), corner(other.positions, i))) > near) return undefined;
  return { turn, shift };
}

/** For each part, the earlier one it is an instance of. */
export function instancesAmong(parts: readonly Corners[]): (Placed | undefined)[] {
  const firsts = new Map<string, number[]>();
  return parts.map((p, i) => {
    const key = `${p.positions.length}/${p.indices.length}`,
      known = firsts.get(key) ?? [];
    for (const of of known) {
      const motion = congruent(parts[of]!, p);
      if (motion) return { of, ...motion };
    }
    if (known.length < 50) firsts.set(key, [...known, i]);
    return undefined;
  });
}
