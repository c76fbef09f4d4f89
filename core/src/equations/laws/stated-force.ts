/** A load that is stated by its law: all that is asked of it is derived from that and compiled once for all loads of its kind. */
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import type { VectorEx } from '../../expressions/vectors';
import type { Program } from '../../formula/program';
import { CompiledKernel } from '../../kernel/compile';
import type { Force } from '../forces';
import type { Kinematics } from '../kinematics';
import type { BodyEx } from '../stated/body';
import type { Constraint } from '../constraint';
import type { LoadReadings } from '../load-readings';
import type { StatedValue } from '../values';
import type { Fired, Watch } from '../watch';
import { basesOf, deriveForce } from './derive';
import type { ForceLaw } from './law';

/** What all loads of a kind share. */
interface Kind {
  readonly push: CompiledKernel;
  readonly tell: CompiledKernel;
  /** Where in what it tells each part begins. */
  readonly parts: Readonly<Record<'corners' | 'effort' | 'deflection' | 'rate' | 'end', number>>;
  readonly smooth: boolean;
  /** How many efforts do what it does. */
  readonly works: number;
}
const kinds = new WeakMap<ForceLaw, Kind>();
function kindOf(law: ForceLaw): Kind {
  let kind = kinds.get(law);
  if (!kind) {
    const { g, pushes, stored, corners, effort, deflection, rate, smooth, works } = deriveForce(law),
      { out, count } = basesOf(law);
    const compiled = (list: readonly Ex[]) =>
      new CompiledKernel(
        g,
        list.map((x, offset) => ({ base: out, offset, x })),
        count,
      );
    const parts = { corners: 1, effort: 1 + corners.length, deflection: 0, rate: 0, end: 0 };
    parts.deflection = parts.effort + effort.length;
    parts.rate = parts.deflection + deflection.length;
    parts.end = parts.rate + rate.length;
    kind = { push: compiled(pushes.flat()), tell: compiled([stored, ...corners, ...effort, ...deflection, ...rate]), parts, smooth, works };
    kinds.set(law, kind);
  }
  return kind;
}

/** A row of a constraint: what it carries, and its twelve numbers of G. */
export interface CarriedRow {
  readonly multiplier: Ex;
  readonly row: readonly Ex[];
}
/** What follows from that, as expressions. */
export interface CarriedLaw {
  /** @param n numbers of the model @param rows one by one, as the constraints have them @param still of each body, whether it is the ground */
  of(g: Graph, bodies: readonly BodyEx[], n: readonly Ex[], rows: readonly CarriedRow[], still: readonly boolean[]): readonly Ex[];
}
/** The same for certain constraints. */
export interface FromCarried {
  readonly law: CarriedLaw;
  readonly constraints: readonly Constraint[];
  readonly bodies: readonly number[];
  readonly numbers: readonly number[];
}

/** Values that a load takes in. */
export interface Input {
  /** Writes them from a place on. */
  fill(K: Kinematics, t: number, to: Float64Array, at: number): void;
  /** How many they are. */
  readonly count: number;
  readonly programs?: readonly Program[];
  /** Whether they never change. */
  readonly fixed?: boolean;
  /** All of them, where they follow from what constraints carry: the load then acts by `react`. */
  readonly carried?: FromCarried;
  /** The single value as an expression, where it is one that changes. */
  readonly stated?: StatedValue | undefined;
  /** A single value as an expression, where it is one: code of a whole machine then need not be told it. */
  readonly express?: {
    /** Which further state it reads; −1 for none. */
    readonly state: () => number;
    /** @param n numbers of the law @param z that state */
    of(g: Graph, bodies: readonly BodyEx[], n: Readonly<Record<string, VectorEx | Ex>>, z: (state: number) => Ex): Ex;
  };
}
/** One value: of a formula, or of anything that is known at a state. */
export const taken = (of: {
  at(K: Kinematics, t: number): number;
  readonly programs?: readonly Program[];
  readonly stated?: StatedValue | undefined;
}): Input => ({
  count: 1,
  fill(K, t, to, at) {
    to[at] = of.at(K, t);
  },
  ...(of.programs ? { programs: of.programs, fixed: isFixed(of.programs) } : {}),
  ...(of.stated && !isFixed(of.programs ?? []) ? { stated: of.stated } : {}),
});
const isFixed = (programs: readonly Program[]): boolean => programs.length > 0 && !programs.some((p) => p.varies);
/** Whether a value is known without being asked for. */
export const isKnown = (i: Input): boolean => i.fixed === true || (i.express ?? i.stated ?? i.carried) !== undefined;
/** A value that its owner changes, and says so (`StatedForce.tellHeld`). */
export const held = (at: () => number): Input => ({
  count: 1,
  fixed: true,
  fill(_K, _t, to, place) {
    to[place] = at();
  },
});
/** A value that stays. */
export const constantly = (x: number): Input => ({ ...taken({ at: () => x }), express: { state: () => -1, of: (g) => g.constant(x) } });

