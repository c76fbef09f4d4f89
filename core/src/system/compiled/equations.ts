/** The equations of a whole machine in one graph: its constraints by their Φ, and all that solving needs of them, derived. */
import type { Constraint } from '../../equations/constraint';
import type { Coupled } from '../../equations/coupled';
import { wholeTurns } from '../../equations/measured';
import { type BodyEx, moving } from '../../equations/stated/body';
import type { OwnBody } from '../../equations/coordinates/own';
import { type Fold, rounded } from '../../equations/fold';
import { foldedBody, groundBody, structural } from '../../equations/folded-body';
import { type Elementary, type NumberKind, named } from '../../equations/stated/elementary';
import type { DrivenCourse } from '../../equations/courses';
import { powerOf, pushesOf } from '../../equations/laws/derive';
import type { FromCarried, StatedForce } from '../../equations/laws/stated-force';
import { type StatedValue, isFormula, numbersOf } from '../../equations/values';
import { formulaIn } from '../../formula/formula-in';
import type { StatedFormula } from '../../formula/stated-formula';
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import { Graph, OP } from '../../expressions/graph';
import type { RotationEx, VectorEx } from '../../expressions/vectors';
import type { Elimination } from '../../linear/elimination';
import { KINEMATICS, OWN, type Places } from './places';

/** A constraint that is stated by its Φ, and where its numbers and its course lie. */
export interface Statement {
  readonly constraint: Constraint;
  readonly equation: Elementary;
  readonly values: Float64Array;
  readonly numbers: number;
  /** Left out where it follows nothing. */
  readonly course: Followed | undefined;
}

/** A linear relation of coordinates, each with the state that counts its turns where one does. */
export interface StatedCoupling {
  readonly constraint: Coupled;
  readonly terms: readonly { readonly of: Statement; readonly counter: number | undefined }[];
  readonly factors: readonly number[];
  /** Where these lie. */
  readonly numbers: number;
}

/** Numbers of a course at a place of their own; and where it is an expression, its formula and where the numbers of that lie. */
export interface Followed {
  readonly at: number;
  readonly stated: { readonly course: DrivenCourse; readonly law: StatedFormula; readonly numbers: number } | undefined;
}

/** A load that is stated: its number among the forces, and where its numbers and what it takes in lie. */
export interface StatedLoad {
  readonly force: StatedForce;
  readonly which: number;
  readonly numbers: number;
  readonly inputs: number;
  /** Of those that are values of posture, motion and time, by their position, where the numbers of that lie. */
  readonly values: readonly (number | undefined)[];
}

export class MachineEquations {
  readonly g = new Graph();
  readonly bodies: readonly BodyEx[];
  /** Twelve to a block. Rows of constraints that are no expressions are loads. */
  readonly G: Ex[];
  readonly gamma: Ex[];
  /** Of stated rows: Φ, and Φ̇ = G u − ν. */
  readonly phi = new Map<number, Ex>();
  readonly rate = new Map<number, Ex>();
  /** Rows that hold once and for all. */
  private readonly idle = new Set<number>();
  /** Time as formulas see it. */
  private readonly t: Ex;
  private readonly byTime: Direction;
  /** How the states of courses change. */
  private readonly courseRates = new Map<number, Ex>();

  constructor(
    private readonly plan: Elimination,
    readonly places: Places,
    statements: readonly Statement[],
    couplings: readonly StatedCoupling[],
    others: readonly Constraint[],
    private readonly fold?: Fold,
  ) {
    const { g } = this,
      { bodies, rows, rowAt } = plan;
    const [t, from, to] = this.read(OWN, places.own.clock, 3) as [Ex, Ex, Ex];
    this.t = g.most(from, g.least(t, to));
    this.byTime = new Direction(g, new Map([[this.t, g.one]]));
    this.bodies = Array.from({ length: bodies + 1 }, (_, i) => (i < bodies ? this.body(i) : groundBody(g)));
    this.G = new Array<Ex>(rowAt.length).fill(g.zero);
    this.gamma = new Array<Ex>(rows).fill(g.zero);
    for (const c of others) this.given(c);
    this.derive(statements, couplings);
    this.carry();
  }

