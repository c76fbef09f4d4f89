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

/** Number of independent rows, by orthogonalising (twice, for accuracy). Rows that are nothing against `size` do not count. */
export function rankOf(rows: readonly Float64Array[], size: (row: Float64Array, index: number) => number = (r) => lengthOf(r)): number {
  const basis: Float64Array[] = [];
  rows.forEach((r, index) => {
    const scale = size(r, index);
    if (!(scale > 0)) return;
    const v = r.map((x) => x / scale);
    for (let pass = 0; pass < 2; pass++)
      for (const b of basis) {
        const s = b.reduce((t, x, i) => t + x * v[i]!, 0);
        for (let i = 0; i < v.length; i++) v[i] = v[i]! - s * b[i]!;
      }
    const left = lengthOf(v);
    if (left > NOTHING) basis.push(v.map((x) => x / left));
  });
  return basis.length;
}
/** Euclidean length. */
export const lengthOf = (v: Float64Array): number => Math.sqrt(v.reduce((s, x) => s + x * x, 0));
