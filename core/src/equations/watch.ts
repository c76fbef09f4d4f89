import type { Kinematics } from './kinematics';

/** What the constraints carry at a state, for watches that look at it. */
export interface Carried {
  multipliers: Float64Array;
  G: Float64Array;
}

/**
 * A quantity whose change of sign is an event: the run stops there, the watch fires, and the run goes on. The integrator never steps
 * over a change of law.
 */
export interface Watch {
  /** Positive before the event, negative after it; NaN while it has nothing to watch. */
  value(K: Kinematics, t: number, carried: Carried): number;
  /** Changes modes; returns what happened, in words, when that is worth telling. */
  fire(K: Kinematics, t: number): string | undefined;
  /** Whether the value needs accelerations and multipliers. */
  readonly carried?: true;
  /** Told after `fire` has changed rows, with the new solution at hand; may change modes once more. Returns whether it did. */
  settle?(K: Kinematics, t: number, carried: Carried): boolean;
}
