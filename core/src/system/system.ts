/**
 * The numeric system of a mechanism: bodies in absolute coordinates, constraints with multipliers, applied forces.
 *   [M Gᵀ] [u̇]   [f]
 *   [G  0] [λ] = [γ]
 * Everything is set up once; evaluating allocates nothing.
 */
import { CarriedMass } from '../equations/carried-mass';
import type { Constraint } from '../equations/constraint';
import { type Fold, isSameFold } from '../equations/fold';
import { OwnBodies } from '../equations/coordinates/own';
import type { ExtraStates } from '../equations/states';
import type { Force } from '../equations/forces';
import type { Freedom } from '../equations/freedom';
import type { Kinematics } from '../equations/kinematics';
import { largestMoment, lightBodies } from '../linear/augmented';
import { eliminationOf } from '../linear/elimination';
import type { Link } from '../linear/order';
import type { Stages } from '../kernel/stages';
import type { Sum } from '../kernel/sums';
import { type Vectors, placeOf } from '../kernel/vectors';
import { Ldlt } from '../linear/ldlt';
import { OwnRows } from '../linear/own-rows';
import { AppliedForces } from './applied-forces';
import type { MachineKernels, Structure } from './compiled/machine';
import { Room } from './compiled/room';
import type { RecordsTogether } from './compiled/together';
import type { StatedState } from './compiled/stepping';
import type { Compiler } from './compiler';
import { Reactions } from './reactions';
import type { ByKinds } from './ways/by-kinds';
import { OneByOne } from './ways/one-by-one';
import type { Parts, Way } from './ways/way';
import type { Whole } from './ways/whole';
import { WeightedRows } from './weighted-rows';
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
 * Work of eliminating the bodies one by one, the cube of what each can do in all, up to which a machine is compiled as a whole: 200 bodies in a plane; where
 * little is left out, 40 in space. More of them are as quick kind by kind, and ready sooner (docs/architecture.md).
 */
const COMPILED = 200 * 27;
const SPATIAL = 216;
const IN_SPACE = 40 * SPATIAL;

/** Masses, kg, one to a body; inertias, kg·m², nine. */
export interface Inertia {
  readonly masses: Float64Array;
  readonly inertias: Float64Array;
}

