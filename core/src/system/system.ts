/**
 * The numeric system of a mechanism: bodies in absolute coordinates, constraints with multipliers, applied forces.
 *   [M Gᵀ] [u̇]   [f]
 *   [G  0] [λ] = [γ]
 * Everything is set up once; evaluating allocates nothing.
 */
import type { Constraint, Statement } from '../equations/constraint';
import type { Fold } from '../equations/fold';
import { OwnBodies } from '../equations/coordinates/own';
import type { ExtraStates } from '../equations/states';
import type { Force } from '../equations/forces';
import type { Freedom } from '../equations/freedom';
import type { Kinematics } from '../equations/kinematics';
import { lightBodies } from '../linear/augmented';
import { Elimination } from '../linear/elimination';
import type { Link } from '../linear/order';
import type { Stages } from '../kernel/stages';
import type { Sum } from '../kernel/sums';
import { type Vectors, placeOf } from '../kernel/vectors';
import { Ldlt } from '../linear/ldlt';
import { OwnRows } from '../linear/own-rows';
import { AppliedForces } from './applied-forces';
import type { Machine, MachineKernels, Structure } from './compiled/machine';
import { type RecordsTogether, Room } from './compiled/room';
import type { StatedState } from './compiled/stepping';
import { Loops } from './looped/loops';
import { type Told, toldSize } from '../equations/told';

/** Constraints between one pair of bodies: a joint, or a drive following its joint. */
export interface Group extends Link {
  name: string;
  family: 'joints' | 'couplings' | 'drives' | 'starts' | 'loads';
  constraints: readonly Constraint[];
}

/** Residual to which positions (m or 1) are projected; velocities (m/s or 1/s) to three times as much. */
export const POSITION_TOLERANCE = 1e-10;

/**
 * Work of eliminating the bodies one by one, the cube of what each can do in all, up to which a machine is compiled as a whole: 629 bodies in a plane. Beyond
 * it, making the code takes longer than it saves (docs/architecture.md). Where little is left out, up to 40 bodies: kind by kind more of them are as quick,
 * and ready sooner.
 */
const COMPILED = 17_000;
const SPATIAL = 6 ** 3;
const IN_SPACE = 40 * SPATIAL;

export class System {
  readonly K: Kinematics;
  readonly rows: number;
  readonly ldlt: Ldlt;
  /** Twelve numbers a block; then those by coordinates of bodies (`RowPlaces`). */
  readonly G: Float64Array;
  readonly phi: Float64Array;
  /** Of each row, what Φ is where it holds: not 0 where a joint has closed again elsewhere. */
  readonly offsets: Float64Array;
  /** u̇, a motion (six numbers a body, then one a coordinate that a body has of its own), then λ. */
  readonly solution: Float64Array;
  /** Entries of a motion. */
  readonly motions: number;
  /** Velocities that bodies have: what joints leave free of them are the freedoms. */
  readonly velocities: number;
  readonly acceleration: Float64Array;
  readonly multipliers: Float64Array;
  /** Right-hand sides evaluated since the start. */
  evaluations = 0;
  factorisations = 0;

  private readonly constraints: readonly Constraint[];
  /** Constraints that are no expressions; and of those that are, the ones that follow a course that is none. */
  private readonly others: readonly Constraint[];
  private readonly driven: readonly Statement[];
  readonly room: Room;
  /** Rows that have been let go at some time. */
  private readonly letsGo: Uint8Array;
  /** Its equations as code of its own, once that is wanted. */
  private wanted: ((s: Structure) => MachineKernels) | undefined;
  private machine: Machine | undefined;
  private kernels: MachineKernels | undefined;
  /** All stages of a step in one call, and for which sums. */
  private stepped: { sums: readonly Sum[]; run: Stages | undefined } | undefined;
  /** Records of a step in one call, and by which sum. */
  private recording: { dense: Sum; made: RecordsTogether | undefined } | undefined;
  private readonly counts: Float64Array;
  /** Its equations kind by kind, where it is too large for code of its own and that is wanted. */
  private loops: Loops | undefined;
  private tooLarge = false;
  private folded: Fold | undefined;
  private readonly ratio: Float64Array;
  private readonly loosest: Float64Array;
  /** Rows that add to M. */
  private weighted: readonly number[] = [];
  private readonly rhs: Float64Array;
  private readonly F: Float64Array;
  /** What was read of measured coordinates: value and rate of each. */
  private readonly read: Float64Array;
  /** Of which state that is, as K counts them. */
  private looked = -1;
  /** Φ̇ of rows at the last `look`. */
  private readonly rates: Float64Array;
  private readonly applied: Float64Array;
  private readonly previous: Float64Array;
  private readonly appliedForces: AppliedForces;
  private readonly ownRows: OwnRows | undefined;
  /** Further states of which the code tells how they change, and those that are asked. */
  private readonly further: readonly StatedState[];
  private readonly asked: readonly ExtraStates[];
  /** Those of which no expression tells. */
  private readonly untold: readonly ExtraStates[];
  private readonly stateRates: Float64Array;
  /** Constraint forces and what follows from them (friction) could not be brought into agreement. */
  unsettled = false;
  private readonly step: Float64Array;
  /** Time; and the bounds between which formulas are evaluated, so that a kink at the end of a segment is seen from inside. */
  private readonly clock: Float64Array;

