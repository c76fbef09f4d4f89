/** Memory that many small kernels share: one of its own for each would be a page each. */
import { KernelMemory } from './memory';

/** Numbers in a page of the pool; what is not touched of it costs nothing. */
const PAGE = 1 << 20;
let current: KernelMemory | undefined;

/** A memory with room for so many numbers; pages that no kernel uses any more are collected. */
export function sharedMemory(count: number): KernelMemory {
  if (!current || current.left < count) current = new KernelMemory(Math.max(PAGE, count));
  return current;
}
