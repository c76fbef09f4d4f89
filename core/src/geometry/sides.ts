/**
 * Sides of triangles, those of one pair of corners together: listed at their lower corner by counting, then put in order of the other one. A side is
 * told by the place in `indices` of the corner it begins at.
 */

/** The corner after c in its triangle. */
export const after = (c: number): number => (c % 3 === 2 ? c - 2 : c + 1);

/** Lists of this many sides and fewer are put in order by insertion. */
const FEW = 24;

/**
 * @param indices three a triangle @param count corners there are
 * @param each is told of a pair of corners: `sides[from]` to `sides[to - 1]` join them, in order of their triangles
 */
export function eachSide(indices: ArrayLike<number>, count: number, each: (low: number, high: number, sides: Uint32Array, from: number, to: number) => void): void {
  const n = indices.length, start = new Uint32Array(count + 1), sides = new Uint32Array(n), high = new Uint32Array(n);
  for (let c = 0; c < n; c++) start[Math.min(indices[c]!, indices[after(c)]!) + 1]!++;
  for (let v = 0; v < count; v++) start[v + 1]! += start[v]!;
  const free = start.slice();
  for (let c = 0; c < n; c++) {
    const a = indices[c]!, b = indices[after(c)]!, p = free[a < b ? a : b]!++;
    sides[p] = c;
    high[p] = a < b ? b : a;
  }
  for (let v = 0; v < count; v++) {
    const begin = start[v]!, end = start[v + 1]!;
    order(sides, high, begin, end);
    for (let from = begin, to = begin; from < end; from = to) {
      while (to < end && high[to] === high[from]) to++;
      each(v, high[from]!, sides, from, to);
    }
  }
}

/** By the higher corner; those of one keep their order. */
function order(sides: Uint32Array, high: Uint32Array, begin: number, end: number): void {
  if (end - begin > FEW) {
    const places = Array.from({ length: end - begin }, (_, i) => begin + i).sort((p, q) => high[p]! - high[q]! || p - q);
    const s = places.map((p) => sides[p]!), h = places.map((p) => high[p]!);
    sides.set(s, begin);
    high.set(h, begin);
    return;
  }
  for (let i = begin + 1; i < end; i++) {
    const s = sides[i]!, h = high[i]!;
    let k = i;
    for (; k > begin && high[k - 1]! > h; k--) {
      sides[k] = sides[k - 1]!;
      high[k] = high[k - 1]!;
    }
    sides[k] = s;
    high[k] = h;
  }
}
