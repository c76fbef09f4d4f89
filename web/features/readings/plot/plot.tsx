'use client';
import { useMemo, useRef } from 'react';
import { useReadings } from '@/state/readings/readings';
import { type Across, type AxisRange, NO_RANGE, type Trace } from './trace';
import { useChart } from './use-chart';
import { useHand } from './use-hand';

/** Curves on one axis for each unit. Over the time: with the time, numbered cursors and the levels of limits; a click goes there. */
export function Plot({
  title,
  name,
  traces,
  across,
  logX = false,
  logY = false,
  digits,
  range = NO_RANGE,
  heading = '',
  height,
}: {
  title: string;
  /** Stands above the curves. */
  heading?: string;
  range?: AxisRange;
  name: string;
  traces: readonly Trace[];
  across: Across;
  logX?: boolean;
  logY?: boolean;
  digits?: number | undefined;
  height: number | string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const time = useRef<HTMLDivElement>(null);
  const shared = useReadings((s) => s.span);
  const span = across.of === 'time' ? shared : undefined;
  const units = useMemo(() => [...new Set(traces.map((t) => t.unit))], [traces]);
  const end = useMemo(() => traces.reduce((m, t) => Math.max(m, t.x.at(-1) ?? 0), 0), [traces]);
  const chart = useChart(canvas, time, { traces, across, units, end, span, range, logX, logY, digits, heading });
  const handlers = useHand(canvas, chart, traces, across, end);

  return (
    <div
      style={{ height }}
      className="relative min-h-0"
      data-chart={name}
      data-span={span ? span.map((t) => t.toFixed(4)).join(' to ') : 'all'}
    >
      <div
        ref={time}
        aria-hidden="true"
        className="pointer-events-none absolute left-[-0.7px] top-0 w-[1.4px] bg-accent"
        style={{ display: 'none' }}
      />
      <div
        aria-hidden="true"
        className="pointer-events-none absolute left-0 top-0 h-2 w-2 rounded-full bg-accent"
        style={{ display: 'none' }}
      />
      <canvas
        ref={canvas}
        title={
          across.of === 'time'
            ? 'Click: go there. Ctrl or Shift with the wheel: zoom in time. Drag: shift, or a cursor. Double click: all.'
            : undefined
        }
        {...handlers}
        data-title={title}
        role="img"
        aria-label={`${heading || title} over ${across.label}${across.of === 'gauge' && across.unit ? ` (${across.unit})` : ''}${units.length === 1 ? `, ${units[0] || 'no unit'}` : ''}`}
      />
    </div>
  );
}