  private read(base: number, at: number, count: number): Ex[] {
    return Array.from({ length: count }, (_, k) => this.g.load(base, at + k));
  }
  /** Whether a variable (a motion, then the rows) is a velocity that never differs from zero, or a row that holds once and for all. */
  readonly holds = (variable: number): boolean =>
    variable < this.plan.motions ? this.fold?.moves[variable] === 0 : this.idle.has(variable - this.plan.motions);

  /** The number among the variables of a row. */
  variable(row: number): number {
    return this.plan.motions + row;
  }

  /** A number of the block of a body that has coordinates of its own. */
  own({ block }: OwnBody, offset: number): Ex {
    return this.g.load(KINEMATICS, this.places.kinematics.blocks + block + offset);
  }
  /** Rows on bodies that coordinates place, brought to these (`linear/own-rows.ts`). */
  private carry(): void {
    const { g, plan, G, gamma } = this,
      { rows, further, bodyOf, own, rowPlaces } = plan;
    if (own.list.length === 0) return;
    for (let row = 0; row < rows; row++)
      for (const block of [row, ...further[row]!])
        for (let side = 0; side < 2; side++) {
          const o = own.of[bodyOf[2 * block + side]!],
            six = (e: number) => G[12 * block + 6 * side + e]!;
          if (!o?.placed) continue;
          for (let e = 0; e < 6; e++) {
            for (let j = 0; j < o.count; j++) {
              const h = rowPlaces.coordinates(block, side) + j;
              G[h] = g.add(G[h]!, g.multiply(six(e), this.own(o, o.at.J + o.count * e + j)));
            }
            gamma[row] = g.subtract(gamma[row]!, g.multiply(six(e), this.own(o, o.at.bias + e)));
          }
        }
  }
  /** Whether one of the six velocities of a body can ever differ from zero. */
  private moves(body: number, k: number): boolean {
    return !this.fold || this.fold.moves[6 * body + k] === 1;
  }
  private body(i: number): BodyEx {
    const { g, fold } = this,
      { r, A, v, w } = this.places.kinematics,
      vector = (at: number) => this.read(KINEMATICS, at + 3 * i, 3) as unknown as VectorEx,
      plain = { r: vector(r), A: this.read(KINEMATICS, A + 9 * i, 9) as unknown as RotationEx, v: vector(v), w: vector(w) };
    return fold ? foldedBody(g, fold, i, plain) : plain;
  }

  /** A number of the machine: what is 0 or ±1 belongs to its structure and is folded; all else is read when it is needed. */
  number(value: number, at: number): Ex {
    return this.fixed(this.fold ? rounded(value) : value) ?? this.g.load(OWN, at);
  }
  private fixed(value: number): Ex | undefined {
    return structural(value) ? this.g.constant(value) : undefined;
  }

  /** Whether a number of G belongs to a velocity that can differ from zero. */
  private has(body: number, k: number): boolean {
    return body < this.bodies.length - 1 && this.moves(body, k);
  }
  /** Rows of a constraint that is no expression are read as it has written them. */
  private given(c: Constraint): void {
    const { g, G, places } = this,
      entry = (e: number) => (G[e] = g.load(OWN, places.own.G + e));
    for (let k = 0; k < c.rows; k++) {
      if (this.fold?.idle[c.row + k]) {
        this.idle.add(c.row + k);
        continue;
      }
      for (let e = 0; e < 12; e++) if (this.has(e < 6 ? c.a : c.b, e % 6) && c.pattern(k, e)) entry(12 * (c.row + k) + e);
      this.gamma[c.row + k] = g.load(OWN, places.own.gamma + c.row + k);
    }
    if (!this.idle.has(c.row))
      c.more.forEach((pair, i) => {
        for (let e = 0; e < 12; e++) if (this.has(e < 6 ? pair[0] : pair[1], e % 6)) entry(12 * (c.block + i) + e);
      });
  }

