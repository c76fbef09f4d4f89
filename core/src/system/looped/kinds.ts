/** Instances of equations by what is the same for them: one compiled function, and a table of places, for each kind. */
import type { Graph } from '../../expressions/graph';
import type { Store } from '../../expressions/plain';
import { CompiledKernel } from '../../kernel/compile';
import { loopOver, sequence } from '../../kernel/loop';
import { BENCH, type KernelMemory } from '../../kernel/memory';

/** What is done for one kind, and where for each of its instances. */
interface Kind {
  readonly key: string;
  readonly make: () => CompiledKernel;
  readonly places: number[];
  readonly bases: number;
}
/** Kernels of kinds that have been met, the one met longest ago first. */
const KEPT = 400;
const kept = new Map<string, CompiledKernel>();

function kernelOf(key: string, make: () => CompiledKernel): CompiledKernel {
  const kernel = kept.get(key) ?? make();
  kept.delete(key);
  kept.set(key, kernel);
  if (kept.size > KEPT) kept.delete(kept.keys().next().value!);
  return kernel;
}

/** Where a table of so many entries lies. */
export type Tables = (count: number) => Int32Array;

export class Kinds {
  private readonly kinds: Kind[] = [];
  private readonly byKey = new Map<string, Kind>();
  /** @param inOrder instances follow on those before them: only neighbours are taken together */
  constructor(private readonly inOrder = false) {}

  /** @param places of its bases @param state what it does, on its own graph, where it is the first of its kind */
  add(key: string, { g, places }: { readonly g: Graph; readonly places: readonly number[] }, state: () => readonly Store[]): void {
    this.take(key, places, () => new CompiledKernel(g, state(), places.length));
  }
  /** The same with a kernel of its own making. */
  take(key: string, places: readonly number[], make: () => CompiledKernel): void {
    // where nothing is read and written nothing is done
    if (places.length === 0) return;
    const last = this.kinds.at(-1),
      known = this.inOrder ? (last?.key === key ? last : undefined) : this.byKey.get(key);
    if (known) return void known.places.push(...places);
    const kind = { key, make, places: [...places], bases: places.length };
    this.kinds.push(kind);
    this.byKey.set(key, kind);
  }
  /** How many kinds there are. */
  get different(): number {
    return this.byKey.size;
  }
  has(key: string): boolean {
    return this.byKey.has(key);
  }

  /** Entries of its tables, each begun at a whole number. */
  get entries(): number {
    return this.kinds.reduce((s, { places }) => s + 2 * Math.ceil(places.length / 2), 0);
  }
  /** Numbers that the largest needs beside those it is told of. */
  get scratch(): number {
    return this.kinds.reduce((most, { key, make }) => Math.max(most, kernelOf(key, make).scratch), 0);
  }

  /** All of them in one go. @param scratch where those work that need more room than small kernels have */
  made(memory: KernelMemory, tables: Tables, scratch: number): () => void {
    const runs = this.kinds.map(({ key, make, places, bases }) => {
      const entries = tables(places.length),
        kernel = kernelOf(key, make);
      entries.set(places);
      return loopOver(kernel, { entries, bases }, memory, kernel.scratch > BENCH ? scratch : 0);
    });
    return sequence(runs, memory);
  }
}
