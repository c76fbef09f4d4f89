/** A whole run in one call, for the command line, tests and studies. */
import { type Diagnosis, Refusal } from '../diagnosis';
import type { Model } from '../model/document';
import type { Analysis } from '../model/run-settings';
import type { RunEvent, RunOptions } from '../solve/run-events';
import { Pace, holdUp } from '../solve/hold-up';
import { analyse } from '../solve/run';
import type { Mechanism } from '../system/mechanism';
import { check } from '../checks/check';
import { Readings, times } from '../results/readings';
import { type RecordLayout, recordLayout, startFrom } from '../results/record';

export interface FinishedRun {
  mechanism: Mechanism;
  /** How its records are laid out. */
  layout: RecordLayout;
  chunks: Float64Array[];
  time: Float64Array;
  end: Extract<RunEvent, { type: 'end' }>;
  /** Values of a gauge over the run, SI: read once, and the same list whenever it is asked for. @throws Refusal */
  gauge(name: string): Float64Array;
  /** A recorded state, to start another run from. */
  state(record: number): Float64Array;
}

/** For runs that are watched: a clock, s, and who is told when one is slow. */
export interface Watched {
  clock(): number;
  slow(d: Diagnosis): void;
}

/** Checks and runs a model. @throws Refusal with every error that stands in the way */
export function runModel(model: Model, options: Partial<RunOptions & { analysis: Analysis }> = {}, watched?: Watched): FinishedRun {
  const report = check(model);
  const errors = report.diagnoses.filter((d) => d.severity === 'error');
  const { mechanism } = report.built;
  if (errors.length > 0 || !mechanism) throw new Refusal(errors);
  const chunks: Float64Array[] = [];
  let layout = recordLayout(mechanism);
  let end: FinishedRun['end'] | undefined;
  const asked = { ...mechanism.resolution.run, ...options },
    pace = watched && new Pace(asked.until, watched.clock());
  for (const e of analyse(mechanism, asked)) {
    const slow = e.type === 'progress' && pace?.look(e.t, watched!.clock());
    if (slow) watched!.slow(holdUp(mechanism, e.t, slow));
    if (e.type === 'begin') ({ layout } = e);
    else if (e.type === 'records') chunks.push(e.data);
    else if (e.type === 'end') end = e;
  }
  const readings = new Readings(mechanism, layout),
    /** Gauges that were asked for. */
    read = new Map<string, Float64Array>();
  return {
    mechanism,
    layout,
    chunks,
    end: end!,
    time: times(chunks, layout.width),
    state(record) {
      const { width } = layout;
      let skip = record;
      for (const c of chunks) {
        const n = c.length / width;
        if (skip < n) return startFrom(layout, c.subarray(skip * width, (skip + 1) * width));
        skip -= n;
      }
      throw new RangeError(`record ${record} of ${chunks.length}`);
    },
    gauge(name) {
      const known = read.get(name) ?? readings.read([mechanism.channel(name)], chunks)[0]!;
      read.set(name, known);
      return known;
    },
  };
}
