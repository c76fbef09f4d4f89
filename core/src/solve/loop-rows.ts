/** The constraint rows of one loop by itself: of its moving bodies alone, the ground (or its first body) at rest. */
import type { Group, System } from '../system/system';

export interface LoopRows {
  /** Numbers of the bodies that move. */
  moving: readonly number[];
  /** How many velocities these have: six each, translation in ground axes and rotation in body axes; or those of coordinates that place a body. */
  velocities: number;
  /** Of each joint of the loop, its rows: a number for each velocity. */
  of: readonly (readonly Float64Array[])[];
}

/** The rows of a loop as forces and moments on its moving bodies, at the configuration G was formed at. */
export function loopRows({ G, ldlt: { plan } }: System, links: readonly Group[]): LoopRows {
  const bodies = [...new Set(links.flatMap((l) => [l.a, l.b]))].sort((x, y) => y - x);
  const fixed = bodies[0]!; // the ground when it is one of them
  const moving = bodies.slice(1);
  const first = moving.map(() => 0);
  let velocities = 0;
  moving.forEach((b, i) => {
    first[i] = velocities;
    velocities += plan.own.of[b]?.placed ? plan.own.of[b].count : 6;
  });
  const of = links.map((l) =>
    l.constraints.flatMap((c) =>
      Array.from({ length: c.rows }, (_, k) => {
        const row = new Float64Array(velocities);
        [c.a, c.b].forEach((b, side) => {
          if (b === fixed) return;
          const at = first[moving.indexOf(b)]!,
            placed = plan.own.of[b]?.placed ? plan.own.of[b] : undefined,
            from = placed ? plan.rowPlaces.coordinates(c.row + k, side) : 12 * (c.row + k) + 6 * side;
          for (let e = 0; e < (placed?.count ?? 6); e++) row[at + e] = row[at + e]! + G[from + e]!;
        });
        return row;
      }),
    ),
  );
  return { moving, velocities, of };
}

/** Share of a row that counts as nothing. */
const NOTHING = 1e-7;

/** Number of independent rows, by orthogonalising (twice, for accuracy). Rows that are nothing against their `sizes` do not count. */
export function rankOf(rows: readonly Float64Array[], sizes: readonly number[] = rows.map(lengthOf)): number {
  const width = rows[0]?.length ?? 0,
    basis = new Float64Array(width * Math.min(width, rows.length));
  let rank = 0;
  rows.forEach((r, index) => {
    const scale = sizes[index]!;
    if (!(scale > 0) || rank === width) return;
    const at = rank * width;
    for (let i = 0; i < width; i++) basis[at + i] = r[i]! / scale;
    for (let pass = 0; pass < 2; pass++) for (let b = 0; b < at; b += width) leaveOut(basis, at, b, width);
    const left = Math.sqrt(product(basis, at, at, width));
    if (!(left > NOTHING)) return;
    for (let i = 0; i < width; i++) basis[at + i] = basis[at + i]! / left;
    rank++;
  });
  return rank;
}

/** Takes what one row has of another, of length 1, out of it. */
function leaveOut(rows: Float64Array, row: number, of: number, width: number): void {
  const s = product(rows, row, of, width);
  if (s !== 0) for (let i = 0; i < width; i++) rows[row + i] = rows[row + i]! - s * rows[of + i]!;
}
function product(rows: Float64Array, a: number, b: number, width: number): number {
  let s = 0;
  for (let i = 0; i < width; i++) s += rows[a + i]! * rows[b + i]!;
  return s;
}
/** Euclidean length. */
export function lengthOf(v: Float64Array): number {
  let s = 0;
  for (let i = 0; i < v.length; i++) s += v[i]! * v[i]!;
  return Math.sqrt(s);
}
