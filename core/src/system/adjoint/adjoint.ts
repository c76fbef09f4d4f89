/**
 * How one number that follows from a machine's state changes with all that the machine is made of, backwards. A derivative (w, ρ) by accelerations and
 * constraint forces becomes one by everything else through [M Gᵀ; G 0] (μ, ν) = (w, ρ): it is that of ψ = μ·r₁ + ν·r₂ (`residuals.ts`; Cao, Li, Petzold &
 * Serban, SIAM J. Sci. Comput. 24, 2003). Reverse mode gives the derivatives of each term by all that it reads, where that lies: for every number of the
 * machine's memory there is one beside it.
 */
import type { Ex } from '../../expressions/arithmetic';
import { Gradient } from '../../expressions/gradient';
import { OP } from '../../expressions/graph';
import type { Store } from '../../expressions/plain';
import type { Instance } from '../looped/instance';
import type { System } from '../system';
import { type ByKinematics, byTurn } from './pull';
import { type Part, Residuals } from './residuals';

export class Adjoint extends Residuals {
  /** Derivatives by the kinematics. */
  readonly by: ByKinematics;
  /** Derivatives by the machine's own numbers, added up since `clear`. */
  readonly numbers: Float64Array;
  protected readonly followed: number;
  private readonly values: Float64Array;
  private readonly runs: Readonly<Record<Part | 'follow', () => void>>;
  /** Derivatives by where bodies stand that never move: all by places and rotations since `clear`. */
  readonly stands: Pick<ByKinematics, 'r' | 'A'>;
  /** Derivatives by accelerations and constraint forces, by what courses say, and by where joints have closed again. */
  private readonly bySolution: Float64Array;
  private readonly byCourses: Float64Array;
  private readonly byOffsets: Float64Array;
  private readonly solving: Float64Array;
  /** Of repetitions, what does not change. */
  private readonly given: Float64Array;

  /** @param system a machine of which all is expressed (`notExpressed`) */
  constructor(system: System) {
    super(system);
    const { room, K } = system,
      { site } = room,
      from = K.at.r;
    this.followed = this.mirrored(this.place('courses'));
    ({ values: this.values, runs: this.runs } = this.make());
    const view = (place: number, count: number) => this.values.subarray(place, place + count),
      mirrored = (key: 'r' | 'A' | 'v' | 'w' | 'z') => view(this.mirror + K.at[key] - from, K[key].length);
    this.by = { r: mirrored('r'), A: mirrored('A'), v: mirrored('v'), w: mirrored('w'), z: mirrored('z') };
    this.numbers = view(this.mirror + site.from - from, site.own.x);
    [this.bySolution, this.byCourses, this.byOffsets] = [this.byNumbers('solution'), this.byNumbers('courses'), this.byNumbers('offsets')];
    this.stands = { r: new Float64Array(K.r.length), A: new Float64Array(K.A.length) };
    [this.solving, this.given] = [new Float64Array(system.solution.length), new Float64Array(system.solution.length)];
  }

  /** Derivatives by numbers of a kind. */
  private byNumbers(key: 'solution' | 'courses' | 'offsets'): Float64Array {
    const { own } = this.system.room.site,
      at = own[key];
    return this.numbers.subarray(at, at + this.system.room.sizes[key]);
  }

  /** No derivative by numbers of the machine is known. */
  clear(): void {
    this.numbers.fill(0);
    this.stands.r.fill(0);
    this.stands.A.fill(0);
  }
  private stand(): void {
    const { by, stands } = this;
    for (let k = 0; k < by.r.length; k++) stands.r[k] = stands.r[k]! + by.r[k]!;
    for (let k = 0; k < by.A.length; k++) stands.A[k] = stands.A[k]! + by.A[k]!;
  }
  /** Takes over the state in K and the solution at hand. */
  private look(): void {
    this.copied(this.values);
    const { r, A, v, w, z } = this.by;
    r.fill(0);
    A.fill(0);
    v.fill(0);
    w.fill(0);
    z.fill(0);
    this.bySolution.fill(0);
    this.byCourses.fill(0);
    this.byOffsets.fill(0);
    this.values.fill(0, this.seeds, this.further + this.system.K.extra);
    this.runs.follow();
  }

