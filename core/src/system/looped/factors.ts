/**
 * The factorisation and the solution of [M Gᵀ; G 0] block by block: a block is a body with the joint that follows it in the order, or a link alone. Blocks
 * of one shape share their code, the algorithm of `linear/ldlt.ts` written out for it; what distinguishes them is where their numbers lie.
 */
import type { Ex } from '../../expressions/arithmetic';
import { Graph } from '../../expressions/graph';
import type { Store } from '../../expressions/plain';
import type { Elimination } from '../../linear/elimination';
import { REDUNDANT } from '../../linear/ldlt';
import { Kinds } from './kinds';

/** Products of a block, and of all shapes together, beyond which they are not written out; and shapes beyond which it does not pay. */
const PRODUCTS = 12_000;
const IN_ALL = 60_000;
const SHAPES = 60;

/** Where numbers of the machine begin. */
export type Own = Readonly<Record<'X' | 'inverse' | 'G' | 'masses' | 'inertias' | 'ratio' | 'off' | 'x' | 'work', number>>;

/** What is left out: of each number of G whether it can differ from zero, rows that hold once and for all, and how the bodies can move. */
export interface LeftOut {
  readonly nonzero: ArrayLike<number>;
  readonly idle: ArrayLike<number>;
  readonly moves: ArrayLike<number>;
}

/** A block: its variables in the order from `first` on, up to `last`. */
interface Block {
  readonly first: number;
  readonly last: number;
}

function blocksOf({ order, own, size }: Elimination, rowsOf: (link: number) => number): Block[] {
  let at = 0;
  const out = order.blocks.flatMap(({ body, links }): Block[] => {
    const first = at;
    at += (body < 0 ? 0 : own.velocitiesOf(body).length) + links.reduce((s, l) => s + rowsOf(l), 0);
    return at > first ? [{ first, last: at }] : [];
  });
  if (at !== size) throw new RangeError('The blocks of the order do not make up all of it.');
  return out;
}

/** Bases of one block, each once, and a key that is the same for blocks of one shape. */
class Shape {
  readonly g = new Graph();
  readonly places: number[] = [];
  readonly key: (number | string)[] = [];
  private readonly known = new Map<number, number>();
  base(place: number): number {
    let k = this.known.get(place);
    if (k === undefined) this.known.set(place, (k = this.places.push(place) - 1));
    return k;
  }
  /** A number there, told relative to where something begins. */
  at(begin: number, offset: number): { base: number; offset: number } {
    const base = this.base(begin);
    this.key.push(base, offset);
    return { base, offset };
  }
}
type At = ReturnType<Shape['at']>;

export class BlockedFactors {
  readonly factorise: Kinds;
  readonly forward: Kinds;
  readonly backward: Kinds;
  private readonly blocks: readonly Block[];
  /** Of each place in the order the block it belongs to; and of each entry of L. */
  private readonly blockOf: Int32Array;
  private readonly columnOf: Int32Array;
  /** Of each entry of L where the number of G lies that belongs there, and which number of M: −1 for none. */
  private readonly fromG: readonly number[][];
  private readonly massOf: Int32Array;
  /** Entries of L that can differ from zero. */
  private readonly some: Uint8Array;
  /** Entries of L, and places, to which something has been written. */
  private readonly begun: Uint8Array;

  /** @param letsGo rows that can let go @returns undefined where blocks are too large to be written out, or bodies have next to no inertia */
  static of(
    plan: Elimination,
    own: Own,
    rowsOf: (link: number) => number,
    letsGo: ArrayLike<number>,
    left?: LeftOut,
  ): BlockedFactors | undefined {
    if (plan.light.length > 0 || plan.products.length > 0 || plan.carried.length > 0 || plan.own.list.length > 0) return undefined;
    const blocks = blocksOf(plan, rowsOf);
    for (const { first, last } of blocks) {
      let products = 0;
      for (let k = first; k < last; k++) {
        const n = plan.start[k + 1]! - plan.start[k]! - 1;
        products += (n * (n + 1)) / 2;
      }
      if (products > PRODUCTS) return undefined;
    }
    const made = new BlockedFactors(plan, own, blocks, letsGo, left);
    return made.pays ? made : undefined;
  }

