/**
 * What a machine's accelerations and constraint forces satisfy, as expressions: with the residuals
 *   r₁ = f − Gᵀλ − M u̇,  r₂ = γ − G u̇,
 * and with what brings it onto its constraints, −Φ and −Φ̇, there is a sum ψ = μ·r₁ + ν·r₂ over constraints, loads and bodies. Each term is an expression of
 * what the machine reads, on a copy of its numbers: those who derive it disturb nothing. By the numbers of the machine this is the adjoint (`adjoint.ts`);
 * along a change of them, by μ and ν, it is the variation (`variation.ts`).
 */
import type { Constraint } from '../../equations/constraint';
import { isStated } from '../../equations/courses';
import { StatedForce, isKnown } from '../../equations/laws/stated-force';
import { wholeTurns } from '../../equations/measured';
import type { BodyEx } from '../../equations/stated/body';
import { foldOfBody } from '../../equations/folded-body';
import type { Fold } from '../../equations/fold';
import { moving } from '../../equations/stated/body';
import { type Elementary, numbersAt } from '../../equations/stated/elementary';
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import { type VectorEx, cross, dot } from '../../expressions/vectors';
import { BENCH, KernelMemory } from '../../kernel/memory';
import { powerOf } from '../../equations/laws/derive';
import type { Followed, StatedCoupling, StatedLoad, Statement } from '../compiled/equations';
import { MOST, PLAIN } from '../compiled/settle';
import type { Site } from '../compiled/site';
import { carriedLaw } from '../tangent/carried-law';
import { Expressed } from '../looped/expressed';
import { Instance } from '../looped/instance';
import { FoldedRows, type RowPlaces as FoldedPlaces } from '../looped/folded-rows';
import { Kinds } from '../looped/kinds';
import type { System } from '../system';
import { secondRates } from '../tangent/pieces';

/**
 * What is worked out together: work of drives; what loads that follow from constraint forces do to these; all else of the derivative of a state; Φ̇ and Φ of
 * rows; and what courses follow.
 */
const PARTS = ['work', 'react', 'rates', 'drift', 'place', 'courses'] as const;
export type Part = (typeof PARTS)[number];
/** Part of it up to which a change of a repetition is none. */
const SETTLED = 1e-13;

