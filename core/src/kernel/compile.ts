/** Expressions compiled to WebAssembly. The same operations in the same order as in plain JavaScript, and so the same numbers to the last bit. */
import type { Ex } from '../expressions/arithmetic';
import { BY_INDEX } from '../expressions/functions';
import { type Graph, OP, type Outside, outputsOf } from '../expressions/graph';
import { type Kernel, type Store, plainKernel } from '../expressions/plain';
import { type Body, Bytes, CODE, type Imported, TYPE, moduleOf } from './bytes';
import { BENCH, type KernelMemory } from './memory';
import { type Schedule, schedule } from './schedule';
import { compiling, noteFailure, webAssembly } from './webassembly';

/** Operations that are one instruction after their operands. */
const INSTRUCTION: Readonly<Record<number, number>> = {
  [OP.negate]: CODE.neg,
  [OP.add]: CODE.add,
  [OP.subtract]: CODE.sub,
  [OP.multiply]: CODE.mul,
  [OP.divide]: CODE.div,
  [OP.root]: CODE.sqrt,
  [OP.size]: CODE.abs,
  [OP.least]: CODE.min,
  [OP.most]: CODE.max,
  [OP.less]: CODE.less,
};
/** Signatures: of the parts and the whole, of functions of one and of two numbers, of calls. */
const SIGNATURE = { part: 0, one: 1, two: 2, call: 3 } as const;

/** Local of the scratch. */
const SCRATCH = 0;

/** Writes the code of one kernel. */
class Writer {
  private code = new Bytes();
  private local = new Map<Ex, number>();
  /** Imported functions, in the order in which they are first used. */
  readonly imports: Imported[] = [];

  constructor(
    private readonly g: Graph,
    private readonly bases: number,
    /** Whether the scratch is a parameter, the first of all. */
    private readonly scratched: boolean,
    private readonly plan: Schedule,
    /** Where in the scratch the arguments of each call lie; its outputs follow. */
    private readonly callAt: readonly number[],
  ) {
    // numbers of imports must be known before functions are numbered
    const functions = new Set<number>();
    g.op.forEach((op, x) => op === OP.apply && functions.add(g.c[x]!));
    for (const f of functions) this.imports.push({ name: `f${f}`, signature: BY_INDEX[f]!.args === 1 ? SIGNATURE.one : SIGNATURE.two });
    if (g.calls.length > 0) this.imports.push({ name: 'c', signature: SIGNATURE.call });
  }

  private importOf(name: string): number {
    return this.imports.findIndex((i) => i.name === name);
  }
  /** Local of a base; the scratch, where there is one, comes first. */
  private base(k: number): number {
    return this.scratched ? k + 1 : k;
  }
  /** Parameters of all functions. */
  private get parameters(): number {
    return this.base(this.bases);
  }
  /** Reads a number of the memory. @param base its local */
  private load(offset: number, base: number): void {
    this.code
      .byte(CODE.get)
      .unsigned(base)
      .byte(CODE.loadFloat)
      .byte(3)
      .unsigned(8 * offset);
  }
  private storeInto(offset: number): void {
    this.code
      .byte(CODE.storeFloat)
      .byte(3)
      .unsigned(8 * offset);
  }

  /** Leaves the value of an expression on the stack. */
  private value(x: Ex): void {
    if (this.plan.part[x]! < 0) return this.compute(x);
    const at = this.local.get(x);
    if (at !== undefined) return void this.code.byte(CODE.get).unsigned(at);
    // kept by an earlier part
    this.load(this.plan.slot[x]!, SCRATCH);
    this.code.byte(CODE.tee).unsigned(this.newLocal(x));
  }
  private newLocal(x: Ex): number {
    const at = this.parameters + this.local.size;
    this.local.set(x, at);
    return at;
  }

