/**
 * What the equations of a machine at rest can come to while its bodies stand anywhere within bounds: the rows of G, what loads push with, and how f − Gᵀλ
 * changes with a small displacement of each body, all as intervals of the expressions that `Tangent` derives. It works on a copy of the machine's numbers.
 */
import type { Constraint } from '../../equations/constraint';
import { StatedForce } from '../../equations/laws/stated-force';
import type { BodyEx } from '../../equations/stated/body';
import { numbersAt } from '../../equations/stated/elementary';
import type { Ex } from '../../expressions/arithmetic';
import { Enclosed } from '../../expressions/enclosed';
import { tableWithin } from '../../formula/table-bounds';
import { Expressed } from '../looped/expressed';
import { Instance } from '../looped/instance';
import type { System } from '../system';
import { along, carriedBy, piecesOf } from './pieces';
import { isTold } from './tangent';

/** Bounds of numbers, each with the row and the column where it stands: six columns to a body. */
export interface Bounds {
  readonly row: Int32Array;
  readonly column: Int32Array;
  readonly lo: Float64Array;
  readonly hi: Float64Array;
}
/** Where an expression of an instance goes to. */
interface Entry {
  readonly row: number;
  readonly column: number;
  readonly x: Ex;
}
/** Expressions of one instance, and from where on their bounds are put. */
export interface Part {
  readonly enclosed: Enclosed;
  readonly places: readonly number[];
  readonly from: readonly number[];
  readonly to: number;
}

/** A load at one of the places where it acts: the bodies that it knows, and its parts of f and of K. */
export interface LoadPart {
  readonly bodies: readonly number[];
  readonly f: readonly Part[];
  readonly K: readonly Part[];
}

interface Lists {
  readonly G: List;
  readonly phis: List;
  readonly bent: List;
}

class List {
  readonly parts: Part[] = [];
  private readonly row: number[] = [];
  private readonly column: number[] = [];

  /** @returns what was added */
  add({ g, places }: Instance, entries: readonly Entry[]): readonly Part[] {
    if (entries.length === 0) return [];
    const enclosed = new Enclosed(
      g,
      entries.map((e) => e.x),
      tableWithin,
    );
    const part = { enclosed, places: [...places], from: entries.map((e) => enclosed.at(e.x)), to: this.row.length };
    this.parts.push(part);
    for (const { row, column } of entries) {
      this.row.push(row);
      this.column.push(column);
    }
    return [part];
  }
  made(): Bounds {
    const n = this.row.length;
    return { row: Int32Array.from(this.row), column: Int32Array.from(this.column), lo: new Float64Array(n), hi: new Float64Array(n) };
  }
}

const rowsOf = (c: Constraint): number[] => Array.from({ length: c.rows }, (_, k) => c.row + k);
/** Why the equations of a machine cannot be bounded; undefined where they can. @param of the rows that are asked for; left out: all */
export function notBounded({ room, groups, forces, own }: System, of: (row: number) => boolean = () => true): string | undefined {
  const known = new Set<Constraint>([...room.statements, ...room.couplings].map((x) => x.constraint));
  if (own.list.length > 0) return 'a body has coordinates of its own';
  if (groups.some((g) => g.constraints.some((c) => !known.has(c) && rowsOf(c).some(of)))) return 'a joint follows a curve';
  if (forces.some((f) => f.holding)) return 'friction or a rigid end may hold it';
  if (!forces.every((f) => f.workless || (f instanceof StatedForce && f.inputs.every((i) => isTold(i) && !i.carried))))
    return 'a load is no expression';
  return undefined;
}

export class EquationBounds {
  /** Bounds of all that is read. */
  readonly lo: Float64Array;
  readonly hi: Float64Array;
  /** What rows come to (column 0). */
  readonly phi: Bounds;
  /** Rows of constraints, what loads push with (column 0), and how f − Gᵀλ changes: its row is an entry of a motion too. */
  readonly G: Bounds;
  readonly f: Bounds;
  readonly K: Bounds;
  /** Whether loads or rows may jump within the bounds. */
  jumps = false;
  private readonly source: Float64Array;
  readonly loads: readonly LoadPart[];
  private readonly linear: readonly Part[];
  private readonly fits: readonly Part[];
  /** Of K what constraints carry. */
  readonly bent: readonly Part[];
  private readonly expressed: Expressed;
  private readonly site: System['room']['site'];