  constructor(
    readonly bodies: number,
    readonly masses: Float64Array,
    readonly inertias: Float64Array,
    readonly groups: readonly Group[],
    readonly forces: readonly Force[],
    readonly extras: readonly ExtraStates[],
    /** Characteristic size, m. */
    size: number,
    /** Coordinates that are followed along a run. */
    readonly followed: readonly Freedom[] = [],
    /** Bodies that are told by coordinates of their own. */
    readonly own = new OwnBodies(bodies),
  ) {
    let row = 0;
    for (const g of groups)
      for (const c of g.constraints) {
        c.row = row;
        row += c.rows;
      }
    this.rows = row;
    let block = row;
    for (const g of groups)
      for (const c of g.constraints) {
        c.block = block;
        block += c.more.length;
      }
    let extra = 0;
    for (const c of extras) {
      c.first = extra;
      extra += c.states;
    }
    this.constraints = groups.flatMap((g) => g.constraints);
    this.others = this.constraints.filter((c) => !c.statement);

    // of bodies with coordinates of their own the mass matrix says whether they have inertia
    const light = lightBodies(masses, inertias, size).filter((b) => !own.of[b]),
      plan = new Elimination(bodies, row, groups, light, own),
      room = (this.room = new Room(
        plan,
        extra,
        this.constraints,
        followed.map((f) => f.equation),
        extras,
        masses,
        inertias,
        forces,
      ));
    this.K = room.K;
    this.driven = room.statements.flatMap(({ constraint, course }) => (course && !course.stated ? [constraint.statement!] : []));
    this.clock = room.view('clock');
    this.stateRates = room.view('stateRates');
    this.counts = room.view('counts');
    this.motions = plan.motions;
    this.velocities = plan.size - row;
    this.letsGo = new Uint8Array(row);
    this.ldlt = new Ldlt(plan, masses, inertias, this.K.own, (key) => room.view(key));
    this.loosest = room.view('loosest');
    this.weightRows(size);
    this.G = room.view('G');
    this.phi = room.view('phi');
    this.offsets = room.view('offsets');
    this.rhs = room.view('gamma');
    this.F = room.view('F');
    this.read = room.view('measured');
    this.rates = room.view('rates');
    this.ratio = room.view('ratio');
    this.applied = new Float64Array(6 * (bodies + 1));
    this.previous = new Float64Array(6 * (bodies + 1));
    this.appliedForces = new AppliedForces(forces, this.F, room.view('powers'));
    this.step = room.view('x');
    this.solution = room.view('solution');
    this.acceleration = this.solution.subarray(0, this.motions);
    this.multipliers = this.solution.subarray(this.motions);
    // multipliers and powers that change after the code has run are asked for
    this.further = this.appliedForces.reacting || this.weighted.length > 0 ? [] : room.further;
    const asked = (told: ReadonlySet<number>) => extras.filter((e) => e.states > 0 && !told.has(e.first));
    this.asked = asked(new Set(this.further.map((s) => s.at)));
    this.untold = asked(new Set(room.further.map((s) => s.at)));
    if (this.K.own) this.ownRows = new OwnRows(plan, this.K.own);
  }

