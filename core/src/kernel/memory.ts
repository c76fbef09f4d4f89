/** A memory that compiled code and JavaScript share. It does not grow: what views it stays valid. */
import { type CompiledMemory, webAssembly } from './webassembly';

const PAGE = 65536;
/** Numbers at the start of every memory in which small kernels work, one at a time. */
export const BENCH = 1024;

export class KernelMemory {
  readonly numbers: Float64Array;
  /** Left out where there is no WebAssembly. */
  readonly compiled: CompiledMemory | undefined;
  private used = BENCH;

  /** @param size numbers for which there is room @param api left out: memory of JavaScript alone */
  constructor(size: number, api = webAssembly) {
    this.compiled = api && new api.Memory({ initial: Math.ceil((8 * (BENCH + size)) / PAGE) });
    this.numbers = this.compiled ? new Float64Array(this.compiled.buffer) : new Float64Array(BENCH + size);
  }

  /** Numbers for which there is room. */
  get left(): number {
    return this.numbers.length - this.used;
  }

  /** Room for so many numbers. @returns its place @throws RangeError when there is none */
  take(count: number): number {
    const at = this.used;
    if (at + count > this.numbers.length) throw new RangeError('The memory of the kernel is used up.');
    this.used += count;
    return at;
  }
}

/** Places one after the other, and how many numbers they take together. */
export function placed<K extends string>(sizes: Readonly<Record<K, number>>): { at: Readonly<Record<K, number>>; total: number } {
  let total = 0;
  const at = {} as Record<K, number>;
  for (const key of Object.keys(sizes) as K[]) {
    at[key] = total;
    total += sizes[key];
  }
  return { at, total };
}
