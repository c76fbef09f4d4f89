/**
 * How accelerations, constraint forces and the rates of further states change along a change of all that a machine is made of: at the accelerations and forces
 * that stand there the residuals (`residuals.ts`) change by δr₁ and δr₂, and [M Gᵀ; G 0] (δu̇, δλ) = (δr₁, δr₂). What stands with μ and ν in ψ is r₁ and r₂;
 * forward mode gives how that changes.
 */
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import { Gradient } from '../../expressions/gradient';
import { OP } from '../../expressions/graph';
import type { Store } from '../../expressions/plain';
import type { Instance } from '../looped/instance';
import type { System } from '../system';
import type { ByKinematics } from './pull';
import { turned } from './push';
import { type Part, Residuals } from './residuals';

export class Variation extends Residuals {
  /** Changes of the kinematics, and of the machine's own numbers: told before, good for one derivative. */
  readonly change: ByKinematics;
  readonly numbers: Float64Array;
  /** What is found: changes of accelerations (a motion) and of constraint forces; and of how further states change. */
  readonly solution: Float64Array;
  readonly rate: Float64Array;
  protected readonly followed: number;
  private readonly values: Float64Array;
  private readonly runs: Readonly<Record<Part | 'follow', () => void>>;
  private readonly beside: Float64Array;
  /** Changes of what solution there is, for what follows from it; and the changes of residuals, with where they lie. */
  private readonly told: Float64Array;
  private readonly out: Float64Array;
  private readonly outAt: number;
  /** Variables that are none: velocities that bodies do not have, and rows that hold once and for all. */
  private readonly none: Uint8Array;
  /** Of repetitions, what does not change. */
  private readonly given: Float64Array;
  private readonly rest: Float64Array;

  /** @param system a machine of which all is expressed (`notExpressed`), laid out as it is now */
  constructor(system: System) {
    super(system);
    const { room, K, motions } = system,
      { site } = room,
      from = K.at.r,
      { length } = system.solution;
    this.followed = this.take(room.sizes.courses);
    this.outAt = this.take(length + K.extra);
    ({ values: this.values, runs: this.runs } = this.make());
    const view = (place: number, count: number) => this.values.subarray(place, place + count),
      mirrored = (key: 'r' | 'A' | 'v' | 'w' | 'z') => view(this.mirror + K.at[key] - from, K[key].length);
    this.change = { r: mirrored('r'), A: mirrored('A'), v: mirrored('v'), w: mirrored('w'), z: mirrored('z') };
    this.numbers = view(this.mirror + site.from - from, site.own.x);
    this.beside = view(this.mirror, this.mirror - this.copy);
    this.told = this.numbers.subarray(site.own.solution, site.own.solution + length);
    this.out = view(this.outAt, length);
    this.rate = view(this.outAt + length, K.extra);
    const fold = system.leftOut;
    this.none = Uint8Array.from({ length }, (_, k) => (k < motions ? 1 - (fold?.moves[k] ?? 1) : this.idle[k - motions]!));
    [this.solution, this.given] = [new Float64Array(length), new Float64Array(length)];
    this.rest = new Float64Array(K.extra);
  }

  /** Takes over the state in K and the solution at hand: all changes are of that. */
  look(): void {
    this.copied(this.values);
    this.runs.follow();
  }
  /** Nothing changes. */
  clear(): void {
    this.beside.fill(0);
  }

  /** Changes of accelerations, constraint forces and rates of further states. The factors of `accelerate` stand there. */
  rates(): void {
    const { system, runs, out, rate, told, solution } = this;
    out.fill(0);
    rate.fill(0);
    runs.courses();
    runs.rates();
    this.solve();
    if (system.reacting) this.settle();
    told.set(solution);
    runs.work();
  }
  /** What does not count is nothing; and what is not held carries nothing. */
  private solve(): void {
    const { out, solution, system, none } = this,
      { motions, ldlt } = system;
    for (let k = 0; k < out.length; k++) solution[k] = none[k] || (k >= motions && ldlt.off[k - motions]) ? 0 : out[k]!;
    system.solveWhole(solution);
  }
  /** What follows from constraint forces (friction) changes with these. */
  private settle(): void {
    const { runs, out, solution, told, given, rest, rate } = this;
    given.set(out);
    rest.set(rate);
    this.repeated(solution, () => {
      told.set(solution);
      out.set(given);
      rate.set(rest);
      runs.react();
      this.solve();
    });
  }

