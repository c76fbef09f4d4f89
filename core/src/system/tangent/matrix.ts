/**
 * Matrices of a machine's equations, sparse as it is: of all that can change of its velocities, and of its rows,
 *   [a M − b ∂r₁/∂u − ∂r₁/∂q P   Gᵀ − ∂f/∂λ]
 *   [G − s (b ∂r₂/∂u + ∂r₂/∂q P)          0],
 * with any numbers a, b and s, real or complex, and P which brings velocities to displacements. Rows that do not hold, and redundant ones, are left out.
 */
import { foldIn } from '../../linear/carried';
import { eliminationOrder } from '../../linear/order';
import { type Pattern, entriesOf, entryAt, filledIn, placesOf } from '../../linear/pattern';
import { FoldedRows } from '../looped/folded-rows';
import type { System } from '../system';
import { CarriedEntries } from './carried-entries';
import type { Tangent } from './tangent';

/** Entries of the matrix: where they stand (`SparseLu.values`), where their numbers come from, and through which number of P. */
interface Scatter {
  readonly to: Int32Array;
  readonly from: Int32Array;
  readonly through: Int32Array;
}
class Gathered {
  private readonly list: { to: number; from: number; through: number }[] = [];
  put(to: number, from: number, through = 0): void {
    this.list.push({ to, from, through });
  }
  get done(): Scatter {
    const of = (key: 'to' | 'from' | 'through') => Int32Array.from(this.list, (x) => x[key]);
    return { to: of('to'), from: of('from'), through: of('through') };
  }
}
function gather(out: Float64Array, { to, from }: Scatter, values: Float64Array, by: number): void {
  for (let e = 0; e < to.length; e++) out[to[e]!] = out[to[e]!]! + by * values[from[e]!]!;
}
function through(out: Float64Array, s: Scatter, values: Float64Array, P: Float64Array, by: number): void {
  const { to, from } = s;
  for (let e = 0; e < to.length; e++) out[to[e]!] = out[to[e]!]! + by * values[from[e]!]! * P[s.through[e]!]!;
}

/** Rows that hold once and for all, since what changes them is left out. */
function idleRows({ leftOut, room, groups, G, rows }: System): Uint8Array | undefined {
  if (!leftOut) return undefined;
  const stated = new Set(room.statements.map((s) => s.constraint)),
    others = groups.flatMap((g) => g.constraints.filter((c) => !stated.has(c)));
  return new FoldedRows(room.site, leftOut, { numbers: 0, courses: 0, G: 0, gamma: 0 }, G.length, rows, room.statements, others).idle;
}

const bodyOf = (variable: number) => Math.floor(variable / 6);

/** Place in the order of each variable, a motion or a row; −1 of what never changes. Bodies between which loads act meet in the matrix. */
function placesIn(system: System, tangent: Tangent): Int32Array {
  const { K, bodies, rows, motions, groups, own } = system,
    meeting = new Map<string, [number, number]>();
  for (const by of ['posture', 'motion'] as const) {
    const { row, column } = tangent.entries[by];
    row.forEach((r, i) => {
      const [a, b] = [r, column[i]!].map(bodyOf) as [number, number];
      if (r < 6 * bodies && a !== b) meeting.set(`${Math.min(a, b)} ${Math.max(a, b)}`, [a, b]);
    });
  }
  const order = eliminationOrder(
      Array.from({ length: bodies }, (_, b) => own.of[b] ?? { velocities: 6, placed: false }),
      groups,
      [...meeting.values()],
    ),
    all = placesOf(own, rows, groups, order).place,
    counts = new Uint8Array(motions + rows),
    idle = idleRows(system);
  for (const m of K.layout.moving) counts[m] = 1;
  for (let r = 0; r < rows; r++) counts[motions + r] = idle?.[r] ? 0 : 1;
  const place = new Int32Array(motions + rows).fill(-1);
  [...all.keys()]
    .filter((i) => all[i]! >= 0 && counts[i])
    .sort((a, b) => all[a]! - all[b]!)
    .forEach((v, k) => (place[v] = k));
  return place;
}

/** P: a number, then nine to a body; real and imaginary part. */
export type Through = readonly [Float64Array, Float64Array];
/** The numbers in front of the parts of the matrix. Complex ones as pairs. */
export interface Parts {
  readonly mass: readonly [number, number];
  readonly motion: 0 | 1;
  readonly P: Through;
  /** Left out: rows are those of G alone. */
  readonly rows?: readonly [number, number];
}

