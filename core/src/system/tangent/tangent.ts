/**
 * How the equations of a machine change with where it is and how it moves. With the residuals
 *   r₁ = f − Gᵀλ − M u̇,  r₂ = γ − G u̇ = −Φ̈,
 * which vanish at a solution, its entries are ∂r/∂q (by a small displacement of each body), ∂r/∂u, and ∂f/∂λ of what follows from constraint forces, all
 * derived from the expressions in which constraints and loads are stated. So M δu̇ + Gᵀδλ = ∂r₁, G δu̇ = ∂r₂ gives how accelerations and constraint forces
 * change. It works on a copy of the machine's numbers, and so disturbs nothing.
 */
import type { Constraint } from '../../equations/constraint';
import type { Force } from '../../equations/forces';
import type { Freedom } from '../../equations/freedom';
import { type FromCarried, type Input, StatedForce, isKnown } from '../../equations/laws/stated-force';
import { Memories, type Memory } from '../../equations/memory';
import { answers } from '../../equations/stated/derive';
import { type Elementary, type Asking, numbersAt } from '../../equations/stated/elementary';
import { Called } from '../../equations/stated/stated';
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import { type VectorEx, cross, dot } from '../../expressions/vectors';
import { CompiledKernel } from '../../kernel/compile';
import { BENCH, KernelMemory } from '../../kernel/memory';
import type { Outside } from '../../expressions/graph';
import type { StatedCoupling } from '../compiled/equations';
import type { Site } from '../compiled/site';
import { carriedLaw } from './carried-law';
import { Expressed } from '../looped/expressed';
import { Instance } from '../looped/instance';
import { Kinds } from '../looped/kinds';
import type { System } from '../system';
import { Differences } from './differences';
import { BY, type By, type Moving, type Piece, type Pieces, carriedBy, piecesOf, secondRates } from './pieces';

/** Entries of one kind: where each stands in the matrix, and where its number lies. */
export interface Entries {
  readonly row: Int32Array;
  readonly column: Int32Array;
  readonly at: Int32Array;
}

/** Where the derivatives of an instance can differ from zero; the same for all of a kind. */
type Pattern = Readonly<Record<By, readonly (readonly [row: number, column: number])[]>>;
const KEPT = 400;
const patterns = new Map<string, Pattern>();

/** One that is evaluated by itself, since it asks code of its own. */
interface Single {
  readonly kernel: CompiledKernel;
  readonly outside: Outside;
  readonly places: readonly number[];
}

/** Whether it is known how a load depends on what it takes in: an expression tells it, or it follows from time alone. */
export const isTold = (i: Input): boolean => isKnown(i) || i.programs?.every((p) => p.inputs.length === 0) === true;

export class Tangent {
  /** Its numbers. */
  readonly values: Float64Array;
  readonly entries: Readonly<Record<By, Entries>>;
  private readonly courses: () => void;
  private readonly run: readonly (() => void)[];
  /** What is copied: from the first number of the kinematics to the last of the solution. */
  private readonly source: Float64Array;
  private readonly copy: number;

  /** What rows on curves remember, which looking must not change. */
  private readonly remembers: Memory;
  private readonly remembered: Float64Array;
  private readonly differences: Differences;
  /** Where the first of these stands. */
  private readonly differenced: Record<By, number> = { posture: 0, motion: 0, load: 0, drift: 0, input: 0 };
  /** Which entries by posture are those of each load. */
  private readonly ranges = new Map<Force, readonly [number, number]>();
  private readonly list: Record<By, { row: number[]; column: number[]; at: number[] }>;
  private readonly kinds = new Kinds();
  private readonly singles: Single[] = [];
  private readonly site: Site;
  private readonly expressed: Expressed;
  /** The next free number. */
  private end: number;

