/** What a run is asked and what it answers: how its records are laid out, the records, progress, and how it ended. */
import type { Diagnosis } from '../diagnosis';
import type { Method, Planar } from '../model/run-settings';
import type { RecordLayout, RunStatistics } from '../results/record';
import type { RunStatus } from '../results/status';
import type { Happening } from './events';

export interface RunOptions {
  /** End time, s. */
  until: number;
  /** Recording interval, s. */
  every: number;
  /** Asked accuracy of the motion, relative. */
  accuracy: number;
  /** Longest step of a dynamic run, s; left out: see `longest-step.ts`. */
  longest?: number;
  /** Whether what joints never allow is left out of a dynamic run; by itself where nothing is said. */
  planar?: Planar;
  /** Integration method; `auto` takes the explicit one until stability holds it back. */
  method?: Method;
  /** State to start from instead of the assembled one: as recorded by a run of the same mechanism. */
  start?: Float64Array;
  /** Set by the caller to end the run; what was computed is kept. */
  signal?: { cancelled: boolean };
}

export type RunEvent =
  | { type: 'begin'; layout: RecordLayout }
  | { type: 'records'; count: number; data: Float64Array; t: number }
  | { type: 'progress'; t: number }
  | { type: 'end'; status: RunStatus; t: number; statistics: RunStatistics; diagnoses: Diagnosis[]; happenings: Happening[] };

/** The statistics of a run that has not begun. */
export const noStatistics = (): RunStatistics => ({
  steps: 0,
  rejected: 0,
  evaluations: 0,
  factorisations: 0,
  jacobians: 0,
  guarded: 0,
  implicit: 0,
  smallestStep: Infinity,
  largestStep: 0,
  records: 0,
  positionResidual: 0,
  velocityResidual: 0,
  limits: { accuracy: 0, stability: 0, longest: 0, singular: 0, event: 0, error: 0 },
});