  private compute(x: Ex): void {
    const { g } = this,
      a = g.a[x]!,
      b = g.b[x]!,
      c = g.c[x]!;
    switch (g.op[x]) {
      case OP.constant:
        return void this.code.byte(CODE.f64).float(g.value[x]!);
      case OP.load:
        return this.load(b, this.base(a));
      case OP.choose:
        this.value(b);
        this.value(c);
        this.compute(a);
        return void this.code.byte(CODE.select);
      case OP.apply:
        this.value(a);
        if (BY_INDEX[c]!.args === 2) this.value(b);
        return void this.code.byte(CODE.call).unsigned(this.importOf(`f${c}`));
      case OP.output:
        return this.load(this.callAt[g.a[a]!]! + g.calls[g.a[a]!]!.args.length + b, SCRATCH);
      default:
        this.value(a);
        if (b >= 0) this.value(b);
        this.code.byte(INSTRUCTION[g.op[x]!]!);
    }
  }

  /** Hands the arguments of a call over and lets it run. */
  private callOutside(x: Ex): void {
    const k = this.g.a[x]!;
    this.g.calls[k]!.args.forEach((y, i) => {
      this.code.byte(CODE.get).unsigned(SCRATCH);
      this.value(y);
      this.storeInto(this.callAt[k]! + i);
    });
    this.code.byte(CODE.i32).signed(k).byte(CODE.call).unsigned(this.importOf('c'));
  }

  private keep(x: Ex): void {
    if (this.g.op[x] === OP.call) return this.callOutside(x);
    const slot = this.plan.slot[x]!;
    if (slot >= 0) this.code.byte(CODE.get).unsigned(SCRATCH);
    this.compute(x);
    const at = this.newLocal(x);
    if (slot < 0) return void this.code.byte(CODE.set).unsigned(at);
    this.code.byte(CODE.tee).unsigned(at);
    this.storeInto(slot);
  }

  private body(write: () => void): Body {
    this.code = new Bytes(1024);
    this.local = new Map();
    write();
    return { signature: SIGNATURE.part, locals: this.local.size, code: this.code };
  }

  /** One function for each part, then the results, then the whole: it turns places into addresses and calls the others. */
  bodies(stores: readonly Store[]): Body[] {
    const parts = this.plan.parts.map((kept, p) =>
      this.body(() => {
        kept.forEach((x) => this.keep(x));
        if (p < this.plan.parts.length - 1) return;
        for (const s of stores) {
          this.code.byte(CODE.get).unsigned(this.base(s.base));
          this.value(s.x);
          this.storeInto(s.offset);
        }
      }),
    );
    const whole = this.body(() =>
      parts.forEach((_, p) => {
        for (let k = 0; k < this.parameters; k++) this.code.byte(CODE.get).unsigned(k).byte(CODE.i32).signed(3).byte(CODE.shiftLeft);
        this.code.byte(CODE.call).unsigned(this.imports.length + p);
      }),
    );
    return [...parts, whole];
  }
}

/** More numbers than a kernel of this graph needs in its memory beside what it loads and stores. */
export const mostScratch = (g: Graph): number => g.calls.reduce((n, { outside }) => n + outside.args + outputsOf(outside), g.nodes);

/** Compiled code: it takes the place of its scratch first, where it has one, and then its bases. */
export interface RawKernel {
  readonly code: Kernel;
  readonly scratched: boolean;
}

/** A kernel to be put into any memory: compiled once, whatever memories it works in. */
export class CompiledKernel {
  private order: Schedule | undefined;
  private readonly made = new WeakMap<KernelMemory, Kernel>();
  private readonly instances = new WeakMap<KernelMemory, Kernel>();
  private module: object | undefined;

  /** @param bases how many bases the loads and stores refer to */
  constructor(
    private readonly g: Graph,
    private readonly stores: readonly Store[],
    private readonly bases: number,
  ) {}

  private get plan(): Schedule {
    return (this.order ??= schedule(this.g, this.stores));
  }
  /** Where in the scratch the arguments of each call lie, behind what passes between functions; and where it ends. */
  private get callAt(): { places: readonly number[]; end: number } {
    let end = this.plan.slots;
    const places = this.g.calls.map(({ outside }) => {
      const at = end;
      end += outside.args + outputsOf(outside);
      return at;
    });
    return { places, end };
  }
  /** Whether it calls functions outside, which are told where it works. */
  get calls(): boolean {
    return this.g.calls.length > 0;
  }
  /** Numbers it needs beside what it loads and stores. */
  get scratch(): number {
    return this.callAt.end;
  }