  /** Loads of which the derivatives by the last value that they take in are told as well. */
  private readonly inputs: readonly Force[];
  /** Whether it tells how Φ̇ of rows changes with the posture. */
  private readonly drifts: boolean;
  /**
   * @param followed coordinates of which the derivatives of −q̈ and q̇ are told as well, as those of further rows behind all others
   * @param inputs loads of which the derivatives by the last value that they take in are told as well
   */
  constructor(
    private readonly system: System,
    { followed = [], drifts = false, inputs = [] }: { followed?: readonly Freedom[]; drifts?: boolean; inputs?: readonly Force[] } = {},
  ) {
    this.drifts = drifts;
    this.inputs = inputs;
    const { room, K } = system,
      { site } = room,
      from = K.at.r,
      shift = BENCH - from,
      length = site.from + site.own.x - from;
    this.copy = BENCH;
    this.source = K.memory.numbers.subarray(from, from + length);
    this.end = BENCH + length;
    this.site = {
      bodies: site.bodies,
      from: site.from + shift,
      at: Object.fromEntries(Object.entries(site.at).map(([key, x]) => [key, x + shift])) as never,
      // what lies behind the solution is written alone
      own: { ...site.own, stateRates: this.take(K.extra) - site.from - shift },
    };
    this.expressed = new Expressed(this.site, (i, of, at) => this.carried(i, of, at));
    this.list = Object.fromEntries(BY.map((by) => [by, { row: [], column: [], at: [] }])) as never;

    const courses = new Kinds();
    for (const { course } of room.statements)
      if (course?.stated) {
        const i = new Instance(this.site),
          { key, x } = this.expressed.course(i, course, course.stated);
        courses.add(key as string, i, x);
      }
    for (const s of room.statements)
      this.constraint(s.constraint, s.equation, this.place('numbers') + s.numbers, s.course && this.place('courses') + s.course.at);
    for (const c of room.couplings) this.coupling(c);
    const known = new Set<Constraint>([...room.statements, ...room.couplings].map((x) => x.constraint)),
      others = system.groups.flatMap(({ constraints }) => constraints.filter((c) => !known.has(c)));
    for (const c of others) if (c instanceof Called) this.called(c);
    followed.forEach(({ equation: c }, k) => {
      const row = system.rows + k;
      if (c.statement) this.constraint(c, c.statement.equation, this.told(c.statement.values), undefined, row);
      else if (c instanceof Called) this.called(c, row);
    });
    const coded = system.forces.filter((f) => !f.byRow && !(f instanceof StatedForce && f.inputs.every(isTold)));
    const askedFor = followed.flatMap(({ equation: c }, k) => (c.statement ? [] : [{ c: c as Constraint, at: system.rows + k }]));
    this.differences = new Differences(system, [...others.map((c) => ({ c, at: c.row })), ...askedFor], coded);
    for (const load of [...room.loads, ...room.reacting]) {
      if (coded.includes(load.force)) continue;
      const first = this.list.posture.at.length;
      let numbers = this.site.from + load.numbers;
      for (const { bodies, values } of load.force.instances) {
        this.load(load, bodies, numbers);
        numbers += values.length;
      }
      this.ranges.set(load.force, [first, this.list.posture.at.length]);
    }
    for (let b = 0; b < system.bodies; b++) this.turning(b);
    for (const by of BY) {
      const { row, column } = this.differences.entries[by],
        at = (this.differenced[by] = this.take(row.length)),
        first = this.list[by].at.length;
      if (by === 'posture') for (const [force, [from, to]] of this.differences.ranges) this.ranges.set(force, [first + from, first + to]);
      row.forEach((r, k) => {
        this.list[by].row.push(r);
        this.list[by].column.push(column[k]!);
        this.list[by].at.push(at + k);
      });
    }

    const lists = [courses, this.kinds],
      size = this.end + lists.reduce((s, k) => s + k.entries / 2, 0) + Math.max(...lists.map((k) => k.scratch)),
      memory = new KernelMemory(size);
    memory.take(this.end - BENCH);
    const tables = (count: number): Int32Array => {
      const at = memory.take(Math.ceil(count / 2));
      return new Int32Array(memory.numbers.buffer, memory.numbers.byteOffset + 8 * at, count);
    };
    const scratch = memory.take(Math.max(...lists.map((k) => k.scratch)));
    this.values = memory.numbers;
    for (const { at, values } of this.toldLater) this.values.set(values, at);
    this.courses = courses.made(memory, tables, scratch);
    this.run = [
      this.kinds.made(memory, tables, scratch),
      ...this.singles.map(({ kernel, outside, places }) => {
        const code = kernel.calling(memory, [outside]);
        return () => code(...places);
      }),
    ];
    this.entries = Object.fromEntries(
      BY.map((by) => [by, Object.fromEntries(Object.entries(this.list[by]).map(([key, x]) => [key, Int32Array.from(x)]))]),
    ) as never;
    this.remembers = new Memories([...others, ...askedFor.map(({ c }) => c)].flatMap((c) => c.memory ?? []));
    this.remembered = new Float64Array(this.remembers.cells);
  }

  private place(key: keyof Site['own']): number {
    return this.site.from + this.site.own[key];
  }
  private take(count: number): number {
    this.end += count;
    return this.end - count;
  }

