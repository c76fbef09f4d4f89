/** Rows of constraints between bodies that cannot do everything: of each kind those numbers that can differ from zero at all. */
import type { Constraint } from '../../equations/constraint';
import { type Fold, rounded } from '../../equations/fold';
import { foldOfBody, structural } from '../../equations/folded-body';
import { type BodyEx, moving } from '../../equations/stated/body';
import { named } from '../../equations/stated/elementary';
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import type { Store } from '../../expressions/plain';
import type { VectorEx } from '../../expressions/vectors';
import type { Statement } from '../compiled/equations';
import { Instance } from './instance';
import { Kinds } from './kinds';
import type { Site } from '../compiled/site';

/** Of the rows of a kind: the numbers of G that can differ from zero, twelve to a row; and whether no motion changes a row. */
interface Pattern {
  readonly G: readonly boolean[];
  readonly idle: readonly boolean[];
}
const KEPT = 400;
const patterns = new Map<string, Pattern>();

/** Where numbers of the machine begin. */
export type RowPlaces = Readonly<Record<'numbers' | 'courses' | 'G' | 'gamma', number>>;

export class FoldedRows {
  readonly kinds = new Kinds();
  /** Of each number of G whether it can differ from zero; and of each row whether it holds once and for all. */
  readonly nonzero: Uint8Array;
  readonly idle: Uint8Array;

  constructor(
    private readonly site: Site,
    readonly fold: Fold,
    private readonly own: RowPlaces,
    size: number,
    rows: number,
    statements: readonly Statement[],
    others: readonly Constraint[],
  ) {
    this.nonzero = new Uint8Array(size);
    this.idle = new Uint8Array(rows);
    for (const s of statements) this.stated(s);
    for (const c of others) this.given(c);
  }

  private moves(body: number, k: number): boolean {
    return body < this.site.bodies && this.fold.moves[6 * body + k] === 1;
  }

  private stated({ constraint: c, equation, values, numbers, course }: Statement): void {
    const { fold, site, own } = this,
      told = Array.from(values, (x) => (structural(rounded(x)) ? rounded(x) : undefined)),
      of = (b: number) => (b < site.bodies ? foldOfBody(fold, b) : 'ground'),
      key = `folded ${equation.name} ${of(c.a)} ${of(c.b)} ${c.a === c.b} ${told.join()} ${course !== undefined}`,
      i = new Instance(site, fold),
      { g } = i,
      [a, b] = [i.body(c.a), i.body(c.b)],
      from = i.base(own.numbers + numbers),
      follows = i.base(course ? own.courses + course.at : site.at.course),
      [G, gamma] = [i.base(own.G + 12 * c.row), i.base(own.gamma + c.row)];
    const state = (): { stores: Store[]; pattern: Pattern } => {
      let n = 0;
      const next = (): Ex => {
        const x = told[n];
        return x === undefined ? g.load(from, n++) : (n++, g.constant(x));
      };
      const f = [0, 1, 2].map((k) => (course ? g.load(follows, k) : g.zero)) as [Ex, Ex, Ex],
        byTime: [Ex, Ex][] = course
          ? [
              [f[0], f[1]],
              [f[1], f[2]],
            ]
          : [],
        phi = equation.phi(g, a, b, named(equation.numbers, next) as never, f[0]),
        all = new Direction(g, new Map([a, b].flatMap((x) => moving(g, x, x.v, x.w)).concat(byTime))),
        columns = [c.a, c.b].flatMap((body, side) =>
          Array.from({ length: 6 }, (_, k) => (this.moves(body, k) ? along(i, side === 0 ? a : b, k) : undefined)),
        ),
        rows = phi.map((x) => columns.map((d) => d?.of(x) ?? g.zero)),
        rates = phi.map((x) => all.of(x));
      const stores: Store[] = [],
        idle = rows.map((row, k) => rates[k] === g.zero && row.every((x) => x === g.zero));
      rows.forEach((row, k) => {
        row.forEach((x, e) => x !== g.zero && stores.push({ base: G, offset: 12 * k + e, x }));
        if (!idle[k]) stores.push({ base: gamma, offset: k, x: g.negate(all.of(rates[k]!)) });
      });
      return { stores, pattern: { G: rows.flatMap((row) => row.map((x) => x !== g.zero)), idle } };
    };
    let made: ReturnType<typeof state> | undefined;
    const pattern = patterns.get(key) ?? (made = state()).pattern;
    patterns.delete(key);
    patterns.set(key, pattern);
    if (patterns.size > KEPT) patterns.delete(patterns.keys().next().value!);
    this.kinds.add(key, i, () => (made ?? state()).stores);
    pattern.G.forEach((x, e) => (this.nonzero[12 * c.row + e] = x ? 1 : 0));
    pattern.idle.forEach((x, k) => (this.idle[c.row + k] = x ? 1 : 0));
  }

  /** Rows of a constraint that is no expression are as it writes them. */
  private given(c: Constraint): void {
    const pairs = (block: number, [a, b]: readonly [number, number], can: (e: number) => boolean) => {
      for (let e = 0; e < 12; e++) if (this.moves(e < 6 ? a : b, e % 6) && can(e)) this.nonzero[12 * block + e] = 1;
    };
    for (let k = 0; k < c.rows; k++) {
      if (this.fold.idle[c.row + k]) this.idle[c.row + k] = 1;
      else pairs(c.row + k, [c.a, c.b], (e) => c.pattern(k, e));
    }
    if (!this.idle[c.row]) c.more.forEach((pair, i) => pairs(c.block + i, pair, () => true));
  }
}

/** The derivative along one velocity of a body. */
function along({ g }: Instance, body: BodyEx, k: number): Direction {
  const still: VectorEx = [g.zero, g.zero, g.zero],
    unit = (j: number) => [0, 1, 2].map((e) => (e === j ? g.one : g.zero)) as unknown as VectorEx;
  return new Direction(g, new Map(moving(g, body, k < 3 ? unit(k) : still, k < 3 ? still : unit(k - 3))));
}
