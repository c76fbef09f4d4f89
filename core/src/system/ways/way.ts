/** How the equations of a machine are evaluated at the kinematics in K: one by one, kind by kind, or as a whole. The numbers are the same but for rounding. */
import type { Constraint, Statement } from '../../equations/constraint';
import type { Kinematics } from '../../equations/kinematics';
import type { Ldlt } from '../../linear/ldlt';
import type { OwnRows } from '../../linear/own-rows';
import type { AppliedForces } from '../applied-forces';

/** What is worked on. Times are as formulas see them. */
export interface Parts {
  readonly K: Kinematics;
  readonly constraints: readonly Constraint[];
  /** Constraints that are no expressions; and of those that are, the ones that follow a course that is none. */
  readonly others: readonly Constraint[];
  /** Relations of coordinates, which are expressions in code of a whole machine alone. */
  readonly coupled: readonly Constraint[];
  readonly driven: readonly Statement[];
  readonly forces: AppliedForces;
  readonly ldlt: Ldlt;
  readonly ownRows: OwnRows | undefined;
  readonly inertias: Float64Array;
  /** Entries of a motion. */
  readonly motions: number;
  readonly G: Float64Array;
  readonly gamma: Float64Array;
  readonly phi: Float64Array;
  readonly offsets: Float64Array;
  readonly F: Float64Array;
  readonly x: Float64Array;
  readonly solution: Float64Array;
  readonly ratio: Float64Array;
  readonly loosest: Float64Array;
}

export interface Way {
  /** Applied forces, rows, factors and the solution. @param y,dy places of the state and of its derivative, for code that writes that too */
  accelerate(t: number, y: number, dy: number): void;
  /** Rows and factors alone. */
  linearise(): void;
  /** Solves with the factors at hand, in place. */
  solve(x: Float64Array): void;
  /** Φ of all rows, less what it is where they hold. */
  positions(t: number): void;
  /** Φ̇ of all rows. @param fresh the rows at hand are those of this posture */
  velocities(t: number, fresh: boolean): void;
  /** Measured coordinates and their rates, where it tells them. */
  measure?(): void;
  /** How further states change, at what was last solved for, where it tells. @param at where they begin in the derivative */
  change?(t: number, dy: Float64Array, at: number): void;
}

/** What courses that are no expressions say at a time, to where compiled equations read it. */
export function follow({ driven, K }: Parts, t: number): void {
  for (let i = 0; i < driven.length; i++) driven[i]!.follow(K, t);
}

/** Right-hand side from the applied forces: f with the gyroscopic part, γ below. */
export function balance({ K, gamma, F, solution, inertias, motions }: Parts): void {
  for (let i = 0; i < K.bodies; i++) {
    const p = 6 * i,
      m = 9 * i,
      j = 3 * i;
    const x = K.w[j]!,
      y = K.w[j + 1]!,
      z = K.w[j + 2]!;
    const hx = inertias[m]! * x + inertias[m + 1]! * y + inertias[m + 2]! * z;
    const hy = inertias[m + 3]! * x + inertias[m + 4]! * y + inertias[m + 5]! * z;
    const hz = inertias[m + 6]! * x + inertias[m + 7]! * y + inertias[m + 8]! * z;
    solution[p] = F[p]!;
    solution[p + 1] = F[p + 1]!;
    solution[p + 2] = F[p + 2]!;
    solution[p + 3] = F[p + 3]! - (y * hz - z * hy);
    solution[p + 4] = F[p + 4]! - (z * hx - x * hz);
    solution[p + 5] = F[p + 5]! - (x * hy - y * hx);
  }
  K.own?.push(solution, F);
  solution.set(gamma, motions);
}