/** On which bodies a law acts, and what it is told there. */
export interface Instance {
  readonly bodies: readonly number[];
  readonly values: readonly number[];
}

/** What a load adds to its law. */
export interface Beside {
  /** Of what it tells: what a positive value means, in words, and which parts turn. */
  readonly readings?: Pick<LoadReadings, 'positive' | 'turns' | 'axes'>;
  /** What is told when a corner is passed. @param side 1 where it becomes positive, −1 where it becomes negative */
  passed?(corner: number, side: 1 | -1, K: Kinematics): Fired | undefined;
  /** Whether the posture is past a limit it sets, by its corners. */
  readonly limits?: true;
}

export class StatedForce implements Force {
  readonly bodies: readonly number[];
  readonly programs: readonly Program[];
  readonly smooth: boolean;
  readonly readings?: LoadReadings;
  readonly watches?: readonly Watch[];
  readonly beyond?: (K: Kinematics) => boolean;
  readonly react?: Force['react'];
  readonly workless?: true;
  private readonly kind: Kind;
  private readonly sides: (1 | -1)[];
  /** Where its numbers lie, those that it takes in, and what it writes. */
  private home: { K: Kinematics; numbers: number; inputs: number; out: number } | undefined;
  private push: readonly (() => void)[] = [];
  private tell: readonly (() => void)[] = [];

  constructor(
    readonly law: ForceLaw,
    readonly instances: readonly Instance[],
    readonly inputs: readonly Input[] = [],
    { readings, passed, limits }: Beside = {},
  ) {
    this.kind = kindOf(law);
    this.bodies = [...new Set(instances.flatMap((i) => i.bodies))];
    this.programs = inputs.flatMap((i) => i.programs ?? []);
    this.smooth = this.kind.smooth && !this.programs.some((p) => p.varies);
    const { parts } = this.kind,
      corners = parts.effort - parts.corners;
    this.sides = Array.from({ length: corners }, () => 1);
    if (corners > 0)
      this.watches = this.sides.map((_, i): Watch => ({
        value: (K) => this.sides[i]! * this.corner(i, K),
        fire: (K) => {
          const side = (this.sides[i] = this.sides[i] === 1 ? -1 : 1);
          return passed?.(i, side, K);
        },
      }));
    if (limits) this.beyond = (K) => this.sides.some((_, i) => this.corner(i, K) < 0);
    if (readings) this.readings = this.told(readings);
  }

  private told(readings: NonNullable<Beside['readings']>): LoadReadings {
    const { parts } = this.kind,
      count = parts.deflection - parts.effort;
    return {
      parts: count === 6 ? 6 : 1,
      ...readings,
      effort: (K, t, part) => this.read(K, t, parts.effort + part),
      ...(parts.rate > parts.deflection
        ? { deflection: (K: Kinematics, t: number, part: number) => this.read(K, t, parts.deflection + part) }
        : {}),
      ...(parts.end > parts.rate ? { rate: (K: Kinematics, t: number, part: number) => this.read(K, t, parts.rate + part) } : {}),
    };
  }

