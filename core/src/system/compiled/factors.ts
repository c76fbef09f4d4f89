/**
 * The factorisation and the solution of [M Gᵀ; G 0] as expressions: the algorithm of `linear/ldlt.ts` step by step, written out once for a machine,
 * so that all that is zero in it falls away.
 */
import type { OwnBody } from '../../equations/coordinates/own';
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import type { Elimination } from '../../linear/elimination';
import { NO_INERTIA, REDUNDANT } from '../../linear/ldlt';

/** Masses and inertias of the bodies as expressions: one, and nine, to a body. */
export interface MassEx {
  readonly masses: readonly Ex[];
  readonly inertias: readonly Ex[];
  /** An entry of the lower triangle of the mass matrix of a body that has coordinates of its own. */
  own(body: OwnBody, entry: number): Ex;
  /** Whether a variable, a motion and then the rows, never differs from zero. */
  holds(variable: number): boolean;
}

export interface Factors {
  /** Entries of L, pivots in their places among them as they are found. */
  readonly X: readonly Ex[];
  readonly inverse: readonly Ex[];
  /** Of each row that closes a loop: its pivot relative to the row alone. */
  readonly ratio: ReadonlyMap<number, Ex>;
  /** The smallest pivot of a body, relative to its diagonal; 1 where every body has inertia about every axis. */
  readonly loosest: Ex;
}

/**
 * @param off of each row that can let go: less than 1 while it holds
 * @param weight what a row adds to M
 */
export function factorised(
  g: Graph,
  plan: Elimination,
  { masses, inertias, own: ownMass, holds }: MassEx,
  G: readonly Ex[],
  off: ReadonlyMap<number, Ex>,
  weight: (row: number) => Ex,
): Factors {
  const {
      bodies,
      motions,
      size,
      start,
      target,
      massAt,
      ownMassAt,
      own,
      rowAt,
      rowOf,
      closingRow,
      products,
      inertia,
      place,
      variableOf,
      light,
    } = plan,
    X = new Array<Ex>(plan.entries).fill(g.zero),
    inverse = new Array<Ex>(size).fill(g.zero),
    ratio = new Map<number, Ex>();
  let loosest = g.one;
  ownMassAt.forEach((at, i) => at.forEach((p, k) => (X[p] = ownMass(own.list[i]!, k))));
  for (let b = 0; b < bodies; b++) {
    if (own.of[b]) continue;
    const part = (i: number, j: number, x: Ex) => (!holds(6 * b + i) && !holds(6 * b + j) ? x : i === j ? g.one : g.zero);
    for (let k = 0; k < 3; k++) X[massAt[9 * b + k]!] = part(k, k, masses[b]!);
    [0, 3, 4, 6, 7, 8].forEach((e, k) => (X[massAt[9 * b + 3 + k]!] = part(3 + Math.floor(e / 3), 3 + (e % 3), inertias[9 * b + e]!)));
  }
  rowAt.forEach((at, e) => at >= 0 && (X[at] = g.add(X[at]!, G[e]!)));
  inertia.at.forEach((at, i) => {
    X[at] = g.add(X[at]!, g.multiply(g.multiply(weight(inertia.row[i]!), G[inertia.first[i]!]!), G[inertia.second[i]!]!));
  });
  for (const { row, first, second, at } of products) {
    const lets = off.get(row),
      own = lets === undefined ? weight(row) : g.choose(lets, g.one, weight(row), g.zero);
    X[at] = g.add(X[at]!, g.multiply(g.multiply(own, G[first]!), G[second]!));
  }
  const diagonal = Array.from({ length: motions }, (_, i) => (place[i]! < 0 ? g.zero : X[start[place[i]!]!]!));

  let t = 0;
  for (let k = 0; k < size; k++) {
    const from = start[k]!,
      to = start[k + 1]!,
      d = X[from]!,
      closing = closingRow[k]!,
      lets = off.get(rowOf[k]!);
    // a row that holds once and for all carries nothing
    let inv = d === g.zero ? g.zero : g.divide(g.one, d);
    if (light.length > 0 && rowOf[k]! < 0) {
      const relative = g.divide(d, diagonal[variableOf[k]!]!);
      loosest = g.least(loosest, relative);
      inv = g.choose(g.constant(NO_INERTIA), relative, inv, g.zero);
    }
    if (closing >= 0) {
      // what holds once and for all is not redundant: whether it does is looked at
      const r = holds(motions + closing) ? g.one : d === g.zero ? g.zero : g.divide(g.negate(d), alone(g, plan, diagonal, G, closing));
      ratio.set(closing, r);
      inv = g.choose(g.constant(REDUNDANT), r, inv, g.zero);
    }
    if (lets !== undefined) inv = g.choose(lets, g.one, inv, g.zero);
    inverse[k] = inv;
    for (let p = from + 1; p < to; p++) {
      const l = g.multiply(X[p]!, inv);
      for (let q = p; q < to; q++) {
        const u = target[t++]!;
        X[u] = g.subtract(X[u]!, g.multiply(l, X[q]!));
      }
      X[p] = l;
    }
  }
  return { X, inverse, ratio, loosest };
}

