/** A kernel run over many instances, of which the bases stand in a table, in one call. Loops are compiled once for each number of bases. */
import type { Kernel } from '../expressions/plain';
import { type Body, Bytes, CODE, moduleOf } from './bytes';
import type { CompiledKernel } from './compile';
import type { KernelMemory } from './memory';
import { moduleFor, whole } from './modules';
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

const loopModule = (bases: number, scratched: boolean): object | undefined =>
  moduleFor(
    `loop ${bases},${scratched}`,
    [
      { takes: whole(bases + (scratched ? 1 : 0)), gives: [] },
      { takes: whole(3), gives: [] },
    ],
    [{ name: 'f', signature: 0 }],
    () => code(bases, scratched),
  );

/** Loops at work, by their kernels and memories: those of a kernel that calls nothing outside are the same at any place. */
const loops = new WeakMap<CompiledKernel, WeakMap<KernelMemory, Kernel>>();

/** A loop, and what it is to run over. */
export interface Loop {
  /** Takes the scratch, where the table begins (in bytes), and how many instances stand there. Undefined where there is no compiled code. */
  readonly code: Kernel | undefined;
  readonly scratch: number;
  readonly at: number;
  readonly count: number;
  readonly run: () => void;
}

/** @param entries of the table, which lie in this memory @param scratch where the kernel works */
export function loopOver(kernel: CompiledKernel, { entries, bases }: Table, memory: KernelMemory, scratch: number): Loop {
  const raw = webAssembly && !compiling.refused ? kernel.raw(memory, scratch) : undefined,
    module = raw && loopModule(bases, raw.scratched),
    count = entries.length / bases,
    at = entries.byteOffset;
  if (module) {
    const functions = { f: raw.code },
      made = loops.get(kernel) ?? new WeakMap<KernelMemory, Kernel>(),
      code = made.get(memory) ?? (new webAssembly!.Instance(module, { e: { m: memory.compiled, ...functions } }).exports.f as Kernel);
    loops.set(kernel, made);
    if (!kernel.calls) made.set(memory, code);
    return { code, scratch, at, count, run: () => code(scratch, at, count) };
  }
  const one = kernel.at(memory, scratch),
    instances = Array.from({ length: count }, (_, i) => Array.from(entries.subarray(i * bases, (i + 1) * bases)));
  return { code: undefined, scratch, at, count, run: () => instances.forEach((places) => one(...places)) };
}

/** Loops run one after the other by JavaScript, up to which that costs nothing; and in one function. */
const FEW = 12;
const PART = 400;

/** Loops one after the other, in one call. */
export function sequence(list: readonly Loop[], memory: KernelMemory): () => void {
  const byOne = () => {
    for (let i = 0; i < list.length; i++) list[i]!.run();
  };
  if (list.length <= FEW || list.some((l) => !l.code)) return byOne;
  const codes = [...new Set(list.map((l) => l.code!))],
    nth = new Map(codes.map((c, i) => [c, i])),
    parts = Array.from({ length: Math.ceil(list.length / PART) }, (_, p) => list.slice(p * PART, (p + 1) * PART)),
    body = (write: (out: Bytes) => void): Body => {
      const out = new Bytes(4096);
      write(out);
      return { signature: 1, whole: 0, locals: 0, code: out };
    };
  try {
    const module = new webAssembly!.Module(
        moduleOf(
          [
            { takes: whole(3), gives: [] },
            { takes: [], gives: [] },
          ],
          codes.map((_, i) => ({ name: `f${i}`, signature: 0 })),
          [
            ...parts.map((part) =>
              body((out) => {
                for (const { code: own, scratch, at, count } of part) {
                  for (const x of [scratch, at, count]) out.byte(CODE.i32).signed(x);
                  out.byte(CODE.call).unsigned(nth.get(own!)!);
                }
              }),
            ),
            body((out) => parts.forEach((_, p) => out.byte(CODE.call).unsigned(codes.length + p))),
          ],
        ),
      ),
      functions = Object.fromEntries(codes.map((c, i) => [`f${i}`, c]));
    return new webAssembly!.Instance(module, { e: { m: memory.compiled, ...functions } }).exports.f as () => void;
  } catch (error) {
    noteFailure(error);
    return byOne;
  }
}