export class MachineMatrix {
  readonly pattern: Pattern;
  /** Place in the order of each variable: a motion, then the rows; −1 of what never changes. */
  readonly place: Int32Array;
  readonly rowPlaces: Int32Array;
  /** Rows that do not count: they do not hold, or are redundant. */
  readonly out: Uint8Array;
  /** Numbers of G, and entries of it above and below; numbers of M. */
  private readonly G: Float64Array;
  private readonly above: Scatter;
  private readonly below: Scatter;
  private readonly mass: Scatter;
  private readonly masses: Float64Array;
  /** Entries by velocity, and by what is carried: of bodies, and of rows; and by displacement. */
  private readonly moved: Readonly<Record<'body' | 'row' | 'carried', Scatter>>;
  private readonly displaced: Readonly<Record<'body' | 'row', Scatter>>;
  /** What rows that have mass give to bodies. */
  private readonly carried: CarriedEntries;
  /** Rows that bodies with next to no inertia need beside M: places of their own variables, with where their numbers of G are. */
  private readonly weighted: { row: number; own: { at: number; G: number }[] }[] = [];

  constructor(
    private readonly system: System,
    readonly tangent: Tangent,
  ) {
    const { bodies, rows, motions, groups, ldlt } = system,
      { plan } = ldlt;
    const place = (this.place = placesIn(system, tangent)),
      size = place.reduce((n, k) => (k < 0 ? n : n + 1), 0),
      has = (v: number) => place[v]! >= 0;

    const pairs: [number, number][] = [];
    const G = entriesOf(plan.rowPlaces, groups).filter(({ row, variable }) => has(motions + row) && has(variable));
    for (const { row, variable } of G) pairs.push([motions + row, variable]);
    for (let b = 0; b < bodies; b++)
      for (let i = 3; i < 6; i++) for (let j = 3; j < i; j++) if (has(6 * b + i) && has(6 * b + j)) pairs.push([6 * b + i, 6 * b + j]);
    const { posture, motion, load } = tangent.entries,
      /** The velocities that a displacement goes with: of a turn about more than one axis all. */
      goesWith = (column: number): { variable: number; through: number }[] =>
        column % 6 < 3 || column >= 6 * bodies
          ? [{ variable: column, through: 0 }]
          : [0, 1, 2].map((k) => ({
              variable: column - (column % 6) + 3 + k,
              through: 1 + 9 * bodyOf(column) + 3 * ((column % 6) - 3) + k,
            }));
    const carried = (this.carried = new CarriedEntries(plan.carried, motions, has)),
      meet = (row: number, column: number) => pairs.push(...carried.equations(row).map((v): [number, number] => [v, column])),
      meets = (row: number, column: number) => has(column) && carried.equations(row).length > 0;
    const spread = [...posture.row].flatMap((row, i) =>
      goesWith(posture.column[i]!)
        .filter((g) => meets(row, g.variable))
        .map((g) => ({ row, at: posture.at[i]!, ...g })),
    );
    for (const { row, variable } of spread) meet(row, variable);
    const plain = (e: typeof motion) =>
      [...e.row].flatMap((row, i) => {
        const variable = e.column[i]!;
        return meets(row, variable) ? [{ row, variable, at: e.at[i]!, through: 0 }] : [];
      });
    const [byMotion, byLoad] = [plain(motion), plain(load)];
    for (const { row, variable } of [...byMotion, ...byLoad]) meet(row, variable);
    pairs.push(...carried.pairs);
    // rows that bodies with next to no inertia need beside M
    const weightedRows =
      plan.light.length === 0 ? [] : Array.from({ length: rows }, (_, r) => r).filter((r) => ldlt.weights[r]! !== 0 && has(motions + r));
    const columnsOf = new Map<number, Set<number>>(weightedRows.map((r) => [r, new Set<number>()]));
    for (const { row, variable } of G) columnsOf.get(row)?.add(variable);
    for (const { row, variable } of spread) columnsOf.get(row - motions)?.add(variable);
    for (const { row, variable } of byMotion) columnsOf.get(row - motions)?.add(variable);
    const ownOf = new Map<number, { variable: number; entry: number }[]>(weightedRows.map((r) => [r, []]));
    for (const { row, variable, entry } of G) ownOf.get(row)?.push({ variable, entry });
    for (const r of weightedRows) for (const { variable } of ownOf.get(r)!) for (const c of columnsOf.get(r)!) pairs.push([variable, c]);

    const under: Set<number>[] = Array.from({ length: size }, () => new Set());
    for (const [a, b] of pairs) {
      const [i, j] = [place[a]!, place[b]!];
      if (i !== j) under[Math.min(i, j)]!.add(Math.max(i, j));
    }
    const pattern = filledIn(under);
    this.pattern = pattern;
    const at = (row: number, column: number) => {
      const [i, j] = [place[row]!, place[column]!];
      return entryAt(pattern, i, j) + (i > j ? 0 : pattern.index.length);
    };
    const of = <K extends string>(...keys: K[]) => Object.fromEntries(keys.map((k) => [k, new Gathered()])) as Record<K, Gathered>,
      lists = of('above', 'below', 'mass', 'carried', 'movedBody', 'movedRow', 'displacedBody', 'displacedRow'),
      masses: number[] = [];
    for (const { row, variable, entry } of G) {
      lists.above.put(at(variable, motions + row), entry);
      lists.below.put(at(motions + row, variable), entry);
    }
    for (let b = 0; b < bodies; b++)
      for (let i = 0; i < 6; i++)
        for (let j = 0; j < 6; j++) {
          if (!has(6 * b + i) || !has(6 * b + j) || (i !== j && (i < 3 || j < 3))) continue;
          lists.mass.put(
            at(6 * b + i, 6 * b + j),
            masses.push(i < 3 ? system.masses[b]! : system.inertias[9 * b + 3 * (i - 3) + j - 3]!) - 1,
          );
        }
    carried.settle(at);
    for (const { row, variable, at: from, through: by } of carried.take('displaced', spread, at))
      lists[row < motions ? 'displacedBody' : 'displacedRow'].put(at(row, variable), from, by);
    for (const { row, variable, at: from } of carried.take('moved', byMotion, at))
      lists[row < motions ? 'movedBody' : 'movedRow'].put(at(row, variable), from);
    for (const { row, variable, at: from } of byLoad) lists.carried.put(at(row, variable), from);
    this.above = lists.above.done;
    this.below = lists.below.done;
    this.mass = lists.mass.done;
    this.masses = Float64Array.from(masses);
    this.moved = { body: lists.movedBody.done, row: lists.movedRow.done, carried: lists.carried.done };
    this.displaced = { body: lists.displacedBody.done, row: lists.displacedRow.done };
    this.rowPlaces = Int32Array.from({ length: rows }, (_, r) => place[motions + r]!);
    this.weighted = weightedRows.map((row) => ({
      row,
      own: ownOf.get(row)!.map(({ variable, entry }) => ({ at: place[variable]!, G: entry })),
    }));
    this.G = new Float64Array(system.G.length);
    this.out = new Uint8Array(rows);
  }
  get size(): number {
    return this.pattern.start.length - 1;
  }

