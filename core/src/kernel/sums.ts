/**
 * Sums of vectors with constant weights, over all their entries: out = Σ aₘ kₘ, or that times h, or y + h Σ aₘ kₘ, in loops compiled once for a list of
 * weights. The vectors kₘ lie one behind the other. The same operations in the same order as in plain JavaScript.
 */
import { type Body, Bytes, CODE, TYPE, moduleOf } from './bytes';
import type { KernelMemory } from './memory';
import { compiling, noteFailure, webAssembly } from './webassembly';

/** What becomes of a sum: nothing; it is multiplied by h; that is added to y. */
export type Form = 'bare' | 'scaled' | 'step';
export interface Weights {
  readonly form: Form;
  /** Number of a vector, and its weight. */
  readonly row: readonly (readonly [number, number])[];
}

/** Places are counted in numbers. @param k where the first of the vectors begins @param stride from one to the next @param n entries of each */
export type Sum = (out: number, y: number, k: number, stride: number, n: number, h: number) => void;

const OUT = 0,
  Y = 1,
  K = 2,
  STRIDE = 3,
  N = 4,
  H = 5;
/** Locals: how far the loop has come, in bytes; and from there on where each vector begins. */
const AT = 6;

/** The code of a loop over all entries: where its vectors begin, then what is done with their entries. */
class Loop {
  readonly code = new Bytes(256);
  constructor(private readonly vectors: readonly number[]) {}

  get(local: number): Bytes {
    return this.code.byte(CODE.get).unsigned(local);
  }
  private set(local: number): void {
    this.code.byte(CODE.set).unsigned(local);
  }
  private address(local: number): void {
    this.get(local);
    this.get(AT).byte(CODE.addWhole);
  }
  /** The entry of a vector of the row, by its position in the list. */
  entry(i: number): void {
    this.load(AT + 1 + i);
  }
  load(local: number): void {
    this.address(local);
    this.code.byte(CODE.loadFloat).byte(3).unsigned(0);
  }
  /** The whole function. @param each leaves the entry of the result on the stack */
  body(each: () => void): Body {
    const { code, vectors } = this;
    for (const local of [OUT, Y, N]) {
      this.get(local).byte(CODE.i32).signed(3).byte(CODE.shiftLeft);
      this.set(local);
    }
    vectors.forEach((m, i) => {
      this.get(STRIDE).byte(CODE.i32).signed(m).byte(CODE.multiplyWhole);
      this.get(K).byte(CODE.addWhole).byte(CODE.i32).signed(3).byte(CODE.shiftLeft);
      this.set(AT + 1 + i);
    });
    code.byte(CODE.loop).byte(0x40);
    this.address(OUT);
    each();
    code.byte(CODE.storeFloat).byte(3).unsigned(0);
    this.get(AT).byte(CODE.i32).signed(8).byte(CODE.addWhole).byte(CODE.tee).unsigned(AT);
    this.get(N).byte(CODE.lessWhole).byte(CODE.branchIf).unsigned(0).byte(CODE.end);
    return { signature: 0, whole: 1 + vectors.length, locals: 0, code };
  }
}

function sumLoop({ form, row }: Weights): Body {
  const loop = new Loop(row.map(([m]) => m)),
    { code } = loop;
  return loop.body(() => {
    if (form === 'step') loop.load(Y);
    if (form !== 'bare') loop.get(H);
    row.forEach(([, a], i) => {
      code.byte(CODE.f64).float(a);
      loop.entry(i);
      code.byte(CODE.mul);
      if (i > 0) code.byte(CODE.add);
    });
    if (form !== 'bare') code.byte(CODE.mul);
    if (form === 'step') code.byte(CODE.add);
  });
}

/** y + x (k₀ + z (k₁ + x (k₂ + …))) with z = 1 − x: dense output in the form of Hairer, Nørsett & Wanner, vol. I, sec. II.6. */
function nestedLoop(count: number): Body {
  const loop = new Loop(Array.from({ length: count }, (_, m) => m)),
    { code } = loop;
  return loop.body(() => {
    loop.load(Y);
    for (let i = 0; i < count; i++) {
      if (i % 2 === 0) loop.get(H);
      else {
        code.byte(CODE.f64).float(1);
        loop.get(H).byte(CODE.sub);
      }
      loop.entry(i);
    }
    for (let i = 0; i < count; i++) code.byte(CODE.mul).byte(CODE.add);
  });
}

/** In plain JavaScript. */
function plainSum({ numbers }: KernelMemory, { form, row }: Weights): Sum {
  return (out, y, k, stride, n, h) => {
    for (let j = 0; j < n; j++) {
      let s = row[0]![1] * numbers[k + stride * row[0]![0] + j]!;
      for (let i = 1; i < row.length; i++) s += row[i]![1] * numbers[k + stride * row[i]![0] + j]!;
      numbers[out + j] = form === 'bare' ? s : form === 'scaled' ? h * s : numbers[y + j]! + h * s;
    }
  };
}

/** The same in plain JavaScript. */
function plainNested({ numbers }: KernelMemory, count: number): Sum {
  return (out, y, k, stride, n, x) => {
    const z = 1 - x;
    for (let j = 0; j < n; j++) {
      let s = numbers[k + stride * (count - 1) + j]!;
      for (let i = count - 2; i >= 0; i--) s = numbers[k + stride * i + j]! + (i % 2 === 0 ? z : x) * s;
      numbers[out + j] = numbers[y + j]! + x * s;
    }
  };
}

/** Sums that belong together, and one nested polynomial after them. */
export class Sums {
  private module: object | undefined;
  private readonly made = new WeakMap<KernelMemory, readonly Sum[]>();
  /** @param nested how many vectors the polynomial is made of; it is the last of the sums, and its h is where between 0 and 1 it is taken */
  constructor(
    private readonly weights: readonly Weights[],
    private readonly nested: number,
  ) {}

  /** At work in a memory, in their order. */
  in(memory: KernelMemory): readonly Sum[] {
    let sums = this.made.get(memory);
    if (!sums) {
      const module = memory.compiled && this.compiled();
      if (module) {
        const { exports } = new webAssembly!.Instance(module, { e: { m: memory.compiled } }) as unknown as {
          exports: Readonly<Record<string, Sum>>;
        };
        sums = this.names.map(({ name }) => exports[name]!);
      } else sums = [...this.weights.map((w) => plainSum(memory, w)), plainNested(memory, this.nested)];
      this.made.set(memory, sums);
    }
    return sums;
  }

  private get names(): { name: string; body: number }[] {
    return Array.from({ length: this.weights.length + 1 }, (_, i) => ({ name: `s${i}`, body: i }));
  }

  private compiled(): object | undefined {
    if (!webAssembly || compiling.refused) return undefined;
    try {
      return (this.module ??= new webAssembly.Module(
        moduleOf(
          [{ takes: [TYPE.i32, TYPE.i32, TYPE.i32, TYPE.i32, TYPE.i32, TYPE.f64], gives: [] }],
          [],
          [...this.weights.map(sumLoop), nestedLoop(this.nested)],
          this.names,
        ),
      ));
    } catch (error) {
      noteFailure(error);
      return undefined;
    }
  }
}
