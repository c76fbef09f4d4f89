/** The pattern of L worked out once for a topology: where each variable stands, what fills in, and where each entry of G and M goes. */
import type { Constraint } from '../equations/constraint';
import type { OwnBodies } from '../equations/coordinates/own';
import type { Link, Order } from './order';

export type Constrained = Link & { constraints: readonly Constraint[] };

/**
 * The numbers of G: blocks of twelve, six to each of two bodies; then, of each block and side, one for each coordinate of a body that is placed by these.
 */
export class RowPlaces {
  readonly size: number;
  constructor(
    readonly blocks: number,
    readonly own: OwnBodies,
  ) {
    this.size = (12 + 2 * own.widest) * blocks;
  }
  /** Where the numbers by coordinates begin, of a side of a block. */
  coordinates(block: number, side: number): number {
    return 12 * this.blocks + (2 * block + side) * this.own.widest;
  }
}

/** An entry of G: its row, where it stands in G, and its variable: six to a body, then the coordinates of bodies that have such. */
export interface Entry {
  row: number;
  entry: number;
  variable: number;
}

/** A product of two entries of one row of G, weighted by the row, and where in M it goes. */
export interface Product {
  row: number;
  first: number;
  second: number;
  /** The variables, in any order. */
  of: readonly [number, number];
}

/** All entries of G that can differ from zero. */
export function entriesOf(places: RowPlaces, links: readonly Constrained[]): Entry[] {
  const out: Entry[] = [],
    { own } = places,
    { bodies } = own;
  const enter = (row: number, block: number, pair: readonly [number, number], can: (e: number) => boolean) =>
    pair.forEach((body, side) => {
      if (body >= bodies) return;
      const placed = own.of[body]?.placed ? own.of[body] : undefined;
      for (let j = 0; j < (placed?.count ?? 0); j++)
        out.push({ row, entry: places.coordinates(block, side) + j, variable: 6 * bodies + placed!.first + j });
      for (let e = 6 * side; e < (placed ? 0 : 6 * side + 6); e++)
        if (can(e)) out.push({ row, entry: 12 * block + e, variable: 6 * body + (e % 6) });
    });
  for (const l of links)
    for (const c of l.constraints) {
      for (let k = 0; k < c.rows; k++) enter(c.row + k, c.row + k, [c.a, c.b], (e) => c.pattern(k, e));
      c.more.forEach((pair, i) => enter(c.row, c.block + i, pair, () => true));
    }
  return out;
}

/**
 * Place of every variable (motions, then rows) in the elimination order, −1 for velocities that follow from coordinates and for rows that do not hold but have
 * inertia; and of each place its row, and its row if it closes a loop, else −1.
 */
export function placesOf(own: OwnBodies, rows: number, links: readonly Constrained[], { blocks, closing }: Order) {
  const { motions } = own,
    place = new Int32Array(motions + rows).fill(-1),
    rowOf: number[] = [],
    closingRow: number[] = [];
  const put = (variable: number, row: number, closes: boolean) => {
    place[variable] = rowOf.length;
    rowOf.push(row);
    closingRow.push(closes ? row : -1);
  };
  for (const block of blocks) {
    if (block.body >= 0) for (const v of own.velocitiesOf(block.body)) put(v, -1, false);
    for (const i of block.links)
      for (const c of links[i]!.constraints)
        if (c.inertia === undefined) for (let k = 0; k < c.rows; k++) put(motions + c.row + k, c.row + k, closing[i]!);
  }
  return { place, rowOf: Int32Array.from(rowOf), closingRow: Int32Array.from(closingRow) };
}

/** The lower triangle by columns, the diagonal first, rows ascending; and for each product of a column's entries where it is subtracted. */
export interface Pattern {
  start: Int32Array;
  index: Int32Array;
  target: Int32Array;
}

/** The pattern with all that fills in. @param place of each variable in the elimination order */
export function filled(own: OwnBodies, place: Int32Array, entries: readonly Entry[], products: readonly Product[]): Pattern {
  const { bodies, motions } = own,
    n = place.reduce((count, p) => (p < 0 ? count : count + 1), 0);
  const below: Set<number>[] = Array.from({ length: n }, () => new Set());
  const couple = (i: number, j: number) => {
    if (i !== j) below[Math.min(i, j)]!.add(Math.max(i, j));
  };
  for (let b = 0; b < bodies; b++) {
    // velocities and spins of a rigid body are apart
    const of = own.of[b] ? own.velocitiesOf(b) : [6 * b + 3, 6 * b + 4, 6 * b + 5];
    of.forEach((x, i) => of.slice(0, i).forEach((y) => couple(place[x]!, place[y]!)));
  }
  for (const { row, variable } of entries) couple(place[motions + row]!, place[variable]!);
  for (const { of } of products) couple(place[of[0]]!, place[of[1]]!);
  return filledIn(below);
}