  /** Takes over the state in K and the solution at hand, as of the last `accelerate`, and works all entries out. */
  look(): void {
    const { system, remembers, remembered, values, differenced } = this,
      [t, from, to] = system.room.view('clock');
    remembers.keep(remembered, 0);
    values.set(this.source, this.copy);
    this.courses();
    for (let i = 0; i < this.run.length; i++) this.run[i]!();
    this.differences.look(Math.max(from!, Math.min(t!, to!)), (by, position, value) => (values[differenced[by] + position] = value));
    remembers.recall(remembered, 0);
  }

  /** Adds the entries of one kind times a vector: a displacement or velocities (six to a body), or one number a row behind them. */
  times(by: By, x: Float64Array, out: Float64Array, scale = 1): void {
    const { values } = this,
      { row, column, at } = this.entries[by];
    for (let e = 0; e < at.length; e++) out[row[e]!] = out[row[e]!]! + scale * values[at[e]!]! * x[column[e]!]!;
  }

  /** Work of what a load pushes back with along a displacement, twice: −xᵀ ∂f/∂q x. */
  pullOf(force: Force, x: Float64Array): number {
    const { values } = this,
      { row, column, at } = this.entries.posture,
      [from, to] = this.ranges.get(force) ?? [0, 0];
    let sum = 0;
    for (let e = from; e < to; e++) sum -= values[at[e]!]! * x[row[e]!]! * x[column[e]!]!;
    return sum;
  }

  /** Adds what a load pushes with for displacements, all of one sign: of these its rounding is a part. */
  rangeOf(force: Force, x: Float64Array, out: Float64Array): void {
    const { values } = this,
      { row, column, at } = this.entries.posture,
      [from, to] = this.ranges.get(force) ?? [0, 0];
    for (let e = from; e < to; e++) out[row[e]!] = out[row[e]!]! + Math.abs(values[at[e]!]! * x[column[e]!]!);
  }

  /** The same for several vectors at once. */
  timesEach(by: By, x: readonly Float64Array[], out: readonly Float64Array[], scale: number): void {
    const { values } = this,
      { row, column, at } = this.entries[by];
    if (x.length === 1) return this.times(by, x[0]!, out[0]!, scale);
    const [a, b, c] = x as [Float64Array, Float64Array, Float64Array],
      [p, q, r] = out as [Float64Array, Float64Array, Float64Array];
    for (let e = 0; e < at.length; e++) {
      const v = scale * values[at[e]!]!,
        i = row[e]!,
        j = column[e]!;
      p[i] = p[i]! + v * a[j]!;
      q[i] = q[i]! + v * b[j]!;
      r[i] = r[i]! + v * c[j]!;
    }
  }

  /** A body with its accelerations; undefined for the ground. */
  private moving(i: Instance, b: number): Moving | undefined {
    if (b >= this.system.bodies) return void i.body(b);
    const body = i.body(b),
      base = i.base(this.place('solution') + 6 * b);
    return { body, acceleration: Array.from({ length: 6 }, (_, k) => i.g.load(base, k)) };
  }
  private multipliers(i: Instance, { row }: Constraint, rows: number): Ex[] {
    const base = i.base(this.place('solution') + this.system.motions + row);
    return Array.from({ length: rows }, (_, k) => i.g.load(base, k));
  }

  /** Takes note of an instance. @param rows those that it names @param loads rows whose multipliers it names */
  private note(
    key: string,
    i: Instance,
    bodies: readonly number[],
    rows: readonly number[],
    loads: readonly number[],
    made: () => Pieces,
    single?: Outside,
    input = 0,
  ): void {
    let pieces: Pieces | undefined;
    const state = () => (pieces ??= made());
    let pattern = patterns.get(key);
    if (!pattern) {
      const all = state();
      pattern = Object.fromEntries(BY.map((by) => [by, all[by].map((p: Piece) => [p.row, p.column] as const)])) as unknown as Pattern;
      patterns.set(key, pattern);
      if (patterns.size > KEPT) patterns.delete(patterns.keys().next().value!);
    }
    const { motions } = this.system,
      bodyAt = (n: number) => 6 * bodies[Math.floor(n / 6)]! + (n % 6),
      rowAt = (r: number) => (r < 6 * bodies.length ? bodyAt(r) : motions + rows[r - 6 * bodies.length]!),
      at = this.take(BY.reduce((s, by) => s + pattern[by].length, 0)),
      out = i.base(at);
    let next = at;
    for (const by of BY)
      for (const [row, column] of pattern[by]) {
        const list = this.list[by];
        list.row.push(rowAt(row));
        list.column.push(by === 'load' ? motions + loads[column]! : by === 'input' ? input : bodyAt(column));
        list.at.push(next++);
      }
    const stores = () => BY.flatMap((by) => state()[by]).map(({ x }, offset) => ({ base: out, offset, x }));
    if (single) this.singles.push({ kernel: new CompiledKernel(i.g, stores(), i.places.length), outside: single, places: i.places });
    else this.kinds.add(key, i, stores);
  }

