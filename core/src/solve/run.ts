/** The analyses that give a run of recorded states, by name. */
import type { Analysis } from '../model/run-settings';
import type { Mechanism } from '../system/mechanism';
import { simulate } from './dynamics';
import type { RunEvent, RunOptions } from './run-events';
import { kinematicRun, quasiStaticRun, staticRun } from './postures';

const RUNS: Readonly<Record<Analysis, (m: Mechanism, options: RunOptions) => Generator<RunEvent, void, void>>> = {
  dynamic: simulate,
  kinematic: kinematicRun,
  'quasi-static': quasiStaticRun,
  static: staticRun,
};

/** Runs a mechanism. @throws Refusal when it cannot start */
export const analyse = (m: Mechanism, options: RunOptions & { analysis?: Analysis }): Generator<RunEvent, void, void> =>
  RUNS[options.analysis ?? 'dynamic'](m, options);