  /**
   * Through being brought onto the constraints, positions first and then velocities. The factors of the posture in K stand there, and what changes beside.
   * @param displacement,velocity changes of places and turns, and of velocities, six a body, which are replaced
   */
  onto(displacement: Float64Array, velocity: Float64Array): void {
    this.runs.courses();
    this.placed(displacement);
    this.brought('place', displacement);
    this.placed(this.solution);
    this.moved(velocity);
    this.brought('drift', velocity);
  }
  private brought(part: 'place' | 'drift', to: Float64Array): void {
    const { out, runs, solution } = this;
    out.fill(0);
    runs[part]();
    this.solve();
    for (let k = 0; k < to.length; k++) to[k] = to[k]! + solution[k]!;
  }
  private placed(displacement: Float64Array): void {
    const { change, system } = this,
      { K, bodies } = system;
    for (let b = 0; b < bodies; b++) {
      for (let k = 0; k < 3; k++) change.r[3 * b + k] = change.r[3 * b + k]! + displacement[6 * b + k]!;
      turned(K.A, b, displacement, 6 * b + 3, change.A);
    }
  }
  private moved(velocity: Float64Array): void {
    const { change, system } = this;
    for (let b = 0; b < system.bodies; b++)
      for (let k = 0; k < 3; k++) {
        change.v[3 * b + k] = velocity[6 * b + k]!;
        change.w[3 * b + k] = velocity[6 * b + 3 + k]!;
      }
  }

  /** Where what stands in ψ with a number of μ, of ν, with a rate or with what a course says goes; undefined for what is none of these. */
  private outOf(place: number): number | undefined {
    const { seeds, followed, outAt, system } = this,
      { room, solution, K } = system;
    if (place >= seeds && place < seeds + solution.length + K.extra) return place - seeds + outAt;
    return place >= followed && place < followed + room.sizes.courses ? this.mirrored(this.place('courses')) + place - followed : undefined;
  }
  /** Whether what is read there changes. What follows from the solution does so apart from all else. */
  private changes(part: Part, place: number): boolean {
    if (part === 'work') return this.isRead(place);
    return (part === 'react') === this.isSolution(place) && this.isRead(place);
  }

  /** Adds how what stands with each number of μ and ν changes. */
  protected note(part: Part, key: string, i: Instance, psi: () => Ex): void {
    const { g, places } = i,
      own = places.map((place) => places.indexOf(place)),
      first = own.map((k, j) => k === j),
      changes = places.map((place) => this.changes(part, place)),
      outs = places.map((place) => this.outOf(place)),
      changing = places.map((place, k) => (first[k] && changes[k] ? i.base(this.mirrored(place)) : -1)),
      out = outs.map((place, k) => (first[k] && place !== undefined ? i.base(place) : -1));
    this.kinds[part].add(`along ${part} ${key} ${own.join()}`, i, (): Store[] => {
      const x = psi(),
        loads = g.needed([x]).filter((y) => g.op[y] === OP.load && g.a[y]! < own.length),
        by = new Gradient(g, x),
        along = new Direction(
          g,
          new Map(loads.filter((y) => changes[g.a[y]!]).map((y) => [y, g.load(changing[own[g.a[y]!]!]!, g.b[y]!)])),
          true,
        ),
        sums = new Map<string, { base: number; offset: number; x: Ex }>();
      for (const seed of loads.filter((y) => outs[g.a[y]!] !== undefined)) {
        const [base, offset] = [out[own[g.a[seed]!]!]!, g.b[seed]!],
          at = `${base} ${offset}`;
        sums.set(at, { base, offset, x: g.add(sums.get(at)?.x ?? g.zero, along.of(by.by(seed))) });
      }
      return [...sums.values()]
        .filter((s) => s.x !== g.zero)
        .map(({ base, offset, x: d }) => ({ base, offset, x: g.add(g.load(base, offset), d) }));
    });
  }
}
