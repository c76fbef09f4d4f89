import type { Kinematics } from './kinematics';

/** Differential states beyond those of the bodies: z[first], z[first + 1], … in Kinematics.z. */
export interface ExtraStates {
  readonly states: number;
  first: number;
  /** Puts the states at their start, at an assembled posture. */
  begin(K: Kinematics): void;
  /** Only reckoned, not steering: left out of the error control of the integrator. */
  readonly ledger?: true;
  /** Their time derivatives into dz[at + first], … */
  rates(K: Kinematics, t: number, dz: Float64Array, at: number): void;
}
