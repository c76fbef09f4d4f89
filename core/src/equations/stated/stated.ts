/** Constraints of two bodies of which all that is asked is derived from their Φ and compiled once for all of a kind. */
import type { Ex } from '../../expressions/arithmetic';
import type { Kernel } from '../../expressions/plain';
import type { Outside } from '../../expressions/graph';
import { CompiledKernel } from '../../kernel/compile';
import type { KernelMemory } from '../../kernel/memory';
import { placeOf } from '../../kernel/vectors';
import { Constraint, type Prescription, type Statement } from '../constraint';
import type { Kinematics } from '../kinematics';
import type { Memory } from '../memory';
import { BASES, BASE_COUNT, derive } from './derive';
import type { Asking, Elementary } from './elementary';

/** What is worked out at once: `rows` are the Jacobian and γ, to two places. */
export type Part = 'phi' | 'jacobian' | 'nu' | 'gamma' | 'rate' | 'rows';
const PARTS: readonly Part[] = ['phi', 'jacobian', 'nu', 'gamma', 'rate', 'rows'];
/** The base of γ beside the Jacobian. */
const BESIDE = BASE_COUNT;

/** What all constraints of a kind share. */
interface Kind {
  readonly kernels: Readonly<Record<Part, CompiledKernel>>;
  /** Entries of its rows of G that can differ from zero. */
  readonly entries: Int32Array;
}
const kinds = new Map<Elementary | Asking, Kind>();
function kindOf(e: Elementary | Asking): Kind {
  let kind = kinds.get(e);
  if (!kind) {
    const d = derive(e);
    const compiled = (list: readonly Ex[]) =>
      new CompiledKernel(
        d.g,
        list.flatMap((x, i) => (x === d.g.zero && list === d.jacobian ? [] : [{ base: BASES.out, offset: i, x }])),
        BASE_COUNT,
      );
    const rows = new CompiledKernel(
      d.g,
      [
        ...d.jacobian.flatMap((x, offset) => (x === d.g.zero ? [] : [{ base: BASES.out, offset, x }])),
        ...d.gamma.map((x, offset) => ({ base: BESIDE, offset, x })),
      ],
      BASE_COUNT + 1,
    );
    kind = {
      kernels: {
        phi: compiled(d.phi),
        jacobian: compiled(d.jacobian),
        nu: compiled(d.nu),
        gamma: compiled(d.gamma),
        rate: compiled(d.rate),
        rows,
      },
      entries: Int32Array.from(d.jacobian.flatMap((x, i) => (x === d.g.zero ? [] : [i]))),
    };
    kinds.set(e, kind);
  }
  return kind;
}

/** A part of an equation, compiled: bases as in `derive.ts`, and of `rows` that of γ behind them. */
export const partOf = (e: Elementary, part: Part): CompiledKernel => kindOf(e).kernels[part];

/** One of them: what it is told, and its parts at work in a workspace. */
export class Derived extends Constraint {
  protected numbers: Float64Array;
  protected readonly kind: Kind;
  private home: KernelMemory | undefined;
  private kernels: Readonly<Record<Part, Kernel>> | undefined;
  /** By which it is known whose numbers lie in a workspace. */
  private readonly ticket = {};

  /** Where its numbers and its course lie, once they have a place of their own in a memory. */
  private settled: { memory: KernelMemory; numbers: number; course: number | undefined } | undefined;

  constructor(
    readonly equation: Elementary | Asking,
    a: number,
    b: number,
    numbers: readonly number[],
    readonly course?: Prescription,
  ) {
    super(a, b, equation.lengths);
    this.numbers = Float64Array.from(numbers);
    this.kind = kindOf(equation);
  }
  get values(): Float64Array {
    return this.numbers;
  }
  settle(memory: KernelMemory, numbers: number, course: number | undefined): void {
    const view = memory.numbers.subarray(numbers, numbers + this.numbers.length);
    view.set(this.numbers);
    this.numbers = view;
    this.settled = { memory, numbers, course };
  }