/** Why what a machine does is not all known by expressions of one system; undefined where it is. */
export function notExpressed(system: System): string | undefined {
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

export abstract class Residuals {
  /** Where the copy of the machine's numbers begins, and as many numbers beside them. */
  protected readonly copy: number;
  protected readonly mirror: number;
  protected readonly site: Site;
  protected readonly kinds = Object.fromEntries(PARTS.map((p) => [p, new Kinds()])) as Record<Part, Kinds>;
  /** Where μ and ν stand, those by how further states change, and those by what courses say. */
  protected readonly seeds: number;
  protected readonly further: number;
  protected abstract readonly followed: number;
  private readonly source: Float64Array;
  private readonly before: Float64Array;
  private readonly expressed: Expressed;
  private readonly courses = new Kinds();
  /** Rows that hold once and for all what bodies cannot do. */
  protected readonly idle: Uint8Array;
  private end: number;

  /** @param system a machine of which all is expressed (`notExpressed`) */
  constructor(protected readonly system: System) {
    const { room, K } = system,
      { site } = room,
      from = K.at.r,
      length = site.from + site.own.x - from;
    this.copy = BENCH;
    this.mirror = BENCH + length;
    this.source = K.memory.numbers.subarray(from, from + length);
    this.end = this.mirror + length;
    this.before = new Float64Array(system.solution.length);
    const shift = this.copy - from;
    this.seeds = this.take(system.solution.length);
    this.further = this.take(K.extra);
    this.site = {
      bodies: site.bodies,
      from: site.from + shift,
      at: Object.fromEntries(Object.entries(site.at).map(([key, x]) => [key, x + shift])) as never,
      own: { ...site.own, stateRates: this.take(K.extra) - site.from - shift },
    };
    this.idle = system.leftOut ? this.held(system.leftOut) : new Uint8Array(system.rows);
    this.expressed = new Expressed(this.site, (i, of, at) =>
      carriedLaw(i, of, at, {
        statements: room.statements,
        bodies: system.bodies,
        numbers: this.place('numbers'),
        G: this.place('G'),
        multiplier: (j, row) => j.number(this.place('solution') + system.motions + row),
      }),
    );
  }

  /** Takes note of a term of ψ. @param key by which it is known that two are of one kind */
  protected abstract note(part: Part, key: string, i: Instance, psi: () => Ex): void;

  /** Makes all terms ready. */
  protected make(): { values: Float64Array; runs: Readonly<Record<Part | 'follow', () => void>> } {
    const { system } = this,
      { room } = system;
    for (const s of room.statements) {
      if (s.course?.stated) this.course(s.course.at, s.course.stated);
      this.statement(s);
    }
    for (const c of room.couplings) this.coupling(c);
    for (const l of [...room.loads, ...room.reacting]) this.load(l, 'rates');
    for (const l of room.reacting) this.load(l, 'react');
    for (const { at, changes, coordinate } of room.further) {
      if (changes.by === 'rate') this.follow(at, coordinate!);
      if (changes.by === 'work') this.follow(at, coordinate!, changes.constraint);
    }
    for (let b = 0; b < system.bodies; b++) this.body(b);

    const lists = [this.courses, ...Object.values(this.kinds)],
      scratch = Math.max(...lists.map((k) => k.scratch)),
      memory = new KernelMemory(this.end + lists.reduce((s, k) => s + k.entries / 2, 0) + scratch);
    memory.take(this.end - BENCH);
    const tables = (count: number): Int32Array => {
        const at = memory.take(Math.ceil(count / 2));
        return new Int32Array(memory.numbers.buffer, memory.numbers.byteOffset + 8 * at, count);
      },
      working = memory.take(scratch),
      made = (k: Kinds) => k.made(memory, tables, working);
    return {
      values: memory.numbers,
      runs: {
        follow: made(this.courses),
        ...(Object.fromEntries(PARTS.map((p) => [p, made(this.kinds[p])])) as Record<Part, () => void>),
      },
    };
  }

  /**
   * Solves by repetition where loads follow from constraint forces (friction), as the run has solved for these: K ξ = b + R ξ.
   * @param solution in which ξ stands at first for R = 0 @param again puts in its place what follows from it
   */
  protected repeated(solution: Float64Array, again: () => void): void {
    const { before } = this;
    for (let n = 0; n < MOST; n++) {
      before.set(solution);
      again();
      let [change, size] = [0, 0];
      for (let j = 0; j < solution.length; j++) {
        if (n > PLAIN) solution[j] = (solution[j]! + before[j]!) / 2;
        change = Math.max(change, Math.abs(solution[j]! - before[j]!));
        size = Math.max(size, Math.abs(solution[j]!));
      }
      if (change <= SETTLED * size) return;
    }
  }

  /** So many more numbers. */
  protected take(count: number): number {
    this.end += count;
    return this.end - count;
  }
  protected place(key: keyof Site['own']): number {
    return this.site.from + this.site.own[key];
  }
  protected mirrored(place: number): number {
    return place + this.mirror - this.copy;
  }
  /** Whether a number is one that the machine has, and not the time; whether it is of the solution. */
  protected isRead(place: number): boolean {
    return place >= this.copy && place < this.mirror && place !== this.place('clock');
  }
  protected isSolution(place: number): boolean {
    const at = this.place('solution');
    return place >= at && place < at + this.system.solution.length;
  }
  /** Takes over the state in K and the solution at hand. */
  protected copied(values: Float64Array): void {
    values.set(this.source, this.copy);
  }

  private held(fold: Fold): Uint8Array {
    const { room, rows, G } = this.system,
      places = Object.fromEntries((['numbers', 'courses', 'G', 'gamma'] as const).map((key) => [key, this.place(key)]));
    return new FoldedRows(this.site, fold, places as FoldedPlaces, G.length, rows, room.statements, []).idle;
  }
  private instance(): Instance {
    return new Instance(this.site, this.system.leftOut, true);
  }
  /** Takes note of a term; two of whose bodies other things are left out are of two kinds. */
  private term(part: Part, key: string, i: Instance, psi: () => Ex): void {
    const { leftOut, bodies } = this.system,
      of = (b: number) => (b < bodies ? foldOfBody(leftOut!, b, true) : 'ground');
    this.note(part, leftOut ? `${key} ${i.bodies.map(of).join(' ')}` : key, i, psi);
  }
  /** A motion that stands there, of a body; none of the ground. */
  private motionOf(i: Instance, b: number, place: number): { v: VectorEx; w: VectorEx } | undefined {
    if (b >= this.system.bodies) return undefined;
    const base = i.base(place + 6 * b),
      moves = (k: number) => this.system.leftOut?.moves[6 * b + k] !== 0,
      x = [0, 1, 2, 3, 4, 5].map((k) => (moves(k) ? i.g.load(base, k) : i.g.zero)) as [Ex, Ex, Ex, Ex, Ex, Ex];
    return { v: [x[0], x[1], x[2]], w: [x[3], x[4], x[5]] };
  }
  private rows(i: Instance, { row, rows }: Constraint, place: number): Ex[] {
    const base = i.base(place + this.system.motions + row);
    return Array.from({ length: rows }, (_, k) => (this.idle[row + k] ? i.g.zero : i.g.load(base, k)));
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
      ends = `${bodies.map((b) => sides.indexOf(b)).join()} ${this.idle.subarray(c.row, c.row + c.rows).join('')}`,
      sum = (i: Instance, list: readonly Ex[], by: readonly Ex[]) =>
        list.reduce((s, x, r) => i.g.add(s, i.g.multiply(by[r]!, x)), i.g.zero);
    for (const part of ['rates', 'drift', 'place'] as const) {
      const i = this.instance(),
        { g } = i,
        list = sides.map((b) => ({ body: i.body(b), there: b < this.system.bodies })),
        acceleration = part === 'rates' ? sides.map((b) => this.motionOf(i, b, this.place('solution'))) : [],
        along = part === 'rates' ? sides.map((b) => this.motionOf(i, b, this.seeds)) : [],
        carried = part === 'rates' ? this.rows(i, c, this.place('solution')) : [],
        by = this.rows(i, c, this.seeds),
        offsets = part === 'place' ? i.base(this.place('offsets') + c.row) : -1,
        stated = state(i);
      this.term(part, `${key} ${ends} ${list.map((x) => x.there).join()}`, i, () => {
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
      const i = this.instance(),
        { g } = i,
        { key, x } = this.expressed.load(i, load, bodies, numbers),
        all = [...new Set(bodies)],
        along = all.map((b) => this.motionOf(i, b, this.seeds)),
        power = counted && i.number(this.further + counted.at);
      numbers += values.length;
      this.term(part, `${JSON.stringify(key)} ${along.map((m) => m !== undefined).join()} ${power !== undefined}`, i, () => {
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
  private follow(at: number, of: Statement, c?: Constraint): void {
    const i = this.instance(),
      { g } = i,
      { a, b } = of.constraint,
      sides = [...new Set([a, b])],
      list = sides.map((s) => ({ body: i.body(s), there: s < this.system.bodies })),
      numbers = i.base(this.place('numbers') + of.numbers),
      by = i.number(this.further + at),
      carried = c && this.rows(i, c, this.place('solution'))[0]!;
    this.term('work', `${of.equation.name} ${a === b} ${list.map((x) => x.there).join()} ${c !== undefined}`, i, () => {
      const all = new Direction(g, new Map(list.flatMap(({ body, there }) => (there ? moving(g, body, body.v, body.w) : [])))),
        rate = g.multiply(by, all.of(this.coordinate(i, of, numbers)));
      return carried === undefined ? rate : g.negate(g.multiply(carried, rate));
    });
  }

  /** −μ·(M u̇ + ω × J ω) */
  private body(b: number): void {
    const i = this.instance(),
      { g } = i,
      { w } = i.body(b),
      mass = i.number(this.place('masses') + b),
      inertia = i.base(this.place('inertias') + 9 * b),
      a = this.motionOf(i, b, this.place('solution'))!,
      along = this.motionOf(i, b, this.seeds)!;
    this.term('rates', 'body', i, () => {
      const J = (x: VectorEx) =>
          [0, 1, 2].map((r) => dot(g, [0, 1, 2].map((c) => g.load(inertia, 3 * r + c)) as unknown as VectorEx, x)) as unknown as VectorEx,
        turning = cross(g, w, J(w)),
        spins = J(a.w).map((x, k) => g.add(x, turning[k]!)) as unknown as VectorEx;
      return g.negate(g.add(g.multiply(mass, dot(g, along.v, a.v)), dot(g, along.w, spins)));
    });
  }

  /** What is followed, and how the states of a course change, by its formula. */
  private course(at: number, stated: NonNullable<Followed['stated']>): void {
    const first = this.instance(),
      { key, x } = this.expressed.course(first, { at, stated }, stated);
    this.courses.add(key as string, first, x);
    const i = this.instance(),
      { g } = i,
      again = this.expressed.course(i, { at, stated }, stated),
      bySome = i.base(this.followed + at),
      byRates = i.base(this.further + stated.course.first),
      rates = this.place('stateRates') + stated.course.first;
    this.term('courses', key as string, i, () =>
      again.x().reduce((sum, { base, offset, x: value }) => {
        const by = i.places[base] === rates ? g.load(byRates, offset) : g.load(bySome, offset);
        return g.add(sum, g.multiply(by, value));
      }, g.zero),
    );
  }
}
