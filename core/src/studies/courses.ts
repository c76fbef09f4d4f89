/** What is read of a run, and of the machines next to it that have a number of the model changed. */
import type { Diagnosis } from '../diagnosis';
import type { Model } from '../model/document';
import { type ModelNumber, withChanged } from '../model/numbers';
import { type ScoreMeasured, measured } from '../results/measures';
import { slopesOfScore } from '../results/score-slopes';
import type { ScoreAsked, Series } from '../results/scores';
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

/** By name what is asked of a course for each score. */
const askedOf = (m: Mechanism): Map<string, ScoreAsked> =>
  new Map(m.resolution.elements.scores.map(({ name, values }) => [name, values as unknown as ScoreAsked]));

/**
 * How a score changes with each record of each gauge; undefined for one that has no value, or no derivative.
 * @param wanted names of gauges
 */
export function slopesOf(
  m: Mechanism,
  { time, of }: Courses,
  { name, gauge, value }: ScoreMeasured,
  wanted: readonly string[],
): readonly Float64Array[] | undefined {
  const values = askedOf(m).get(name),
    series = (g: string): Series => ({ time, values: of.get(g)!, dim: m.channel(g).dim }),
    other = (values as { other?: string } | undefined)?.other,
    by = value === undefined || !values ? undefined : slopesOfScore(values, series(gauge), other ? series(other) : undefined);
  return (
    by &&
    wanted.map((w) => {
      const out = w === gauge ? by.own.slice() : new Float64Array(time.length);
      if (w === other) by.other?.forEach((x, i) => (out[i] = out[i]! + x));
      return out;
    })
  );
}
/** Whether the same is asked of courses in two machines. */
export const askAlike = (one: Mechanism, other: Mechanism): boolean =>
  JSON.stringify([...askedOf(one)]) === JSON.stringify([...askedOf(other)]);

/** The machine of a model with a number of it changed; why there is none. */
export function machineWith(model: Model, number: ModelNumber, part: number, { size, resolution }: Mechanism): Mechanism | Diagnosis {
  const { mechanism, diagnoses } = build(withChanged(model, number, part, size), resolution),
    error = diagnoses.find((d) => d.severity === 'error');
  if (mechanism && !error) return mechanism;
  return error ?? { code: 'sensitivity-structure', severity: 'error', message: 'There is no such machine.' };
}

/** Whether there is such a machine. */
export const isMachine = (x: Mechanism | Diagnosis | undefined): x is Mechanism => x !== undefined && 'system' in x;
