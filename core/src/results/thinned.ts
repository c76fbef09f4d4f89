/**
 * A curve prepared for charts: for any part of it, the lowest and highest record of each column of pixels, in the order
 * in which they come, so that no peak is ever hidden. Blocks of records know where their extremes are, and blocks of
 * blocks again; a chart of a thousand columns then looks at some thousands of records however many there are.
 */

/** Records in a block of the lowest level, and blocks in one of the next. */
const BLOCK = 32,
  STEP = 16;

export class Thinned {
  /** Where the lowest and highest records of each block are, by level. */
  private readonly low: Int32Array[] = [];
  private readonly high: Int32Array[] = [];

  /** @param time increasing, s */
  constructor(
    readonly time: Float64Array,
    readonly values: Float64Array,
  ) {
    const n = values.length;
    for (let size = BLOCK, below = -1; size < n; size *= STEP, below++) {
      const count = Math.ceil(n / size),
        low = new Int32Array(count),
        high = new Int32Array(count);
      for (let b = 0; b < count; b++) {
        if (below < 0) {
          const from = b * BLOCK,
            to = Math.min(n, from + BLOCK);
          let lo = from,
            hi = from;
          for (let i = from + 1; i < to; i++) {
            if (values[i]! < values[lo]!) lo = i;
            if (values[i]! > values[hi]!) hi = i;
          }
          low[b] = lo;
          high[b] = hi;
        } else {
          const L = this.low[below]!,
            H = this.high[below]!,
            from = b * STEP,
            to = Math.min(L.length, from + STEP);
          let lo = L[from]!,
            hi = H[from]!;
          for (let k = from + 1; k < to; k++) {
            if (values[L[k]!]! < values[lo]!) lo = L[k]!;
            if (values[H[k]!]! > values[hi]!) hi = H[k]!;
          }
          low[b] = lo;
          high[b] = hi;
        }
      }
      this.low.push(low);
      this.high.push(high);
    }
  }

  /** The first record at or after a time. */
  first(t: number): number {
    let lo = 0,
      hi = this.time.length;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (this.time[mid]! < t) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  }

  private lo = 0;
  private hi = 0;
  private take(i: number, j: number): void {
    if (this.values[i]! < this.values[this.lo]!) this.lo = i;
    if (this.values[j]! > this.values[this.hi]!) this.hi = j;
  }

  /** Finds the extremes of records `from` to `to` (not included). */
  private extremes(from: number, to: number): void {
    this.lo = this.hi = from;
    let i = from;
    while (i < to) {
      let size = BLOCK,
        level = 0;
      if (i % BLOCK !== 0 || i + BLOCK > to || this.low.length === 0) {
        this.take(i, i);
        i++;
        continue;
      }
      while (level + 1 < this.low.length && i % (size * STEP) === 0 && i + size * STEP <= to) {
        size *= STEP;
        level++;
      }
      this.take(this.low[level]![i / size]!, this.high[level]![i / size]!);
      i += size;
    }
  }

  /**
   * What a chart of a width draws of the part between two times, with one record beyond each end.
   * @param width pixels
   * @param visit called with time and value of each, in order
   * @returns whether it goes to and fro within its columns, so that it is a band and no line
   */
  columns(from: number, to: number, width: number, visit: (t: number, v: number) => void): boolean {
    const first = Math.max(0, this.first(from) - 1),
      last = Math.min(this.time.length, this.first(to) + 2),
      n = last - first;
    const at = (i: number): void => visit(this.time[i]!, this.values[i]!);
    if (n <= 2 * width) {
      for (let i = first; i < last; i++) at(i);
      return false;
    }
    at(first);
    let turns = 0;
    for (let c = 0; c < width; c++) {
      const a = first + Math.floor((c * n) / width),
        b = first + Math.floor(((c + 1) * n) / width);
      this.extremes(a, b);
      const { lo, hi } = this;
      if ((lo !== a && lo !== b - 1) || (hi !== a && hi !== b - 1)) turns++;
      at(Math.min(lo, hi));
      if (lo !== hi) at(Math.max(lo, hi));
    }
    at(last - 1);
    return turns > width / 4;
  }
}
