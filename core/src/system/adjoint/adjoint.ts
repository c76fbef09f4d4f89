/**
 * How one number that follows from a machine's state changes with all that the machine is made of, backwards. With the residuals
 *   r₁ = f − Gᵀλ − M u̇,  r₂ = γ − G u̇,
 * a derivative (w, ρ) by accelerations and constraint forces becomes one by everything else through [M Gᵀ; G 0] (μ, ν) = (w, ρ): it is that of
 * ψ = μ·r₁ + ν·r₂ (Cao, Li, Petzold & Serban, SIAM J. Sci. Comput. 24, 2003). ψ is a sum over constraints, loads and bodies, each of which is an
 * expression; reverse mode gives its derivatives by all that it reads, where that lies: for every number of the machine's memory there is one beside it.
 * It works on a copy of these numbers, and so disturbs nothing.
 */
import type { Constraint } from '../../equations/constraint';
import { isStated } from '../../equations/courses';
import { StatedForce, isKnown } from '../../equations/laws/stated-force';
import { wholeTurns } from '../../equations/measured';
import type { BodyEx } from '../../equations/stated/body';
import { moving } from '../../equations/stated/body';
import { type Elementary, numbersAt } from '../../equations/stated/elementary';
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import { Gradient } from '../../expressions/gradient';
import { OP } from '../../expressions/graph';
import type { Store } from '../../expressions/plain';
import { type VectorEx, cross, dot } from '../../expressions/vectors';
import { BENCH, KernelMemory } from '../../kernel/memory';
import { powerOf } from '../../equations/laws/derive';
import type { Followed, StatedCoupling, StatedLoad, Statement } from '../compiled/equations';
import { MOST, PLAIN } from '../compiled/settle';
import type { Site } from '../compiled/site';
import { carriedLaw } from '../tangent/carried-law';
import { Expressed } from '../looped/expressed';
import { Instance } from '../looped/instance';
import { Kinds } from '../looped/kinds';
import type { System } from '../system';
import { secondRates } from '../tangent/pieces';
import { type ByKinematics, byTurn } from './pull';

/**
 * What is worked out together: work of drives; what loads that follow from constraint forces do to these; all else of the derivative of a state; Φ̇ and Φ of
 * rows; and what courses follow.
 */
const PARTS = ['work', 'react', 'rates', 'drift', 'place', 'courses'] as const;
type Part = (typeof PARTS)[number];
/** Part of it up to which a change of a repetition is none. */
const SETTLED = 1e-13;

/** Why the derivatives of a machine are not all known backwards; undefined where they are. */
export function notBackwards(system: System): string | undefined {
  const { room, groups, forces, extras } = system,
    known = new Set<Constraint>([...room.statements, ...room.couplings].map((x) => x.constraint)),
    constraints = groups.flatMap((g) => g.constraints);
  if (system.own.list.length > 0) return 'a body has coordinates of its own';
  if (constraints.some((c) => !known.has(c))) return 'a row is no expression';
  if (constraints.some((c) => c.inertia !== undefined)) return 'something between bodies has mass';
  if (forces.some((f) => !f.byRow && !(f instanceof StatedForce && f.inputs.every(isKnown)))) return 'a load is no expression';
  // what a joint is held at, once and for all, follows nothing
  if (room.statements.some((s) => s.course && !s.course.stated && isStated(s.constraint.statement!.course)))
    return 'a course is no expression';
  const told = new Set(room.further.map((s) => s.at));
  if (extras.some((e) => e.states > 0 && !told.has(e.first))) return 'a state is no expression';
  return undefined;
}