/** Masses and inertias of bodies with what each has of masses between bodies while the others rest. */
function withCarried(masses: Float64Array, inertias: Float64Array, constraints: readonly Constraint[]): Inertia {
  const out = { masses: masses.slice(), inertias: inertias.slice() };
  for (const c of constraints)
    for (const { body, mass, moments } of c instanceof CarriedMass ? c.alone : []) {
      if (body >= masses.length) continue;
      out.masses[body] = out.masses[body]! + mass;
      moments.forEach((x, k) => (out.inertias[9 * body + k] = out.inertias[9 * body + k]! + x));
    }
  return out;
}

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

  /** What a push on a body meets while all others rest: its own, and its share of masses between bodies. */
  readonly apparent: Inertia;

  readonly room: Room;
  private readonly parts: Parts;
  /** Rows that have been let go at some time. */
  private readonly letsGo: Uint8Array;
  /** Its equations as code of its own, once that is wanted. */
  private compiler: Compiler | undefined;
  private wanted = false;
  /** Its code was found to differ from its equations one by one. */
  private distrusted = false;
  private whole: Whole | undefined;
  private kernels: MachineKernels | undefined;
  /** All stages of a step in one call, and for which sums. */
  private stepped: { sums: readonly Sum[]; run: Stages | undefined } | undefined;
  /** Records of a step in one call, and by which sum. */
  private recording: { dense: Sum; made: RecordsTogether | undefined } | undefined;
  private readonly counts: Float64Array;
  /** Its equations kind by kind, where it is too large for code of its own and that is wanted. */
  private kinds: ByKinds | undefined;
  /** Those of before, with and without what was left out. */
  private keptKinds: { fold: Fold | undefined; kinds: ByKinds }[] = [];
  private tooLarge = false;
  /** The same one by one. */
  private readonly one: OneByOne;
  private folded: Fold | undefined;
  private readonly weighted: WeightedRows;
  private readonly reactions: Reactions;
  /** What was read of measured coordinates: value and rate of each. */
  private readonly read: Float64Array;
  /** Of which state that is, as K counts them. */
  private looked = -1;
  /** Φ̇ of rows at the last `look`. */
  private readonly rates: Float64Array;
  /** Whether its code lets loads that follow from what constraints carry agree with that. */
  private readonly settles: boolean;
  /** Further states of which the code tells how they change, and those that are asked. */
  private readonly further: readonly StatedState[];
  private readonly asked: readonly ExtraStates[];
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
    /** Of each body, how far from its centre of mass the farthest of its joints is, m. */
    reach: Float64Array,
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
    const constraints = groups.flatMap((g) => g.constraints);
    // of bodies with coordinates of their own the mass matrix says whether they have inertia
    this.apparent = withCarried(masses, inertias, constraints);
    const { masses: mass, inertias: moments } = this.apparent,
      light = lightBodies(mass, moments, size, largestMoment(mass, moments, reach)).filter((b) => !own.of[b]),
      plan = eliminationOf(bodies, row, groups, light, own),
      followedBy = followed.map((f) => f.equation),
      room = (this.room = new Room(plan, extra, constraints, followedBy, extras, masses, inertias, forces)),
      { K } = room,
      F = room.view('F');
    this.K = K;
    this.clock = room.view('clock');
    this.counts = room.view('counts');
    this.motions = plan.motions;
    this.velocities = plan.size - row + plan.carried.length;
    this.letsGo = new Uint8Array(row);
    this.ldlt = new Ldlt(plan, masses, inertias, K.own, (key) => room.view(key));
    this.G = this.ldlt.G = room.view('G');
    for (const c of constraints)
      if (c.inertia !== undefined) {
        this.ldlt.weights.fill(c.inertia, c.row, c.row + c.rows);
        this.ldlt.off.fill(1, c.row, c.row + c.rows);
      }
    this.phi = room.view('phi');
    this.offsets = room.view('offsets');
    this.read = room.view('measured');
    this.rates = room.view('rates');
    this.solution = room.view('solution');
    this.acceleration = this.solution.subarray(0, this.motions);
    this.multipliers = this.solution.subarray(this.motions);
    const { G, phi, offsets, solution, motions, ldlt } = this,
      coupled: readonly Constraint[] = room.couplings.map((c) => c.constraint);
    this.parts = {
      ...{ K, constraints, ldlt, inertias, motions, G, phi, offsets, F, solution },
      others: constraints.filter((c) => !c.statement && !coupled.includes(c)),
      coupled,
      driven: room.statements.flatMap(({ constraint: { statement }, course }) =>
        course && !course.stated && !statement!.course!.settle ? [statement!] : [],
      ),
      forces: new AppliedForces(forces, F, room.view('powers')),
      ownRows: K.own && new OwnRows(plan, K.own),
      gamma: room.view('gamma'),
      x: room.view('x'),
      ratio: room.view('ratio'),
      loosest: room.view('loosest'),
    };
    this.one = new OneByOne(this.parts);
    this.reactions = new Reactions(this.parts);
    this.weighted = new WeightedRows(ldlt, masses, this.lengths, size);
    this.settles = this.parts.forces.reactingStated && !this.weighted.any && !K.own;
    // multipliers and powers that change after the code has run are asked for
    this.further = (this.reacting && !this.settles) || this.weighted.any ? [] : room.further;
    this.asked = this.untold(this.further);
  }
  /** Further states that are not among these. */
  private untold(told: readonly StatedState[]): ExtraStates[] {
    const at = new Set(told.map((s) => s.at));
    return this.extras.filter((e) => e.states > 0 && !at.has(e.first));
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
      this.whole = undefined; // the code must know of it
      this.kinds = undefined;
      this.keptKinds = [];
    }
  }

  /**
   * From now on the equations of the machine are evaluated by code made for it alone, if it is not too large: worth while before a run. The numbers
   * are those of before but for rounding.
   * @param by makes that code
   */
  compile(by: Compiler, most = this.most): void {
    if (this.distrusted) return;
    this.compiler ??= by;
    if (this.work <= most) this.wanted = true;
    else this.tooLarge = true;
  }
  /** From now on they are evaluated one by one, whatever is asked. */
  distrust(): void {
    this.distrusted = true;
    this.fold(undefined);
    this.interpret();
  }
  /** From now on they are evaluated one by one again. */
  interpret(): void {
    this.wanted = this.tooLarge = false;
    this.whole = undefined;
    this.kinds = undefined;
  }
  /** From now on drives stand where they are asked to be, as statics look at a machine, or move as they are asked to. */
  standing(on: boolean): void {
    if (on === this.K.standing) return;
    this.K.standing = on;
    // compiled equations know drives as they move: they come back when these do
    this.whole = undefined;
    this.kinds = undefined;
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
    this.whole = undefined;
    this.kinds = undefined;
    // what is not too large in a plane may be so in space
    if (this.work > this.most && this.wanted) {
      this.wanted = false;
      this.tooLarge = true;
    }
    this.K.lay(fold);
  }
  /** What its bodies cannot do, where that is left out. */
  get leftOut(): Fold | undefined {
    return this.folded;
  }
  /** What records tell of its bodies, where something is left out. */
  get told(): Told | undefined {
    const { folded, K } = this;
    if (!folded) return undefined;
    return { moves: Array.from(folded.moves), still: K.origins };
  }
  /** Whether it is evaluated by code of its own, as of the last evaluation. */
  get compiled(): boolean {
    return this.whole !== undefined;
  }
  /** Whether it is evaluated kind by kind. */
  get byKinds(): boolean {
    return this.way === this.kinds;
  }
  /** What decides on that code. */
  get structure(): Structure {
    const { room, masses, inertias, letsGo } = this;
    const { places, statements, measured, couplings } = room,
      // what follows from constraint forces by no expression is added to all others where these are at hand
      [loads, reacting] = this.settles ? [room.loads, room.reacting] : this.reacting ? [[], []] : [room.loads, []];
    return {
      plan: this.ldlt.plan,
      places,
      statements,
      measured,
      couplings,
      loads,
      reacting,
      layout: this.K.layout,
      further: this.further,
      others: this.parts.others,
      masses,
      inertias,
      letsGo,
      fold: this.folded,
    };
  }
  private get made(): Whole | undefined {
    if (!this.wanted || this.whole || this.K.standing) return this.whole;
    const kernels = this.compiler!.kernels(this.structure),
      machine = this.room.bring(kernels, this.settles && this.reacting);
    this.whole = machine && this.compiler!.whole(this.parts, machine, this.settles);
    this.kernels = kernels;
    this.stepped = undefined;
    this.recording = undefined;
    if (!machine) {
      this.wanted = false;
      this.tooLarge = true;
    }
    this.clear();
    return this.whole;
  }
  /** What is nothing in its structure is never written. */
  private clear(): void {
    const { gamma, F } = this.parts;
    for (const list of [this.G, gamma, F, this.phi, this.rates, this.solution]) list.fill(0);
    this.ldlt.clear();
  }
  /** How it is evaluated now. */
  private get way(): Way {
    const { made } = this;
    if (made || !this.tooLarge || this.K.standing) return made ?? this.one;
    return (this.kinds ??= this.known() ?? this.looped());
  }
  /** The same of before. */
  private known(): ByKinds | undefined {
    const { folded } = this,
      known = this.keptKinds.find(({ fold }) => isSameFold(fold, folded))?.kinds;
    if (known) this.clear();
    return known;
  }
  private looped(): ByKinds {
    const { room, groups, parts } = this,
      { plan } = this.ldlt;
    this.clear();
    const rowsOf = (link: number) => groups[link]!.constraints.reduce((s, c) => s + c.rows, 0),
      loops = this.compiler!.loops(room, plan, rowsOf, this.letsGo, [...parts.others, ...parts.coupled], this.folded),
      told = room.further.map((s) => s.at);
    const kinds = this.compiler!.kinds(parts, loops, room.view('stateRates'), told, this.untold(room.further));
    // there is room for one of each
    this.keptKinds = [...this.keptKinds.filter(({ fold }) => !fold !== !this.folded), { fold: this.folded, kinds }];
    return kinds;
  }

  /** Limits formulas to the inside of [t0, t1]. */
  segment(t0: number, t1: number): void {
    const e = 1e-13 * Math.max(1, Math.abs(t0), Number.isFinite(t1) ? Math.abs(t1) : 0);
    this.clock[1] = t0 + e;
    this.clock[2] = t1 - e;
  }
  /** Formulas are seen at any time again, as before any run. */
  anyTime(): void {
    this.clock.set([0, -Infinity, Infinity]);
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
    made.machine.place(placeOf(y));
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
      const { way } = this;
      if (way.change) way.change(inside, dy, K.layout.further);
      else for (const c of this.extras) c.rates(K, inside, dy, K.layout.further);
      return;
    }
    K.moved++;
    made.machine.place(placeOf(y));
    this.accelerateFrom(t, placeOf(y), placeOf(dy));
    // what was found beyond the code
    if ((this.reacting && !this.settles) || this.weighted.any) K.accelerated(this.acceleration, dy);
    for (let i = 0; i < this.asked.length; i++) this.asked[i]!.rates(K, inside, dy, K.layout.further);
  }

  /** Whether the derivative of a state follows from its numbers alone, by compiled code: nothing is asked between. */
  get alone(): boolean {
    const { made, K, asked, weighted } = this,
      { others, driven, forces } = this.parts;
    return made !== undefined && !K.own && others.length + driven.length + asked.length === 0 && !weighted.any && forces.quiet;
  }
  /** The stages of a step in one call, where the machine is `alone`; what it leaves is that of its last stage. @param nodes,sums of the method */
  stages(nodes: readonly number[], sums: readonly Sum[]): Stages | undefined {
    if (!this.alone) return undefined;
    if (this.stepped?.sums !== sums)
      this.stepped = { sums, run: this.compiler!.stages(this.room, this.kernels!, this.settles && this.reacting, nodes, sums) };
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
      this.recording = { dense, made: this.compiler!.records(room, this.kernels!, dense, told) };
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
    this.whole?.judge();
  }

  /** Solves for u̇ and λ at the present kinematics. */
  accelerate(t: number): void {
    const { nowhere } = this.room;
    this.accelerateFrom(t, nowhere, nowhere);
  }
  /** @param y,dy places of the state and of its derivative, for compiled code */
  private accelerateFrom(t: number, y: number, dy: number): void {
    const inside = this.inside(t),
      { way } = this;
    this.evaluations++;
    this.factorisations++;
    way.accelerate(inside, y, dy);
    this.complete();
    if (this.reacting && !(this.settles && way === this.whole)) this.reactions.settle(inside, way, this, () => this.complete());
  }
  /** Solves with the factors at hand, in place: a motion, then one number a row. */
  solve(x: Float64Array): void {
    this.way.solve(x);
  }
  /** The same of [M Gᵀ; G 0] as it is, where rows add to M so that it can be factorised. */
  solveWhole(x: Float64Array): void {
    const { weighted, motions } = this;
    if (!weighted.any) return this.solve(x);
    const given = x.slice(motions);
    this.solve(x);
    weighted.takeOff(x.subarray(motions), given);
  }
  /** Constraint forces and what follows from them (friction) could not be brought into agreement. */
  get unsettled(): boolean {
    return this.reacting && (this.settles && this.way === this.whole ? this.room.unsettled : this.reactions.unsettled);
  }
  /** Finishes a solution: none where a direction is free and has no inertia. */
  private complete(): void {
    this.K.own?.hasten(this.acceleration);
    this.weighted.takeOff(this.multipliers, this.parts.gamma);
    if (this.ldlt.weightless) this.solution.fill(NaN);
  }

  /** Of each row whether it holds a length. */
  get lengths(): boolean[] {
    return this.groups.flatMap((g) => g.constraints.flatMap((c) => [...c.lengths]));
  }

  /** Values and rates of the coordinates that are followed, at the state in K. */
  follows(values: Float64Array, rates: Float64Array): void {
    const { followed, way, K, read } = this;
    if (way !== this.whole || this.looked !== K.moved) way.measure?.();
    for (let i = 0, j = 0; i < followed.length; i++) {
      const f = followed[i]!,
        compiled = way.measure && f.equation.statement;
      values[i] = compiled ? read[j++]! : f.value(K);
      rates[i] = compiled ? read[j++]! : f.rate(K);
    }
  }

  /** Whether forces follow from what constraints carry (friction). */
  get reacting(): boolean {
    return this.parts.forces.reacting;
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
    return this.parts.forces.powers;
  }

  /** Applied forces with what follows from the constraint forces, at the last `accelerate`: six numbers a body, as in Force. */
  get loads(): Float64Array {
    return this.parts.F;
  }

  /** Constraint matrix at the present kinematics. */
  jacobian(): void {
    this.one.jacobian();
  }

  /** Constraint matrix at the present kinematics, factorised. @param damping see Ldlt.factorise */
  linearise(damping = 0): void {
    this.factorisations++;
    if (damping > 0) this.one.linearise(damping);
    else this.way.linearise();
  }

  /** Φ at the present kinematics into `phi`; returns its largest entry among the rows that count. */
  residual(t: number): number {
    this.way.positions(this.inside(t));
    return this.largest(this.phi);
  }

  /**
   * Velocity-level residual G u − ν into `phi`; returns its largest entry among the rows that count.
   * @param fresh the constraint matrix at hand is already that of this posture
   */
  velocityResidual(t: number, fresh = false): number {
    this.way.velocities(this.inside(t), fresh);
    return this.largest(this.phi);
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
    const { made, phi, rates } = this;
    if (!made || this.parts.others.length > 0) {
      this.position = this.residual(t);
      this.velocity = this.velocityResidual(t);
      return;
    }
    made.look(this.inside(t));
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
    const { x: step } = this.parts,
      { off } = this.ldlt;
    let error = this.residual(t);
    for (let i = 0; i < 12 && error > tolerance; i++) {
      if (i > 0) this.linearise();
      step.fill(0);
      for (let r = 0; r < this.rows; r++) step[this.motions + r] = off[r] ? 0 : -this.phi[r]!;
      this.way.solve(step);
      this.K.displace(step, 1);
      const now = this.residual(t);
      if (!(now < error) && i > 3) return now;
      error = now;
    }
    return error;
  }

  /** The same for velocities, at fixed positions. */
  projectVelocities(t: number, tolerance = 3 * POSITION_TOLERANCE): number {
    const { K, motions } = this,
      { x: step } = this.parts,
      { off } = this.ldlt;
    let error = this.velocityResidual(t);
    for (let i = 0; i < 8 && error > tolerance; i++) {
      if (i > 0) this.linearise();
      step.fill(0);
      for (let r = 0; r < this.rows; r++) step[motions + r] = off[r] ? 0 : -this.phi[r]!;
      this.way.solve(step);
      K.quicken(step, 1);
      const now = this.velocityResidual(t, true);
      if (!(now < error) && i > 2) return now;
      error = now;
    }
    return error;
  }
}
