/** Vectors of one length, one behind the other in a memory. */
import { KernelMemory } from './memory';

export class Vectors {
  private used = 0;
  /** @param from where they begin @param room numbers there are for them */
  constructor(
    readonly memory: KernelMemory,
    private readonly from: number,
    private readonly room: number,
    readonly length: number,
  ) {}

  /** So many of them in a memory of their own. */
  static alone(length: number, count: number): Vectors {
    const memory = new KernelMemory(length * count);
    return new Vectors(memory, memory.take(length * count), length * count, length);
  }

  /** The next one. @throws RangeError when there is no room */
  take(): Float64Array {
    return this.row(1)[0]!;
  }
  /** The next so many, one behind the other. */
  row(count: number): Float64Array[] {
    const { memory, from, room, length, used } = this;
    if (used + count * length > room) throw new RangeError('There is no room for so many vectors.');
    this.used += count * length;
    return Array.from({ length: count }, (_, i) => {
      const at = from + used + i * length;
      return memory.numbers.subarray(at, at + length);
    });
  }
}

/** Where a vector of a memory begins there, in numbers. */
export const placeOf = (v: Float64Array): number => v.byteOffset >> 3;
