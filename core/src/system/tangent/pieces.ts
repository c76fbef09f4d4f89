/**
 * Of one constraint or load how what it gives changes, by expressions: what pushes its bodies, and of its rows γ − G u̇ = −Φ̈, by a small displacement of
 * each body, by each velocity, and by what other constraints carry.
 */
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import type { Graph } from '../../expressions/graph';
import type { VectorEx } from '../../expressions/vectors';
import { type BodyEx, moving } from '../../equations/stated/body';

/** A derivative that can differ from zero. Rows and columns count from zero: six to a body, then the rows of constraints. */
export interface Piece {
  readonly row: number;
  readonly column: number;
  readonly x: Ex;
}
/** By displacement, by velocity, by what constraints carry; of Φ̇ of rows by displacement; and by what loads take in. */
export const BY = ['posture', 'motion', 'load', 'drift', 'input'] as const;
export type By = (typeof BY)[number];
export type Pieces = Readonly<Record<By, readonly Piece[]>>;

/** A body that can move: as it is read, and its accelerations. */
export interface Moving {
  readonly body: BodyEx;
  readonly acceleration: readonly Ex[];
}

const still = (g: Graph): VectorEx => [g.zero, g.zero, g.zero];
/** One of the six velocities of a body alone. */
export function along(g: Graph, body: BodyEx, k: number): Direction {
  const unit = [0, 1, 2].map((j) => (j === k % 3 ? g.one : g.zero)) as unknown as VectorEx;
  return new Direction(g, new Map(moving(g, body, k < 3 ? unit : still(g), k < 3 ? still(g) : unit)), true);
}
const SIX = [0, 1, 2, 3, 4, 5];

/**
 * @param bodies those that can move @param list expressions with their rows @param loads multipliers that they name, with their columns
 * @param rates Φ̇ with their rows @param input a value that is taken in
 */
export function piecesOf(
  g: Graph,
  bodies: readonly (BodyEx | undefined)[],
  list: readonly (readonly [row: number, x: Ex])[],
  loads: readonly (readonly [column: number, x: Ex])[] = [],
  rates: readonly (readonly [row: number, x: Ex])[] = [],
  input?: Ex,
): Pieces {
  const directions = bodies.flatMap((body, n) =>
      body
        ? SIX.map((k) => ({
            column: 6 * n + k,
            posture: along(g, body, k),
            motion: new Direction(g, new Map([[k < 3 ? body.v[k]! : body.w[k - 3]!, g.one]]), true),
          }))
        : [],
    ),
    some = (pieces: Piece[]) => pieces.filter((p) => p.x !== g.zero),
    by = loads.map(([column, x]) => ({ column, direction: new Direction(g, new Map([[x, g.one]]), true) }));
  const of = (key: 'posture' | 'motion', from = list) =>
    some(from.flatMap(([row, x]) => directions.map((d) => ({ row, column: d.column, x: d[key].of(x) }))));
  return {
    posture: of('posture'),
    motion: of('motion'),
    drift: of('posture', rates),
    input: input === undefined ? [] : byInput(g, input, list),
    load: some(list.flatMap(([row, x]) => by.map(({ column, direction }) => ({ row, column, x: direction.of(x) })))),
  };
}

function byInput(g: Graph, input: Ex, list: readonly (readonly [row: number, x: Ex])[]): Piece[] {
  const by = new Direction(g, new Map([[input, g.one]]), true);
  return list.map(([row, x]) => ({ row, column: 0, x: by.of(x) })).filter((p) => p.x !== g.zero);
}

/** What rows push their bodies with: −Σ λ ∂Φ/∂(each displacement), six numbers to a body. */
export function carriedBy(
  g: Graph,
  bodies: readonly (BodyEx | undefined)[],
  phi: readonly Ex[],
  multipliers: readonly Ex[],
): (readonly [number, Ex])[] {
  const sum = phi.reduce((s, x, r) => g.add(s, g.multiply(multipliers[r]!, x)), g.zero);
  return bodies.flatMap((body, n) => (body ? SIX.map((k) => [6 * n + k, g.negate(along(g, body, k).of(sum))] as const) : []));
}

/** Φ̇ of rows, −Φ̈, and γ, what of that is there without accelerations. @param byTime how courses change */
export function secondRates(
  g: Graph,
  bodies: readonly (Moving | undefined)[],
  phi: readonly Ex[],
  byTime: readonly [Ex, Ex][],
): { rates: Ex[]; whole: Ex[]; gamma: Ex[] } {
  const there = bodies.filter((m) => m !== undefined),
    moves = there.flatMap(({ body }) => moving(g, body, body.v, body.w)),
    all = new Direction(g, new Map([...moves, ...byTime])),
    velocities = there.flatMap(({ body, acceleration }) =>
      [...body.v, ...body.w].map((u, k): [Ex, Ex] => [u, acceleration[k]!]).filter(([u]) => u !== g.zero),
    ),
    faster = new Direction(g, new Map(velocities)),
    rates = phi.map((x) => all.of(x)),
    gamma = rates.map((x) => g.negate(all.of(x)));
  return { rates, whole: gamma.map((x, k) => g.subtract(x, faster.of(rates[k]!))), gamma };
}