  private derive(statements: readonly Statement[], couplings: readonly StatedCoupling[]): void {
    const { g, bodies, G } = this,
      still: VectorEx = [g.zero, g.zero, g.zero],
      unit = (k: number) => [0, 1, 2].map((j) => (j === k ? g.one : g.zero)) as unknown as VectorEx,
      courses = statements.map(({ course }) => this.courseOf(course)),
      // time runs, and what is read of courses changes as is read; what is made of these follows, whatever sign it stands with
      byTime = new Map<Ex, Ex>([
        [this.t, g.one],
        ...courses
          .flatMap(([f, f1, f2]): [Ex, Ex][] => [
            [f, f1],
            [f1, f2],
          ])
          .filter(([x]) => g.op[x] === OP.load),
      ]),
      along = (b: BodyEx, k: number) => new Direction(g, new Map(moving(g, b, k < 3 ? unit(k) : still, k < 3 ? still : unit(k - 3)))),
      alone = bodies.slice(0, -1).map((b, i) => Array.from({ length: 6 }, (_, k) => (this.moves(i, k) ? along(b, k) : undefined))),
      all = new Direction(g, new Map([...bodies.slice(0, -1).flatMap((b) => moving(g, b, b.v, b.w)), ...byTime]));
    statements.forEach(({ constraint: c, equation, values, numbers }, i) => {
      const phi = equation.phi(g, bodies[c.a]!, bodies[c.b]!, this.numbersOf(equation, values, numbers) as never, courses[i]![0]);
      phi.forEach((x, k) => {
        const row = c.row + k,
          rate = all.of(x);
        [c.a, c.b].forEach((b, side) => alone[b]?.forEach((d, e) => (G[12 * row + 6 * side + e] = d?.of(x) ?? g.zero)));
        // what no motion of the bodies changes holds once and for all
        if (this.fold && rate === g.zero && G.slice(12 * row, 12 * row + 12).every((y) => y === g.zero)) return void this.idle.add(row);
        this.phi.set(row, x);
        this.rate.set(row, rate);
        this.gamma[row] = g.negate(all.of(rate));
      });
    });
    for (const c of couplings) this.couple(c, alone, all);
  }
  /** Σ cᵢ qᵢ = 0, whole turns counted: the two bodies of each coordinate have a block of their own. */
  private couple(
    { constraint: { row, block }, terms, factors, numbers }: StatedCoupling,
    alone: readonly (readonly (Direction | undefined)[])[],
    all: Direction,
  ): void {
    const { g, G, places } = this,
      sum = (list: readonly Ex[]) => list.reduce((x, y) => g.add(x, y), g.zero);
    const parts = terms.map(({ of, counter }, i) => {
      const { a, b } = of.constraint,
        q = this.coordinate(of),
        turns = counter === undefined ? g.zero : wholeTurns(g, q, g.load(KINEMATICS, places.kinematics.z + counter)),
        part = g.multiply(this.number(factors[i]!, places.own.values + numbers + i), g.add(q, turns));
      [a, b].forEach((body, side) =>
        alone[body]?.forEach((d, e) => (G[12 * (i === 0 ? row : block + i - 1) + 6 * side + e] = d?.of(part) ?? g.zero)),
      );
      return part;
    });
    const rate = sum(parts.map((x) => all.of(x)));
    this.phi.set(row, sum(parts));
    this.rate.set(row, rate);
    this.gamma[row] = g.negate(all.of(rate));
  }
  /** A coordinate as its equation has it, following nothing. */
  private coordinate({ constraint: { a, b }, equation, values, numbers }: Statement): Ex {
    const { g, bodies } = this;
    return equation.phi(g, bodies[a]!, bodies[b]!, this.numbersOf(equation, values, numbers) as never, g.zero)[0]!;
  }