  get size(): number {
    return this.K.size;
  }
  /** Room for the states of one run, where its code works. What was there before is overwritten. */
  vectors(): Vectors {
    return this.room.vectors(this.size);
  }

  /** The group a row belongs to. */
  ownerOf(row: number): Group | undefined {
    return this.groups.find((g) => g.constraints.some((c) => row >= c.row && row < c.row + c.rows));
  }

  /** Switches the rows of a constraint on or off. */
  hold(c: Constraint, on: boolean): void {
    c.holds = on;
    for (let k = 0; k < c.rows; k++) {
      this.ldlt.off[c.row + k] = on ? 0 : 1;
      if (on || this.letsGo[c.row + k]) continue;
      this.letsGo[c.row + k] = 1;
      this.machine = undefined; // the code must know of it
      this.loops = undefined;
    }
  }

  /**
   * From now on the equations of the machine are evaluated by code made for it alone, if it is not too large: worth while before a run. The numbers
   * are those of before but for rounding.
   * @param kernelsOf makes that code; handed over so that it need not be at hand where nothing is run
   */
  compile(kernelsOf: (s: Structure) => MachineKernels, most = this.most): void {
    if (this.work <= most) this.wanted ??= kernelsOf;
    else this.tooLarge = true;
  }
  private get most(): number {
    return 2 * this.work < SPATIAL * this.bodies ? COMPILED : IN_SPACE;
  }
  private get work(): number {
    let work = 0;
    for (let i = 0; i < this.bodies; i++) {
      let can = this.own.of[i]?.velocities ?? 0;
      for (let k = 0; k < (this.own.of[i] ? 0 : 6); k++) can += this.folded?.moves[6 * i + k] ?? 1;
      work += can * can * can;
    }
    return work;
  }
  /**
   * From now on what the bodies cannot do is left out of states, and of equations that are compiled: those of its rows that hold it carry nothing.
   * The bodies must be where they can be. @param fold left out: everything counts again
   */
  fold(fold: Fold | undefined): void {
    this.folded = fold;
    this.machine = undefined;
    // what is not too large in a plane may be so in space
    if (this.work > this.most && this.wanted) {
      this.wanted = undefined;
      this.tooLarge = true;
    }
    this.K.lay(fold);
  }
  /** What records tell of its bodies, where something is left out. */
  get told(): Told | undefined {
    const { folded, K } = this;
    if (!folded) return undefined;
    return { moves: Array.from(folded.moves), still: K.origins };
  }
  /** Whether it is evaluated by code of its own, as of the last evaluation. */
  get compiled(): boolean {
    return this.machine !== undefined;
  }
  /** Whether it is evaluated kind by kind. */
  get byKinds(): boolean {
    return !this.made && this.looped !== undefined;
  }
  /** What decides on that code. */
  get structure(): Structure {
    const { room, masses, inertias, letsGo, others } = this;
    const { places, statements, measured } = room,
      // what follows from constraint forces is added to all others where these are at hand
      loads = this.appliedForces.reacting ? [] : room.loads;
    return {
      plan: this.ldlt.plan,
      places,
      statements,
      measured,
      loads,
      layout: this.K.layout,
      further: this.further,
      others,
      masses,
      inertias,
      letsGo,
      fold: this.folded,
    };
  }
  private get made(): Machine | undefined {
    if (!this.wanted || this.machine) return this.machine;
    const kernels = this.wanted(this.structure);
    this.machine = this.room.bring(kernels);
    this.kernels = kernels;
    this.stepped = undefined;
    this.recording = undefined;
    if (!this.machine) {
      this.wanted = undefined;
      this.tooLarge = true;
    }
    // what is nothing in this structure is never written
    this.G.fill(0);
    this.ldlt.clear();
    this.rhs.fill(0);
    this.F.fill(0);
    this.phi.fill(0);
    this.rates.fill(0);
    return this.machine;
  }

  /** Limits formulas to the inside of [t0, t1]. */
  segment(t0: number, t1: number): void {
    const e = 1e-13 * Math.max(1, Math.abs(t0), Number.isFinite(t1) ? Math.abs(t1) : 0);
    this.clock[1] = t0 + e;
    this.clock[2] = t1 - e;
  }
  /** Sets the clock. @returns the time as formulas see it */
  private inside(t: number): number {
    const { clock } = this;
    clock[0] = t;
    return Math.max(clock[1]!, Math.min(t, clock[2]!));
  }

