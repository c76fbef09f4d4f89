/** Expressions compiled to WebAssembly. The same operations in the same order as in plain JavaScript, and so the same numbers to the last bit. */
import type { Ex } from '../expressions/arithmetic';
import { BY_INDEX } from '../expressions/functions';
import { type Graph, OP, outputsOf } from '../expressions/graph';
import { type Kernel, type Store, plainKernel } from '../expressions/plain';
import { type Body, CODE, type Imported, TYPE, float, moduleOf, signed, unsigned } from './bytes';
import type { KernelMemory } from './memory';
import { type Schedule, schedule } from './schedule';
import { webAssembly } from './webassembly';

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

/** Writes the code of one kernel. */
class Writer {
  private code: number[] = [];
  private local = new Map<Ex, number>();
  /** Imported functions, in the order in which they are first used. */
  readonly imports: Imported[] = [];

  constructor(
    private readonly g: Graph,
    private readonly bases: number,
    private readonly plan: Schedule,
    private readonly scratch: number,
    /** Where the arguments of each call lie; its outputs follow. */
    private readonly callAt: readonly number[],
  ) {
    // numbers of imports must be known before functions are numbered
    const functions = new Set<number>();
    g.op.forEach((op, x) => op === OP.apply && functions.add(g.c[x]!));
    for (const f of functions) this.imports.push({ name: `f${f}`, signature: BY_INDEX[f]!.args === 1 ? SIGNATURE.one : SIGNATURE.two });
    if (g.calls.length > 0) this.imports.push({ name: 'c', signature: SIGNATURE.call });
  }

  private put(...bytes: readonly number[]): void {
    for (const b of bytes) this.code.push(b);
  }
  private importOf(name: string): number {
    return this.imports.findIndex((i) => i.name === name);
  }
  /** Reads a number of the memory. @param base its local; left out: at the beginning */
  private load(offset: number, base?: number): void {
    if (base === undefined) this.put(CODE.i32, 0);
    else this.put(CODE.get, ...unsigned(base));
    this.put(CODE.loadFloat, 3, ...unsigned(8 * offset));
  }
  private storeInto(offset: number): void {
    this.put(CODE.storeFloat, 3, ...unsigned(8 * offset));
  }

  /** Leaves the value of an expression on the stack. */
  private value(x: Ex): void {
    if (this.plan.part[x]! < 0) return this.compute(x);
    const at = this.local.get(x);
    if (at !== undefined) return this.put(CODE.get, ...unsigned(at));
    // kept by an earlier part
    this.load(this.scratch + this.plan.slot[x]!);
    this.put(CODE.tee, ...unsigned(this.newLocal(x)));
  }
  private newLocal(x: Ex): number {
    const at = this.bases + this.local.size;
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
        return this.put(CODE.f64, ...float(g.value[x]!));
      case OP.load:
        return this.load(b, a);
      case OP.choose:
        this.value(b);
        this.value(c);
        this.compute(a);
        return this.put(CODE.select);
      case OP.apply:
        this.value(a);
        if (BY_INDEX[c]!.args === 2) this.value(b);
        return this.put(CODE.call, ...unsigned(this.importOf(`f${c}`)));
      case OP.output:
        return this.load(this.callAt[g.a[a]!]! + g.calls[g.a[a]!]!.args.length + b);
      default:
        this.value(a);
        if (b >= 0) this.value(b);
        this.put(INSTRUCTION[g.op[x]!]!);
    }
  }

  /** Hands the arguments of a call over and lets it run. */
  private callOutside(x: Ex): void {
    const k = this.g.a[x]!;
    this.g.calls[k]!.args.forEach((y, i) => {
      this.put(CODE.i32, 0);
      this.value(y);
      this.storeInto(this.callAt[k]! + i);
    });
    this.put(CODE.i32, ...signed(k), CODE.call, ...unsigned(this.importOf('c')));
  }

  private keep(x: Ex): void {
    if (this.g.op[x] === OP.call) return this.callOutside(x);
    const slot = this.plan.slot[x]!;
    if (slot >= 0) this.put(CODE.i32, 0);
    this.compute(x);
    const at = this.newLocal(x);
    if (slot < 0) return this.put(CODE.set, ...unsigned(at));
    this.put(CODE.tee, ...unsigned(at));
    this.storeInto(this.scratch + slot);
  }

  private body(write: () => void): Body {
    this.code = [];
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
          this.put(CODE.get, ...unsigned(s.base));
          this.value(s.x);
          this.storeInto(s.offset);
        }
      }),
    );
    const whole = this.body(() =>
      parts.forEach((_, p) => {
        for (let base = 0; base < this.bases; base++) this.put(CODE.get, ...unsigned(base), CODE.i32, 3, CODE.shiftLeft);
        this.put(CODE.call, ...unsigned(this.imports.length + p));
      }),
    );
    return [...parts, whole];
  }
}

/** More numbers than a kernel of this graph needs in its memory beside what it loads and stores. */
export const mostScratch = (g: Graph): number => g.calls.reduce((n, { outside }) => n + outside.args + outputsOf(outside), g.nodes);

/** A kernel to be put into any memory. What it is made of is compiled once, unless it needs scratch, whose place stands in the code. */
export class CompiledKernel {
  private readonly plan: Schedule;
  private readonly made = new WeakMap<KernelMemory, Kernel>();
  private module: object | undefined;

  /** @param bases how many bases the loads and stores refer to */
  constructor(
    private readonly g: Graph,
    private readonly stores: readonly Store[],
    private readonly bases: number,
  ) {
    this.plan = schedule(g, stores);
  }

  /** The kernel at work in a memory. */
  in(memory: KernelMemory): Kernel {
    let kernel = this.made.get(memory);
    if (!kernel) this.made.set(memory, (kernel = this.put(memory)));
    return kernel;
  }

  private put(memory: KernelMemory): Kernel {
    const { g, stores, plan } = this;
    if (!memory.compiled || !webAssembly) return plainKernel(g, stores, memory.numbers);
    const own = plan.slots > 0 || g.calls.length > 0;
    const scratch = memory.take(plan.slots),
      callAt = g.calls.map(({ outside }) => memory.take(outside.args + outputsOf(outside)));
    const module = own ? this.compile(scratch, callAt) : (this.module ??= this.compile(scratch, callAt));
    const call = (k: number) => {
      const { outside } = g.calls[k]!;
      outside.at(memory.numbers, callAt[k]!, memory.numbers, callAt[k]! + outside.args);
    };
    const functions = Object.fromEntries(BY_INDEX.map((f) => [`f${f.index}`, f.at]));
    return new webAssembly.Instance(module, { e: { m: memory.compiled, c: call, ...functions } }).exports.f as Kernel;
  }

  private compile(scratch: number, callAt: readonly number[]): object {
    const { g, stores, plan, bases } = this,
      writer = new Writer(g, bases, plan, scratch, callAt),
      bodies = writer.bodies(stores);
    const bytes = moduleOf(
      [
        { takes: Array.from({ length: bases }, () => TYPE.i32), gives: [] },
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

/** A kernel in one memory. */
export const compileKernel = (g: Graph, stores: readonly Store[], bases: number, memory: KernelMemory): Kernel =>
  new CompiledKernel(g, stores, bases).in(memory);