  /** A formula. @param numbers where its numbers begin @param inputs what it takes in */
  private formula(law: StatedFormula, numbers: number, inputs: readonly Ex[] = []): Ex {
    return formulaIn(
      this.g,
      law,
      this.t,
      (k) => this.number(law.numbers[k]!, this.places.own.values + numbers + k),
      (k) => inputs[k]!,
    );
  }
  /** A value of posture, motion and time. @param numbers where its numbers begin, and behind them those of what it takes in */
  private value(v: StatedValue, numbers: number): Ex {
    const { g, places, bodies } = this;
    if (isFormula(v)) {
      let at = numbers + v.formula.numbers.length;
      const inputs = v.inputs.map((input) => {
        const x = this.value(input, at);
        at += numbersOf(input).length;
        return x;
      });
      return this.formula(v.formula, numbers, inputs);
    }
    const { law, counter } = v,
      n = v.numbers.map((x, k) => this.number(x, places.own.values + numbers + k)),
      turns = counter ? g.load(KINEMATICS, places.kinematics.z + counter.first) : g.zero;
    return law.of(
      g,
      v.bodies.map((b) => bodies[b]!),
      n,
      turns,
    );
  }
  /** What is followed, with its two rates. */
  private courseOf(followed: Followed | undefined): readonly [Ex, Ex, Ex] {
    const { g, places, byTime } = this,
      { own } = places;
    if (!followed) return [g.zero, g.zero, g.zero];
    const [f, f1, f2, shift] = this.read(OWN, own.courses + followed.at, 4) as [Ex, Ex, Ex, Ex];
    if (!followed.stated) return [f, f1, f2];
    const { course, law, numbers } = followed.stated,
      p = this.formula(law, numbers),
      rate = byTime.of(p),
      { follows, rates } = course.stated.of(
        g,
        [p, rate, byTime.of(rate)],
        this.read(KINEMATICS, places.kinematics.z + course.first, course.states),
        shift,
      );
    rates.forEach((x, k) => this.courseRates.set(course.first + k, x));
    return follows;
  }
  /** How a state of a course changes. */
  rateOfCourse(state: number): Ex {
    return this.courseRates.get(state)!;
  }

  /** What loads push the bodies with, six numbers each, and the power of each load by its number. */
  loads(list: readonly StatedLoad[]): { pushes: Ex[]; powers: Map<number, Ex> } {
    const { g, bodies } = this,
      pushes = new Array<Ex>(6 * bodies.length).fill(g.zero),
      powers = new Map<number, Ex>();
    for (const load of list) {
      const { force, which, numbers } = load;
      let at = numbers;
      for (const { bodies: of, values } of force.instances) {
        const { law } = force,
          all = [...new Set(of)],
          known = of.map((b) => bodies[b]!),
          told = this.named(law.numbers, values, at),
          does = law.does(g, known, told as never, this.inputsOf(load, known, told)),
          six = pushesOf(
            g,
            does,
            all.map((b) => bodies[b]!),
            (i, k) => this.has(all[i]!, k),
          );
        at += values.length;
        six.forEach((p, i) => p.forEach((x, k) => (pushes[6 * all[i]! + k] = g.add(pushes[6 * all[i]! + k]!, x))));
        const power = powerOf(
          g,
          six,
          all.map((b) => bodies[b]!),
        );
        powers.set(which, g.add(powers.get(which) ?? g.zero, power));
      }
    }
    return { pushes, powers };
  }

