/**
 * Applied forces. Each adds to F: six numbers a body, force in ground axes, then torque about the centre of
 * mass in body axes. One slot more than there are bodies takes what acts on the ground.
 */
import type { Program } from '../formula/program';
import type { Kinematics } from './kinematics';
import type { Constraint } from './constraint';
import type { Memory } from './memory';
import type { ExtraStates } from './states';
import type { Carried, Watch } from './watch';
import type { LoadReadings } from './load-readings';

export interface Force {
  /** All bodies it can push; the ground is one past the last. */
  readonly bodies: readonly number[];
  apply(K: Kinematics, t: number, F: Float64Array): void;
  /** Stored energy, J, for forces that have a potential. */
  energy?(K: Kinematics, t: number): number;
  /** What part of the stored energy belongs to one body, J. */
  energyOf?(i: number, K: Kinematics, t: number): number;
  /** What it tells of itself: deflection, its rate, effort. */
  readings?: LoadReadings;
  /** Differential states of its own. */
  extras?: readonly ExtraStates[];
  /** Adds what follows from the constraint forces (friction, the spreading of tooth forces); called until it settles. */
  react?(K: Kinematics, t: number, multipliers: Float64Array, G: Float64Array, F: Float64Array): void;
  /** Whether, in a machine that moves in a plane, what constraints carry across it bears on that. */
  readonly across?: boolean;
  /** A row that holds only while the force switches it on: of stuck friction, of an end that is leant on. */
  holding?: {
    constraint: Constraint;
    joint: string;
    /** Whether it holds now. */
    readonly on: boolean;
    /** Lets it go, the way the machine is accelerated: six numbers a body. */
    release(K: Kinematics, acceleration: Float64Array): void;
  };
  /** It acts by that row alone. */
  readonly byRow?: true;
  /** Of friction: whether it can carry what its row carries now. */
  sticks?(K: Kinematics, carried: Carried): boolean;
  /** What it remembers of the run. */
  memory?: Memory;
  /** Moments at which the force changes its law. */
  watches?: readonly Watch[];
  /** Whether the posture is past a limit it sets (end stops). */
  beyond?(K: Kinematics): boolean;
  /** Puts its modes at their start. */
  begin?(K: Kinematics, t: number): void;
  /** Time-dependent formulas in it, whose kinks split the run. */
  programs?: readonly Program[];
  /** Whether it follows from postures and motions alone, without corners: however long a step, its error shows all of it. */
  readonly smooth?: boolean;
}

/** All that a load does at a state: its own force, what follows from the constraint forces, and what its row holds. */
export function wholeForce(force: Force, K: Kinematics, t: number, { multipliers, G }: Carried, F: Float64Array): void {
  force.apply(K, t, F);
  force.react?.(K, t, multipliers, G, F);
  const c = force.holding?.constraint;
  if (!c) return;
  for (let k = 0; k < c.rows; k++) {
    const lambda = multipliers[c.row + k]!,
      g = 12 * (c.row + k);
    for (let e = 0; e < 6; e++) {
      F[6 * c.a + e] = F[6 * c.a + e]! - lambda * G[g + e]!;
      F[6 * c.b + e] = F[6 * c.b + e]! - lambda * G[g + 6 + e]!;
    }
  }
}

/** Adds a ground-axes force at a place fixed in body i (place relative to the centre of mass, body axes). */
export function pushAt(K: Kinematics, F: Float64Array, i: number, s: ArrayLike<number>, fx: number, fy: number, fz: number): void {
  const { A } = K;
  const m = 9 * i,
    p = 6 * i;
  F[p] = F[p]! + fx;
  F[p + 1] = F[p + 1]! + fy;
  F[p + 2] = F[p + 2]! + fz;
  const x = A[m]! * fx + A[m + 3]! * fy + A[m + 6]! * fz;
  const y = A[m + 1]! * fx + A[m + 4]! * fy + A[m + 7]! * fz;
  const z = A[m + 2]! * fx + A[m + 5]! * fy + A[m + 8]! * fz;
  F[p + 3] = F[p + 3]! + s[1]! * z - s[2]! * y;
  F[p + 4] = F[p + 4]! + s[2]! * x - s[0]! * z;
  F[p + 5] = F[p + 5]! + s[0]! * y - s[1]! * x;
}

/** Component k (ground axes) of the position of a place in body i. */
export function placeAt({ r, A }: Kinematics, i: number, s: ArrayLike<number>, k: number): number {
  const p = 9 * i + 3 * k;
  return r[3 * i + k]! + A[p]! * s[0]! + A[p + 1]! * s[1]! + A[p + 2]! * s[2]!;
}

/** Component k (ground axes) of the velocity of a place in body i. */
export function speedAt({ v, w, A }: Kinematics, i: number, s: ArrayLike<number>, k: number): number {
  const x = w[3 * i]!,
    y = w[3 * i + 1]!,
    z = w[3 * i + 2]!;
  const p = 9 * i + 3 * k;
  return v[3 * i + k]! + A[p]! * (y * s[2]! - z * s[1]!) + A[p + 1]! * (z * s[0]! - x * s[2]!) + A[p + 2]! * (x * s[1]! - y * s[0]!);
}
