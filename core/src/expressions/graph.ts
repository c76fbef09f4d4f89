/**
 * Expressions as one graph. An equation is stated in it once; its derivatives, its zeros and the code that evaluates it are made from it by program.
 * Equal expressions are one node, and what is known beforehand is folded (0·x, 1·x, x − x): what cannot differ from zero is the constant 0, and all
 * that belongs to it falls away. The operands of a node have smaller numbers than it.
 */
import type { Arithmetic, Ex } from './arithmetic';
import { FUNCTIONS, type FunctionName } from './functions';

/** What a node does. `test` nodes are conditions, which only `choose` takes. */
export const OP = {
  constant: 0,
  load: 1,
  negate: 2,
  add: 3,
  subtract: 4,
  multiply: 5,
  divide: 6,
  root: 7,
  size: 8,
  least: 9,
  most: 10,
  less: 11,
  choose: 12,
  apply: 13,
  call: 14,
  output: 15,
} as const;

/**
 * Code that is no expression: geometry of contact, a tyre. It gives its values with their first and second derivatives by the arguments.
 * A third derivative is refused.
 */
export interface Outside {
  readonly name: string;
  readonly args: number;
  readonly values: number;
  /** @param x arguments, from `at` on @param out for each value: the value, its gradient, its Hessian row by row */
  at(x: Float64Array, at: number, out: Float64Array, to: number): void;
  /** The table that it reads; order −1: its integral. */
  readonly table?: { readonly of: object; readonly order: 0 | -1 };
}
/** A call of which only its shape is known: what is called is named where the code is put to work (of a curve, its own). */
export const unnamed = (name: string, args: number, values: number): Outside => ({
  name,
  args,
  values,
  at() {
    throw new Error(`Nothing has been named for ${name}.`);
  },
});
/** Numbers that an outside function writes. */
export const outputsOf = ({ args, values }: Outside): number => values * (1 + args + args * args);

const NONE = -1;

export class Graph implements Arithmetic<FunctionName> {
  readonly op: number[] = [];
  /** Operands; of a load the base and the offset, of an application its arguments and its function, of an output its call and its number. */
  readonly a: number[] = [];
  readonly b: number[] = [];
  readonly c: number[] = [];
  /** Of constants. */
  readonly value: number[] = [];
  /** Calls of outside functions, by the operand of their nodes. */
  readonly calls: { readonly outside: Outside; readonly args: readonly Ex[] }[] = [];

  private readonly constants = new Map<number, Ex>();
  private table = new Int32Array(64).fill(NONE);

  readonly zero = this.constant(0);
  readonly one = this.constant(1);

  get nodes(): number {
    return this.op.length;
  }

  private push(op: number, a: number, b: number, c: number, value: number): Ex {
    this.op.push(op);
    this.a.push(a);
    this.b.push(b);
    this.c.push(c);
    return this.value.push(value) - 1;
  }

  /** The node with these operands: the one there is, or a new one. */
  private node(op: number, a: number = NONE, b: number = NONE, c: number = NONE): Ex {
    const mask = this.table.length - 1;
    let at = hash(op, a, b, c) & mask;
    for (; this.table[at] !== NONE; at = (at + 1) & mask) {
      const i = this.table[at]!;
      if (this.op[i] === op && this.a[i] === a && this.b[i] === b && this.c[i] === c) return i;
    }
    const made = this.push(op, a, b, c, 0);
    this.table[at] = made;
    if (2 * this.nodes > this.table.length) this.grow();
    return made;
  }

  private grow(): void {
    this.table = new Int32Array(2 * this.table.length).fill(NONE);
    const mask = this.table.length - 1;
    for (let i = 0; i < this.nodes; i++) {
      if (this.op[i] === OP.constant) continue;
      let at = hash(this.op[i]!, this.a[i]!, this.b[i]!, this.c[i]!) & mask;
      while (this.table[at] !== NONE) at = (at + 1) & mask;
      this.table[at] = i;
    }
  }

