/**
 * Applied forces. Each adds to F: six numbers a body, force in ground axes, then torque about the centre of
 * mass in body axes. One slot more than there are bodies takes what acts on the ground.
 */
import type { Program } from '../formula/program';
import type { Kinematics } from './kinematics';
import type { Touches } from './contact/touches';
import type { Constraint } from './constraint';
import type { Memory } from './memory';
import type { ExtraStates } from './states';
import type { Carried, Watch } from './watch';
import type { LoadReadings } from './load-readings';

/** How a force that is no expression is differenced at a state. */
export interface Differenced {
  /** From now on it is looked at next to the state in K, states of its own changing as its bodies move; until `end`. */
  begin(K: Kinematics): void;
  end(): void;
  /** Displacement (m) and speed (m/s) over which it is straight enough; for turns the same in rad and rad/s. */
  readonly displacement: number;
  readonly speed: number;
}

export interface Force {
  /** All bodies it can push; the ground is one past the last. */
  readonly bodies: readonly number[];
  apply(K: Kinematics, t: number, F: Float64Array): void;
  /** Stored energy, J, for forces that have a potential. */
  energy?(K: Kinematics, t: number): number;
  /** What part of the stored energy belongs to one body, J. */
  energyOf?(i: number, K: Kinematics, t: number): number;
  /** Of contact: what is read of its places. */
  readonly touches?: Touches;
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
    /** Holds again where it was released and is at rest: whether it may is to be seen anew. */
    again?(K: Kinematics): void;
  };
  /** It does no work in any motion that joints allow. */
  readonly workless?: true;
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
  /** It follows from the postures and motions of its own bodies alone, and is not told by expressions: how it is differenced. */
  readonly differenced?: Differenced;
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