  private constructor(
    private readonly plan: Elimination,
    private readonly own: Own,
    blocks: readonly Block[],
    private readonly letsGo: ArrayLike<number>,
    private readonly left: LeftOut | undefined,
  ) {
    const { size, entries, start, rowAt, massAt } = plan;
    this.blocks = blocks;
    this.blockOf = new Int32Array(size);
    blocks.forEach(({ first, last }, b) => this.blockOf.fill(b, first, last));
    this.columnOf = new Int32Array(entries);
    for (let k = 0; k < size; k++) this.columnOf.fill(k, start[k]!, start[k + 1]!);
    const fromG: number[][] = Array.from({ length: entries }, () => []);
    rowAt.forEach((at, e) => at >= 0 && (!left || left.nonzero[e]) && fromG[at]!.push(e));
    this.fromG = fromG;
    this.massOf = new Int32Array(entries).fill(-1);
    massAt.forEach((at, e) => at >= 0 && (this.massOf[at] = e));
    this.some = new Uint8Array(entries);
    this.begun = new Uint8Array(Math.max(entries, size));
    [this.factorise, this.forward, this.backward] = [new Kinds(true), new Kinds(true), new Kinds(true)];
    let t = 0;
    for (const block of blocks) {
      t = this.factor(block, t);
      if (!this.pays) return;
    }
    this.begun.fill(0);
    for (const block of blocks) this.forwards(block);
    for (const block of [...blocks].reverse()) this.backwards(block);
  }

  /** Products of all shapes so far. */
  private products = 0;
  private get pays(): boolean {
    const { factorise, forward, backward } = this;
    return this.products <= IN_ALL && [factorise, forward, backward].every((kinds) => kinds.different <= SHAPES);
  }

  /** Where an entry of L lies, from where its block begins. */
  private entry(s: Shape, p: number): At {
    const { first } = this.blocks[this.blockOf[this.columnOf[p]!]!]!,
      begin = this.plan.start[first]!;
    return s.at(this.own.X + begin, p - begin);
  }
  /** Where a place of the order lies in a vector, from where its block begins. */
  private placeIn(s: Shape, vector: number, k: number): At {
    const { first } = this.blocks[this.blockOf[k]!]!;
    return s.at(vector + first, k - first);
  }
  /** A number of G: by the twelve numbers that it stands among. */
  private ofG(s: Shape, e: number): At {
    return s.at(this.own.G + 12 * Math.floor(e / 12), e % 12);
  }
  /** A number of M: one to a body, or one of the lower triangle of its inertia. */
  private ofM(s: Shape, e: number): At {
    const body = Math.floor(e / 9),
      k = e % 9;
    return k < 3 ? s.at(this.own.masses + body, 0) : s.at(this.own.inertias + 9 * body, [0, 3, 4, 6, 7, 8][k - 3]!);
  }

  /** Whether a place of the order belongs to what never differs from zero. */
  private idle(k: number): boolean {
    const { left } = this,
      { variableOf, motions } = this.plan,
      v = variableOf[k]!;
    return left !== undefined && (v < motions ? !left.moves[v] : left.idle[v - motions] === 1);
  }
  /** What M has at an entry: where it lies; 1 at the diagonal of what cannot move. */
  private ofMass(s: Shape, p: number): At | 'one' | undefined {
    const e = this.massOf[p]!,
      k = this.columnOf[p]!;
    if (e < 0) return undefined;
    if (!this.idle(k) && !this.idle(this.plan.index[p]!)) return this.ofM(s, e);
    return this.plan.index[p] === k ? 'one' : undefined;
  }