/** g M⁻¹ gᵀ of a row on its own bodies alone, with the diagonal of M. */
function alone(
  g: Graph,
  { bodyOf, further, own, rowPlaces, bodies }: Elimination,
  diagonal: readonly Ex[],
  G: readonly Ex[],
  row: number,
): Ex {
  let sum = g.zero;
  for (const block of [row, ...further[row]!])
    for (let side = 0; side < 2; side++) {
      const b = bodyOf[2 * block + side]!;
      if (b < 0) continue;
      const o = own.of[b],
        [count, from, of] = o?.placed
          ? [o.count, rowPlaces.coordinates(block, side), 6 * bodies + o.first]
          : [6, 12 * block + 6 * side, 6 * b];
      for (let k = 0; k < count; k++) {
        const x = G[from + k]!;
        if (x !== g.zero) sum = g.add(sum, g.divide(g.square(x), diagonal[of + k]!));
      }
    }
  return sum;
}

/** Rows that have mass (`linear/carried.ts`): their numbers of G, and how much of each. */
export interface CarriedEx {
  readonly G: (entry: number) => Ex;
  readonly mass: (row: number) => Ex;
}

/** The solution for right-hand sides told in the order of the variables; nothing for velocities that follow from coordinates. */
export function solved(
  g: Graph,
  { place, start, index, size, carried, motions }: Elimination,
  { X, inverse }: Pick<Factors, 'X' | 'inverse'>,
  rhs: readonly Ex[],
  { G, mass }: CarriedEx,
): Ex[] {
  const right = [...rhs];
  for (const { row, entries, variables } of carried) {
    const by = g.multiply(mass(row), rhs[motions + row]!);
    variables.forEach((v, k) => (right[v] = g.add(right[v]!, g.multiply(by, G(entries[k]!)))));
  }
  const work = new Array<Ex>(size).fill(g.zero);
  right.forEach((x, i) => place[i]! >= 0 && (work[place[i]!] = x));
  for (let k = 0; k < size; k++)
    for (let p = start[k]! + 1; p < start[k + 1]!; p++) work[index[p]!] = g.subtract(work[index[p]!]!, g.multiply(X[p]!, work[k]!));
  for (let k = size - 1; k >= 0; k--) {
    let s = g.multiply(work[k]!, inverse[k]!);
    for (let p = start[k]! + 1; p < start[k + 1]!; p++) s = g.subtract(s, g.multiply(X[p]!, work[index[p]!]!));
    work[k] = s;
  }
  const out = Array.from(rhs, (_, i) => (place[i]! < 0 ? g.zero : work[place[i]!]!));
  for (const { row, entries, variables } of carried) {
    const sum = variables.reduce((s, v, k) => g.add(s, g.multiply(G(entries[k]!), out[v]!)), g.negate(rhs[motions + row]!));
    out[motions + row] = g.multiply(mass(row), sum);
  }
  return out;
}
