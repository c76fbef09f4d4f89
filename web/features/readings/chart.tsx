'use client';
import { useMemo } from 'react';
import { Plot } from './plot/plot';
import type { Across } from './plot/trace';

export interface Line {
  label: string;
  time: Float64Array;
  values: Float64Array;
  dashed: boolean;
  colour: string;
}

export const TIME: Across = { of: 'time', label: 'time', unit: 's', factor: 1 };

/** One gauge over the time, in one or several runs. */
export function TimeChart({
  lines,
  unit,
  factor,
  title,
  height,
}: {
  lines: readonly Line[];
  unit: string;
  factor: number;
  title: string;
  height: number;
}) {
  const traces = useMemo(
    () => lines.map((l) => ({ label: l.label, gauge: title, x: l.time, y: l.values, unit, factor, colour: l.colour, dashed: l.dashed })),
    [lines, title, unit, factor],
  );
  return <Plot title={title} name={title} traces={traces} across={TIME} height={height} />;
}
