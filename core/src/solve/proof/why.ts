/** Why it is not proved that there are no other equilibria. */
export const OTHERWISE = 'it comes to a posture in which it may move in other ways';
export const UNTOLD = 'somewhere what pushes it cannot be told from nothing';
export const LONG = 'that would take too long';

/** Operations of interval arithmetic, at most: some seconds. */
export const WORK = 4e7;

/** Thrown where nothing can be proved of a machine; the message says why. */
export class Unproved extends Error {}
