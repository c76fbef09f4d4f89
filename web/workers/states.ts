/** Recorded states of runs where they are read: in memory as far as they fit, the rest in the browser's store. */
import { Refusal } from '@vim-pivot/core/engine';

/** Records of a run that were sent and kept together. */
interface Part {
  index: number;
  records: number;
  data: Float64Array | undefined;
  /** The store has it: it need not stay here. */
  stored: boolean;
}

/** Reads kept parts of a run, in order. */
export type Fetch = (run: string, from: number, to: number) => Promise<{ index: number; data: Float64Array }[]>;

/** What all runs together may hold here of what is in the store too, and how much is fetched at once, bytes. */
export const HELD = 48e6;
const AT_ONCE = 8e6;
/** Records in a piece at most: a reader gives way between pieces. */
const PIECE = 100;

const missing = (code: string, message: string, remedy: string) => new Refusal([{ code, severity: 'error', message, remedy }]);

/** The parts held of all runs, the one used longest ago first. */
export class Memory {
  private readonly parts = new Set<Part>();
  private bytes = 0;
  constructor(private readonly most: number = HELD) {}
  get held(): number {
    return this.bytes;
  }
  use(p: Part): void {
    if (this.parts.delete(p)) this.parts.add(p);
    else {
      this.parts.add(p);
      this.bytes += p.data!.byteLength;
    }
    if (this.bytes > this.most) this.release();
  }
  /** Lets go of what the store has, until the rest fits. */
  release(): void {
    for (const p of this.parts) {
      if (this.bytes <= this.most) return;
      if (p.stored) this.drop(p);
    }
  }
  drop(p: Part): void {
    if (!this.parts.delete(p)) return;
    this.bytes -= p.data!.byteLength;
    p.data = undefined;
  }
}

export class States {
  private readonly parts: Part[] = [];
  /** The first record of each part. */
  private readonly firsts: number[] = [];
  count = 0;
  /** @param width numbers a record */
  constructor(
    private readonly run: string,
    readonly width: number,
    private readonly memory: Memory,
    private readonly fetch: Fetch,
  ) {}

  /** Takes what was just recorded. @returns the number of the part it makes */
  add(data: Float64Array): number {
    const part: Part = { index: this.parts.length, records: data.length / this.width, data, stored: false };
    this.know(part);
    this.memory.use(part);
    return part.index;
  }
  /** Parts that the store has. @param records of each */
  inStore(records: readonly number[]): void {
    for (const n of records) this.know({ index: this.parts.length, records: n, data: undefined, stored: true });
  }
  /** The store has a part from now on. */
  stored(index: number): void {
    const part = this.parts[index];
    if (!part) return;
    part.stored = true;
    this.memory.release();
  }
  /** Takes all of it here, whatever its size: the store is about to lose it. @throws Refusal when it has already */
  async hold(): Promise<void> {
    for (const p of this.parts) p.stored = false;
    for (let i = 0; i < this.parts.length; i++) if (!this.parts[i]!.data) await this.bring(i, this.count);
  }
  forget(): void {
    for (const p of this.parts) this.memory.drop(p);
  }
  private know(part: Part): void {
    this.parts.push(part);
    this.firsts.push(this.count);
    this.count += part.records;
  }

  /** One record. @throws Refusal when the run does not reach it, or the store has lost it */
  async record(i: number): Promise<Float64Array> {
    for await (const piece of this.pieces(i, 1)) return piece.slice(0, this.width);
    throw missing('record-missing', 'The run does not reach that time.', 'Choose an earlier time, or run it again.');
  }

  /**
   * The records from one on, up to `most`, in pieces that are read at once.
   * @throws Refusal when the store has lost them
   */
  async *pieces(from: number, most = this.count - from): AsyncGenerator<Float64Array> {
    const to = Math.min(this.count, from + most);
    for (let i = this.partOf(from); i < this.parts.length && this.firsts[i]! < to; i++) {
      const held = this.parts[i]!.data,
        first = this.firsts[i]!;
      if (held) this.memory.use(this.parts[i]!);
      const data = held ?? (await this.bring(i, to));
      const end = (Math.min(to, first + this.parts[i]!.records) - first) * this.width;
      for (let p = Math.max(0, from - first) * this.width; p < end; p += PIECE * this.width)
        yield data.subarray(p, Math.min(end, p + PIECE * this.width));
    }
  }

  private partOf(record: number): number {
    let lo = 0,
      hi = this.parts.length - 1;
    while (lo < hi) {
      const mid = (lo + hi + 1) >> 1;
      if (this.firsts[mid]! <= record) lo = mid;
      else hi = mid - 1;
    }
    return lo;
  }

  /** Fetches a part, and the next that are wanted with it. */
  private async bring(i: number, to: number): Promise<Float64Array> {
    let last = i;
    for (
      let bytes = 8 * this.width * this.parts[i]!.records;
      bytes < AT_ONCE && last + 1 < this.parts.length && this.firsts[last + 1]! < to && !this.parts[last + 1]!.data;
      last++
    )
      bytes += 8 * this.width * this.parts[last + 1]!.records;
    let wanted: Float64Array | undefined;
    for (const { index, data } of await this.fetch(this.run, i, last)) {
      const part = this.parts[index];
      if (!part || part.records * this.width !== data.length) continue;
      if (index === i) wanted = data;
      if (part.data) continue;
      part.data = data;
      this.memory.use(part);
    }
    if (!wanted) throw missing('run-missing', 'The states of this run are not in the store any more.', 'Run it again.');
    return wanted;
  }
}