  /** Takes over the rows at hand, and which of them count. */
  take(): void {
    const { out } = this,
      { ldlt, G } = this.system;
    this.G.set(G);
    for (let r = 0; r < out.length; r++) out[r] = ldlt.off[r] || ldlt.redundant[r] ? 1 : 0;
  }

  /** How many rows count. */
  get holding(): number {
    let n = 0;
    for (let r = 0; r < this.out.length; r++) if (!this.out[r] && this.rowPlaces[r]! >= 0) n++;
    return n;
  }

  /** Puts the entries together. @param im left out where all numbers are real */
  fill({ mass: [a, b], motion, P: [R, I], rows }: Parts, re: Float64Array, im?: Float64Array): void {
    const { G, above, below, mass, masses, moved, displaced, tangent, carried } = this,
      { values } = tangent,
      { weights } = this.system.ldlt;
    re.fill(0);
    im?.fill(0);
    gather(re, mass, masses, a);
    carried.addMass(re, weights, G, a);
    gather(re, above, G, 1);
    gather(re, below, G, 1);
    gather(re, moved.carried, values, -1);
    if (motion) gather(re, moved.body, values, -1);
    through(re, displaced.body, values, R, -1);
    if (im) {
      gather(im, mass, masses, b);
      carried.addMass(im, weights, G, b);
      through(im, displaced.body, values, I, -1);
    }
    if (rows) {
      const [p, q] = rows;
      carried.addChanges(re, weights, G, values, R, true);
      if (im) carried.addChanges(im, weights, G, values, I, false);
      gather(re, moved.row, values, -p);
      through(re, displaced.row, values, R, -p);
      if (im) {
        gather(im, moved.row, values, -q);
        through(re, displaced.row, values, I, q);
        through(im, displaced.row, values, R, -q);
        through(im, displaced.row, values, I, -p);
      }
    }
    this.weigh(im ? [re, im] : [re]);
    this.leave(im ? [re, im] : [re]);
  }

