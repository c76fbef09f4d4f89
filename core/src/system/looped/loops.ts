/**
 * The equations of a machine that is too large for code of its own: one compiled function for each kind of equation, run over all its instances. Where these
 * lie stands in tables.
 */
import type { Constraint } from '../../equations/constraint';
import type { Fold } from '../../equations/fold';
import { moving } from '../../equations/stated/body';
import { numbersAt } from '../../equations/stated/elementary';
import { type Part, partOf } from '../../equations/stated/stated';
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import type { Store } from '../../expressions/plain';
import type { Followed, StatedLoad, Statement } from '../compiled/equations';
import type { Room } from '../compiled/room';
import { compiling, webAssembly } from '../../kernel/webassembly';
import type { Elimination } from '../../linear/elimination';
import { Expressed, added } from './expressed';
import { BlockedFactors, type Own } from './factors';
import { FoldedRows, type RowPlaces } from './folded-rows';
import { Instance } from './instance';
import { Kinds } from './kinds';
import type { Site } from '../compiled/site';

/** Entries for the rows of a constraint. */
const ROWS = 14;

export class Loops {
  /** Courses; loads and their powers; rows of constraints; how further states change. Each in one go. */
  readonly courses: () => void;
  readonly loads: () => void;
  readonly rows: () => void;
  /** Of constraints their rows alone; Φ; Φ̇. */
  readonly jacobian: () => void;
  readonly positions: () => void;
  readonly velocities: () => void;
  /** Measured coordinates and their rates, one after the other. */
  readonly measure: () => void;
  readonly further: () => void;

  /** The factors of the equations as they stand, and the solution of `x` with them; undefined where that is not worth its code. */
  readonly factorise: (() => void) | undefined;
  readonly solve: (() => void) | undefined;

  private readonly half: 0 | 1;
  private readonly expressed: Expressed;

  constructor(
    private readonly room: Room,
    plan: Elimination,
    rowsOf: (link: number) => number,
    letsGo: ArrayLike<number>,
    others: readonly Constraint[],
    fold?: Fold,
  ) {
    this.half = fold ? 1 : 0;
    this.expressed = new Expressed(room.site);
    const { statements } = room;
    room.clearTables(this.half);
    this.courses = this.made(this.followed(statements));
    this.loads = this.made(this.pushing(room.loads));
    this.jacobian = this.made(this.constraining('jacobian', 'G', 12));
    this.positions = this.made(this.constraining('phi', 'phi', 1));
    this.velocities = this.made(this.constraining('rate', 'phi', 1));
    this.measure = this.made(this.measuring());
    this.further = this.made(this.changing());
    const { own } = room.places,
      keys = ['X', 'inverse', 'G', 'masses', 'inertias', 'ratio', 'off', 'x', 'work'] as const,
      places = Object.fromEntries(keys.map((key) => [key, room.from + own[key]])) as Own,
      folded = fold && new FoldedRows(room.site, fold, this.rowPlaces, plan.rowAt.length, plan.rows, statements, others),
      left = folded && { nonzero: folded.nonzero, idle: folded.idle, moves: folded.fold.moves },
      // interpreted, they would take longer than the factorisation by itself
      blocks = webAssembly && !compiling.refused ? BlockedFactors.of(plan, places, rowsOf, letsGo, left) : undefined,
      factors = blocks && this.fits(blocks, folded) ? blocks : undefined;
    // by itself it knows of nothing that is left out
    this.rows = this.made((factors && folded?.kinds) ?? this.constraining('rows', 'G', 12, 'gamma'));
    if (!factors) return;
    const [forward, backward] = [this.made(factors.forward), this.made(factors.backward)];
    this.factorise = this.made(factors.factorise);
    this.solve = () => {
      forward();
      backward();
    };
  }

  /** Whether there is room for what a factorisation block by block needs: blocks that touch many others need much. */
  private fits({ factorise, forward, backward }: BlockedFactors, folded: FoldedRows | undefined): boolean {
    const { room, half } = this,
      all = [factorise, forward, backward],
      entries = all.reduce((s, kinds) => s + kinds.entries, folded?.kinds.entries ?? 0);
    return entries <= room.tablesLeft(half) - ROWS * room.statements.length && all.every((kinds) => kinds.scratch <= room.scratched);
  }
  private get rowPlaces(): RowPlaces {
    return { numbers: this.own('numbers'), courses: this.own('courses'), G: this.own('G'), gamma: this.own('gamma') };
  }
  private made(kinds: Kinds): () => void {
    const { room } = this;
    if (kinds.scratch > room.scratched) throw new RangeError('There is no room in which such a kernel could work.');
    return kinds.made(room.K.memory, (count) => room.table(count, this.half), room.scratch);
  }
  private own(key: keyof Site['own']): number {
    return this.expressed.place(key);
  }