  /** Numbers of its own. @returns where they lie */
  private told(values: Float64Array): number {
    const at = this.take(values.length);
    this.toldLater.push({ at, values });
    return at;
  }

  /** A constraint that is stated. @param numbers,course where these lie @param row of a coordinate that is followed, which carries nothing */
  private constraint(c: Constraint, equation: Elementary, numbers: number, course: number | undefined, row?: number): void {
    const i = new Instance(this.site),
      { g } = i,
      sides = [...new Set([c.a, c.b])],
      all = sides.map((b) => this.moving(i, b)),
      n = i.base(numbers),
      follows = course === undefined ? undefined : i.base(course),
      multipliers = row === undefined ? this.multipliers(i, c, c.rows) : undefined;
    const key = `tangent ${equation.name} ${this.sort(sides)} ${course !== undefined} ${row === undefined}`;
    this.note(key, i, sides, row === undefined ? this.rowsOf(c) : [row], [], () => {
      const f = [0, 1, 2].map((k) => (follows === undefined ? g.zero : g.load(follows, k))) as [Ex, Ex, Ex],
        phi = equation.phi(g, i.body(c.a), i.body(c.b), numbersAt(g, equation.numbers, n, 0) as never, f[0]),
        byTime: [Ex, Ex][] = follows === undefined ? [] : [[f[0], f[1]], [f[1], f[2]]]; // prettier-ignore
      return this.stated(i, all, phi, multipliers, byTime);
    });
  }
  /** What distinguishes instances between such bodies: which are the ground, and whether drifts are told. */
  private sort(bodies: readonly number[]): string {
    return `${bodies.map((b) => b < this.system.bodies)} ${this.drifts}`;
  }
  private rowsOf(c: Constraint): number[] {
    return Array.from({ length: c.rows }, (_, k) => c.row + k);
  }
  private stated(
    i: Instance,
    all: readonly (Moving | undefined)[],
    phi: readonly Ex[],
    multipliers: readonly Ex[] | undefined,
    byTime: readonly [Ex, Ex][],
  ): Pieces {
    const { g } = i,
      bodies = all.map((m) => m?.body),
      { whole, rates } = secondRates(g, all, phi, byTime),
      inRows = (list: readonly Ex[]) => list.map((x, r) => [6 * all.length + r, x] as const);
    return piecesOf(
      g,
      bodies,
      [...(multipliers ? carriedBy(g, bodies, phi, multipliers) : []), ...inRows(whole)],
      [],
      this.drifts ? inRows(rates) : [],
    );
  }

  private coupling({ constraint: c, terms, numbers }: StatedCoupling): void {
    const i = new Instance(this.site),
      { g } = i,
      sides = [...new Set(terms.flatMap(({ of }) => [of.constraint.a, of.constraint.b]))],
      all = sides.map((b) => this.moving(i, b)),
      weights = i.base(this.place('values') + numbers),
      from = terms.map(({ of }) => i.base(this.place('numbers') + of.numbers)),
      multipliers = this.multipliers(i, c, 1);
    const ends = terms.map(({ of }) => [of.equation.name, sides.indexOf(of.constraint.a), sides.indexOf(of.constraint.b)]);
    this.note(`coupling ${JSON.stringify(ends)} ${this.sort(sides)}`, i, sides, [c.row], [], () => {
      const phi = terms.reduce((sum, { of }, k) => {
        const { equation, constraint: { a, b } } = of, // prettier-ignore
          q = equation.phi(g, i.body(a), i.body(b), numbersAt(g, equation.numbers, from[k]!, 0) as never, g.zero)[0]!;
        return g.add(sum, g.multiply(g.load(weights, k), q));
      }, g.zero);
      return this.stated(i, all, [phi], multipliers, []);
    });
  }