  /** @param t where the targets of the block begin @returns where they end */
  private factor({ first, last }: Block, t0: number): number {
    const { plan, begun, fromG, letsGo, own, some } = this,
      { start, index, target, closingRow, rowOf } = plan,
      s = new Shape(),
      entries = new Map<number, { at: At; begun: boolean; G: At[]; M: At | 'one' | undefined }>(),
      entry = (p: number) => {
        if (entries.has(p)) return;
        const fresh = begun[p] !== 1,
          at = this.entry(s, p);
        s.key.push(fresh ? 'n' : 'b');
        // the first that comes to an entry begins with what M and G have there
        const M = fresh ? this.ofMass(s, p) : undefined,
          G = fresh ? fromG[p]!.map((x) => this.ofG(s, x)) : [];
        if (M) s.key.push(M === 'one' ? '1' : 'M');
        entries.set(p, { at, begun: !fresh, G, M });
        begun[p] = some[p] = 1;
      },
      met = new Map<number, number>();
    for (let p = start[first]!; p < start[last]!; p++) {
      if (begun[p] || fromG[p]!.length > 0 || (this.massOf[p]! >= 0 && this.ofMass(new Shape(), p))) entry(p);
      const row = index[p]!;
      if (!met.has(row)) met.set(row, met.size);
      s.key.push(met.get(row)!, ';');
    }
    const pivots = Array.from({ length: last - first }, (_, i) => {
      const k = first + i,
        row = rowOf[k]!,
        closing = closingRow[k]!,
        idle = row >= 0 && this.idle(k);
      s.key.push(idle ? 'i' : '', closing >= 0 ? 'c' : row >= 0 && letsGo[row] ? 'o' : 'p', start[k + 1]! - start[k]!);
      return {
        idle,
        inverse: this.placeIn(s, own.inverse, k),
        off: row >= 0 && letsGo[row] ? s.at(own.off + row, 0) : undefined,
        ratio: closing >= 0 ? s.at(own.ratio + closing, 0) : undefined,
        alone: closing >= 0 ? this.alone(s, closing) : [],
      };
    });
    let t1 = t0;
    for (let k = first; k < last; k++)
      for (let p = start[k]! + 1; p < start[k + 1]!; p++)
        for (let q = p; q < start[k + 1]!; q++) {
          const u = target[t1++]!;
          if (some[p] && some[q] && !pivots[k - first]!.idle) entry(u);
        }
    const key = `factor ${s.key.join()}`;
    if (!this.factorise.has(key)) this.products += t1 - t0;
    this.factorise.add(key, s, () => {
      const { g } = s,
        load = ({ base, offset }: At) => g.load(base, offset),
        known = new Map<number, Ex>(),
        X = (p: number): Ex => known.get(p) ?? g.zero,
        stores: Store[] = [];
      for (const [p, { at, begun: before, G, M }] of entries) {
        const begin = M === 'one' ? g.one : M ? load(M) : before ? load(at) : g.zero;
        known.set(
          p,
          G.reduce((sum, x) => g.add(sum, load(x)), begin),
        );
      }
      let t = t0;
      pivots.forEach(({ idle, inverse, off, ratio, alone }, i) => {
        const k = first + i,
          d = X(start[k]!);
        let inv = idle || d === g.zero ? g.zero : g.divide(g.one, d);
        if (ratio) {
          const by = alone.reduce((sum, { G, M }) => g.add(sum, g.divide(g.square(load(G)), load(M))), g.zero),
            r = idle ? g.one : by === g.zero ? g.zero : g.divide(g.negate(d), by);
          stores.push({ ...ratio, x: r });
          inv = g.choose(g.constant(REDUNDANT), r, inv, g.zero);
        }
        if (off) inv = g.choose(load(off), g.one, inv, g.zero);
        stores.push({ ...inverse, x: inv });
        for (let p = start[k]! + 1; p < start[k + 1]!; p++) {
          const l = g.multiply(X(p), inv);
          for (let q = p; q < start[k + 1]!; q++) {
            const u = target[t++]!,
              x = g.subtract(X(u), g.multiply(l, X(q)));
            if (known.has(u)) known.set(u, x);
          }
          if (known.has(p)) known.set(p, l);
        }
      });
      for (const [p, { at }] of entries) stores.push({ ...at, x: X(p) });
      return stores;
    });
    return t1;
  }

  /** Of each number of a row of G that can differ from zero, where it lies, and the diagonal of M that belongs to it. */
  private alone(s: Shape, row: number): { G: At; M: At }[] {
    const { bodyOf, further, rowAt } = this.plan,
      { masses, inertias } = this.own,
      out: { G: At; M: At }[] = [];
    for (const block of [row, ...further[row]!])
      for (let side = 0; side < 2; side++) {
        const b = bodyOf[2 * block + side]!;
        if (b < 0) continue;
        for (let k = 0; k < 6; k++) {
          const e = 12 * block + 6 * side + k;
          if (rowAt[e]! >= 0 && (!this.left || this.left.nonzero[e]))
            out.push({ G: this.ofG(s, e), M: k < 3 ? s.at(masses + b, 0) : s.at(inertias + 9 * b, 4 * (k - 3)) });
        }
      }
    return out;
  }

