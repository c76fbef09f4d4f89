/** What numbers of a model do to scores, from what these come to with a little less and a little more of each. */
import type { Diagnosis } from '../diagnosis';
import type { ModelNumber } from '../model/numbers';
import type { ScoreMeasured } from '../results/measures';

/** Part by which a number is less and more in the machines that tell what it does, where runs are differenced; and where machines alone are, then closer. */
export const PART = 2e-5;
export const CLOSER = [5e-6, 5e-7] as const;
/** One-sided derivatives that differ by more than this part of them are two. */
export const KINK = 0.05;
/** Part of a score by which they must do so. */
const LITTLE = 1e-3;
/** Differences of scores below this part of them are rounding. */
const ROUNDING = 1e-13;

/** Derivatives with less and with more of a number. */
export type Sides = readonly [less: number, more: number];
/** What a number does to a score. */
export interface Moves {
  /** Change of the score, SI, for a change of the number by 1 as it is written. */
  readonly slope: number;
  /** The same with less and with more of it, where these differ: the score has a kink here. */
  readonly sides?: Sides;
  /** Change of the score, SI, for a change by all that the number is measured against. */
  readonly whole: number;
  /** Percent of the score for a percent of what the number is measured against; left out where the score is 0. */
  readonly percent?: number;
}
export interface NumberMoves {
  readonly number: ModelNumber;
  /** By the scores; undefined where one has no value with a little less or more of it. */
  readonly moves?: readonly (Moves | undefined)[];
  /** Of gauges that were asked, by these: change over the run, SI, for a change of the number by 1 as it is written. */
  readonly curves?: readonly Float64Array[];
  /** Whether it was derived exactly: by going back from the scores, or forth with the number; left out: by differences. */
  readonly exactly?: 'back' | 'forth';
  /** Why nothing can be said. */
  readonly fault?: Pick<Diagnosis, 'code' | 'message' | 'why' | 'time'>;
}
/** Of a number that does one thing with less and another with more of it. */
export function bothSides(less: NumberMoves, more: NumberMoves): NumberMoves {
  const mean = (a: number, b: number) => (a + b) / 2;
  return {
    ...less,
    moves: less.moves!.map((a, i) => {
      const b = more.moves![i];
      return (
        a &&
        b && {
          slope: mean(a.slope, b.slope),
          sides: [a.slope, b.slope],
          whole: mean(a.whole, b.whole),
          ...(a.percent === undefined || b.percent === undefined ? {} : { percent: mean(a.percent, b.percent) }),
        }
      );
    }),
    ...(less.curves ? { curves: less.curves.map((c, g) => c.map((x, i) => mean(x, more.curves![g]![i]!))) } : {}),
  };
}
/** Whether less and more of a number do different things to a score. @param sides its one-sided derivatives @param rounding of these */
export const kinked = ([less, more]: Sides, score: number, rounding: number): boolean =>
  Math.abs(more - less) > KINK * (Math.abs(less) + Math.abs(more)) + LITTLE * Math.abs(score) + rounding;

/** @param whole what a change by 1 comes to in the number @param part by which it is less and more */
export function movesOf(
  score: ScoreMeasured,
  less: ScoreMeasured | undefined,
  more: ScoreMeasured | undefined,
  whole: number,
  part = PART,
): Moves | undefined {
  const [a, s, b] = [less?.value, score.value, more?.value];
  if (a === undefined || s === undefined || b === undefined) return undefined;
  const rounding = ROUNDING * Math.max(Math.abs(a), Math.abs(b)),
    change = Math.abs(b - a) <= rounding ? 0 : (b - a) / (2 * part),
    sides = [(s - a) / part, (b - s) / part] as const,
    kink = kinked(sides, s, (2 * rounding) / part);
  return {
    slope: change / whole,
    whole: change,
    ...(kink ? { sides: [sides[0] / whole, sides[1] / whole] as const } : {}),
    ...(s === 0 ? {} : { percent: change / Math.abs(s) }),
  };
}

/** The same from how the score changes with a change of the number by all that it is measured against. @param sides with less and with more of it */
export function movesBy({ value: s }: ScoreMeasured, found: number, whole: number, sides?: Sides): Moves | undefined {
  if (s === undefined) return undefined;
  const change = Math.abs(found) <= (ROUNDING * Math.abs(s)) / (2 * PART) ? 0 : found;
  return {
    slope: change / whole,
    whole: change,
    ...(sides ? { sides: [sides[0] / whole, sides[1] / whole] as const } : {}),
    ...(s === 0 ? {} : { percent: change / Math.abs(s) }),
  };
}
