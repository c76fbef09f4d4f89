/** A kernel run over many instances, of which the bases stand in a table, in one call. Loops are compiled once for each number of bases. */
import type { Kernel } from '../expressions/plain';
import { type Body, Bytes, CODE, TYPE, moduleOf } from './bytes';
import type { CompiledKernel } from './compile';
import type { KernelMemory } from './memory';
import { compiling, noteFailure, webAssembly } from './webassembly';

/** Bases of instances, one after the other. @param bases of one */
export interface Table {
  readonly entries: Int32Array;
  readonly bases: number;
}

const SCRATCH = 0,
  AT = 1,
  COUNT = 2;

/** @param scratched whether the kernel is handed scratch, before its bases */
function code(bases: number, scratched: boolean): Body {
  const out = new Bytes(64 + 8 * bases);
  out.byte(CODE.loop).byte(0x40);
  if (scratched) out.byte(CODE.get).unsigned(SCRATCH);
  for (let k = 0; k < bases; k++)
    out
      .byte(CODE.get)
      .unsigned(AT)
      .byte(CODE.loadWhole)
      .byte(2)
      .unsigned(4 * k);
  out.byte(CODE.call).unsigned(0);
  out.byte(CODE.get).unsigned(AT);
  out
    .byte(CODE.i32)
    .signed(4 * bases)
    .byte(CODE.addWhole)
    .byte(CODE.set)
    .unsigned(AT);
  out.byte(CODE.get).unsigned(COUNT);
  out.byte(CODE.i32).signed(-1).byte(CODE.addWhole).byte(CODE.tee).unsigned(COUNT);
  out.byte(CODE.branchIf).unsigned(0).byte(CODE.end);
  return { signature: 1, whole: 0, locals: 0, code: out };
}

const modules = new Map<string, object>();
function moduleFor(bases: number, scratched: boolean): object | undefined {
  const key = `${bases},${scratched}`,
    whole = (count: number) => Array.from({ length: count }, () => TYPE.i32);
  try {
    const made =
      modules.get(key) ??
      new webAssembly!.Module(
        moduleOf(
          [
            { takes: whole(bases + (scratched ? 1 : 0)), gives: [] },
            { takes: whole(3), gives: [] },
          ],
          [{ name: 'f', signature: 0 }],
          [code(bases, scratched)],
        ),
      );
    modules.set(key, made);
    return made;
  } catch (error) {
    noteFailure(error);
    return undefined;
  }
}

/** @param entries of the table, which lie in this memory @param scratch where the kernel works */
export function loopOver(kernel: CompiledKernel, { entries, bases }: Table, memory: KernelMemory, scratch: number): () => void {
  const raw = webAssembly && !compiling.refused ? kernel.raw(memory, scratch) : undefined,
    module = raw && moduleFor(bases, raw.scratched),
    count = entries.length / bases;
  if (module) {
    const functions = { f: raw.code },
      run = new webAssembly!.Instance(module, { e: { m: memory.compiled, ...functions } }).exports.f as Kernel;
    return () => run(scratch, entries.byteOffset, count);
  }
  const one = kernel.at(memory, scratch),
    instances = Array.from({ length: count }, (_, i) => Array.from(entries.subarray(i * bases, (i + 1) * bases)));
  return () => instances.forEach((places) => one(...places));
}
