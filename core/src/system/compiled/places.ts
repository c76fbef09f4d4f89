/** Where the numbers of a machine lie that its compiled equations read and write. */
import type { KinematicPlaces } from '../../equations/kinematics';

/** Bases of compiled equations: the kinematics, and all else of the machine. */
export const KINEMATICS = 0;
export const OWN = 1;
export const BASES = 2;
/** Beside them of steps: a state, and its derivative. */
export const STATE = 2;
export const RATE = 3;
export const STEPPING = 4;

/** Behind such efforts: how much of a change is taken over, the largest change, and the largest force or effort. */
export const SETTLING = { part: 0, change: 1, scale: 2, count: 3 } as const;

/** How many numbers there are of each kind beside the kinematics. */
export type Sizes = Readonly<
  Record<
    | 'masses'
    | 'inertias'
    /** Of constraints, as their equations name them. */
    | 'numbers'
    /** Value, rate and second rate of what each driven coordinate follows; then what is added to it since it last took hold. */
    | 'courses'
    /** Numbers in formulas, and of what they take in. */
    | 'values'
    /** Time, and between what formulas see it. */
    | 'clock'
    /** Of loads that are stated: their numbers, what they take in and what they write. */
    | 'loads'
    /** Six to a body and to the ground: applied forces. */
    | 'F'
    /** Of each applied force, W. */
    | 'powers'
    /** Efforts of loads that follow from what constraints carry; then `SETTLING`. */
    | 'efforts'
    /** Of each row, 1 while it does not hold. */
    | 'off'
    /** Of each row of a joint that has closed again, what Φ was there. */
    | 'offsets'
    /** Of each row what it adds to M, where a body it touches has next to no inertia. */
    | 'weights'
    /** Twelve to a block. */
    | 'G'
    | 'gamma'
    | 'phi'
    /** Of each row, 1 where it counts: it holds, and is not redundant. */
    | 'counts'
    /** Φ̇ of rows, where it stands beside Φ. */
    | 'rates'
    /** Of each coordinate that is measured, its value and its rate. */
    | 'measured'
    /** u̇, then λ. */
    | 'solution'
    /** A right-hand side, and what solves it. */
    | 'x'
    | 'X'
    | 'inverse'
    /** Of each row that closes a loop: its pivot relative to the row alone. */
    | 'ratio'
    /** One: the smallest pivot of a body, relative to its diagonal; where bodies have next to no inertia. */
    | 'loosest'
    /** A right-hand side in the order of elimination. */
    | 'work'
    /** What passes from one part of the compiled code to the next. */
    | 'scratch'
    /** Times of records that are made in one call, and these. */
    | 'times'
    | 'records'
    /** How further states change, where expressions tell. */
    | 'stateRates'
    /** Tables of instances, where the machine is too large for code of its own. */
    | 'tables'
    /** States, derivatives and the like of a run. */
    | 'vectors',
    number
  >
>;

/** Places relative to the two bases. */
export interface Places {
  readonly kinematics: KinematicPlaces;
  readonly own: Sizes;
}