  /**
   * @param system a machine whose equations can be bounded (`notBounded`)
   * @param of the rows that are told of besides loads; left out: all
   */
  constructor(
    private readonly system: System,
    private readonly of: (row: number) => boolean = () => true,
  ) {
    const { room, K } = system,
      { site } = room,
      from = K.at.r,
      length = site.from + site.own.x - from;
    this.source = K.memory.numbers.subarray(from, from + length);
    this.lo = new Float64Array(length);
    this.hi = new Float64Array(length);
    this.site = {
      bodies: site.bodies,
      from: site.from - from,
      at: Object.fromEntries(Object.entries(site.at).map(([key, x]) => [key, x - from])) as never,
      own: site.own,
    };
    this.expressed = new Expressed(this.site);
    const G = new List(),
      phis = new List(),
      f = new List(),
      bent = new List();
    for (const { constraint: c, equation, numbers, course } of room.statements) {
      if (c.inertia !== undefined || !rowsOf(c).some(of)) continue;
      const i = new Instance(this.site),
        { g } = i,
        n = i.base(this.place('numbers') + numbers),
        follows = course === undefined ? g.zero : i.number(this.place('courses') + course.at);
      this.rows(
        { G, phis, bent },
        i,
        c,
        [c.a, c.b],
        equation.phi(g, i.body(c.a), i.body(c.b), numbersAt(g, equation.numbers, n, 0) as never, follows),
      );
    }
    for (const { constraint: c, terms, numbers } of room.couplings) {
      if (!rowsOf(c).some(of)) continue;
      const i = new Instance(this.site),
        { g } = i,
        weights = i.base(this.place('values') + numbers),
        phi = terms.reduce((sum, { of: { equation, constraint: of, numbers: at } }, k) => {
          const own = numbersAt(g, equation.numbers, i.base(this.place('numbers') + at), 0) as never,
            q = equation.phi(g, i.body(of.a), i.body(of.b), own, g.zero)[0]!;
          return g.add(sum, g.multiply(g.load(weights, k), q));
        }, g.zero);
      this.rows(
        { G, phis, bent },
        i,
        c,
        terms.flatMap(({ of: { constraint: of } }) => [of.a, of.b]),
        [phi],
      );
    }
    const rows = bent.parts.length;
    this.loads = [...room.loads, ...room.reacting].flatMap((load) => {
      // what does no work bears on no push
      if (load.force.workless) return [];
      let numbers = this.site.from + load.numbers;
      return load.force.instances.map(({ bodies, values }) => {
        const part = this.load(f, bent, load, bodies, numbers);
        numbers += values.length;
        return part;
      });
    });
    this.G = G.made();
    this.phi = phis.made();
    this.f = f.made();
    this.K = bent.made();
    this.linear = G.parts;
    this.fits = phis.parts;
    this.bent = bent.parts.slice(0, rows);
  }
  private place(key: keyof System['room']['site']['own']): number {
    return this.site.from + this.site.own[key];
  }
  private still(b: number): boolean {
    return b >= this.system.bodies;
  }
  private rows({ G, phis, bent }: Lists, i: Instance, c: Constraint, bodies: readonly number[], phi: readonly Ex[]): void {
    const { g } = i,
      all = [...new Set(bodies)],
      moving = all.map((b): BodyEx | undefined => (this.still(b) ? undefined : i.body(b))),
      base = i.base(this.place('solution') + this.system.motions + c.row),
      told = phi.flatMap((x, k) => (this.of(c.row + k) ? [{ x, row: c.row + k, multiplier: g.load(base, k) }] : [])),
      entries = moving.flatMap((body, n) =>
        body
          ? [0, 1, 2, 3, 4, 5].flatMap((k) => {
              const d = along(g, body, k);
              return told.map(({ x, row }) => ({ row, column: 6 * all[n]! + k, x: d.of(x) }));
            })
          : [],
      );
    phis.add(
      i,
      told.map(({ x, row }) => ({ row, column: 0, x })),
    );
    G.add(
      i,
      entries.filter((e) => e.x !== g.zero),
    );
    const [expressions, multipliers] = [told.map((r) => r.x), told.map((r) => r.multiplier)];
    this.bend(bent, i, all, moving, carriedBy(g, moving, expressions, multipliers));
  }
  /** How what pushes bodies changes. @param list pushes, by rows of six to each of the bodies */
  private bend(
    bent: List,
    i: Instance,
    all: readonly number[],
    moving: readonly (BodyEx | undefined)[],
    list: readonly (readonly [row: number, x: Ex])[],
  ): readonly Part[] {
    const at = (n: number) => 6 * all[Math.floor(n / 6)]! + (n % 6);
    return bent.add(
      i,
      piecesOf(i.g, moving, list).posture.map(({ row, column, x }) => ({ row: at(row), column: at(column), x })),
    );
  }
  private load(f: List, bent: List, load: System['room']['loads'][number], bodies: readonly number[], numbers: number): LoadPart {
    const i = new Instance(this.site),
      { pushes } = this.expressed.load(i, load, bodies, numbers).x(),
      pushed = [...new Set(bodies)],
      all = [...pushed, ...i.bodies.filter((b) => !pushed.includes(b))],
      moving = all.map((b): BodyEx | undefined => (this.still(b) ? undefined : i.body(b))),
      list = pushes.flatMap((six, n) => (this.still(all[n]!) ? [] : six.map((x, k) => [6 * n + k, x] as const)));
    return {
      bodies: all,
      f: f.add(
        i,
        list.filter(([, x]) => x !== i.g.zero).map(([row, x]) => ({ row: 6 * all[Math.floor(row / 6)]! + (row % 6), column: 0, x })),
      ),
      K: this.bend(bent, i, all, moving, list),
    };
  }

