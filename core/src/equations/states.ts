import type { Constraint } from './constraint';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';

/**
 * How a further state changes, where that can be said: not at all, by the power of a load, by the rate of a coordinate, by the work of a drive, or as the
 * course that it belongs to.
 */
export type Changes =
  | { readonly by: 'nothing' }
  | { readonly by: 'power'; readonly which: number }
  | { readonly by: 'rate'; readonly freedom: Freedom }
  | { readonly by: 'work'; readonly constraint: Constraint; readonly freedom: Freedom }
  | { readonly by: 'course' };

/** Differential states beyond those of the bodies: z[first], z[first + 1], … in Kinematics.z. */
export interface ExtraStates {
  readonly states: number;
  first: number;
  /** Puts the states at their start, at an assembled posture. */
  begin(K: Kinematics): void;
  /** Only reckoned, not steering: left out of the error control of the integrator. */
  readonly ledger?: true;
  /** Its time derivative as an expression, of the one state it has but for courses; left out: it is asked for its rates. */
  readonly changes?: Changes;
  /** How their rates follow from the motion of bodies, where forces hang on them in return: what implicit steps need. */
  readonly along?: {
    /** At the state in K, from now on. */
    take(K: Kinematics): void;
    /** Adds what a change of the motion (six numbers a body) changes of the rates. */
    add(motion: Float64Array, rates: Float64Array, at: number): void;
  };
  /** Their time derivatives into dz[at + first], … */
  rates(K: Kinematics, t: number, dz: Float64Array, at: number): void;
}
