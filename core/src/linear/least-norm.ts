/**
 * Multipliers where rows are redundant: they are not unique, and those of least norm take their place. With K = L D Lᵀ and a zero in D at a redundant
 * row r, the solution of Lᵀ x = e_r is a vector of the null space of K: a change of loads that moves nothing. Its part of the bodies is zero (it would be a
 * motion without kinetic energy), so that only columns and entries of rows count.
 */
import type { Elimination } from './elimination';
import type { Ldlt } from './ldlt';

/** Squared length, beside 1 for the redundant row itself, at which a vector says nothing beyond those before it. */
const NOTHING = 1e-24;
/** Parts of a unit vector that are rounding. */
const ROUNDING = 1e-13;

/** The substitution Lᵀ x = e_r, over rows alone: places downwards, of each its row and where its entries begin; of each entry its place and its factor. */
interface Substitution {
  readonly places: Int32Array;
  readonly rows: Int32Array;
  readonly first: Int32Array;
  readonly at: Int32Array;
  readonly other: Int32Array;
}

export class LeastNorm {
  private readonly plan: Elimination;
  /** By place in the order of elimination. */
  private readonly x: Float64Array;
  /** Of each redundant row found: a unit vector, square to those before it, and the rows to which it reaches. */
  private readonly vectors: Float64Array[] = [];
  private readonly reach: Int32Array[] = [];
  private readonly reaches: number[] = [];
  private readonly ways = new Map<number, Substitution>();

  constructor(
    private readonly ldlt: Ldlt,
    /** Of each row whether it holds a length. */
    private readonly isLength: readonly boolean[],
  ) {
    this.plan = ldlt.plan;
    this.x = new Float64Array(ldlt.plan.size);
  }

  /** Needs the factorisation at hand. @param size characteristic length, m: moments count against it; @param multipliers changed in place */
  spread(size: number, multipliers: Float64Array): void {
    const { closing } = this.plan,
      { redundant } = this.ldlt;
    let count = 0;
    for (let i = 0; i < closing.length; i++) if (redundant[closing[i]!] && this.vector(closing[i]!, 1 / size, count)) count++;
    for (let j = 0; j < count; j++) {
      const v = this.vectors[j]!,
        reach = this.reach[j]!,
        n = this.reaches[j]!;
      let s = 0;
      for (let k = 0; k < n; k++) s += v[reach[k]!]! * multipliers[reach[k]!]! * this.weight(reach[k]!, 1 / size);
      for (let k = 0; k < n; k++) multipliers[reach[k]!] = multipliers[reach[k]!]! - (s * v[reach[k]!]!) / this.weight(reach[k]!, 1 / size);
    }
  }

  private weight(row: number, turned: number): number {
    return this.isLength[row] ? 1 : turned;
  }

  /** Makes the vector of a redundant row the one at `j`. @returns whether it is one beyond those before it */
  private vector(row: number, turned: number, j: number): boolean {
    const { x, vectors, reach, reaches } = this,
      { X } = this.ldlt,
      { rows: count, motions, place } = this.plan,
      { places, rows, first, at, other } = this.substitution(row),
      v = (vectors[j] ??= new Float64Array(count)),
      own = (reach[j] ??= new Int32Array(count));
    v.fill(0);
    x[place[motions + row]!] = 1;
    v[row] = this.weight(row, turned);
    for (let i = 0; i < places.length; i++) {
      let s = 0;
      for (let e = first[i]!; e < first[i + 1]!; e++) s -= X[at[e]!]! * x[other[e]!]!;
      x[places[i]!] = s;
      v[rows[i]!] = s * this.weight(rows[i]!, turned);
    }
    for (let i = 0; i < j; i++) {
      const u = vectors[i]!,
        to = reach[i]!,
        n = reaches[i]!;
      let s = 0;
      for (let k = 0; k < n; k++) s += u[to[k]!]! * v[to[k]!]!;
      if (s !== 0) for (let k = 0; k < n; k++) v[to[k]!] = v[to[k]!]! - s * u[to[k]!]!;
    }
    let s = 0;
    for (let k = 0; k < count; k++) s += v[k]! * v[k]!;
    if (!(s > NOTHING)) return false;
    s = 1 / Math.sqrt(s);
    let n = 0;
    for (let k = 0; k < count; k++) {
      v[k] = v[k]! * s;
      if (Math.abs(v[k]!) > ROUNDING) own[n++] = k;
    }
    reaches[j] = n;
    return true;
  }

  private substitution(row: number): Substitution {
    const known = this.ways.get(row);
    if (known) return known;
    const { start, index, place, motions, rowOf } = this.plan,
      last = place[motions + row]!,
      leads = new Uint8Array(last + 1),
      places: number[] = [],
      first = [0],
      entries: number[] = [];
    leads[last] = 1;
    for (let k = last - 1; k >= 0; k--) {
      if (rowOf[k]! < 0) continue;
      for (let p = start[k]! + 1; p < start[k + 1]!; p++) if (leads[index[p]!]) entries.push(p);
      if (entries.length === first.at(-1)) continue;
      leads[k] = 1;
      places.push(k);
      first.push(entries.length);
    }
    const made = {
      places: Int32Array.from(places),
      rows: Int32Array.from(places, (k) => rowOf[k]!),
      first: Int32Array.from(first),
      at: Int32Array.from(entries),
      other: Int32Array.from(entries, (p) => index[p]!),
    };
    this.ways.set(row, made);
    return made;
  }
}
