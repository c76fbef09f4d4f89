/** The analyses that give a run of recorded states, by name. */
import type { Analysis } from '../model/run-settings';
import type { Mechanism } from '../system/mechanism';
import { apart } from './apart';
import { simulate } from './dynamics';
import type { RunEvent, RunOptions } from './run-events';
import { kinematicRun, quasiStaticRun, staticRun } from './postures';

type Run = (m: Mechanism, options: RunOptions) => Generator<RunEvent, void, void>;
const inItsOwn =
  (run: Run): Run =>
  (m, options) =>
    apart(m, (own) => run(own, options));

const RUNS: Readonly<Record<Analysis, Run>> = {
  dynamic: simulate,
  kinematic: inItsOwn(kinematicRun),
  'quasi-static': inItsOwn(quasiStaticRun),
  static: inItsOwn(staticRun),
};

/** Runs a mechanism. @throws Refusal when it cannot start */
export const analyse = (m: Mechanism, options: RunOptions & { analysis?: Analysis }): Generator<RunEvent, void, void> =>
  RUNS[options.analysis ?? 'dynamic'](m, options);