  /** Takes over a state. */
  load(y: Float64Array): void {
    const { K, made } = this;
    if (!made || K.own || y.buffer !== K.memory.numbers.buffer) return K.load(y);
    K.moved++;
    made.place(placeOf(y));
  }

  /** State derivative at (t, y); leaves u̇ and λ in `solution` and the factorisation at hand. */
  evaluate(t: number, y: Float64Array, dy: Float64Array): void {
    const { K, made } = this,
      inside = this.inside(t),
      { buffer } = K.memory.numbers;
    if (!made || K.own || y.buffer !== buffer || dy.buffer !== buffer) {
      K.load(y);
      this.accelerate(t);
      K.rates(dy);
      K.accelerated(this.acceleration, dy);
      this.change(inside, dy);
      return;
    }
    K.moved++;
    made.place(placeOf(y));
    this.accelerateFrom(t, placeOf(y), placeOf(dy));
    // what was found beyond the code
    if (this.appliedForces.reacting || this.weighted.length > 0) K.accelerated(this.acceleration, dy);
    for (let i = 0; i < this.asked.length; i++) this.asked[i]!.rates(K, inside, dy, K.layout.further);
  }

  /** How further states change, at what was last solved for. */
  private change(inside: number, dy: Float64Array): void {
    const { K, looped, extras, room } = this,
      { further } = K.layout;
    if (!looped) {
      for (const c of extras) c.rates(K, inside, dy, further);
      return;
    }
    looped.further();
    for (let i = 0; i < room.further.length; i++) {
      const { at } = room.further[i]!;
      dy[further + at] = this.stateRates[at]!;
    }
    for (let i = 0; i < this.untold.length; i++) this.untold[i]!.rates(K, inside, dy, further);
  }
  /** Its equations kind by kind: while it has no code of its own, and that is wanted. */
  private get looped(): Loops | undefined {
    if (!this.tooLarge || this.wanted) return undefined;
    const { groups } = this;
    return (this.loops ??= new Loops(
      this.room,
      this.appliedForces.reacting,
      this.ldlt.plan,
      (link) => groups[link]!.constraints.reduce((s, c) => s + c.rows, 0),
      this.letsGo,
    ));
  }

  /** Whether the derivative of a state follows from its numbers alone, by compiled code: nothing is asked between. */
  get alone(): boolean {
    const { made, K, others, driven, asked, weighted, appliedForces } = this;
    return made !== undefined && !K.own && others.length + driven.length + asked.length + weighted.length === 0 && appliedForces.quiet;
  }
  /** The stages of a step in one call, where the machine is `alone`; what it leaves is that of its last stage. @param nodes,sums of the method */
  stages(nodes: readonly number[], sums: readonly Sum[]): Stages | undefined {
    if (!this.alone) return undefined;
    if (this.stepped?.sums !== sums) this.stepped = { sums, run: this.room.stages(this.kernels!, nodes, sums) };
    return this.stepped!.run;
  }
  /**
   * Records of a step in one call, where the machine is `alone` and all that it follows is measured by its code. The rows that count now count for all of
   * them. @param dense gives a state within a step
   */
  records(dense: Sum): RecordsTogether | undefined {
    const { alone, room, followed, counts, ldlt } = this;
    if (!alone || room.measured.length < followed.length) return undefined;
    if (this.recording?.dense !== dense) {
      const told = 1 + (this.folded ? toldSize({ moves: Array.from(this.folded.moves) }) + this.K.extra : this.K.whole.size);
      this.recording = { dense, made: room.records(this.kernels!, dense, told) };
    }
    for (let r = 0; r < counts.length; r++) counts[r] = ldlt.redundant[r] || ldlt.off[r] ? 0 : 1;
    this.K.moved++;
    return this.recording.made;
  }
  /** Takes note of so many right-hand sides evaluated by `stages`. */
  passed(count: number): void {
    this.evaluations += count;
    this.factorisations += count;
    this.K.moved++;
    this.ldlt.judge(this.ratio, this.loosest[0]!);
  }

