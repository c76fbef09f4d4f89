/** Layout of a recorded state: one row of numbers a time. What follows from a state (accelerations, multipliers) is worked out when it is read. */
import { stateSize } from '../equations/layout';
import { ANALYSIS_WORDS } from '../model/run-settings';
import type { Mechanism } from '../system/mechanism';
import { type Told, Telling, isTold, toldSize } from '../equations/told';

export interface RecordLayout {
  bodies: number;
  extra: number;
  /** What is told of the bodies; left out: everything. */
  told?: Told;
  /** They are of a machine at rest, whose drives stand. */
  standing?: boolean;
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

type Parts = Omit<RecordLayout, 'width'>;
const solutionOf = ({ solution, bodies, rows }: Parts): number => solution ?? 6 * bodies + rows;
const stateOf = ({ bodies, extra, told }: Parts): number => (told ? toldSize(told) + extra : stateSize(bodies, extra));
const wide = (l: Parts): RecordLayout => ({ ...l, width: 1 + stateOf(l) + solutionOf(l) + l.angles + l.memory });

/** How the records of a mechanism are laid out: counts, and numbers to a record. @param told of its bodies; left out: everything */
export function recordLayout({ system, angles, memories: { cells: memory } }: Mechanism, told?: Told): RecordLayout {
  const { bodies, rows } = system,
    extra = system.K.extra + 2 * system.own.coordinates;
  return wide({ bodies, extra, ...(told ? { told } : {}), solution: 0, rows, angles: angles.length, memory });
}

/** How records of a width are laid out: as now, or as earlier versions did; undefined where it is neither. @param told what is said of their bodies */
export function layoutOfWidth(m: Mechanism, width: number, told?: unknown): RecordLayout | undefined {
  const now = recordLayout(m),
    { bodies, extra, rows, angles, memory } = now;
  const possible =
      told === undefined
        ? [now, wide({ bodies, extra, rows, angles, memory })]
        : [told].filter((x) => isTold(x, bodies)).map((x) => recordLayout(m, x)),
    found = possible.find((l) => l.width === width);
  return found && ANALYSIS_WORDS[m.resolution.run.analysis].rest ? { ...found, standing: true } : found;
}

/** Where each part starts in a row. */
export const offsets = (l: RecordLayout) => {
  const state = 1;
  const acceleration = state + stateOf(l);
  const angles = acceleration + solutionOf(l);
  return { state, acceleration, multipliers: acceleration + 6 * l.bodies, angles, memory: angles + l.angles };
};

/** Reads the states of recorded rows, everything told, and writes them. */
export class RecordedStates {
  readonly size: number;
  private readonly from: number;
  private readonly telling: Telling | undefined;
  constructor(layout: RecordLayout) {
    const { bodies, extra, told } = layout;
    this.size = stateSize(bodies, extra);
    this.from = offsets(layout).state;
    this.telling = told && new Telling(told, extra);
  }
  /** @param at where the row begins */
  read(rows: Float64Array, at: number, state: Float64Array): void {
    const { telling, from, size } = this;
    if (telling) telling.state(rows, at + from, state);
    else state.set(rows.subarray(at + from, at + from + size));
  }
  write(state: Float64Array, rows: Float64Array, at: number): void {
    const { telling, from } = this;
    if (telling) telling.tell(state, rows, at + from);
    else rows.set(state, at + from);
  }
}

/** A recorded row as a start for another run: its state, and what elements remember. */
export function startFrom(l: RecordLayout, row: Float64Array): Float64Array {
  const states = new RecordedStates(l),
    { memory } = offsets(l),
    out = new Float64Array(states.size + l.memory);
  states.read(row, 0, out);
  out.set(row.subarray(memory, memory + l.memory), states.size);
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
  /** Whether the machine was too large to be compiled as a whole, its equations being evaluated kind by kind (by earlier versions one by one). */
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
