/** The equations of a whole machine in one graph: its constraints by their Φ, and all that solving needs of them, derived. */
import type { Constraint } from '../../equations/constraint';
import { type BodyEx, moving } from '../../equations/stated/body';
import type { Elementary } from '../../equations/stated/elementary';
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import { Graph } from '../../expressions/graph';
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
  readonly course: number | undefined;
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

  constructor(
    { bodies, rows, rowAt }: Elimination,
    private readonly places: Places,
    statements: readonly Statement[],
    others: readonly Constraint[],
  ) {
    const { g } = this;
    this.bodies = Array.from({ length: bodies + 1 }, (_, i) => (i < bodies ? this.body(i) : this.ground()));
    this.G = new Array<Ex>(rowAt.length).fill(g.zero);
    this.gamma = new Array<Ex>(rows).fill(g.zero);
    for (const c of others) this.given(c, bodies);
    this.derive(statements);
  }

  private loads(base: number, at: number, count: number): Ex[] {
    return Array.from({ length: count }, (_, k) => this.g.load(base, at + k));
  }
  private body(i: number): BodyEx {
    const { r, A, v, w } = this.places.kinematics,
      part = (at: number, each: number) => this.loads(KINEMATICS, at + each * i, each);
    return {
      r: part(r, 3) as unknown as VectorEx,
      A: part(A, 9) as unknown as RotationEx,
      v: part(v, 3) as unknown as VectorEx,
      w: part(w, 3) as unknown as VectorEx,
    };
  }
  private ground(): BodyEx {
    const { zero, one } = this.g,
      still: VectorEx = [zero, zero, zero];
    return { r: still, A: [one, zero, zero, zero, one, zero, zero, zero, one], v: still, w: still };
  }

  /** A number of the machine: what is 0 or ±1 belongs to its structure and is folded; all else is read when it is needed. */
  number(value: number, at: number): Ex {
    return value === 0 || value === 1 || value === -1 ? this.g.constant(value) : this.g.load(OWN, at);
  }

  /** Rows of a constraint that is no expression are read as it has written them. */
  private given(c: Constraint, bodies: number): void {
    const { g, G, places } = this,
      entry = (e: number) => (G[e] = g.load(OWN, places.own.G + e));
    for (let k = 0; k < c.rows; k++) {
      for (let e = 0; e < 12; e++) if ((e < 6 ? c.a : c.b) < bodies && c.pattern(k, e)) entry(12 * (c.row + k) + e);
      this.gamma[c.row + k] = g.load(OWN, places.own.gamma + c.row + k);
    }
    c.more.forEach((pair, i) => {
      for (let e = 0; e < 12; e++) if ((e < 6 ? pair[0] : pair[1]) < bodies) entry(12 * (c.block + i) + e);
    });
  }

  private derive(statements: readonly Statement[]): void {
    const { g, bodies, G } = this,
      still: VectorEx = [g.zero, g.zero, g.zero],
      unit = (k: number) => [0, 1, 2].map((j) => (j === k ? g.one : g.zero)) as unknown as VectorEx,
      courses = statements.map(({ course }) =>
        course === undefined ? ([g.zero, g.zero, g.zero] as const) : (this.loads(OWN, this.places.own.courses + course, 3) as [Ex, Ex, Ex]),
      ),
      byTime = courses.flatMap(([f, f1, f2], i): [Ex, Ex][] =>
        statements[i]!.course === undefined
          ? []
          : [
              [f, f1],
              [f1, f2],
            ],
      ),
      along = (b: BodyEx, k: number) => new Direction(g, new Map(moving(g, b, k < 3 ? unit(k) : still, k < 3 ? still : unit(k - 3)))),
      alone = bodies.slice(0, -1).map((b) => Array.from({ length: 6 }, (_, k) => along(b, k))),
      all = new Direction(g, new Map([...bodies.slice(0, -1).flatMap((b) => moving(g, b, b.v, b.w)), ...byTime]));
    statements.forEach(({ constraint: c, equation, values, numbers }, i) => {
      const phi = equation.phi(g, bodies[c.a]!, bodies[c.b]!, this.numbersOf(equation, values, numbers) as never, courses[i]![0]);
      phi.forEach((x, k) => {
        const row = c.row + k,
          rate = all.of(x);
        [c.a, c.b].forEach((b, side) => alone[b]?.forEach((d, e) => (G[12 * row + 6 * side + e] = d.of(x))));
        this.phi.set(row, x);
        this.rate.set(row, rate);
        this.gamma[row] = g.negate(all.of(rate));
      });
    });
  }

  private numbersOf({ numbers: kinds }: Elementary, values: Float64Array, at: number): Record<string, VectorEx | Ex> {
    let k = 0;
    const next = () => this.number(values[k]!, this.places.own.numbers + at + k++);
    return Object.fromEntries(
      Object.entries(kinds).map(([name, kind]) => [name, kind === 'vector' ? ([next(), next(), next()] as const) : next()]),
    );
  }
}
