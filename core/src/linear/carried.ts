/**
 * Rows that do not hold but have inertia (`equations/carried-mass.ts`): of [M Gᵀ; G −1/m] they are taken out, which leaves M + Σ m gᵀg; on the right gᵀ m times
 * their own goes to the bodies, and what they carry is m (g u̇ − γ).
 */
import type { Entry, Product } from './pattern';

export interface CarriedRow {
  readonly row: number;
  /** Where its numbers stand in G, and the variable each belongs to. */
  readonly entries: Int32Array;
  readonly variables: Int32Array;
}

/** @param entries those of such rows */
export function carriedRows(entries: readonly Entry[]): CarriedRow[] {
  const rows = new Map<number, Entry[]>();
  for (const e of entries) rows.set(e.row, [...(rows.get(e.row) ?? []), e]);
  return [...rows].map(([row, list]) => ({
    row,
    entries: Int32Array.from(list, (e) => e.entry),
    variables: Int32Array.from(list, (e) => e.variable),
  }));
}

/** What they add to M: one product for each pair of variables, and of two entries of one variable both ways. */
export const carriedProducts = (rows: readonly CarriedRow[]): Product[] =>
  rows.flatMap(({ row, entries, variables }) =>
    [...entries].flatMap((first, i) =>
      [...entries].flatMap((second, j): Product[] =>
        variables[i]! >= variables[j]! ? [{ row, first, second, of: [variables[i]!, variables[j]!] }] : [],
      ),
    ),
  );

/** Such products where they stand in L, one list for each of their numbers. */
export interface Standing {
  readonly row: Int32Array;
  readonly first: Int32Array;
  readonly second: Int32Array;
  readonly at: Int32Array;
}
/** @param at where the entry of two variables stands */
export const standing = (list: readonly Product[], at: (p: Product) => number): Standing => ({
  row: Int32Array.from(list, (p) => p.row),
  first: Int32Array.from(list, (p) => p.first),
  second: Int32Array.from(list, (p) => p.second),
  at: Int32Array.from(list, at),
});

/** Adds them. */
export function addProducts({ row, first, second, at }: Standing, masses: Float64Array, G: Float64Array, X: Float64Array): void {
  for (let i = 0; i < row.length; i++) X[at[i]!] = X[at[i]!]! + masses[row[i]!]! * G[first[i]!]! * G[second[i]!]!;
}

/** On the right: gᵀ m times their own is added to the bodies. @param x a motion, then one a row */
export function foldIn(rows: readonly CarriedRow[], masses: Float64Array, G: Float64Array, x: Float64Array, motions: number): void {
  for (let i = 0; i < rows.length; i++) {
    const { row, entries, variables } = rows[i]!,
      by = masses[row]! * x[motions + row]!;
    if (by !== 0) for (let k = 0; k < entries.length; k++) x[variables[k]!] = x[variables[k]!]! + by * G[entries[k]!]!;
  }
}

/** What they carry, of a solution: m (g u̇ − what stood on their right). */
export function foldOut(rows: readonly CarriedRow[], masses: Float64Array, G: Float64Array, x: Float64Array, motions: number): void {
  for (let i = 0; i < rows.length; i++) {
    const { row, entries, variables } = rows[i]!;
    let s = -x[motions + row]!;
    for (let k = 0; k < entries.length; k++) s += G[entries[k]!]! * x[variables[k]!]!;
    x[motions + row] = masses[row]! * s;
  }
}

/** Adds Σ gᵀ m g x to a momentum. @param x,out motions */
export function carriedTimes(rows: readonly CarriedRow[], masses: Float64Array, G: Float64Array, x: Float64Array, out: Float64Array): void {
  for (let i = 0; i < rows.length; i++) {
    const { row, entries, variables } = rows[i]!;
    let s = 0;
    for (let k = 0; k < entries.length; k++) s += G[entries[k]!]! * x[variables[k]!]!;
    s *= masses[row]!;
    for (let k = 0; k < entries.length; k++) out[variables[k]!] = out[variables[k]!]! + s * G[entries[k]!]!;
  }
}