  /** Solves for u̇ and λ at the present kinematics. */
  accelerate(t: number): void {
    const { nowhere } = this.room;
    this.accelerateFrom(t, nowhere, nowhere);
  }
  /** @param y,dy places of the state and of its derivative, for compiled code */
  private accelerateFrom(t: number, y: number, dy: number): void {
    const { K, F, G, rhs, solution } = this;
    const inside = this.inside(t);
    this.evaluations++;
    const { made, appliedForces } = this,
      looped = made ? undefined : this.looped;
    looped?.courses();
    if (appliedForces.reacting) appliedForces.apply(K, inside);
    else if (made) appliedForces.applyOthers(K, inside);
    else if (looped) appliedForces.applyAround(K, inside, looped.loads);
    else appliedForces.apply(K, inside);
    this.factorisations++;
    if (looped) {
      this.follow(inside);
      looped.rows();
    }
    for (const c of made || looped ? this.others : this.constraints) c.linear(K, inside, G, rhs);
    if (!made) {
      this.ownRows?.carry(G);
      this.ownRows?.remainder(G, rhs);
    }
    if (made) {
      this.follow(inside);
      made.accelerate(y, dy);
      K.own?.spread(solution);
      this.ldlt.judge(this.ratio, this.loosest[0]!);
    } else if (looped?.factorise) {
      this.balance(F);
      looped.factorise();
      this.ldlt.judge(this.ratio, 1);
      this.solveFor(solution);
    } else {
      this.balance(F);
      this.ldlt.factorise(G);
      this.ldlt.solve(solution);
    }
    this.complete();
    if (this.appliedForces.reacting) this.iterateReactions(inside);
  }

  /** Weights of the rows that add to M: between the mass of a body with next to no inertia and that of the heaviest. */
  private weightRows(size: number): void {
    const { plan, weights } = this.ldlt,
      { masses } = this,
      light = new Set(plan.light),
      lengths = this.lengths;
    this.weighted = [...new Set(plan.products.map((p) => p.row))];
    const heaviest = masses.reduce((a, b) => Math.max(a, b), 0);
    for (const r of this.weighted) {
      const blocks = [r, ...plan.further[r]!].flatMap((b) => [plan.bodyOf[2 * b]!, plan.bodyOf[2 * b + 1]!]).filter((b) => light.has(b));
      weights[r] = Math.sqrt(heaviest * Math.max(...blocks.map((b) => masses[b]!))) * (lengths[r] ? 1 : size * size);
    }
  }
  /** Multipliers as they are without what rows add to M; no solution where a direction is free and has no inertia. */
  private complete(): void {
    const { weighted, ldlt, multipliers, rhs } = this;
    this.K.own?.hasten(this.acceleration);
    for (let i = 0; i < weighted.length; i++) {
      const r = weighted[i]!;
      if (!ldlt.off[r]) multipliers[r] = multipliers[r]! + ldlt.weights[r]! * rhs[r]!;
    }
    if (ldlt.weightless) this.solution.fill(NaN);
  }

  /** Of each row whether it holds a length. */
  get lengths(): boolean[] {
    return this.constraints.flatMap((c) => [...c.lengths]);
  }

  /** Values and rates of the coordinates that are followed, at the state in K. */
  follows(values: Float64Array, rates: Float64Array): void {
    const { followed, made, K, read } = this;
    if (made && this.looked !== K.moved) made.measure();
    for (let i = 0, j = 0; i < followed.length; i++) {
      const f = followed[i]!,
        compiled = made && f.equation.statement;
      values[i] = compiled ? read[j++]! : f.value(K);
      rates[i] = compiled ? read[j++]! : f.rate(K);
    }
  }

  /** What driven coordinates follow at a time that is no expression, to where compiled equations read it. */
  private follow(inside: number): void {
    for (const c of this.driven) c.follow(this.K, inside);
  }
  /** Solves with the factors at hand, in place. */
  private solveFor(x: Float64Array): void {
    const { made, step } = this,
      looped = made ? undefined : this.looped;
    if (!made && !looped?.solve) return this.ldlt.solve(x);
    if (x !== step) step.set(x);
    this.K.own?.gather(step);
    if (made) made.solve();
    else looped!.solve!();
    this.K.own?.spread(step);
    if (x !== step) x.set(step);
  }

