/** What is read of a run, and of the machines next to it that have a number of the model changed. */
import type { Diagnosis } from '../diagnosis';
import type { Model } from '../model/document';
import { type ModelNumber, withChanged } from '../model/numbers';
import { type ScoreMeasured, measured } from '../results/measures';
import { Readings, times } from '../results/readings';
import type { RecordLayout } from '../results/record';
import { build } from '../system/build';
import type { Mechanism } from '../system/mechanism';

/** What is read of a run: when, and gauges by name. */
export interface Courses {
  readonly time: Float64Array;
  readonly of: ReadonlyMap<string, Float64Array>;
}

/** Gauges that are asked for, and those that scores are of. */
export const wantedOf = (m: Mechanism, gauges: readonly string[]): string[] =>
  [...new Set([...gauges, ...m.resolution.model.scores.flatMap(({ gauge, other }) => [String(gauge), String(other)])])].filter((x) =>
    m.gauges.includes(x),
  );
/** @param wanted names of gauges */
export function coursesOf(m: Mechanism, layout: RecordLayout, chunks: readonly Float64Array[], wanted: readonly string[]): Courses {
  const values = new Readings(m, layout).read(
    wanted.map((name) => m.channel(name)),
    chunks,
  );
  return { time: times(chunks, layout.width), of: new Map(wanted.map((name, i) => [name, values[i]!])) };
}
/** Scores of a machine, of courses that were read. */
export function scoresOf(m: Mechanism, { time, of }: Courses): ScoreMeasured[] {
  const { resolution } = m;
  return measured({
    // limits and workings are not asked
    resolution: { ...resolution, model: { ...resolution.model, limits: [], workings: [] } },
    unitOf: (gauge) => m.channel(gauge).unit,
    series: (gauge) => ({ time, values: of.get(gauge)!, dim: m.channel(gauge).dim }),
  }).scores;
}

/** A machine with a number changed; why there is none. */
export function machineWith(model: Model, number: ModelNumber, part: number, size: number): Mechanism | Diagnosis {
  const { mechanism, diagnoses } = build(withChanged(model, number, part, size)),
    error = diagnoses.find((d) => d.severity === 'error');
  if (mechanism && !error) return mechanism;
  return error ?? { code: 'sensitivity-structure', severity: 'error', message: 'There is no such machine.' };
}

/** Whether there is such a machine. */
export const isMachine = (x: Mechanism | Diagnosis | undefined): x is Mechanism => x !== undefined && 'system' in x;