  /** @throws RangeError for what is no number */
  constant(value: number): Ex {
    if (Number.isNaN(value)) throw new RangeError('A constant of an expression is not a number.');
    const v = value === 0 ? 0 : value; // −0 is 0
    let i = this.constants.get(v);
    if (i === undefined) this.constants.set(v, (i = this.push(OP.constant, NONE, NONE, NONE, v)));
    return i;
  }
  /** A number that is read when the expression is evaluated: at an offset from one of the bases that are then given. */
  load(base: number, offset: number): Ex {
    return this.node(OP.load, base, offset);
  }

  /** The value of a constant. */
  known(x: Ex): number | undefined {
    return this.op[x] === OP.constant ? this.value[x] : undefined;
  }
  /** Two constants taken together; what is no number stays a node. */
  private folded(op: number, x: Ex, y: Ex, f: (x: number, y: number) => number): Ex | undefined {
    const p = this.known(x),
      q = this.known(y);
    if (p === undefined || q === undefined) return undefined;
    const v = f(p, q);
    return Number.isNaN(v) ? this.node(op, x, y) : this.constant(v);
  }

  negate(x: Ex): Ex {
    const v = this.known(x);
    if (v !== undefined) return this.constant(-v);
    if (this.op[x] === OP.negate) return this.a[x]!;
    if (this.op[x] === OP.subtract) return this.subtract(this.b[x]!, this.a[x]!);
    return this.node(OP.negate, x);
  }
  add(x: Ex, y: Ex): Ex {
    const folded = this.folded(OP.add, x, y, (p, q) => p + q);
    if (folded !== undefined) return folded;
    if (x === this.zero) return y;
    if (y === this.zero) return x;
    if (this.op[y] === OP.negate) return this.subtract(x, this.a[y]!);
    if (this.op[x] === OP.negate) return this.subtract(y, this.a[x]!);
    return this.node(OP.add, Math.min(x, y), Math.max(x, y));
  }
  subtract(x: Ex, y: Ex): Ex {
    const folded = this.folded(OP.subtract, x, y, (p, q) => p - q);
    if (folded !== undefined) return folded;
    if (y === this.zero) return x;
    if (x === this.zero) return this.negate(y);
    if (x === y) return this.zero;
    if (this.op[y] === OP.negate) return this.add(x, this.a[y]!);
    return this.node(OP.subtract, x, y);
  }
  multiply(x: Ex, y: Ex): Ex {
    const folded = this.folded(OP.multiply, x, y, (p, q) => p * q);
    if (folded !== undefined) return folded;
    if (x === this.zero || y === this.zero) return this.zero;
    if (x === this.one) return y;
    if (y === this.one) return x;
    if (this.known(x) === -1) return this.negate(y);
    if (this.known(y) === -1) return this.negate(x);
    if (this.op[x] === OP.negate) return this.negate(this.multiply(this.a[x]!, y));
    if (this.op[y] === OP.negate) return this.negate(this.multiply(x, this.a[y]!));
    return this.node(OP.multiply, Math.min(x, y), Math.max(x, y));
  }
  divide(x: Ex, y: Ex): Ex {
    const folded = this.folded(OP.divide, x, y, (p, q) => p / q);
    if (folded !== undefined) return folded;
    if (y === this.one) return x;
    // 0/y stays: it is no number where y is 0
    if (this.op[x] === OP.negate) return this.negate(this.divide(this.a[x]!, y));
    return this.node(OP.divide, x, y);
  }
  square(x: Ex): Ex {
    return this.multiply(x, x);
  }
  root(x: Ex): Ex {
    const v = this.known(x);
    return v !== undefined && v >= 0 ? this.constant(Math.sqrt(v)) : this.node(OP.root, x);
  }
  size(x: Ex): Ex {
    const v = this.known(x);
    return v !== undefined ? this.constant(Math.abs(v)) : this.node(OP.size, x);
  }
  least(x: Ex, y: Ex): Ex {
    return x === y ? x : (this.folded(OP.least, x, y, Math.min) ?? this.node(OP.least, x, y));
  }
  most(x: Ex, y: Ex): Ex {
    return x === y ? x : (this.folded(OP.most, x, y, Math.max) ?? this.node(OP.most, x, y));
  }
  /** The one or the other: `yes` where x < y, else `no` (also where either is no number). */
  choose(x: Ex, y: Ex, yes: Ex, no: Ex): Ex {
    if (yes === no) return yes;
    const p = this.known(x),
      q = this.known(y);
    if (p !== undefined && q !== undefined) return p < q ? yes : no;
    return this.node(OP.choose, this.node(OP.less, x, y), yes, no);
  }
  /** An elementary function. @param y the second argument of those that have two */
  apply(name: FunctionName, x: Ex, y: Ex = NONE): Ex {
    const { index, at } = FUNCTIONS[name],
      p = this.known(x),
      q = y === NONE ? 0 : this.known(y);
    const v = p === undefined || q === undefined ? NaN : at(p, q);
    return Number.isNaN(v) ? this.node(OP.apply, x, y, index) : this.constant(v);
  }
  /** Values of an outside function. @returns its outputs in the order in which it writes them */
  call(outside: Outside, args: readonly Ex[]): Ex[] {
    if (args.length !== outside.args) throw new RangeError(`${outside.name} takes ${outside.args} values.`);
    let k = this.calls.findIndex((c) => c.outside === outside && c.args.every((x, i) => x === args[i]));
    if (k < 0) k = this.calls.push({ outside, args }) - 1;
    const call = this.node(OP.call, k);
    return Array.from({ length: outputsOf(outside) }, (_, i) => this.node(OP.output, call, i));
  }