  /**
   * Friction depends on the constraint forces and they on friction: repeated until both agree, with half steps once plain repetition swings.
   */
  private iterateReactions(t: number): void {
    const { K, F, applied, solution } = this;
    applied.set(F);
    this.unsettled = true;
    for (let i = 0; i < 60; i++) {
      let scale = 0,
        change = 0;
      for (let k = 0; k < F.length; k++) scale = Math.max(scale, Math.abs(F[k]!));
      this.previous.set(F);
      F.set(applied);
      this.appliedForces.react(K, t, this);
      const relax = i > 8 ? 0.5 : 1;
      for (let k = 0; k < F.length; k++) {
        const d = F[k]! - this.previous[k]!;
        change = Math.max(change, Math.abs(d));
        F[k] = this.previous[k]! + relax * d;
      }
      if (i > 0 && change <= 1e-13 * scale + 1e-13) {
        this.unsettled = false;
        break;
      }
      this.balance(F);
      this.solveFor(solution);
      this.complete();
    }
  }

  /** Right-hand side from the applied forces: f with the gyroscopic part, γ below. */
  private balance(F: Float64Array): void {
    const { K, rhs, solution, bodies, inertias } = this;
    for (let i = 0; i < bodies; i++) {
      const p = 6 * i,
        m = 9 * i,
        j = 3 * i;
      const x = K.w[j]!,
        y = K.w[j + 1]!,
        z = K.w[j + 2]!;
      const hx = inertias[m]! * x + inertias[m + 1]! * y + inertias[m + 2]! * z;
      const hy = inertias[m + 3]! * x + inertias[m + 4]! * y + inertias[m + 5]! * z;
      const hz = inertias[m + 6]! * x + inertias[m + 7]! * y + inertias[m + 8]! * z;
      solution[p] = F[p]!;
      solution[p + 1] = F[p + 1]!;
      solution[p + 2] = F[p + 2]!;
      solution[p + 3] = F[p + 3]! - (y * hz - z * hy);
      solution[p + 4] = F[p + 4]! - (z * hx - x * hz);
      solution[p + 5] = F[p + 5]! - (x * hy - y * hx);
    }
    K.own?.push(solution, F);
    solution.set(rhs, this.motions);
  }

  /** Whether forces follow from what constraints carry (friction). */
  get reacting(): boolean {
    return this.appliedForces.reacting;
  }

  /** From now on a constraint holds the bodies as they are. @returns how far from where it would else hold them, by its rows */
  stand(c: Constraint, t: number): number[] {
    c.position(this.K, this.inside(t), this.phi);
    const gaps = Array.from(this.phi.subarray(c.row, c.row + c.rows));
    this.offsets.set(gaps, c.row);
    return gaps;
  }

  /** Power of each applied force, W, at the last `accelerate`. */
  get powers(): Float64Array {
    return this.appliedForces.powers;
  }

  /** Applied forces with what follows from the constraint forces, at the last `accelerate`: six numbers a body, as in Force. */
  get loads(): Float64Array {
    return this.F;
  }

  /** Constraint matrix at the present kinematics. */
  jacobian(): void {
    const { looped } = this;
    looped?.jacobian();
    for (const c of looped ? this.others : this.constraints) c.jacobian(this.K, this.G);
    this.ownRows?.carry(this.G);
  }

  /** Constraint matrix at the present kinematics, factorised. @param damping see Ldlt.factorise */
  linearise(damping = 0): void {
    const made = damping > 0 ? undefined : this.made;
    this.factorisations++;
    if (made) {
      for (const c of this.others) c.jacobian(this.K, this.G);
      made.linearise();
      this.ldlt.judge(this.ratio, this.loosest[0]!);
    } else {
      const factorise = damping > 0 ? undefined : this.looped?.factorise;
      this.jacobian();
      if (factorise) {
        factorise();
        this.ldlt.judge(this.ratio, 1);
      } else this.ldlt.factorise(this.G, damping);
    }
  }

  /** Φ at the present kinematics into `phi`; returns its largest entry among the rows that count. */
  residual(t: number): number {
    const { phi } = this;
    const inside = this.inside(t),
      { made, offsets } = this,
      looped = made ? undefined : this.looped;
    if (made || looped) this.follow(inside);
    if (looped) {
      looped.courses();
      looped.positions();
    }
    for (const c of made || looped ? this.others : this.constraints) c.position(this.K, inside, phi);
    if (looped || !made) for (let r = 0; r < phi.length; r++) phi[r] = phi[r]! - offsets[r]!;
    else {
      for (const c of this.others) for (let r = c.row; r < c.row + c.rows; r++) phi[r] = phi[r]! - offsets[r]!;
      made.residual();
    }
    return this.largest(phi);
  }

