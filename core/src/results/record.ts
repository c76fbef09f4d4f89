/** Layout of a recorded state: one row of numbers a time. What follows from a state (accelerations, multipliers) is worked out when it is read. */
import { stateSize } from '../equations/layout';
import type { Mechanism } from '../system/mechanism';

export interface RecordLayout {
  bodies: number;
  extra: number;
  /** Numbers of accelerations and multipliers. Earlier versions recorded them and left this out. */
  solution?: 0;
  /** Rows of constraints. */
  rows: number;
  angles: number;
  /** What elements remember. */
  memory: number;
  /** Numbers a row: t, state, angles, memory. */
  width: number;
}

const solutionOf = ({ solution, bodies, rows }: Omit<RecordLayout, 'width'>): number => solution ?? 6 * bodies + rows;
const wide = (l: Omit<RecordLayout, 'width'>): RecordLayout => ({
  ...l,
  width: 1 + stateSize(l.bodies, l.extra) + solutionOf(l) + l.angles + l.memory,
});

/** How the records of a mechanism are laid out: counts, and numbers to a record. */
export function recordLayout({ system, angles, memories: { cells: memory } }: Mechanism): RecordLayout {
  const { bodies, rows } = system;
  return wide({ bodies, extra: system.K.extra + 2 * system.own.coordinates, solution: 0, rows, angles: angles.length, memory });
}

/** How records of a width are laid out: as now, or as earlier versions did; undefined where it is neither. */
export function layoutOfWidth(m: Mechanism, width: number): RecordLayout | undefined {
  const now = recordLayout(m),
    { bodies, extra, rows, angles, memory } = now;
  return [now, wide({ bodies, extra, rows, angles, memory })].find((l) => l.width === width);
}

/** Where each part starts in a row. */
export const offsets = (l: RecordLayout) => {
  const state = 1;
  const acceleration = state + stateSize(l.bodies, l.extra);
  const angles = acceleration + solutionOf(l);
  return { state, acceleration, multipliers: acceleration + 6 * l.bodies, angles, memory: angles + l.angles };
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
  /** Bodies of which that was left out which their joints never allow: those that move in a plane, mostly. */
  folded?: number;
  /** Whether the machine was too large to be compiled as a whole, its equations being evaluated one by one. */
  oneByOne?: boolean;
  /** Steps of which every stage was projected, near singular positions. */
  guarded: number;
  smallestStep: number;
  largestStep: number;
  records: number;
  /** Largest residuals over the recorded times, m or 1, and m/s or 1/s. */
  positionResidual: number;
  velocityResidual: number;
}
