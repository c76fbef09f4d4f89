/**
 * How the bodies of a machine can move at all. A body that joints hold in a plane has two velocities and one spin that ever differ from zero; the others
 * need no numbers and no equations.
 */

/** Rounding in a direction. */
const EXACT = 1e-14;
/** How far a body that was brought onto its joints may be turned, and count as turned exactly: far less than joints need to close, rad. */
const TURNED = 1e-10;

/** A number of a direction without its rounding. */
export const rounded = (x: number): number => within(x, EXACT);
/** The same of a rotation that was found. */
export const roundedTurn = (x: number): number => within(x, TURNED);
const within = (x: number, e: number): number => (Math.abs(x) < e ? 0 : Math.abs(Math.abs(x) - 1) < e ? Math.sign(x) : x);

/** Velocities of a body: three of its centre of mass (ground axes), then three spins (its own axes). */
export interface Fold {
  /** Six to a body: 1 where it can differ from zero. */
  readonly moves: Uint8Array;
  /** Orientation of each body when that was found out: nine numbers, body axes to ground axes. Zeros and ones in it are exact. */
  readonly A: Float64Array;
  /**
   * Of each row of constraints that are no expressions: 1 where no motion of the bodies changes it, as far as was seen. It is watched: a row that is found
   * to change after all stops the run.
   */
  readonly idle: Uint8Array;
}

/** The axis about which alone a body turns: in its own axes, in those of the ground, and whether both point the same way (1) or not (−1). */
export interface Turning {
  readonly own: number;
  readonly ground: number;
  readonly sign: number;
}

/** How many axes a body turns about. */
export const spinsOf = ({ moves }: Fold, body: number): number => moves[6 * body + 3]! + moves[6 * body + 4]! + moves[6 * body + 5]!;

/** About which axis a body turns, where there is only one. */
export function turningOf(fold: Fold, body: number): Turning | undefined {
  if (spinsOf(fold, body) !== 1) return undefined;
  const own = [0, 1, 2].find((k) => fold.moves[6 * body + 3 + k])!,
    ground = [0, 1, 2].find((r) => fold.A[9 * body + 3 * r + own] !== 0)!;
  return { own, ground, sign: fold.A[9 * body + 3 * ground + own]! };
}

/** Whether the same is left out. */
export function isSameFold(one: Fold | undefined, other: Fold | undefined): boolean {
  const same = (a: ArrayLike<number>, b: ArrayLike<number>) => a.length === b.length && Array.prototype.every.call(a, (x, i) => x === b[i]);
  return one && other ? same(one.moves, other.moves) && same(one.A, other.A) && same(one.idle, other.idle) : one === other;
}