  /**
   * Loads that follow from what constraints carry: each effort as it follows from the multipliers that stand there, and what such efforts push the bodies with
   * and the power of each load, once they are given.
   */
  reacting(list: readonly StatedLoad[]): { efforts: Ex[]; does: (given: readonly Ex[]) => { pushes: Ex[]; powers: Map<number, Ex> } } {
    const { g, bodies } = this,
      works = list.flatMap(({ force, which, numbers, ...load }) =>
        force.instances.flatMap(({ bodies: of, values }) => {
          const { law } = force,
            known = of.map((b) => bodies[b]!),
            told = this.named(law.numbers, values, numbers);
          return law
            .does(g, known, told as never, this.inputsOf({ force, which, numbers, ...load }, known, told))
            .works!.map(([effort, rate]) => ({ which, all: [...new Set(of)], effort, rate }));
        }),
      );
    const does = (given: readonly Ex[]) => {
      const pushes = new Array<Ex>(6 * bodies.length).fill(g.zero),
        powers = new Map<number, Ex>();
      works.forEach(({ which, all, rate }, i) => {
        const six = pushesOf(
          g,
          { works: [[given[i]!, rate]] },
          all.map((b) => bodies[b]!),
          (b, k) => this.has(all[b]!, k),
        );
        six.forEach((p, b) => p.forEach((x, k) => (pushes[6 * all[b]! + k] = g.add(pushes[6 * all[b]! + k]!, x))));
        powers.set(which, g.add(powers.get(which) ?? g.zero, g.multiply(given[i]!, rate)));
      });
      return { pushes, powers };
    };
    return { efforts: works.map((w) => w.effort), does };
  }
  /** What follows from what constraints carry: their rows and multipliers are read as they stand. */
  private fromCarried({ law, constraints, bodies: of, numbers }: FromCarried, at: number): readonly Ex[] {
    const { g, bodies, G, places } = this,
      { own } = places,
      stands = (x: Ex, k: number) => (g.known(x) === undefined ? g.load(OWN, own.G + k) : x),
      rows = constraints.flatMap((c) =>
        Array.from({ length: c.rows }, (_, k) => {
          const row = c.row + k;
          return {
            multiplier: this.holds(this.variable(row)) ? g.zero : g.load(OWN, own.solution + this.variable(row)),
            row: G.slice(12 * row, 12 * row + 12).map((x, e) => stands(x, 12 * row + e)),
          };
        }),
      );
    return law.of(
      g,
      of.map((b) => bodies[b]!),
      numbers.map((x, k) => this.number(x, own.values + at + k)),
      rows,
      of.map((b) => b === bodies.length - 1),
    );
  }

  /** What a load takes in: read, where it is no expression. */
  private inputsOf({ force, inputs, values }: StatedLoad, known: readonly BodyEx[], told: Readonly<Record<string, VectorEx | Ex>>): Ex[] {
    const { g, places } = this,
      z = (state: number) => g.load(KINEMATICS, places.kinematics.z + state);
    let at = inputs;
    return force.inputs.flatMap((input, i) => {
      const read = this.read(OWN, at, input.count);
      at += input.count;
      if (input.stated) return [this.value(input.stated, values[i]!)];
      if (input.carried) return this.fromCarried(input.carried, values[i]!);
      return input.express ? [input.express.of(g, known, told, z)] : read;
    });
  }

  /** Of each coordinate its value and its rate. */
  measure(coordinates: readonly Statement[]): Ex[] {
    const { g, bodies } = this,
      all = new Direction(g, new Map(bodies.slice(0, -1).flatMap((b) => moving(g, b, b.v, b.w))));
    return coordinates.flatMap((c) => {
      const x = this.coordinate(c);
      return [x, all.of(x)];
    });
  }

  private numbersOf({ numbers: kinds }: Elementary, values: Float64Array, at: number): Record<string, VectorEx | Ex> {
    return this.named(kinds, values, this.places.own.numbers + at);
  }
  private named(kinds: Readonly<Record<string, NumberKind>>, values: ArrayLike<number>, from: number): Record<string, VectorEx | Ex> {
    let k = 0;
    return named(kinds, () => this.number(values[k]!, from + k++));
  }
}
