/** Everything about the factorisation of [M Gᵀ; G −δ] that the topology of a machine settles once: order, pattern, fill. */
import { OwnBodies } from '../equations/coordinates/own';
import { productsOf } from './augmented';
import { type CarriedRow, type Standing, carriedProducts, carriedRows, standing } from './carried';
import { type Order, eliminationOrder } from './order';
import {
  type Constrained,
  type Product,
  RowPlaces,
  blocksOf,
  entriesOf,
  entryAt,
  filled,
  massEntries,
  ownMassEntries,
  placesOf,
} from './pattern';

export class Elimination {
  readonly order: Order;
  /** Size of the matrix: one for each velocity that a body has, and one for each row that can hold. */
  readonly size: number;
  /** Entries of a motion: six to a body, then one to a coordinate that a body has of its own. */
  readonly motions: number;
  /** Place in the order of each variable: motions, then the rows; −1 of velocities that follow from coordinates. */
  readonly place: Int32Array;
  /** Where the numbers of G stand. */
  readonly rowPlaces: RowPlaces;
  /** Of each place its row, −1 for variables of bodies; and its row if that closes a loop, else −1. */
  readonly rowOf: Int32Array;
  /** Of each place its variable. */
  readonly variableOf: Int32Array;
  readonly closingRow: Int32Array;
  /** Rows that close a loop, in the order. */
  readonly closing: Int32Array;
  /** The lower triangle by columns, the diagonal first; and for each product of a column's entries where it is subtracted. */
  readonly start: Int32Array;
  readonly index: Int32Array;
  readonly target: Int32Array;
  /** Where the mass of a body stands (three times) and the lower triangle of its inertia: nine for each body; −1 where it has coordinates of its own. */
  readonly massAt: Int32Array;
  /** Of those that have, where the lower triangle of their mass matrices stands. */
  readonly ownMassAt: readonly Int32Array[];
  /** Where each entry of G stands; −1 where it cannot differ from zero. */
  readonly rowAt: Int32Array;
  /** The two bodies of each block of G (−1: the ground), and the blocks of each row beyond its first. */
  readonly bodyOf: Int32Array;
  readonly further: readonly Int32Array[];
  /** What rows add to M where a body has next to no inertia: products of entries of G, and where each stands. */
  readonly products: readonly (Product & { at: number })[];
  /** Rows that do not hold but have inertia, and what they add to M. */
  readonly carried: readonly CarriedRow[];
  readonly inertia: Standing;

  constructor(
    readonly bodies: number,
    readonly rows: number,
    links: readonly Constrained[],
    /** Bodies with next to no inertia about some axis. */
    readonly light: readonly number[] = [],
    readonly own = new OwnBodies(bodies),
    /** Blocks of G, where it has more than these links ask for. */
    blocks = links.reduce((s, l) => s + l.constraints.reduce((m, c) => m + c.more.length, 0), rows),
  ) {
    this.order = eliminationOrder(
      Array.from({ length: bodies }, (_, b) => own.of[b] ?? { velocities: 6, placed: false }),
      links,
    );
    this.motions = own.motions;
    this.rowPlaces = new RowPlaces(blocks, own);
    const all = entriesOf(this.rowPlaces, links);
    ({ place: this.place, rowOf: this.rowOf, closingRow: this.closingRow } = placesOf(own, rows, links, this.order));
    this.size = this.rowOf.length;
    this.variableOf = new Int32Array(this.size);
    this.place.forEach((k, i) => k >= 0 && (this.variableOf[k] = i));
    this.closing = this.closingRow.filter((r) => r >= 0);
    ({ bodyOf: this.bodyOf, further: this.further } = blocksOf(bodies, rows, blocks, links));
    const holds = ({ row }: { row: number }) => this.place[this.motions + row]! >= 0,
      entries = all.filter(holds),
      products = productsOf(entries, this.own, light);
    this.carried = carriedRows(all.filter((e) => !holds(e)));
    const inertia = carriedProducts(this.carried),
      pattern = filled(own, this.place, entries, [...products, ...inertia]),
      at = ({ of }: Product) => entryAt(pattern, this.place[of[0]]!, this.place[of[1]]!);
    ({ start: this.start, index: this.index, target: this.target } = pattern);
    this.massAt = massEntries(own, this.place, pattern);
    this.ownMassAt = ownMassEntries(own, this.place, pattern);
    this.products = products.map((p) => ({ ...p, at: at(p) }));
    this.inertia = standing(inertia, at);
    this.rowAt = new Int32Array(this.rowPlaces.size).fill(-1);
    for (const { row, entry, variable } of entries)
      this.rowAt[entry] = entryAt(pattern, this.place[this.motions + row]!, this.place[variable]!);
  }

  /** Whether a variable is among what is solved for: not velocities that follow from coordinates. */
  solves(variable: number): boolean {
    return this.place[variable]! >= 0 || variable >= this.motions;
  }

  /** Numbers stored of L. */
  get entries(): number {
    return this.index.length;
  }
  /** Numbers of a vector of all variables: a motion, then one a row. */
  get length(): number {
    return this.place.length;
  }
}

/** Of how many topologies it is kept. */
const KEPT = 8;
const kept = new Map<string, Elimination>();

/** The same where there has been one of that topology; of bodies with coordinates of their own, whose numbers it names, it is made anew. */
export function eliminationOf(
  bodies: number,
  rows: number,
  links: readonly Constrained[],
  light: readonly number[],
  own: OwnBodies,
): Elimination {
  if (own.list.length > 0) return new Elimination(bodies, rows, links, light, own);
  const key = topologyOf(bodies, rows, links, light),
    plan = kept.get(key) ?? new Elimination(bodies, rows, links, light, own);
  kept.delete(key);
  kept.set(key, plan);
  if (kept.size > KEPT) kept.delete(kept.keys().next().value!);
  return plan;
}

/** All of a machine that decides on it, as text. */
function topologyOf(bodies: number, rows: number, links: readonly Constrained[], light: readonly number[]): string {
  const out: unknown[] = [bodies, rows, light.join()];
  for (const { a, b, rows: own, others, after, last, constraints } of links) {
    out.push('link', a, b, own, others, after, last);
    for (const c of constraints) {
      out.push(c.row, c.rows, c.block, c.a, c.b, c.inertia !== undefined, ...c.more.map((pair) => pair.join('-')));
      let can = '';
      for (let k = 0; k < c.rows; k++) for (let e = 0; e < 12; e++) can += c.pattern(k, e) ? 1 : 0;
      out.push(can);
    }
  }
  return out.join(' ');
}
