/** Corners of triangles that stand at one place, found with a hash of the cell they lie in. */

/** Cells to the largest coordinate: corners within about a millionth of it are one. */
const CELLS = 1e6;

export interface Corners {
  /** For each corner given, which of the kept ones it is. */
  one: Uint32Array;
  /** The corners kept: the first at each place. */
  kept: Uint32Array;
}

/** Corners each of which stands at a place of its own. */
export function eachOwn(count: number): Corners {
  const one = Uint32Array.from({ length: count }, (_, i) => i);
  return { one, kept: one };
}

/** @param positions three numbers a corner */
export function sameCorners(positions: ArrayLike<number>): Corners {
  const n = positions.length / 3;
  let size = 0;
  for (let i = 0; i < positions.length; i++) size = Math.max(size, Math.abs(positions[i]!));
  const k = CELLS / (size || 1);
  let slots = 16;
  while (slots < 2 * n) slots *= 2;
  const table = new Int32Array(slots).fill(-1), cells = new Int32Array(3 * n);
  const one = new Uint32Array(n), kept = new Uint32Array(n);
  let count = 0;
  for (let i = 0; i < n; i++) {
    const x = Math.round(positions[3 * i]! * k), y = Math.round(positions[3 * i + 1]! * k), z = Math.round(positions[3 * i + 2]! * k);
    let h = (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) & (slots - 1);
    let v = table[h]!;
    while (v >= 0 && !(cells[3 * v] === x && cells[3 * v + 1] === y && cells[3 * v + 2] === z)) {
      h = (h + 1) & (slots - 1);
      v = table[h]!;
    }
    if (v < 0) {
      v = count++;
      table[h] = v;
      cells[3 * v] = x;
      cells[3 * v + 1] = y;
      cells[3 * v + 2] = z;
      kept[v] = i;
    }
    one[i] = v;
  }
  return { one, kept: kept.slice(0, count) };
}

/** One number for a side, whichever way it is gone. */
export const sideKey = (a: number, b: number, count: number): number => Math.min(a, b) * count + Math.max(a, b);
