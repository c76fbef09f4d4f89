/** Corners of triangles that stand at one place, found with a hash of the cell they lie in. */

/** Cells to the largest coordinate: corners within about a millionth of it are one. */
const CELLS = 1e6;

export interface Corners {
  /** For each corner given, which of the kept ones it is. */
  one: Uint32Array;
  /** The corners kept: the first at each place. */
  kept: Uint32Array;
}

const hash = (x: number, y: number, z: number): number => Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791);

/** @param positions three numbers a corner */
export function sameCorners(positions: ArrayLike<number>): Corners {
  const n = positions.length / 3;
  let size = 0;
  for (let i = 0; i < positions.length; i++) {
    const x = Math.abs(positions[i]!);
    if (x > size) size = x;
  }
  const k = CELLS / (size || 1);
  // the table grows with what is kept, often a sixth of what is given: a small one stays near the processor
  let mask = 1023,
    table = new Int32Array(mask + 1).fill(-1);
  const cells = new Int32Array(3 * n),
    one = new Uint32Array(n),
    kept = new Uint32Array(n);
  let count = 0;
  const grow = (): void => {
    mask = 2 * mask + 1;
    table = new Int32Array(mask + 1).fill(-1);
    for (let v = 0; v < count; v++) {
      let h = hash(cells[3 * v]!, cells[3 * v + 1]!, cells[3 * v + 2]!) & mask;
      while (table[h]! >= 0) h = (h + 1) & mask;
      table[h] = v;
    }
  };
  for (let i = 0; i < n; i++) {
    const x = Math.floor(positions[3 * i]! * k + 0.5),
      y = Math.floor(positions[3 * i + 1]! * k + 0.5),
      z = Math.floor(positions[3 * i + 2]! * k + 0.5);
    let h = hash(x, y, z) & mask,
      v = table[h]!;
    while (v >= 0 && !(cells[3 * v] === x && cells[3 * v + 1] === y && cells[3 * v + 2] === z)) {
      h = (h + 1) & mask;
      v = table[h]!;
    }
    if (v < 0) {
      v = count++;
      table[h] = v;
      cells[3 * v] = x;
      cells[3 * v + 1] = y;
      cells[3 * v + 2] = z;
      kept[v] = i;
      if (2 * count > mask) grow();
    }
    one[i] = v;
  }
  return { one, kept: kept.slice(0, count) };
}

/** One number for a side, whichever way it is gone. */
export const sideKey = (a: number, b: number, count: number): number => Math.min(a, b) * count + Math.max(a, b);