  /** Numbers for which it needs a place. */
  get room(): number {
    const { law, instances, kind } = this;
    return instances.reduce((s, i) => s + i.values.length, 0) + law.inputs + Math.max(6 * law.bodies, kind.parts.end) + this.scratch;
  }
  private get scratch(): number {
    return Math.max(this.kind.push.scratch, this.kind.tell.scratch);
  }
  /** Its numbers are to lie there from now on. */
  settle(K: Kinematics, from: number): void {
    const { law, instances, kind } = this,
      { memory, at } = K;
    let numbers = from;
    for (const { values } of instances) {
      memory.numbers.set(values, numbers);
      numbers += values.length;
    }
    const inputs = numbers,
      out = inputs + law.inputs;
    this.home = { K, numbers: from, inputs, out };
    const brought = (compiled: CompiledKernel): (() => void)[] => {
      let own = from;
      const kernel = compiled.at(memory, from + this.room - this.scratch);
      return instances.map(({ bodies, values }) => {
        const bases = bodies.flatMap((b) => [at.r + 3 * b, at.A + 9 * b, at.v + 3 * b, at.w + 3 * b]),
          place = own;
        own += values.length;
        return kernel.bind(undefined, ...bases, place, inputs, out) as () => void;
      });
    };
    this.push = brought(kind.push);
    this.tell = brought(kind.tell);
    this.tellHeld();
  }
  /** Writes what its owner holds to where its code reads it, once that has a place. */
  protected tellHeld(): void {
    const { inputs, home } = this;
    if (!home) return;
    const { K } = home;
    for (let i = 0, at = home.inputs; i < inputs.length; at += inputs[i++]!.count)
      if (inputs[i]!.fixed) inputs[i]!.fill(K, 0, K.memory.numbers, at);
  }
  /** What it does is as many efforts. */
  get works(): number {
    return this.kind.works;
  }
  /** Where its numbers and inputs lie, relative to a place. */
  placesFrom(from: number): { numbers: number; inputs: number } {
    const { numbers, inputs } = this.home!;
    return { numbers: numbers - from, inputs: inputs - from };
  }

  /** Takes in what formulas say. */
  take(K: Kinematics, t: number): void {
    const { inputs } = this,
      { numbers } = K.memory;
    for (let i = 0, at = this.home!.inputs; i < inputs.length; at += inputs[i++]!.count) inputs[i]!.fill(K, t, numbers, at);
  }
  apply(K: Kinematics, t: number, F: Float64Array): void {
    this.take(K, t);
    const { numbers } = K.memory,
      { out } = this.home!,
      { instances } = this;
    for (let i = 0; i < instances.length; i++) {
      this.push[i]!();
      const { bodies } = instances[i]!;
      for (let j = 0; j < bodies.length; j++) {
        const p = 6 * bodies[j]!,
          q = out + 6 * j;
        for (let k = 0; k < 6; k++) F[p + k] = F[p + k]! + numbers[q + k]!;
      }
    }
  }

  /** The effort it tells of. */
  protected effort(K: Kinematics, t: number): number {
    return this.read(K, t, this.kind.parts.effort);
  }
  private read(K: Kinematics, t: number, what: number, instance = 0): number {
    this.take(K, t);
    this.tell[instance]!();
    return K.memory.numbers[this.home!.out + what]!;
  }
  private corner(i: number, K: Kinematics): number {
    return this.read(K, 0, this.kind.parts.corners + i);
  }
  begin(K: Kinematics): void {
    for (let i = 0; i < this.sides.length; i++) this.sides[i] = this.corner(i, K) < 0 ? -1 : 1;
  }
  energy(K: Kinematics, t: number): number {
    let sum = 0;
    for (let i = 0; i < this.instances.length; i++) sum += this.read(K, t, 0, i);
    return sum;
  }
  energyOf(body: number, K: Kinematics, t: number): number {
    return this.instances.reduce(
      (sum, { bodies }, i) => (bodies.length === 1 && bodies[0] === body ? sum + this.read(K, t, 0, i) : sum),
      0,
    );
  }
}