  /**
   * The kernel at work in a memory: where small kernels work one at a time, or with scratch of its own.
   * @throws RangeError where there is no room for that
   */
  in(memory: KernelMemory): Kernel {
    let kernel = this.made.get(memory);
    if (!kernel) this.made.set(memory, (kernel = this.at(memory, this.scratch > BENCH ? memory.take(this.scratch) : 0)));
    return kernel;
  }

  /** The same for one of those that name what is called themselves. */
  calling(memory: KernelMemory, outsides: readonly Outside[]): Kernel {
    return this.at(memory, this.scratch > BENCH ? memory.take(this.scratch) : 0, outsides);
  }

  /** The kernel at work in a memory, with its scratch at a place there. @param outsides what is called, in the place of what the graph names */
  at(memory: KernelMemory, scratch: number, outsides?: readonly Outside[]): Kernel {
    const raw = this.raw(memory, scratch, outsides);
    if (!raw) return plainKernel(this.g, this.stores, memory.numbers, outsides);
    return raw.scratched ? withScratch(raw.code, this.bases, scratch) : raw.code;
  }

  /** Its code for a memory; undefined where there is none. @param scratch where it will be, for calls of outside functions @param outsides see `at` */
  raw(memory: KernelMemory, scratch: number, outsides: readonly Outside[] = this.g.calls.map((c) => c.outside)): RawKernel | undefined {
    const { g } = this,
      { places, end } = this.callAt;
    const module = memory.compiled && this.compiled();
    if (!module) return undefined;
    const call = (k: number) => {
      const outside = outsides[k]!,
        from = scratch + places[k]!;
      outside.at(memory.numbers, from, memory.numbers, from + outside.args);
    };
    const functions = Object.fromEntries(BY_INDEX.map((f) => [`f${f.index}`, f.at]));
    // what calls nothing outside is the same at every place of a memory
    const known = g.calls.length === 0 ? this.instances.get(memory) : undefined,
      code = known ?? (new webAssembly!.Instance(module, { e: { m: memory.compiled, c: call, ...functions } }).exports.f as Kernel);
    this.instances.set(memory, code);
    return { code, scratched: end > 0 };
  }

  /** Its code; undefined where none can be compiled. */
  private compiled(): object | undefined {
    if (!webAssembly || compiling.refused) return undefined;
    try {
      return (this.module ??= this.compile());
    } catch (error) {
      noteFailure(error);
      return undefined;
    }
  }

  private compile(): object {
    const { g, stores, plan } = this,
      { places, end } = this.callAt,
      writer = new Writer(g, this.bases, end > 0, plan, places),
      bodies = writer.bodies(stores);
    const bytes = moduleOf(
      [
        { takes: Array.from({ length: this.bases + (end > 0 ? 1 : 0) }, () => TYPE.i32), gives: [] },
        { takes: [TYPE.f64], gives: [TYPE.f64] },
        { takes: [TYPE.f64, TYPE.f64], gives: [TYPE.f64] },
        { takes: [TYPE.i32], gives: [] },
      ],
      writer.imports,
      bodies,
    );
    return new webAssembly!.Module(bytes);
  }
}

/** A kernel that is handed its scratch first. Calls written out are quicker than bound functions. */
function withScratch(kernel: Kernel, bases: number, scratch: number): Kernel {
  if (bases === 2) return (a, b) => kernel(scratch, a!, b!);
  if (bases === 4) return (a, b, c, d) => kernel(scratch, a!, b!, c!, d!);
  return kernel.bind(undefined, scratch);
}

/** A kernel in one memory. */
export const compileKernel = (g: Graph, stores: readonly Store[], bases: number, memory: KernelMemory): Kernel =>
  new CompiledKernel(g, stores, bases).in(memory);