  /** Operands of a node, in order. */
  operands(x: Ex): readonly Ex[] {
    switch (this.op[x]) {
      case OP.constant:
      case OP.load:
        return [];
      case OP.call:
        return this.calls[this.a[x]!]!.args;
      case OP.output:
        return [this.a[x]!];
      case OP.choose:
        return [this.a[x]!, this.b[x]!, this.c[x]!];
      default:
        return this.b[x]! === NONE ? [this.a[x]!] : [this.a[x]!, this.b[x]!];
    }
  }

  /** Takes each operand of a node in turn, as `operands` lists them. */
  eachOperand(x: Ex, take: (operand: Ex) => void): void {
    switch (this.op[x]) {
      case OP.constant:
      case OP.load:
        return;
      case OP.call:
        return this.calls[this.a[x]!]!.args.forEach(take);
      case OP.output:
        return take(this.a[x]!);
      case OP.choose:
        take(this.a[x]!);
        take(this.b[x]!);
        return take(this.c[x]!);
      default:
        take(this.a[x]!);
        if (this.b[x]! !== NONE) take(this.b[x]!);
    }
  }

  /** All nodes that expressions are made of, in order of evaluation. */
  needed(of: readonly Ex[]): Ex[] {
    const seen = new Uint8Array(this.nodes),
      mark = (x: Ex) => void (seen[x] = 1),
      out: Ex[] = [];
    of.forEach(mark);
    // operands have smaller numbers
    for (let i = this.nodes - 1; i >= 0; i--) if (seen[i]) this.eachOperand(i, mark);
    for (let i = 0; i < seen.length; i++) if (seen[i]) out.push(i);
    return out;
  }
}

function hash(op: number, a: number, b: number, c: number): number {
  let h = Math.imul(op + 1, 0x9e3779b1);
  h = Math.imul(h ^ (a + 0x7f4a7c15), 0x85ebca6b);
  h = Math.imul((h ^ (h >>> 15)) + b, 0xc2b2ae35);
  h = Math.imul((h ^ (h >>> 13)) + c, 0x27d4eb2f);
  return (h ^ (h >>> 16)) >>> 0;
}
