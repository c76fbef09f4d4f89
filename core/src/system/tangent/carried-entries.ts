/** What rows that have mass (`linear/carried.ts`) give to the equations of their bodies: gᵀ m g to M, and gᵀ m times how γ − g u̇ changes. */
import type { CarriedRow } from '../../linear/carried';

/** A number of such a row by a variable: where it lies, and through which number of P it goes. */
export interface Change {
  readonly row: number;
  readonly variable: number;
  readonly at: number;
  readonly through: number;
}

/** Entries that are products of the mass of a row, a number of its G, and a second number. */
class Products {
  private readonly to: number[] = [];
  private readonly row: number[] = [];
  private readonly entry: number[] = [];
  private readonly from: number[] = [];
  private readonly through: number[] = [];
  put(to: number, row: number, entry: number, from: number, through = 0): void {
    this.to.push(to);
    this.row.push(row);
    this.entry.push(entry);
    this.from.push(from);
    this.through.push(through);
  }
  /** @param values those second numbers @param P left out: none */
  add(out: Float64Array, masses: Float64Array, G: Float64Array, values: Float64Array, by: number, P?: Float64Array): void {
    const { to, row, entry, from, through } = this;
    for (let e = 0; e < to.length; e++)
      out[to[e]!] = out[to[e]!]! + by * masses[row[e]!]! * G[entry[e]!]! * values[from[e]!]! * (P ? P[through[e]!]! : 1);
  }
}

export class CarriedEntries {
  private readonly of: ReadonlyMap<number, CarriedRow>;
  private readonly mass = new Products();
  private readonly displaced = new Products();
  private readonly moved = new Products();

  /** @param motions how many, the rows coming behind @param has whether a variable ever changes */
  constructor(
    private readonly rows: readonly CarriedRow[],
    motions: number,
    private readonly has: (variable: number) => boolean,
  ) {
    this.of = new Map(rows.map((r) => [motions + r.row, r]));
  }

  /** The variables in whose equations a row stands: its own, or those of the bodies that carry it. */
  equations(row: number): readonly number[] {
    const carried = this.of.get(row);
    return carried ? [...carried.variables].filter(this.has) : this.has(row) ? [row] : [];
  }
  /** Variables that meet in M. */
  get pairs(): [number, number][] {
    const { has } = this;
    return this.rows.flatMap(({ variables }) => {
      const own = [...variables].filter(has);
      return own.flatMap((v) => own.map((u): [number, number] => [v, u]));
    });
  }
  /** Takes over what is of such rows. @param at where an entry stands @returns the rest */
  take<T extends Change>(by: 'displaced' | 'moved', list: readonly T[], at: (row: number, column: number) => number): T[] {
    for (const c of list) {
      const { row, entries, variables } = this.of.get(c.row) ?? { row: 0, entries: [], variables: [] };
      variables.forEach((v, i) => {
        if (this.has(v)) this[by].put(at(v, c.variable), row, entries[i]!, c.at, c.through);
      });
    }
    return list.filter((c) => !this.of.has(c.row));
  }
  /** Their mass. @param at where an entry stands */
  settle(at: (row: number, column: number) => number): void {
    for (const { row, entries, variables } of this.rows)
      variables.forEach((v, i) =>
        variables.forEach((u, j) => this.has(v) && this.has(u) && this.mass.put(at(v, u), row, entries[i]!, entries[j]!)),
      );
  }

  addMass(out: Float64Array, masses: Float64Array, G: Float64Array, by: number): void {
    this.mass.add(out, masses, G, G, by);
  }
  /** −gᵀ m ∂(γ − g u̇) by velocity, and by displacement through P. @param motion whether those by velocity as well */
  addChanges(out: Float64Array, masses: Float64Array, G: Float64Array, values: Float64Array, P: Float64Array, motion: boolean): void {
    if (motion) this.moved.add(out, masses, G, values, -1);
    this.displaced.add(out, masses, G, values, -1, P);
  }
}
