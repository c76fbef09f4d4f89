/** Limits of travel, which URDF has and the model has not: they stand as stops. */

/**
 * A limit of travel becomes a stop that gives so much (rad or m) under the rated effort, or under this effort where none is stated; beyond this range
 * there is none. Damping: s.
 */
export const GIVES = 0.01,
  RATED = { torque: 100, force: 1000 },
  ENDLESS = 1e6,
  SLOWS = 1e-3;
