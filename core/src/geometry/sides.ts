/**
 * Sides of triangles, those of one pair of corners together: listed at their lower corner by counting, then put in order of the other one.
 */

/** Lists of this many sides and fewer are put in order by insertion. */
const FEW = 24;

export interface Sides {
  /** Those from `start[v]` to `start[v + 1]` have v as their lower corner. */
  start: Uint32Array;
  /** The place in `indices` of the corner each begins at. */
  sides: Uint32Array;
  /** The higher corner of each. */
  high: Uint32Array;
}

/** @param indices three a triangle @param count corners there are */
export function sidesOf(indices: ArrayLike<number>, count: number): Sides {
  const n = indices.length,
    start = new Uint32Array(count + 1),
    sides = new Uint32Array(n),
    high = new Uint32Array(n);
  for (let t = 0; t < n; t += 3) {
    for (let k = 0, a = indices[t + 2]!; k < 3; k++) {
      const b = indices[t + k]!;
      start[(a < b ? a : b) + 1]!++;
      a = b;
    }
  }
  for (let v = 0; v < count; v++) start[v + 1]! += start[v]!;
  const free = start.slice(0, count);
  for (let t = 0; t < n; t += 3) {
    for (let k = 0, a = indices[t + 2]!, c = t + 2; k < 3; k++) {
      const b = indices[t + k]!,
        p = free[a < b ? a : b]!++;
      sides[p] = c;
      high[p] = a < b ? b : a;
      a = b;
      c = t + k;
    }
  }
  for (let v = 0; v < count; v++) order(sides, high, start[v]!, start[v + 1]!);
  return { start, sides, high };
}

/** @param each is told of a pair of corners: `sides[from]` to `sides[to - 1]` join them, in order of their triangles */
export function eachSide(
  { start, sides, high }: Sides,
  each: (low: number, high: number, sides: Uint32Array, from: number, to: number) => void,
): void {
  for (let v = 0; v + 1 < start.length; v++) {
    for (let from = start[v]!, to = from, end = start[v + 1]!; from < end; from = to) {
      while (to < end && high[to] === high[from]) to++;
      each(v, high[from]!, sides, from, to);
    }
  }
}

/** By the higher corner; those of one keep their order. */
function order(sides: Uint32Array, high: Uint32Array, begin: number, end: number): void {
  if (end - begin > FEW) {
    const places = Array.from({ length: end - begin }, (_, i) => begin + i).sort((p, q) => high[p]! - high[q]! || p - q);
    const s = places.map((p) => sides[p]!),
      h = places.map((p) => high[p]!);
    sides.set(s, begin);
    high.set(h, begin);
    return;
  }
  for (let i = begin + 1; i < end; i++) {
    const s = sides[i]!,
      h = high[i]!;
    let k = i;
    for (; k > begin && high[k - 1]! > h; k--) {
      sides[k] = sides[k - 1]!;
      high[k] = high[k - 1]!;
    }
    sides[k] = s;
    high[k] = h;
  }
}