/** The pattern of the factors of a matrix. @param below of each column its rows below the diagonal; overwritten */
export function filledIn(below: readonly Set<number>[]): Pattern {
  const n = below.length;
  // fill: a column passes its pattern on to the first row below its diagonal (elimination tree)
  const columns = below.map((set) => {
    const list = Int32Array.from(set).sort();
    if (list.length > 1) {
      const up = below[list[0]!]!;
      for (let m = 1; m < list.length; m++) up.add(list[m]!);
    }
    set.clear();
    return list;
  });
  const start = new Int32Array(n + 1);
  columns.forEach((c, k) => (start[k + 1] = start[k]! + 1 + c.length));
  const index = new Int32Array(start[n]!);
  columns.forEach((c, k) => {
    index[start[k]!] = k;
    index.set(c, start[k]! + 1);
  });
  return { start, index, target: targetsOf(columns, start, index) };
}

function targetsOf(columns: readonly Int32Array[], start: Int32Array, index: Int32Array): Int32Array {
  const target = new Int32Array(columns.reduce((s, c) => s + (c.length * (c.length + 1)) / 2, 0));
  let t = 0;
  for (const c of columns)
    for (let i = 0; i < c.length; i++) {
      // both lists are sorted, so one walk down column c[i] finds all its targets
      let q = start[c[i]!]!;
      for (let j = i; j < c.length; j++) {
        while (index[q]! !== c[j]!) q++;
        target[t++] = q;
      }
    }
  return target;
}

/** Where the entry of two places is stored. */
export function entryAt({ start, index }: Pattern, i: number, j: number): number {
  const [row, column] = i > j ? [i, j] : [j, i];
  let lo = start[column]!,
    hi = start[column + 1]! - 1;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (index[mid]! < row) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}

/** Of each body: where its mass stands three times, and the lower triangle of its inertia; nothing of those that have coordinates of their own. */
export function massEntries(own: OwnBodies, place: Int32Array, pattern: Pattern): Int32Array {
  const at = new Int32Array(9 * own.bodies).fill(-1);
  for (let b = 0; b < own.bodies; b++) {
    if (own.of[b]) continue;
    for (let k = 0; k < 3; k++) at[9 * b + k] = pattern.start[place[6 * b + k]!]!;
    let m = 3;
    for (let i = 3; i < 6; i++) for (let j = 3; j <= i; j++) at[9 * b + m++] = entryAt(pattern, place[6 * b + i]!, place[6 * b + j]!);
  }
  return at;
}

/** Of each body that has coordinates of its own: where the lower triangle of its mass matrix stands, row by row. */
export function ownMassEntries(own: OwnBodies, place: Int32Array, pattern: Pattern): Int32Array[] {
  return own.list.map(({ body }) => {
    const of = own.velocitiesOf(body);
    return Int32Array.from(of.flatMap((x, i) => of.slice(0, i + 1).map((y) => entryAt(pattern, place[x]!, place[y]!))));
  });
}

const NONE = new Int32Array(0);

/** The two bodies of each block of G (−1: the ground), and the blocks of each row beyond its first. */
export function blocksOf(bodies: number, rows: number, blocks: number, links: readonly Constrained[]) {
  const bodyOf = new Int32Array(2 * blocks).fill(-1);
  const further = Array.from({ length: rows }, () => NONE);
  const put = (block: number, pair: readonly [number, number]) =>
    pair.forEach((b, side) => (bodyOf[2 * block + side] = b < bodies ? b : -1));
  for (const l of links)
    for (const c of l.constraints) {
      for (let k = 0; k < c.rows; k++) put(c.row + k, [c.a, c.b]);
      c.more.forEach((pair, i) => put(c.block + i, pair));
      if (c.more.length > 0) further[c.row] = Int32Array.from(c.more, (_, i) => c.block + i);
    }
  return { bodyOf, further };
}
