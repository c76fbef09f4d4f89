/**
 * How a value that is read changes with where bodies are and how they move, and with the numbers of the model that it names, where it is an expression of
 * these: by reverse mode, in one evaluation.
 */
import type { Freedom } from '../../equations/freedom';
import { type StatedValue, isFormula, numbersOf } from '../../equations/values';
import type { Ex } from '../../expressions/arithmetic';
import { Gradient } from '../../expressions/gradient';
import { OP } from '../../expressions/graph';
import { shapeOfFormula } from '../../formula/formula-in';
import { CompiledKernel } from '../../kernel/compile';
import { BENCH, KernelMemory } from '../../kernel/memory';
import type { Site } from '../compiled/site';
import { Expressed } from '../looped/expressed';
import { Instance } from '../looped/instance';
import type { System } from '../system';
import type { ByKinematics } from './pull';

/** What a value is but for its numbers: as text, by which it is known that two are the same. */
const shapeOf = (v: StatedValue): unknown =>
  isFormula(v) ? [shapeOfFormula(v.formula), v.inputs.map(shapeOf)] : [v.law.name, v.bodies, v.counter !== undefined];
type Stated = (counter: (f: Freedom) => { readonly first: number }) => StatedValue | undefined;

/** What a channel reads, as an expression; undefined where it is none. @param system that counts the turns of what it follows */
export function statedIn({ followed }: System, stated: Stated | undefined): StatedValue | undefined {
  let counted = true;
  const value = stated?.((f) => {
    const first = followed.indexOf(f);
    counted &&= first >= 0;
    return { first };
  });
  return counted ? value : undefined;
}
/** How the numbers that it names differ from those of another; undefined where that is another expression. */
export function differenceOf(less: StatedValue | undefined, more: StatedValue | undefined, like: StatedValue): Float64Array | undefined {
  const shape = JSON.stringify(shapeOf(like));
  if (!less || !more || [less, more].some((v) => JSON.stringify(shapeOf(v)) !== shape)) return undefined;
  const [a, b] = [numbersOf(less), numbersOf(more)];
  return Float64Array.from(a, (x, k) => b[k]! - x);
}

export class Reading {
  /** Derivatives at the last `read`: by the kinematics, and by the numbers that it names. */
  readonly by: ByKinematics;
  readonly byNumbers: Float64Array;
  private readonly values: Float64Array;
  private readonly source: Float64Array;
  private readonly mirror: Float64Array;
  private readonly counters: number;
  private readonly clock: number;
  private readonly out: number;
  private readonly run: () => void;

  /** @param value as of `statedIn` */
  constructor(system: System, value: StatedValue) {
    const { K, bodies, followed, room } = system,
      from = K.at.r,
      length = room.from - from,
      shift = BENCH - from,
      told = BENCH + length;
    const numbers = numbersOf(value),
      count = numbers.length,
      beside = length + count + followed.length;
    // the kinematics, numbers, what counts turns; derivatives by the same; time; and the value
    this.counters = told + count;
    this.clock = BENCH + 2 * beside;
    this.out = this.clock + 3;
    const site = {
        bodies,
        from: 0,
        at: { ...Object.fromEntries(Object.entries(K.at).map(([key, x]) => [key, x + shift])), z: this.counters },
        own: { clock: this.clock },
      } as unknown as Site,
      i = new Instance(site),
      made = new Expressed(site).value(i, value, told),
      kernel = this.derived(i, made.x(), beside),
      memory = new KernelMemory(2 * beside + 4 + kernel.scratch);
    memory.take(2 * beside + 4);
    const run = kernel.in(memory),
      view = (place: number, n: number) => memory.numbers.subarray(place, place + n),
      derivatives = (key: 'r' | 'A' | 'v' | 'w') => view(K.at[key] + shift + beside, K[key].length);
    this.run = () => run(...i.places);
    this.values = memory.numbers;
    this.values.set(numbers, told);
    this.values.set([0, -Infinity, Infinity], this.clock);
    this.source = K.memory.numbers.subarray(from, from + length);
    this.mirror = view(BENCH + beside, beside);
    this.by = { r: derivatives('r'), A: derivatives('A'), v: derivatives('v'), w: derivatives('w'), z: new Float64Array(K.z.length) };
    this.byNumbers = view(told + beside, count);
  }
  /** Its value, and its derivatives so far beside what they are by. */
  private derived(i: Instance, x: Ex, beside: number): CompiledKernel {
    const { g } = i,
      places = [...i.places],
      first = places.map((place) => places.indexOf(place)),
      out = i.base(this.out),
      mirrored = first.map((k, j) => (k === j ? i.base(places[j]! + beside) : -1)),
      by = new Gradient(g, x),
      sums = new Map<string, { base: number; offset: number; x: Ex }>();
    for (const load of g.needed([x])) {
      if (g.op[load] !== OP.load || places[g.a[load]!]! >= this.clock) continue;
      const [base, offset] = [mirrored[first[g.a[load]!]!]!, g.b[load]!],
        key = `${base} ${offset}`;
      sums.set(key, { base, offset, x: g.add(sums.get(key)?.x ?? g.zero, by.by(load)) });
    }
    return new CompiledKernel(g, [...sums.values(), { base: out, offset: 0, x }], i.places.length);
  }

  /** Its value at the state in K, and all derivatives there. @param angles those that the system follows, counting whole turns */
  read(t: number, angles: Float64Array): number {
    const { values, source, clock, counters, mirror, out } = this;
    values.set(source, BENCH);
    values.set(angles, counters);
    values[clock] = t;
    mirror.fill(0);
    this.run();
    return values[out]!;
  }
}
