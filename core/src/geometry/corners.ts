/** Corners of triangles that stand at one place, found with a hash of the cell they lie in. */

/** Cells to the largest coordinate: corners within about a millionth of it are one. */
const CELLS = 1e6;

export interface Corners {
  /** For each corner given, which of the kept ones it is. */
  one: Uint32Array;
  /** The corners kept: the first at each place. */
  kept: Uint32Array;
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

/** One number for each side of triangles, by its two corners, whichever way it is gone: a hash table in typed arrays, as large meshes need it. */
export class Sides {
  /** −1 for a side that has not been met. */
  readonly value: Int32Array;
  private readonly low: Uint32Array;
  private readonly high: Uint32Array;
  private readonly mask: number;
  /** @param corners of all triangles together: as many sides as that, if each is met once */
  constructor(corners: number) {
    let slots = 16;
    while (slots < 1.3 * corners) slots *= 2;
    this.mask = slots - 1;
    this.value = new Int32Array(slots).fill(-1);
    this.low = new Uint32Array(slots);
    this.high = new Uint32Array(slots);
  }
  /** Its place in `value`; a side that is new there has −1 and must be given another number before the next is asked for. */
  slot(a: number, b: number): number {
    const low = a < b ? a : b, high = a < b ? b : a;
    let h = (Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca6b)) >>> 0;
    h = ((h ^ (h >>> 15)) & this.mask) >>> 0;
    while (this.value[h] !== -1 && (this.low[h] !== low || this.high[h] !== high)) h = (h + 1) & this.mask;
    this.low[h] = low;
    this.high[h] = high;
    return h;
  }
  /** The corners of a side by its place. */
  cornersOf(slot: number): [number, number] {
    return [this.low[slot]!, this.high[slot]!];
  }
}

/** One number for a side, whichever way it is gone. */
export const sideKey = (a: number, b: number, count: number): number => Math.min(a, b) * count + Math.max(a, b);