  private followed(statements: readonly Statement[]): Kinds {
    const kinds = new Kinds();
    for (const { course: followed } of statements) if (followed?.stated) this.course(kinds, followed, followed.stated);
    return kinds;
  }
  private course(kinds: Kinds, followed: Followed, stated: NonNullable<Followed['stated']>): void {
    const i = new Instance(this.room.site),
      { key, x } = this.expressed.course(i, followed, stated);
    kinds.add(key as string, i, x);
  }

  private measuring(): Kinds {
    const kinds = new Kinds();
    this.room.measured.forEach((s, i) => {
      this.part(kinds, s, 'phi', this.own('measured') + 2 * i);
      this.part(kinds, s, 'rate', this.own('measured') + 2 * i + 1);
    });
    return kinds;
  }
  /** A part of a constraint. @param to,beside where it goes */
  private part(kinds: Kinds, { constraint: c, equation, numbers, course }: Statement, part: Part, to: number, beside?: number): void {
    const { at } = this.room.K,
      body = (b: number) => [at.r + 3 * b, at.A + 9 * b, at.v + 3 * b, at.w + 3 * b],
      follows = course ? this.own('courses') + course.at : at.course,
      places = [...body(c.a), ...body(c.b), this.own('numbers') + numbers, follows, to, ...(beside === undefined ? [] : [beside])];
    kinds.take(`${part} ${equation.name}`, places, () => partOf(equation, part));
  }
  /** A part of all constraints. @param to where it goes: so many numbers to a row @param beside the same of γ */
  private constraining(part: Part, to: 'G' | 'phi', each: number, beside?: 'gamma'): Kinds {
    const kinds = new Kinds();
    for (const s of this.room.statements) {
      const { row } = s.constraint;
      this.part(kinds, s, part, this.own(to) + each * row, beside && this.own(beside) + row);
    }
    return kinds;
  }

  private pushing(loads: readonly StatedLoad[]): Kinds {
    const kinds = new Kinds();
    for (const load of loads) {
      let numbers = this.room.from + load.numbers;
      for (const { bodies, values } of load.force.instances) {
        this.push(kinds, load, bodies, numbers);
        numbers += values.length;
      }
    }
    return kinds;
  }
  private push(kinds: Kinds, load: StatedLoad, bodies: readonly number[], numbers: number): void {
    const i = new Instance(this.room.site),
      { key, x } = this.expressed.load(i, load, bodies, numbers),
      F = [...new Set(bodies)].map((b) => i.base(this.own('F') + 6 * b)),
      power = i.base(this.own('powers') + load.which);
    kinds.add(`load ${JSON.stringify(key)}`, i, () => added(i, x(), F, power));
  }

  private changing(): Kinds {
    const kinds = new Kinds(),
      { further } = this.room;
    for (const { at, changes, coordinate } of further) {
      if (changes.by === 'course') continue; // with what is followed
      const i = new Instance(this.room.site),
        { g } = i,
        rate = i.base(this.own('stateRates') + at),
        write = (x: Ex): Store[] => [{ base: rate, offset: 0, x }];
      if (changes.by === 'nothing') kinds.add('nothing', i, () => write(g.zero));
      else if (changes.by === 'power') {
        const power = i.number(this.own('powers') + changes.which);
        kinds.add('power', i, () => write(power));
      } else {
        const { constraint: c, equation, numbers } = coordinate!,
          nth = [i.nth(c.a), i.nth(c.b)],
          own = i.base(this.own('numbers') + numbers),
          lambda = changes.by === 'work' ? i.number(this.own('solution') + this.room.motions + changes.constraint.row) : undefined;
        kinds.add(`${changes.by} ${equation.name} ${nth.join()}`, i, () => {
          const [a, b] = [i.body(c.a), i.body(c.b)],
            phi = equation.phi(g, a, b, numbersAt(g, equation.numbers, own, 0) as never, g.zero)[0]!,
            speed = new Direction(g, new Map([a, b].flatMap((x) => moving(g, x, x.v, x.w)))).of(phi);
          return write(lambda === undefined ? speed : g.negate(g.multiply(lambda, speed)));
        });
      }
    }
    return kinds;
  }
}