  /** One that asks code of its own, which has no third derivatives: how its rows change with the posture is left out (`differences.ts`). */
  private called(c: Called, at?: number): void {
    const equation = c.equation as Asking,
      i = new Instance(this.site),
      { g } = i,
      sides = [...new Set([c.a, c.b])],
      all = sides.map((b) => this.moving(i, b)),
      numbers = i.base(this.told(c.values)),
      multipliers = at === undefined ? this.multipliers(i, c, c.rows) : undefined;
    this.note(
      `called ${equation.name} ${this.sort(sides)} ${at === undefined}`,
      i,
      sides,
      at === undefined ? this.rowsOf(c) : [at],
      [],
      () => {
        const bodies = all.map((m) => m?.body),
          phi = equation.phi(
            g,
            i.body(c.a),
            i.body(c.b),
            numbersAt(g, equation.numbers, numbers, 0) as never,
            g.zero,
            answers(g, equation),
          ),
          { gamma, rates } = secondRates(g, all, phi, []),
          row = (r: number) => 6 * all.length + r,
          exact = piecesOf(
            g,
            bodies,
            multipliers ? carriedBy(g, bodies, phi, multipliers) : [],
            [],
            this.drifts ? rates.map((x, r) => [row(r), x] as const) : [],
          ),
          motion = bodies.flatMap((body, n) =>
            body
              ? [...body.v, ...body.w].flatMap((u, k) => {
                  const d = new Direction(g, new Map([[u, g.one]]));
                  return gamma.map((x, r) => ({ row: row(r), column: 6 * n + k, x: d.of(x) })).filter((p) => p.x !== g.zero);
                })
              : [],
          );
        return { ...exact, motion: [...exact.motion, ...motion] };
      },
      c.asks,
    );
  }
  private readonly toldLater: { at: number; values: Float64Array }[] = [];

  private load(load: System['room']['loads'][number], bodies: readonly number[], numbers: number): void {
    const i = new Instance(this.site),
      { g } = i,
      input = this.inputs.indexOf(load.force),
      // nothing, by which it can be told what more of it would do
      more = input < 0 ? undefined : i.number(this.take(1)),
      { key, x } = this.expressed.load(i, load, bodies, numbers, more),
      carried = [...new Set(load.force.inputs.flatMap((input) => input.carried?.constraints.flatMap((c) => this.rowsOf(c)) ?? []))],
      pushed = [...new Set(bodies)],
      // the bodies that it pushes come first, then those that it only looks at
      all = [...pushed, ...i.bodies.filter((b) => !pushed.includes(b))],
      still = (b: number) => b >= this.system.bodies;
    const made = () => {
      const { pushes } = x();
      return piecesOf(
        g,
        all.map((b) => (still(b) ? undefined : i.body(b))),
        pushes.flatMap((six, n) => (still(all[n]!) ? [] : six.map((p, k) => [6 * n + k, p] as const))),
        carried.map((r, column) => [column, this.multiplierOf(i, r)] as const),
        [],
        more,
      );
    };
    const kind = `tangent load ${JSON.stringify(key)} ${all.map((b) => [i.nth(b), still(b)]).join()} ${input < 0}`;
    this.note(kind, i, all, [], carried, made, undefined, Math.max(0, input));
  }
  /** Multipliers that an instance names, each once. */
  private readonly named = new WeakMap<Instance, Map<number, Ex>>();
  private multiplierOf(i: Instance, row: number): Ex {
    const of = this.named.get(i) ?? new Map<number, Ex>();
    this.named.set(i, of);
    const known = of.get(row) ?? i.number(this.place('solution') + this.system.motions + row);
    of.set(row, known);
    return known;
  }

  /** What follows from what constraints carry. */
  private carried(i: Instance, of: FromCarried, at: number): { key: unknown; x: () => readonly Ex[] } {
    const { room, bodies } = this.system;
    return carriedLaw(i, of, at, {
      statements: room.statements,
      bodies,
      numbers: this.place('numbers'),
      G: this.place('G'),
      multiplier: (j, row) => this.multiplierOf(j, row),
    });
  }

  /** −ω × J ω. */
  private turning(b: number): void {
    const i = new Instance(this.site),
      { g } = i,
      { w } = i.body(b),
      inertia = i.base(this.place('inertias') + 9 * b);
    this.note('turning', i, [b], [], [], () => {
      const J = [0, 1, 2].map((r) =>
        dot(g, [0, 1, 2].map((c) => g.load(inertia, 3 * r + c)) as unknown as VectorEx, w),
      ) as unknown as VectorEx;
      return piecesOf(
        g,
        [i.body(b)],
        cross(g, w, J).map((x, k) => [3 + k, g.negate(x)] as const),
      );
    });
  }
}
