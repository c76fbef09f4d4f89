/** What a chart is given: curves, what runs across, and the ends of its axes. */
import { D, type Dimension, identical, readUnit } from '@vim-pivot/core/page';

/** A curve to draw: numbers in SI, and the unit they are shown in. */
export interface Trace {
  label: string;
  /** The gauge it belongs to: its limits are drawn, and cursors snap to its first trace. */
  gauge: string;
  x: Float64Array;
  y: Float64Array;
  /** When each was recorded, where it is drawn over something else. */
  time?: Float64Array;
  unit: string;
  factor: number;
  colour: string;
  dashed: boolean;
  /** Each place by itself, no line. */
  marks?: true;
}

/** What runs along the horizontal axis. Only a time has cursors, and is zoomed together with all other charts. */
export interface Across {
  of: 'time' | 'frequency' | 'gauge' | 'value';
  label: string;
  unit: string;
  factor: number;
}

/** An end of an axis: a number with its unit in SI, or a plain number as it is shown. */
export interface Bound {
  value: number;
  dim: Dimension;
}
export interface AxisRange {
  low?: Bound;
  high?: Bound;
  left?: Bound;
  right?: Bound;
}
/** An end as the axis of a unit counts it. @param plain whether plain numbers are meant for it */
export function endOf(b: Bound | undefined, unit: string, factor: number, plain: boolean): number | undefined {
  if (!b) return undefined;
  const dim = readUnit(unit)?.dim ?? D.none;
  if (identical(b.dim, dim)) return b.value / factor;
  return identical(b.dim, D.none) && plain ? b.value : undefined;
}
/** Ends of an axis where they are given. */
export const limitsOf = (min: number | undefined, max: number | undefined) => ({
  ...(min === undefined ? {} : { min }),
  ...(max === undefined ? {} : { max }),
});
export const NO_RANGE: AxisRange = {};
