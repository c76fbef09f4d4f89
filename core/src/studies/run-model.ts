/** A whole run in one call, for the command line, tests and studies. */
import { type Diagnosis, Refusal } from '../diagnosis';
import type { Model } from '../model/document';
import type { Analysis } from '../model/run-settings';
import type { RunEvent, RunOptions } from '../solve/dynamics';
import { analyse } from '../solve/run';
import { type Mechanism } from '../system/mechanism';
import { check } from '../checks/check';
import { LimitGuard } from '../results/guard';
import { Readings, times } from '../results/readings';
import { offsets, recordLayout } from '../results/record';

export interface FinishedRun {
  mechanism: Mechanism;
  chunks: Float64Array[];
  time: Float64Array;
  end: Extract<RunEvent, { type: 'end' }>;
  /** Values of a gauge over the run, SI. @throws Refusal */
  gauge(name: string): Float64Array;
  /** A recorded state, to start another run from. */
  state(record: number): Float64Array;
}

/** Checks and runs a model. @throws Refusal with every error that stands in the way */
export function runModel(model: Model, options: Partial<RunOptions & { analysis: Analysis }> = {}): FinishedRun {
  const report = check(model);
  const errors = report.diagnoses.filter((d) => d.severity === 'error');
  const { mechanism } = report.built;
  if (errors.length > 0 || !mechanism) throw new Refusal(errors);
  const chunks: Float64Array[] = [];
  let end: FinishedRun['end'] | undefined;
  const guard = new LimitGuard(mechanism.model), signal = options.signal ?? { cancelled: false };
  let stopped: Diagnosis | undefined;
  for (const e of analyse(mechanism, { ...mechanism.resolution.run, ...options, signal })) {
    if (e.type === 'records') {
      chunks.push(e.data);
      stopped ??= guard.passed(e.data);
      if (stopped) signal.cancelled = true;
    } else if (e.type === 'end') end = stopped ? { ...e, diagnoses: [...e.diagnoses, stopped] } : e;
  }
  const readings = new Readings(mechanism);
  return {
    mechanism, chunks, end: end!,
    time: times(chunks, recordLayout(mechanism).width),
    state(record) {
      const { state, acceleration } = offsets(recordLayout(mechanism));
      const { width } = recordLayout(mechanism);
      let skip = record;
      for (const c of chunks) {
        const n = c.length / width;
        if (skip < n) return c.slice(skip * width + state, skip * width + acceleration);
        skip -= n;
      }
      throw new RangeError(`record ${record} of ${chunks.length}`);
    },
    gauge: (name) => readings.read([mechanism.channel(name)], chunks)[0]!,
  };
}