export class Adjoint {
  /** Derivatives by the kinematics. */
  readonly by: ByKinematics;
  /** Derivatives by the machine's own numbers, added up since `clear`. */
  readonly numbers: Float64Array;
  private readonly copy: number;
  private readonly mirror: number;
  private readonly source: Float64Array;
  private readonly values: Float64Array;
  private readonly site: Site;
  private readonly expressed: Expressed;
  private readonly kinds = Object.fromEntries(PARTS.map((p) => [p, new Kinds()])) as Record<Part, Kinds>;
  private readonly runs: Readonly<Record<Part | 'follow', () => void>>;
  /** Where it is told by what it goes: μ and ν, and those by how further states change. */
  private readonly seeds: number;
  private readonly further: number;
  /** Derivatives by where bodies stand that never move: all by places and rotations since `clear`. */
  readonly stands: Pick<ByKinematics, 'r' | 'A'>;
  /** Derivatives by accelerations and constraint forces, by what courses say, and by where joints have closed again. */
  private readonly bySolution: Float64Array;
  private readonly byCourses: Float64Array;
  private readonly byOffsets: Float64Array;
  private readonly solving: Float64Array;
  /** Of repetitions: what does not change, and what was found before. */
  private readonly given: Float64Array;
  private readonly before: Float64Array;
  private end: number;

  /** @param system a machine of which all that is known backwards (`notBackwards`) */
  constructor(private readonly system: System) {
    const { room, K } = system,
      { site } = room,
      from = K.at.r,
      length = site.from + site.own.x - from;
    this.copy = BENCH;
    this.mirror = BENCH + length;
    this.source = K.memory.numbers.subarray(from, from + length);
    this.end = this.mirror + length;
    const shift = this.copy - from;
    this.seeds = this.take(system.solution.length);
    this.further = this.take(K.extra);
    this.site = {
      bodies: site.bodies,
      from: site.from + shift,
      at: Object.fromEntries(Object.entries(site.at).map(([key, x]) => [key, x + shift])) as never,
      own: { ...site.own, stateRates: this.take(K.extra) - site.from - shift },
    };
    this.expressed = new Expressed(this.site, (i, of, at) =>
      carriedLaw(i, of, at, {
        statements: room.statements,
        bodies: system.bodies,
        numbers: this.place('numbers'),
        G: this.place('G'),
        multiplier: (j, row) => j.number(this.place('solution') + system.motions + row),
      }),
    );
    const follow = new Kinds();
    for (const s of room.statements) {
      if (s.course?.stated) this.course(s.course.at, s.course.stated, follow);
      this.statement(s);
    }
    for (const c of room.couplings) this.coupling(c);
    for (const l of [...room.loads, ...room.reacting]) this.load(l, 'rates');
    for (const l of room.reacting) this.load(l, 'react');
    for (const { at, changes, coordinate } of room.further) {
      if (changes.by === 'rate') this.followed(at, coordinate!);
      if (changes.by === 'work') this.followed(at, coordinate!, changes.constraint);
    }
    for (let b = 0; b < system.bodies; b++) this.body(b);

    const lists = [follow, ...Object.values(this.kinds)],
      scratch = Math.max(...lists.map((k) => k.scratch)),
      memory = new KernelMemory(this.end + lists.reduce((s, k) => s + k.entries / 2, 0) + scratch);
    memory.take(this.end - BENCH);
    const tables = (count: number): Int32Array => {
        const at = memory.take(Math.ceil(count / 2));
        return new Int32Array(memory.numbers.buffer, memory.numbers.byteOffset + 8 * at, count);
      },
      working = memory.take(scratch),
      made = (k: Kinds) => k.made(memory, tables, working);
    this.values = memory.numbers;
    this.runs = { follow: made(follow), ...(Object.fromEntries(PARTS.map((p) => [p, made(this.kinds[p])])) as Record<Part, () => void>) };
    const view = (place: number, count: number) => this.values.subarray(place, place + count),
      mirrored = (key: 'r' | 'A' | 'v' | 'w' | 'z') => view(this.mirror + K.at[key] - from, K[key].length);
    this.by = { r: mirrored('r'), A: mirrored('A'), v: mirrored('v'), w: mirrored('w'), z: mirrored('z') };
    this.numbers = view(this.mirror + site.from - from, site.own.x);
    [this.bySolution, this.byCourses, this.byOffsets] = [this.byNumbers('solution'), this.byNumbers('courses'), this.byNumbers('offsets')];
    this.stands = { r: new Float64Array(K.r.length), A: new Float64Array(K.A.length) };
    [this.solving, this.given, this.before] = [0, 1, 2].map(() => new Float64Array(system.solution.length)) as [
      Float64Array,
      Float64Array,
      Float64Array,
    ];
  }

