/** Expressions evaluated in plain JavaScript: what compiled code is compared with, and what takes its place where there is none. */
import type { Ex } from './arithmetic';
import { BY_INDEX } from './functions';
import { Graph, OP, type Outside, outputsOf } from './graph';

/** Where a result goes: to an offset from a base. */
export interface Store {
  base: number;
  offset: number;
  x: Ex;
}

/** Expressions made ready: reads what they load and writes the results. Bases are places in the memory, counted in numbers. */
export type Kernel = (...bases: number[]) => void;

/** Expressions of a graph, evaluated one after the other. */
export class Plain {
  private readonly place: Int32Array;
  private readonly values: Float64Array;
  private readonly op: Int32Array;
  private readonly a: Int32Array;
  private readonly b: Int32Array;
  private readonly c: Int32Array;
  private readonly calls: readonly OutsideCall[];
  /** Places of the arguments of each call. */
  private readonly sources: readonly Int32Array[];

  /** @param outsides what is called, in the place of what the graph names */
  constructor(g: Graph, of: readonly Ex[], outsides: readonly Outside[] = g.calls.map((c) => c.outside)) {
    const nodes = g.needed(of),
      place = (this.place = new Int32Array(g.nodes).fill(-1));
    nodes.forEach((x, i) => (place[x] = i));
    this.values = new Float64Array(nodes.length);
    this.op = Int32Array.from(nodes, (x) => g.op[x]!);
    this.a = new Int32Array(nodes.length);
    this.b = new Int32Array(nodes.length);
    this.c = new Int32Array(nodes.length);
    nodes.forEach((x, i) => this.operands(g, x, i));
    this.calls = outsides.map((outside) => {
      const x = new Float64Array(outside.args),
        out = new Float64Array(outputsOf(outside));
      return { x, out, run: () => outside.at(x, 0, out, 0) };
    });
    this.sources = g.calls.map(({ args }) => Int32Array.from(args, (x) => place[x]!));
  }

  private operands(g: Graph, x: Ex, i: number): void {
    const { place, a, b, c } = this,
      at = (y: Ex) => (y < 0 ? 0 : place[y]!);
    switch (g.op[x]) {
      case OP.constant:
        this.values[i] = g.value[x]!;
        return;
      case OP.load:
      case OP.call:
        a[i] = g.a[x]!;
        b[i] = g.b[x]!;
        return;
      case OP.output:
        a[i] = g.a[g.a[x]!]!;
        b[i] = g.b[x]!;
        return;
      default:
        a[i] = at(g.a[x]!);
        b[i] = at(g.b[x]!);
        c[i] = g.op[x] === OP.apply ? g.c[x]! : at(g.c[x]!);
    }
  }

  /** The value of one of the expressions, after `evaluate`. */
  value(x: Ex): number {
    return this.values[this.place[x]!]!;
  }

  /** @param bases places in the memory to which loads refer */
  evaluate(memory: Float64Array, bases: ArrayLike<number>): void {
    const { values, op, a, b, c } = this;
    for (let i = 0; i < values.length; i++) {
      const x = values[a[i]!]!,
        y = values[b[i]!]!;
      switch (op[i]) {
        case OP.load:
          values[i] = memory[bases[a[i]!]! + b[i]!]!;
          break;
        case OP.negate:
          values[i] = -x;
          break;
        case OP.add:
          values[i] = x + y;
          break;
        case OP.subtract:
          values[i] = x - y;
          break;
        case OP.multiply:
          values[i] = x * y;
          break;
        case OP.divide:
          values[i] = x / y;
          break;
        case OP.root:
          values[i] = Math.sqrt(x);
          break;
        case OP.size:
          values[i] = Math.abs(x);
          break;
        case OP.least:
          values[i] = Math.min(x, y);
          break;
        case OP.most:
          values[i] = Math.max(x, y);
          break;
        case OP.less:
          values[i] = x < y ? 1 : 0;
          break;
        case OP.choose:
          values[i] = x === 1 ? y : values[c[i]!]!;
          break;
        case OP.apply:
          values[i] = BY_INDEX[c[i]!]!.at(x, y);
          break;
        case OP.call:
          this.call(a[i]!);
          break;
        case OP.output:
          values[i] = this.calls[a[i]!]!.out[b[i]!]!;
      }
    }
  }

  private call(k: number): void {
    const call = this.calls[k]!,
      from = this.sources[k]!;
    for (let i = 0; i < from.length; i++) call.x[i] = this.values[from[i]!]!;
    call.run();
  }
}

/** A call of an outside function with room of its own. */
interface OutsideCall {
  readonly x: Float64Array;
  readonly out: Float64Array;
  run(): void;
}

/** @param memory to which the bases refer @param outsides see `Plain` */
export function plainKernel(g: Graph, stores: readonly Store[], memory: Float64Array, outsides?: readonly Outside[]): Kernel {
  const plain = new Plain(
    g,
    stores.map((s) => s.x),
    outsides,
  );
  return (...bases) => {
    plain.evaluate(memory, bases);
    for (const s of stores) memory[bases[s.base]! + s.offset] = plain.value(s.x);
  };
}

/** A function of one number, by its expression. */
export function asFunction(express: (g: Graph, x: Ex) => Ex): (x: number) => number {
  const g = new Graph(),
    out = express(g, g.load(0, 0)),
    plain = new Plain(g, [out]),
    memory = new Float64Array(1);
  return (x) => {
    memory[0] = x;
    plain.evaluate(memory, [0]);
    return plain.value(out);
  };
}
