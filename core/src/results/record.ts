/** Layout of a recorded state: one row of numbers a time. */
import type { Mechanism } from '../system/mechanism';

export interface RecordLayout {
  bodies: number;
  extra: number;
  rows: number;
  angles: number;
  /** What elements remember. */
  memory: number;
  /** Numbers a row: t, state, accelerations, multipliers, angles, memory. */
  width: number;
}

/** How the records of a mechanism are laid out: counts, and numbers to a record. */
export function recordLayout({ system, angles, memories: { cells: memory } }: Mechanism): RecordLayout {
  const { bodies, rows } = system;
  const extra = system.K.extra;
  return { bodies, extra, rows, angles: angles.length, memory, width: 1 + system.size + 6 * bodies + rows + angles.length + memory };
}

/** Where each part starts in a row. */
export const offsets = (l: RecordLayout) => {
  const state = 1;
  const acceleration = state + 13 * l.bodies + l.extra;
  const multipliers = acceleration + 6 * l.bodies;
  const angles = multipliers + l.rows;
  return { state, acceleration, multipliers, angles, memory: angles + l.angles };
};

/** A recorded row as a start for another run: its state, and what elements remember. */
export function startFrom(l: RecordLayout, row: Float64Array): Float64Array {
  const { state, acceleration, memory } = offsets(l);
  const out = new Float64Array(acceleration - state + l.memory);
  out.set(row.subarray(state, acceleration));
  out.set(row.subarray(memory, memory + l.memory), acceleration - state);
  return out;
}

export interface RunStatistics {
  steps: number;
  rejected: number;
  evaluations: number;
  factorisations: number;
  /** Jacobians of the implicit method. */
  jacobians: number;
  /** Steps of the implicit method. */
  implicit: number;
  /** What set the step, in counts of steps: accuracy, stability, the longest step allowed, a singular position, an event; and rejections. */
  limits: { accuracy: number; stability: number; longest: number; singular: number; event: number; error: number };
  /** Steps of which every stage was projected, near singular positions. */
  guarded: number;
  smallestStep: number;
  largestStep: number;
  records: number;
  /** Largest residuals over the recorded times, m or 1, and m/s or 1/s. */
  positionResidual: number;
  velocityResidual: number;
}