  pattern(k: number, column: number): boolean {
    return this.kind.entries.includes(12 * k + column);
  }
  /** A part at work in a memory. */
  protected bring(part: Part, memory: KernelMemory): Kernel {
    return this.kind.kernels[part].in(memory);
  }
  /** Works a part out, into the workspace's `out` or to places of its memory. */
  protected work(part: Part, K: Kinematics, out = K.at.out, beside = 0): void {
    const { memory, at } = K,
      { a, b } = this;
    if (memory !== this.home) {
      this.home = memory;
      this.kernels = Object.fromEntries(PARTS.map((p) => [p, this.bring(p, memory)])) as Record<Part, Kernel>;
    }
    const settled = this.settled?.memory === memory ? this.settled : undefined;
    if (!settled && K.told !== this.ticket) {
      K.told = this.ticket;
      for (let k = 0; k < this.numbers.length; k++) memory.numbers[at.numbers + k] = this.numbers[k]!;
    }
    this.kernels![part](
      at.r + 3 * a,
      at.A + 9 * a,
      at.v + 3 * a,
      at.w + 3 * a,
      at.r + 3 * b,
      at.A + 9 * b,
      at.v + 3 * b,
      at.w + 3 * b,
      settled ? settled.numbers : at.numbers,
      this.courseIn(K),
      out,
      beside,
    );
  }
  private courseIn({ memory, at }: Kinematics): number {
    return (this.settled?.memory === memory ? this.settled.course : undefined) ?? at.course;
  }
  /** Hands the workspace what the course says at a time; nothing where there is none. */
  follow(K: Kinematics, t: number): void {
    const { course } = this,
      { numbers } = K.memory,
      at = this.courseIn(K);
    course?.at(K, t);
    numbers[at] = course ? course.f : 0;
    numbers[at + 1] = course && !K.standing ? course.f1 : 0;
    numbers[at + 2] = course && !K.standing ? course.f2 : 0;
  }
  private writeRows(K: Kinematics, out: Float64Array): void {
    for (let k = 0; k < this.rows; k++) out[this.row + k] = K.memory.numbers[K.at.out + k]!;
  }

  /** Φ without a course: the coordinate it drives. */
  protected free(K: Kinematics): number {
    const { numbers } = K.memory;
    numbers[this.courseIn(K)] = 0;
    this.work('phi', K);
    return numbers[K.at.out]!;
  }
  position(K: Kinematics, t: number, phi: Float64Array): void {
    this.follow(K, t);
    this.work('phi', K);
    this.writeRows(K, phi);
  }
  /** The Jacobian and γ at once, where both go into the memory of the workspace. */
  override linear(K: Kinematics, t: number, G: Float64Array, out: Float64Array): void {
    const { buffer } = K.memory.numbers;
    if (G.buffer !== buffer || out.buffer !== buffer) return super.linear(K, t, G, out);
    if (this.course) this.follow(K, t);
    this.work('rows', K, placeOf(G) + 12 * this.row, placeOf(out) + this.row);
  }
  jacobian(K: Kinematics, G: Float64Array): void {
    if (G.buffer === K.memory.numbers.buffer) return this.work('jacobian', K, placeOf(G) + 12 * this.row);
    this.work('jacobian', K);
    const { entries } = this.kind,
      { numbers } = K.memory,
      from = K.at.out,
      to = 12 * this.row;
    for (let i = 0; i < entries.length; i++) G[to + entries[i]!] = numbers[from + entries[i]!]!;
  }
  gamma(K: Kinematics, t: number, out: Float64Array): void {
    this.follow(K, t);
    this.work('gamma', K);
    this.writeRows(K, out);
  }
  override nu(K: Kinematics, t: number, out: Float64Array): void {
    if (!this.course) return super.nu(K, t, out);
    this.follow(K, t);
    this.work('nu', K);
    this.writeRows(K, out);
  }
}

/** One that is an expression. */
export class Stated extends Derived implements Statement {
  constructor(
    override readonly equation: Elementary,
    a: number,
    b: number,
    numbers: readonly number[],
    course?: Prescription,
  ) {
    super(equation, a, b, numbers, course);
  }
  override get statement(): Statement {
    return this;
  }
}

/** Code of an equation that asks: where on a curve a point is. It begins its search where it last found something. */
export interface Asked extends Outside {
  readonly memory: Memory;
  /** Forgets where that was. */
  forget(): void;
  /** The same without its values, where these take long and derivatives alone are asked for. */
  readonly slopes?: Outside;
}

/** One that asks code of its own. */
export class Called extends Derived {
  constructor(
    equation: Asking,
    protected readonly asked: Asked,
    a: number,
    b: number,
    numbers: readonly number[],
    course?: Prescription,
  ) {
    super(equation, a, b, numbers, course);
    this.place = { ...asked.memory, follow: (K) => this.work('jacobian', K) };
  }
  private readonly place: Memory;
  override get memory(): Memory {
    return this.place;
  }
  /** What it asks. */
  get asks(): Outside {
    return this.asked;
  }
  override reset(): void {
    this.asked.forget();
  }
  protected override bring(part: Part, memory: KernelMemory): Kernel {
    const { asked } = this;
    return this.kind.kernels[part].calling(memory, [part === 'phi' ? asked : (asked.slopes ?? asked)]);
  }
}
