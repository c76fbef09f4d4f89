/**
 * Finds what the joints of a machine never allow its bodies, in any posture: most machines move in a plane, and what lies across it needs no equations.
 * From the ground outwards: what a joint leaves free between two bodies, with what the first of them can do, is all that the second can (the groups of
 * displacements; Hervé, Mechanism and Machine Theory 13, 1978). Axes are those of the ground.
 */
import { type Fold, roundedTurn } from '../equations/fold';
import type { Group, System } from './system';

/** Share of a velocity that counts as nothing. */
const NOTHING = 1e-9;

/**
 * What the bodies can do at all; undefined where nothing is left out.
 * Needs a posture in which all joints are closed.
 * @param lasting joints that always hold
 */
export function foldOf(system: System, lasting: readonly Group[], size: number): Fold | undefined {
  const { bodies, K } = system,
    { A } = K;
  // which way coordinates carry a body is not asked here
  if (K.own) return undefined;
  system.jacobian();
  const links = lasting.filter((g) => g.constraints.every((c) => c.statement && !c.statement.course && c.more.length === 0));
  const all = new Set([0, 1, 2, 3, 4, 5]),
    known: ReadonlySet<number>[] = Array.from({ length: bodies + 1 }, (_, i) => (i < bodies ? all : new Set()));
  // each round takes something away from at least one body
  for (let changed = true; changed;) {
    changed = false;
    for (const link of links)
      for (const [from, to] of [
        [link.a, link.b],
        [link.b, link.a],
      ] as const) {
        if (to === bodies || known[from] === all) continue;
        const now = closed([...known[from]!, ...leftFree(system, link, to, size)]),
          both = new Set([...known[to]!].filter((m) => now.has(m)));
        if (both.size === known[to]!.size) continue;
        known[to] = both;
        changed = true;
      }
  }
  const exact = A.slice(0, 9 * bodies).map(roundedTurn),
    moves = new Uint8Array(6 * bodies);
  known.slice(0, bodies).forEach((can, i) => {
    const own = can === all ? undefined : inItsAxes(can, exact.subarray(9 * i, 9 * i + 9));
    for (let k = 0; k < 6; k++) moves[6 * i + k] = !own || own.has(k) ? 1 : 0;
  });
  return moves.every((m) => m === 1) ? undefined : { moves, A: exact, idle: idleRows(system, moves) };
}

/** Rows of constraints that are no expressions of which nothing is left among what the bodies can do. */
function idleRows({ groups, G, rows, bodies }: System, moves: Uint8Array): Uint8Array {
  const idle = new Uint8Array(rows);
  for (const c of groups.flatMap((g) => g.constraints))
    for (let k = 0; k < (c.statement ? 0 : c.rows); k++) {
      const blocks = [{ at: c.row + k, of: [c.a, c.b] }, ...(k === 0 ? c.more.map((of, i) => ({ at: c.block + i, of })) : [])];
      let whole = 0,
        left = 0;
      for (const { at, of } of blocks)
        of.forEach((b, side) => {
          for (let e = 0; e < (b < bodies ? 6 : 0); e++) {
            const x = Math.abs(G[12 * at + 6 * side + e]!);
            whole = Math.max(whole, x);
            if (moves[6 * b + e]) left = Math.max(left, x);
          }
        });
      if (left < NOTHING * whole) idle[c.row + k] = 1;
    }
  return idle;
}

/** What a joint leaves free to a body while the other rests: velocities of its centre and spins, all in ground axes, of which some motion has a part. */
function leftFree({ G, K: { A } }: System, { constraints }: Group, body: number, size: number): number[] {
  // rows that are square to each other and of length 1, six numbers each; the one at hand behind them
  const basis = new Float64Array(6 * 7);
  let rank = 0;
  for (const c of constraints)
    for (let k = 0; k < c.rows && rank < 6; k++) {
      const at = 12 * (c.row + k) + (c.a === body ? 0 : 6),
        p = 9 * body,
        row = basis.subarray(6 * rank, 6 * rank + 6);
      for (let e = 0; e < 3; e++) {
        const q = p + 3 * e;
        row[e] = G[at + e]! * size;
        row[3 + e] = A[q]! * G[at + 3]! + A[q + 1]! * G[at + 4]! + A[q + 2]! * G[at + 5]!;
      }
      const length = Math.sqrt(dot(row, row, 0));
      if (length === 0) continue;
      for (let e = 0; e < 6; e++) row[e] = row[e]! / length;
      for (let pass = 0; pass < 2; pass++)
        for (let b = 0; b < 6 * rank; b += 6) {
          const s = dot(row, basis, b);
          for (let e = 0; e < 6; e++) row[e] = row[e]! - s * basis[b + e]!;
        }
      const left = Math.sqrt(dot(row, row, 0));
      if (left <= 1e-7) continue;
      for (let e = 0; e < 6; e++) row[e] = row[e]! / left;
      rank++;
    }
  // the diagonal of the projection onto what no row holds
  return SIX.filter((i) => {
    let held = 0;
    for (let b = i; b < 6 * rank; b += 6) held += basis[b]! * basis[b]!;
    return 1 - held > NOTHING;
  });
}
const SIX = [0, 1, 2, 3, 4, 5];
function dot(x: Float64Array, y: Float64Array, from: number): number {
  let s = 0;
  for (let e = 0; e < 6; e++) s += x[e]! * y[from + e]!;
  return s;
}

/** Turning about one axis carries places round it; about two, everything becomes possible. */
function closed(can: readonly number[]): Set<number> {
  const out = new Set(can),
    axes = [3, 4, 5].filter((k) => out.has(k));
  if (axes.length > 1) return new Set([0, 1, 2, 3, 4, 5]);
  if (axes.length === 1) for (const k of [0, 1, 2]) if (k !== axes[0]! - 3) out.add(k);
  return out;
}

/** The same with spins in the axes of the body; undefined where it turns about none of these. */
function inItsAxes(can: ReadonlySet<number>, A: Float64Array): Set<number> | undefined {
  const places = [...can].filter((k) => k < 3),
    axis = [...can].find((k) => k >= 3);
  if (axis === undefined) return new Set(places);
  const own = [0, 1, 2].find((k) => Math.abs(A[3 * (axis - 3) + k]!) === 1);
  return own === undefined ? undefined : new Set([...places, 3 + own]);
}