  /**
   * The derivative of one number by the state in K and by the machine's numbers, through accelerations and how further states change.
   * The solution and factors of `accelerate` stand there.
   * @param acceleration,multiplier its derivative by accelerations (a motion) and by constraint forces (left out: none)
   * @param further its derivative by how further states change
   */
  rates(acceleration: ArrayLike<number>, further: ArrayLike<number>, multiplier?: ArrayLike<number>): void {
    const { system, solving, values, seeds, runs } = this,
      { motions } = system,
      by = this.bySolution;
    this.look();
    values.set(further, this.further);
    runs.work();
    for (let j = 0; j < motions; j++) by[j] = acceleration[j]!;
    if (multiplier) for (let r = 0; r < multiplier.length; r++) by[motions + r] = by[motions + r]! + multiplier[r]!;
    solving.set(by);
    system.solveWhole(solving);
    values.set(solving, seeds);
    if (system.reacting) this.settle();
    runs.rates();
    runs.courses();
    this.stand();
  }

  /**
   * What follows from constraint forces (friction) makes the matrix of accelerations one that is not symmetric: K − R. Its transpose is solved here.
   */
  private settle(): void {
    const { system, solving, values, seeds, runs, given } = this,
      by = this.bySolution;
    given.set(by);
    this.repeated(solving, () => {
      values.set(solving, seeds);
      by.set(given);
      runs.react();
      solving.set(by);
      system.solveWhole(solving);
    });
    values.set(solving, seeds);
  }

  /**
   * The same through being brought onto the constraints, positions first and then velocities: of what comes after, to what was before. The factors of the
   * posture in K stand there. @param displacement,velocity derivatives by small displacements and velocities, six a body, which are replaced
   */
  onto(displacement: Float64Array, velocity: Float64Array): void {
    this.look();
    this.brought('drift', velocity);
    this.moved(displacement, velocity);
    const { r, A, v, w } = this.by;
    r.fill(0);
    A.fill(0);
    v.fill(0);
    w.fill(0);
    this.brought('place', displacement);
    this.moved(displacement, velocity);
    this.runs.courses();
  }
  /** −(rows that hold, times what they take up): least change, weighed by mass. */
  private brought(part: 'drift' | 'place', of: Float64Array): void {
    const { system, solving, values, seeds, runs } = this,
      { motions } = system;
    solving.fill(0);
    solving.set(of.subarray(0, motions));
    system.solveWhole(solving);
    values.set(solving, seeds);
    runs[part]();
  }
  private readonly turn = new Float64Array(3);
  private moved(displacement: Float64Array, velocity: Float64Array): void {
    const { by, turn, system } = this,
      { bodies, K } = system;
    this.stand();
    for (let b = 0; b < bodies; b++) {
      byTurn(K.A, by.A, b, turn, 0);
      for (let k = 0; k < 3; k++) {
        displacement[6 * b + k] = displacement[6 * b + k]! + by.r[3 * b + k]!;
        displacement[6 * b + 3 + k] = displacement[6 * b + 3 + k]! + turn[k]!;
        velocity[6 * b + k] = velocity[6 * b + k]! + by.v[3 * b + k]!;
        velocity[6 * b + 3 + k] = velocity[6 * b + 3 + k]! + by.w[3 * b + k]!;
      }
    }
  }

  /** Adds the derivatives of an expression by all that it reads of the machine, where these stand. */
  protected note(part: Part, key: string, i: Instance, psi: () => Ex): void {
    const { g, places } = i,
      count = places.length,
      first = places.map((place, k) => places.indexOf(place, 0) === k),
      own = places.map((place) => places.indexOf(place)),
      told = places.map((place) => (part === 'react' ? this.isSolution(place) : this.isRead(place))),
      beside = places.map((place, k) => (first[k] && told[k] ? i.base(this.mirrored(place)) : -1));
    this.kinds[part].add(`${part} ${key} ${own.join()}`, i, (): Store[] => {
      const x = psi(),
        by = new Gradient(g, x),
        sums = new Map<string, { base: number; offset: number; x: Ex }>();
      for (const load of g.needed([x])) {
        const [base, offset] = [g.a[load]!, g.b[load]!];
        if (g.op[load] !== OP.load || base >= count || !told[base]) continue;
        const at = `${own[base]!} ${offset}`,
          so = sums.get(at);
        sums.set(at, { base: beside[own[base]!]!, offset, x: g.add(so?.x ?? g.zero, by.by(load)) });
      }
      return [...sums.values()]
        .filter((s) => s.x !== g.zero)
        .map(({ base, offset, x: d }) => ({ base, offset, x: g.add(g.load(base, offset), d) }));
    });
  }
}