  /**
   * Velocity-level residual G u − ν into `phi`; returns its largest entry among the rows that count.
   * @param fresh the constraint matrix at hand is already that of this posture
   */
  velocityResidual(t: number, fresh = false): number {
    const { K, G, phi, made } = this;
    const inside = this.inside(t),
      looped = made ? undefined : this.looped;
    if (made || looped) this.follow(inside);
    made?.velocityResidual();
    looped?.courses();
    looped?.velocities();
    for (const c of made || looped ? this.others : this.constraints) {
      if (!fresh) c.jacobian(K, G);
      c.nu(K, inside, phi);
      for (let k = 0; k < c.rows; k++) {
        const g = 12 * (c.row + k);
        let s = -phi[c.row + k]!;
        for (let e = 0; e < 3; e++) {
          s += G[g + e]! * K.v[3 * c.a + e]! + G[g + 3 + e]! * K.w[3 * c.a + e]!;
          s += G[g + 6 + e]! * K.v[3 * c.b + e]! + G[g + 9 + e]! * K.w[3 * c.b + e]!;
        }
        phi[c.row + k] = s;
      }
      for (let i = 0; i < c.more.length; i++) {
        const g = 12 * (c.block + i);
        const a = c.more[i]![0],
          b = c.more[i]![1];
        let s = 0;
        for (let e = 0; e < 3; e++) {
          s += G[g + e]! * K.v[3 * a + e]! + G[g + 3 + e]! * K.w[3 * a + e]!;
          s += G[g + 6 + e]! * K.v[3 * b + e]! + G[g + 9 + e]! * K.w[3 * b + e]!;
        }
        phi[c.row] = phi[c.row]! + s;
      }
    }
    return this.largest(phi);
  }

  private largest(list: Float64Array): number {
    const { redundant, off } = this.ldlt;
    let m = 0;
    for (let r = 0; r < list.length; r++) if (!redundant[r] && !off[r]) m = Math.max(m, Math.abs(list[r]!));
    return m;
  }

  /** Largest residuals of positions and velocities at the last `look`. */
  position = 0;
  velocity = 0;
  /** Both residuals at the present kinematics, and the coordinates that are followed, which the next `follows` then only hands over. */
  look(t: number): void {
    const { made, phi, rates, others } = this;
    if (!made || others.length > 0) {
      this.position = this.residual(t);
      this.velocity = this.velocityResidual(t);
      return;
    }
    this.follow(this.inside(t));
    made.look();
    this.looked = this.K.moved;
    this.position = this.largest(phi);
    this.velocity = this.largest(rates);
  }

  /**
   * Moves the bodies onto the position constraints, by mass-weighted least change, with the factorisation at hand
   * and new ones when that converges slowly.
   * @returns the residual reached
   */
  projectPositions(t: number, tolerance = POSITION_TOLERANCE): number {
    const { step } = this;
    let error = this.residual(t);
    for (let i = 0; i < 12 && error > tolerance; i++) {
      if (i > 0) this.linearise();
      step.fill(0);
      for (let r = 0; r < this.rows; r++) step[this.motions + r] = -this.phi[r]!;
      this.solveFor(step);
      this.K.displace(step, 1);
      const now = this.residual(t);
      if (!(now < error) && i > 3) return now;
      error = now;
    }
    return error;
  }

  /** The same for velocities, at fixed positions. */
  projectVelocities(t: number, tolerance = 3 * POSITION_TOLERANCE): number {
    const { K, motions, step } = this;
    let error = this.velocityResidual(t);
    for (let i = 0; i < 8 && error > tolerance; i++) {
      if (i > 0) this.linearise();
      step.fill(0);
      for (let r = 0; r < this.rows; r++) step[motions + r] = -this.phi[r]!;
      this.solveFor(step);
      K.quicken(step, 1);
      const now = this.velocityResidual(t, true);
      if (!(now < error) && i > 2) return now;
      error = now;
    }
    return error;
  }
}
