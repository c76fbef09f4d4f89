/** Bodies told by coordinates of their own, at work: what they are brought to by these, and between these and their six velocities. */
import type { Kernel } from '../../expressions/plain';
import type { CompiledKernel } from '../../kernel/compile';
import type { KernelMemory } from '../../kernel/memory';
import type { OwnBodies, OwnBody } from './own';

const kernelOf = ({ law, values }: OwnBody): CompiledKernel => law.code(values.length);

/** Room that their code needs beside. */
export const scratchOf = ({ list }: OwnBodies): number => list.reduce((most, o) => Math.max(most, kernelOf(o).scratch), 0);

/** Where kinematics keep what coordinates work on. */
export interface OwnPlaces {
  readonly r: number;
  readonly A: number;
  readonly v: number;
  readonly w: number;
  readonly q: number;
  readonly x: number;
  readonly s: number;
  readonly blocks: number;
  readonly scratch: number;
}

/** Those bodies at work on the numbers of a machine. */
export class OwnWork {
  private readonly kernels: readonly Kernel[];
  private readonly numbers: Float64Array;

  constructor(
    readonly bodies: OwnBodies,
    memory: KernelMemory,
    private readonly places: OwnPlaces,
  ) {
    this.numbers = memory.numbers;
    this.kernels = bodies.list.map((o) => kernelOf(o).at(memory, places.scratch));
  }

  /** Tells a body its mass and inertia, and what its law asks for. */
  tell(masses: Float64Array, inertias: Float64Array): void {
    for (const { body, block, at, values } of this.bodies.list) {
      const from = this.places.blocks + block + at.values;
      this.numbers[from] = masses[body]!;
      this.numbers.set(inertias.subarray(9 * body, 9 * body + 9), from + 1);
      this.numbers.set(values, from + 10);
    }
  }

  /** Coordinates of a body move so. */
  setSpeeds(body: number, speeds: readonly number[]): void {
    this.numbers.set(speeds, this.places.s + this.bodies.of[body]!.first);
    this.refresh();
  }
  speedsOf(body: number): number[] {
    const { first, count } = this.bodies.of[body]!;
    return Array.from({ length: count }, (_, j) => this.numbers[this.places.s + first + j]!);
  }

  /** Until the next `refresh`, some velocities of a body resist so many times as much. */
  weigh(body: number, field: 'velocity' | 'spin' | 'speeds', times: number): void {
    const o = this.bodies.of[body]!,
      from = this.places.blocks + o.block + o.at.M,
      six = o.placed ? 0 : 6,
      [first, end] = { velocity: [0, six / 2], spin: [six / 2, six], speeds: [six, o.velocities] }[field] as [number, number];
    for (let k = first; k < end; k++) this.numbers[from + (k * (k + 3)) / 2] = times * this.mass(o, (k * (k + 3)) / 2);
  }

  /** Works all of it out for the coordinates and speeds there are. */
  refresh(): void {
    const { bodies, places, kernels } = this,
      { r, A, v, w, q, x, s, blocks } = places;
    for (let i = 0; i < kernels.length; i++) {
      const { body: b, first, block } = bodies.list[i]!;
      kernels[i]!(r + 3 * b, A + 9 * b, v + 3 * b, w + 3 * b, q + 4 * b, x + first, s + first, blocks + block);
    }
  }

  /** An entry of the lower triangle of a mass matrix. */
  mass({ block, at }: OwnBody, entry: number): number {
    return this.numbers[this.places.blocks + block + at.M + entry]!;
  }
  /** How one of the six velocities of a body goes with a coordinate that places it; and the part of its acceleration beside. */
  J({ block, at, count }: OwnBody, e: number, j: number): number {
    return this.numbers[this.places.blocks + block + at.J + count * e + j]!;
  }
  bias({ block, at }: OwnBody, e: number): number {
    return this.numbers[this.places.blocks + block + at.bias + e]!;
  }

  /** What pushes bodies that coordinates place, brought to these: adds Jᵀ times six numbers of each. @param x six a body, then one a coordinate */
  gather(x: Float64Array): void {
    const { list, bodies: n } = this.bodies;
    for (let i = 0; i < list.length; i++) {
      const o = list[i]!,
        to = 6 * n + o.first;
      if (!o.placed) continue;
      for (let e = 0; e < 6; e++) for (let j = 0; j < o.count; j++) x[to + j] = x[to + j]! + this.J(o, e, j) * x[6 * o.body + e]!;
    }
  }
  /** The six velocities of such bodies, from the speeds of their coordinates. */
  spread(x: Float64Array): void {
    const { list, bodies: n } = this.bodies;
    for (let i = 0; i < list.length; i++) {
      const o = list[i]!;
      if (!o.placed) continue;
      for (let e = 0; e < 6; e++) {
        let sum = 0;
        for (let j = 0; j < o.count; j++) sum += this.J(o, e, j) * x[6 * n + o.first + j]!;
        x[6 * o.body + e] = sum;
      }
    }
  }
  /** Adds the accelerations that such bodies have while their coordinates keep their speeds. */
  hasten(x: Float64Array): void {
    const { list } = this.bodies;
    for (let i = 0; i < list.length; i++) {
      const o = list[i]!;
      if (o.placed) for (let e = 0; e < 6; e++) x[6 * o.body + e] = x[6 * o.body + e]! + this.bias(o, e);
    }
  }
  /** Puts what motion and stored energy give them in place of what stands there for the rigid body. */
  push(x: Float64Array, F: Float64Array): void {
    const { numbers, places, bodies } = this;
    for (const { placed, body, first, count, block, at } of bodies.list) {
      const e = places.blocks + block + at.effort,
        six = placed ? 0 : 6;
      for (let k = 0; k < 6; k++) x[6 * body + k] = F[6 * body + k]! + (placed ? 0 : numbers[e + k]!);
      for (let j = 0; j < count; j++) x[6 * bodies.bodies + first + j] = numbers[e + six + j]!;
    }
  }

  /** M x for the velocities of these bodies, in place of what stands there. */
  massTimes(x: Float64Array, out: Float64Array): void {
    const { bodies } = this;
    for (const o of bodies.list) {
      const of = bodies.velocitiesOf(o.body);
      for (let k = 0; k < 6; k++) out[6 * o.body + k] = 0;
      of.forEach((v, i) => {
        let sum = 0;
        of.forEach((u, j) => (sum += this.mass(o, i > j ? (i * (i + 1)) / 2 + j : (j * (j + 1)) / 2 + i) * x[u]!));
        out[v] = sum;
      });
    }
  }

  /** Size of the accelerations their own efforts would give, in the mass metric. */
  get pull(): number {
    let sum = 0;
    for (const { block, at, velocities } of this.bodies.list)
      for (let k = 0, from = this.places.blocks + block; k < velocities; k++) {
        const e = this.numbers[from + at.effort + k]!;
        sum += (e * e) / this.numbers[from + at.M + (k * (k + 3)) / 2]!;
      }
    return Math.sqrt(sum);
  }

  /** Kinetic energy beyond that of rigid bodies, J. */
  get kinetic(): number {
    return this.energy(0);
  }
  /** Energy that bodies store, J. */
  get stored(): number {
    return this.energy(1);
  }
  private energy(which: 0 | 1): number {
    return this.bodies.list.reduce((sum, { block, at }) => sum + this.numbers[this.places.blocks + block + at.energies + which]!, 0);
  }
}