  /** Of a right-hand side what stands in rows that have mass goes to the bodies. @param x by variables */
  foldIn(x: Float64Array): void {
    const { ldlt, motions } = this.system,
      { carried } = ldlt.plan;
    foldIn(carried, ldlt.weights, this.G, x, motions);
    for (const { row } of carried) x[motions + row] = 0;
  }
  /** To a right-hand side what `fill` adds for bodies with next to no inertia; rows that do not count are 0. @param x by variables */
  weighRight(x: Float64Array): void {
    const { out, weighted, G } = this,
      { motions, ldlt } = this.system;
    for (let r = 0; r < out.length; r++) if (out[r]) x[motions + r] = 0;
    for (const { row, own } of weighted) {
      if (out[row]) continue;
      for (const { at, G: g } of own) {
        const v = this.variableAt(at);
        x[v] = x[v]! + ldlt.weights[row]! * G[g]! * x[motions + row]!;
      }
    }
  }
  /** Rows that do not count carry nothing. */
  private leave(parts: readonly Float64Array[]): void {
    const { out, rowPlaces, pattern } = this,
      { start, index } = pattern,
      n = index.length;
    for (let row = 0; row < out.length; row++) {
      const k = rowPlaces[row]!;
      if (!out[row] || k < 0) continue;
      for (const x of parts) {
        for (let e = start[k]!; e < start[k + 1]!; e++) x[e] = x[n + e] = 0;
        // and where it stands in columns before it
        for (const e of this.before(k)) x[e] = x[n + e] = 0;
      }
      parts[0]![n + start[k]!] = 1;
    }
  }
  /** Entries of the row and the column of a place in the columns before it. */
  private before(k: number): readonly number[] {
    this.mirrored ??= this.mirror();
    return this.mirrored[k]!;
  }
  private mirrored: number[][] | undefined;
  private mirror(): number[][] {
    const { start, index } = this.pattern,
      out: number[][] = Array.from({ length: start.length - 1 }, () => []);
    for (let k = 0; k < start.length - 1; k++) for (let e = start[k]! + 1; e < start[k + 1]!; e++) out[index[e]!]!.push(e);
    return out;
  }

  /** Adds Gᵀ S times their own row to the equations of bodies with next to no inertia. */
  private weigh(parts: readonly Float64Array[]): void {
    const { weighted, rowPlaces, G, out, pattern } = this,
      { weights } = this.system.ldlt,
      { start, index } = pattern,
      n = index.length;
    for (const { row, own } of weighted) {
      if (out[row]) continue;
      const k = rowPlaces[row]!,
        entries: { column: number; x: number[] }[] = [];
      for (let e = start[k]! + 1; e < start[k + 1]!; e++) entries.push({ column: index[e]!, x: parts.map((list) => list[n + e]!) });
      for (const e of this.before(k)) entries.push({ column: this.columnOf(e), x: parts.map((list) => list[e]!) });
      for (const { at, G: g } of own) {
        const s = weights[row]! * G[g]!;
        if (s === 0) continue;
        for (const { column, x } of entries) {
          if (x.every((v) => v === 0)) continue;
          const e = entryAt(pattern, at, column) + (at > column ? 0 : n);
          x.forEach((v, part) => (parts[part]![e] = parts[part]![e]! + s * v));
        }
      }
    }
  }
  /** The column in which an entry of the pattern stands. */
  private columnOf(e: number): number {
    const { start } = this.pattern;
    let lo = 0,
      hi = start.length - 2;
    while (lo < hi) {
      const mid = (lo + hi + 1) >> 1;
      if (start[mid]! <= e) lo = mid;
      else hi = mid - 1;
    }
    return lo;
  }

  private variables: Int32Array | undefined;
  /** The variable that stands at a place. */
  variableAt(k: number): number {
    if (!this.variables) {
      const list = (this.variables = new Int32Array(this.size));
      this.place.forEach((at, v) => at >= 0 && (list[at] = v));
    }
    return this.variables[k]!;
  }

  /** Adds M x, without that of masses between bodies, which is in their rows. */
  massTimes(x: Float64Array, out: Float64Array): void {
    const { masses, inertias, bodies } = this.system;
    for (let b = 0; b < bodies; b++)
      for (let k = 0; k < 3; k++) {
        out[6 * b + k] = out[6 * b + k]! + masses[b]! * x[6 * b + k]!;
        for (let j = 0; j < 3; j++) out[6 * b + 3 + k] = out[6 * b + 3 + k]! + inertias[9 * b + 3 * k + j]! * x[6 * b + 3 + j]!;
      }
  }
  /** Adds G x to the rows. */
  rowsTimes(x: Float64Array, out: Float64Array): void {
    const { G } = this,
      { motions, ldlt } = this.system,
      { bodyOf, further } = ldlt.plan;
    for (let r = 0; r < this.out.length; r++) {
      let s = this.block(G, x, r, bodyOf);
      for (const more of further[r]!) s += this.block(G, x, more, bodyOf);
      out[motions + r] = out[motions + r]! + s;
    }
  }
  private block(G: Float64Array, x: Float64Array, block: number, bodyOf: Int32Array): number {
    let s = 0;
    for (let side = 0; side < 2; side++) {
      const b = bodyOf[2 * block + side]!;
      if (b >= 0) for (let k = 0; k < 6; k++) s += G[12 * block + 6 * side + k]! * x[6 * b + k]!;
    }
    return s;
  }
}