  /** Whether a load reads a further state: how often something has turned. */
  reads(state: number): boolean {
    const place = this.site.at.z + state;
    return this.loads.some(({ f }) => f.some(({ places }) => places.includes(place)));
  }
  /** Takes over the machine's numbers as they stand, its bodies at rest. */
  take(): void {
    const { lo, hi, source, site, system } = this;
    lo.set(source);
    for (const key of ['v', 'w'] as const) lo.fill(0, site.at[key], site.at[key] + 3 * system.bodies);
    hi.set(lo);
  }
  /** Where the place of a body, its rotation, and the multiplier of a row lie among the bounds. */
  placeOf(body: number): number {
    return this.site.at.r + 3 * body;
  }
  turnOf(body: number): number {
    return this.site.at.A + 9 * body;
  }
  multiplierOf(row: number): number {
    return this.place('solution') + this.system.motions + row;
  }

  /** Operations that have been worked out since the start. */
  work = 0;
  /** Works out what rows come to. */
  fit(): void {
    this.evaluate(this.fits, this.phi);
  }
  /** Works out G and f. @param loads some of them @param rows whether G is asked for */
  look(loads = this.loads, rows = true): void {
    this.jumps = false;
    if (rows) this.evaluate(this.linear, this.G);
    for (const { f } of loads) this.evaluate(f, this.f);
  }
  /** Works out how f − Gᵀλ changes, with the multipliers that stand there. @param loads,rows as they were looked at */
  bending(loads = this.loads, rows = true): void {
    const { jumps } = this;
    if (rows) this.evaluate(this.bent, this.K);
    for (const { K } of loads) this.evaluate(K, this.K);
    // a derivative may jump
    this.jumps = jumps;
  }
  private evaluate(parts: readonly Part[], out: Bounds): void {
    const { lo, hi } = this;
    for (const { enclosed, places, from, to } of parts) {
      enclosed.evaluate(lo, hi, places);
      this.work += enclosed.size;
      if (enclosed.jumps) this.jumps = true;
      for (let k = 0; k < from.length; k++) {
        out.lo[to + k] = enclosed.lo[from[k]!]!;
        out.hi[to + k] = enclosed.hi[from[k]!]!;
      }
    }
  }
}