  /** Where the right-hand side of a place of the order lies: six numbers to a body, and those of rows. */
  private rhs(s: Shape, k: number): At {
    const v = this.plan.variableOf[k]!,
      { motions } = this.plan;
    return v < motions ? s.at(this.own.x + 6 * Math.floor(v / 6), v % 6) : s.at(this.own.x + v, 0);
  }

  private forwards({ first, last }: Block): void {
    const { begun, own } = this,
      s = new Shape(),
      places = new Map<number, { at: At; rhs: At | undefined }>(),
      place = (k: number) => {
        if (places.has(k)) return;
        const fresh = begun[k] !== 1;
        s.key.push(fresh ? 'n' : 'b');
        // the first that comes to a place begins with the right-hand side
        places.set(k, { at: this.placeIn(s, own.work, k), rhs: fresh ? this.rhs(s, k) : undefined });
        begun[k] = 1;
      },
      inverses = new Map<number, At>();
    for (let k = first; k < last; k++) {
      if (this.idle(k)) continue;
      place(k);
      inverses.set(k, this.placeIn(s, own.inverse, k));
    }
    const entries = this.entriesOf(s, first, last, place);
    this.told(s, places, entries);
    this.forward.add(`forward ${s.key.join()}`, s, () => {
      const { g } = s,
        load = ({ base, offset }: At) => g.load(base, offset),
        w = new Map<number, Ex>();
      for (const [k, { at, rhs }] of places) w.set(k, load(rhs ?? at));
      for (const [k, inverse] of inverses) {
        for (const { row, at } of entries.get(k)!) w.set(row, g.subtract(w.get(row)!, g.multiply(load(at), w.get(k)!)));
        w.set(k, g.multiply(w.get(k)!, load(inverse)));
      }
      return [...places].map(([k, { at }]) => ({ ...at, x: w.get(k)! }));
    });
  }
  /** Of each column of a block its entries below the diagonal that can differ from zero. @param place takes note of the places they belong to */
  private entriesOf(s: Shape, first: number, last: number, place: (k: number) => void): Map<number, { row: number; at: At }[]> {
    const { start, index } = this.plan,
      out = new Map<number, { row: number; at: At }[]>();
    for (let k = first; k < last; k++) {
      const list: { row: number; at: At }[] = [];
      s.key.push(';');
      for (let p = start[k]! + 1; p < start[k + 1]! && !this.idle(k); p++) {
        if (!this.some[p]) continue;
        place(index[p]!);
        list.push({ row: index[p]!, at: this.entry(s, p) });
      }
      out.set(k, list);
    }
    return out;
  }
  /** Which place each entry belongs to is part of the shape. */
  private told(s: Shape, places: ReadonlyMap<number, unknown>, entries: ReadonlyMap<number, { row: number }[]>): void {
    const nth = new Map([...places.keys()].map((k, i) => [k, i]));
    for (const list of entries.values()) {
      s.key.push(':');
      for (const { row } of list) s.key.push(nth.get(row)!);
    }
  }

  private backwards({ first, last }: Block): void {
    const { own } = this,
      s = new Shape(),
      places = new Map<number, At>(),
      place = (k: number) => void (places.has(k) || places.set(k, this.placeIn(s, own.work, k))),
      solutions = new Map<number, At>();
    for (let k = first; k < last; k++) {
      s.key.push(this.idle(k) ? 'i' : 'p');
      if (!this.idle(k)) place(k);
      solutions.set(k, this.rhs(s, k));
    }
    const entries = this.entriesOf(s, first, last, place);
    this.told(s, places, entries);
    this.backward.add(`backward ${s.key.join()}`, s, () => {
      const { g } = s,
        load = ({ base, offset }: At) => g.load(base, offset),
        w = new Map([...places].map(([k, at]): [number, Ex] => [k, load(at)])),
        stores: Store[] = [];
      for (let k = last - 1; k >= first; k--) {
        // what never differs from zero does not now
        const x = entries.get(k)!.reduce((sum, { row, at }) => g.subtract(sum, g.multiply(load(at), w.get(row)!)), w.get(k) ?? g.zero);
        if (places.has(k)) {
          w.set(k, x);
          stores.push({ ...places.get(k)!, x });
        }
        stores.push({ ...solutions.get(k)!, x });
      }
      return stores;
    });
  }
}