  private take(count: number): number {
    this.end += count;
    return this.end - count;
  }
  private place(key: keyof Site['own']): number {
    return this.site.from + this.site.own[key];
  }
  private mirrored(place: number): number {
    return place + this.mirror - this.copy;
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
    this.values.set(this.source, this.copy);
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
   * What follows from constraint forces (friction) makes the matrix of accelerations one that is not symmetric: K − R. Its transpose is solved by
   * repetition, as the run has solved for the forces: K ξ = b + Rᵀ ξ.
   */
  private settle(): void {
    const { system, solving, values, seeds, runs, given, before } = this,
      by = this.bySolution;
    given.set(by);
    for (let n = 0; n < MOST; n++) {
      before.set(solving);
      by.set(given);
      runs.react();
      solving.set(by);
      system.solveWhole(solving);
      let [change, size] = [0, 0];
      for (let j = 0; j < solving.length; j++) {
        if (n > PLAIN) solving[j] = (solving[j]! + before[j]!) / 2;
        change = Math.max(change, Math.abs(solving[j]! - before[j]!));
        size = Math.max(size, Math.abs(solving[j]!));
      }
      values.set(solving, seeds);
      if (change <= SETTLED * size) return;
    }
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

  /** A motion that stands there, of a body; none of the ground. */
  private motionOf(i: Instance, b: number, place: number): { v: VectorEx; w: VectorEx } | undefined {
    if (b >= this.system.bodies) return undefined;
    const base = i.base(place + 6 * b),
      x = [0, 1, 2, 3, 4, 5].map((k) => i.g.load(base, k)) as [Ex, Ex, Ex, Ex, Ex, Ex];
    return { v: [x[0], x[1], x[2]], w: [x[3], x[4], x[5]] };
  }
  private rows(i: Instance, { row, rows }: Constraint, place: number): Ex[] {
    const base = i.base(place + this.system.motions + row);
    return Array.from({ length: rows }, (_, k) => i.g.load(base, k));
  }

  /** Adds the derivatives of an expression by all that it reads of the machine, where these stand. */
  private note(part: Part, key: string, i: Instance, psi: () => Ex): void {
    const { g, places } = i,
      count = places.length,
      first = places.map((place, k) => places.indexOf(place, 0) === k),
      own = places.map((place) => places.indexOf(place)),
      clock = this.place('clock'),
      solution = this.place('solution'),
      carries = (place: number) => place >= solution && place < solution + this.system.solution.length,
      told = places.map((place) => (part === 'react' ? carries(place) : place >= this.copy && place < this.mirror && place !== clock)),
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

  private statement(s: Statement): void {
    const { constraint: c, equation, numbers, course } = s;
    this.constraint(c, [c.a, c.b], `${equation.name} ${course !== undefined}`, (i) => {
      const n = i.base(this.place('numbers') + numbers),
        follows = course && i.base(this.place('courses') + course.at);
      return () => {
        const { g } = i,
          f = [0, 1, 2].map((k) => (follows === undefined ? g.zero : g.load(follows, k))) as [Ex, Ex, Ex];
        return {
          phi: equation.phi(g, i.body(c.a), i.body(c.b), numbersAt(g, equation.numbers, n, 0) as never, f[0]),
          byTime: follows === undefined ? [] : [[f[0], f[1]], [f[1], f[2]]], // prettier-ignore
        };
      };
    });
  }
  private coupling({ constraint: c, terms, numbers }: StatedCoupling): void {
    const sides = terms.flatMap(({ of }) => [of.constraint.a, of.constraint.b]);
    this.constraint(c, sides, `coupling ${terms.map(({ of, counter }) => `${of.equation.name} ${counter !== undefined}`).join()}`, (i) => {
      const weights = i.base(this.place('values') + numbers),
        from = terms.map(({ of }) => i.base(this.place('numbers') + of.numbers)),
        turns = terms.map(({ counter }) => (counter === undefined ? undefined : i.base(this.site.at.z + counter)));
      return () => {
        const { g } = i,
          phi = terms.reduce((sum, { of }, k) => {
            const q = this.coordinate(i, of, from[k]!),
              whole = turns[k] === undefined ? g.zero : wholeTurns(g, q, g.load(turns[k]!, 0));
            return g.add(sum, g.multiply(g.load(weights, k), g.add(q, whole)));
          }, g.zero);
        return { phi: [phi], byTime: [] };
      };
    });
  }
  private coordinate(i: Instance, { constraint: { a, b }, equation }: Statement, numbers: number): Ex {
    const { g } = i;
    return equation.phi(g, i.body(a), i.body(b), numbersAt(g, (equation as Elementary).numbers, numbers, 0) as never, g.zero)[0]!;
  }

  /** −λ·∂Φ μ − ν·Φ̈; and of what brings onto it −β·Φ̇, −β·Φ. */
  private constraint(
    c: Constraint,
    bodies: readonly number[],
    key: string,
    state: (i: Instance) => () => { phi: readonly Ex[]; byTime: readonly (readonly [Ex, Ex])[] },
  ): void {
    const sides = [...new Set(bodies)],
      ends = bodies.map((b) => sides.indexOf(b)).join(),
      sum = (i: Instance, list: readonly Ex[], by: readonly Ex[]) =>
        list.reduce((s, x, r) => i.g.add(s, i.g.multiply(by[r]!, x)), i.g.zero);
    for (const part of ['rates', 'drift', 'place'] as const) {
      const i = new Instance(this.site),
        { g } = i,
        list = sides.map((b) => ({ body: i.body(b), there: b < this.system.bodies })),
        acceleration = part === 'rates' ? sides.map((b) => this.motionOf(i, b, this.place('solution'))) : [],
        along = part === 'rates' ? sides.map((b) => this.motionOf(i, b, this.seeds)) : [],
        carried = part === 'rates' ? this.rows(i, c, this.place('solution')) : [],
        by = this.rows(i, c, this.seeds),
        offsets = part === 'place' ? i.base(this.place('offsets') + c.row) : -1,
        stated = state(i);
      this.note(part, `${key} ${ends} ${list.map((x) => x.there).join()}`, i, () => {
        const { phi, byTime } = stated();
        // a joint that closes again holds what is there then
        if (part === 'place') return g.negate(sum(i, phi.map((x, r) => g.subtract(x, g.load(offsets, r))), by)); // prettier-ignore
        const moves = list.map(({ body, there }, k) =>
            there
              ? { body, acceleration: part === 'rates' ? [...acceleration[k]!.v, ...acceleration[k]!.w] : new Array<Ex>(6).fill(g.zero) }
              : undefined,
          ),
          { whole, rates } = secondRates(g, moves, phi, byTime as [Ex, Ex][]);
        if (part === 'drift') return g.negate(sum(i, rates, by));
        const displaced = new Direction(
          g,
          new Map(list.flatMap(({ body, there }, k) => (there ? moving(g, body, along[k]!.v, along[k]!.w) : []))),
        );
        return g.subtract(
          sum(i, whole, by),
          sum(
            i,
            phi.map((x) => displaced.of(x)),
            carried,
          ),
        );
      });
    }
  }

  /** What a load pushes with, along μ; and its power where a state counts that. */
  private load(load: StatedLoad, part: 'rates' | 'react'): void {
    const { room } = this.system,
      counted = room.further.find(({ changes }) => changes.by === 'power' && changes.which === load.which);
    let numbers = this.site.from + load.numbers;
    for (const { bodies, values } of load.force.instances) {
      const i = new Instance(this.site),
        { g } = i,
        { key, x } = this.expressed.load(i, load, bodies, numbers),
        all = [...new Set(bodies)],
        along = all.map((b) => this.motionOf(i, b, this.seeds)),
        power = counted && i.number(this.further + counted.at);
      numbers += values.length;
      this.note(part, `${JSON.stringify(key)} ${along.map((m) => m !== undefined).join()} ${power !== undefined}`, i, () => {
        const { pushes, bodies: of } = x(),
          pushed = pushes.reduce((s, six, k) => {
            const m = along[k];
            return m ? [...m.v, ...m.w].reduce((t, u, j) => g.add(t, g.multiply(u, six[j]!)), s) : s;
          }, g.zero);
        return power === undefined ? pushed : g.add(pushed, g.multiply(power, powerOf(g, pushes, of as BodyEx[])));
      });
    }
  }

  /** A state that follows the rate of a coordinate, or the work that a drive does along it: −λ q̇. */
  private followed(at: number, of: Statement, c?: Constraint): void {
    const i = new Instance(this.site),
      { g } = i,
      { a, b } = of.constraint,
      sides = [...new Set([a, b])],
      list = sides.map((s) => ({ body: i.body(s), there: s < this.system.bodies })),
      numbers = i.base(this.place('numbers') + of.numbers),
      by = i.number(this.further + at),
      carried = c && this.rows(i, c, this.place('solution'))[0]!;
    this.note('work', `${of.equation.name} ${a === b} ${list.map((x) => x.there).join()} ${c !== undefined}`, i, () => {
      const all = new Direction(g, new Map(list.flatMap(({ body, there }) => (there ? moving(g, body, body.v, body.w) : [])))),
        rate = g.multiply(by, all.of(this.coordinate(i, of, numbers)));
      return carried === undefined ? rate : g.negate(g.multiply(carried, rate));
    });
  }

  /** −μ·(M u̇ + ω × J ω) */
  private body(b: number): void {
    const i = new Instance(this.site),
      { g } = i,
      { w } = i.body(b),
      mass = i.number(this.place('masses') + b),
      inertia = i.base(this.place('inertias') + 9 * b),
      a = this.motionOf(i, b, this.place('solution'))!,
      along = this.motionOf(i, b, this.seeds)!;
    this.note('rates', 'body', i, () => {
      const J = (x: VectorEx) =>
          [0, 1, 2].map((r) => dot(g, [0, 1, 2].map((c) => g.load(inertia, 3 * r + c)) as unknown as VectorEx, x)) as unknown as VectorEx,
        turning = cross(g, w, J(w)),
        spins = J(a.w).map((x, k) => g.add(x, turning[k]!)) as unknown as VectorEx;
      return g.negate(g.add(g.multiply(mass, dot(g, along.v, a.v)), dot(g, along.w, spins)));
    });
  }

  /** What is followed, and how the states of a course change, by its formula. */
  private course(at: number, stated: NonNullable<Followed['stated']>, follow: Kinds): void {
    const first = new Instance(this.site),
      { key, x } = this.expressed.course(first, { at, stated }, stated);
    follow.add(key as string, first, x);
    const i = new Instance(this.site),
      { g } = i,
      again = this.expressed.course(i, { at, stated }, stated),
      bySome = i.base(this.mirrored(this.place('courses') + at)),
      byRates = i.base(this.further + stated.course.first),
      rates = this.place('stateRates') + stated.course.first;
    this.note('courses', key as string, i, () =>
      again.x().reduce((sum, { base, offset, x: value }) => {
        const by = i.places[base] === rates ? g.load(byRates, offset) : g.load(bySome, offset);
        return g.add(sum, g.multiply(by, value));
      }, g.zero),
    );
  }
}
