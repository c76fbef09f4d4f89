/** A chart made once and drawn anew when what it shows changes. */
import {
  Chart,
  type ChartDataset,
  Filler,
  LineController,
  LineElement,
  LinearScale,
  LogarithmicScale,
  PointElement,
  Title,
} from 'chart.js';
import { type RefObject, useEffect, useRef, useState } from 'react';
import { useReadings } from '@/state/readings/readings';
import { useRuns } from '@/state/runs/runs';
import { useTheme } from '@/state/theme';
import { token } from '@/ui/ink';
import { type Drawn, drawMarks, placeTime } from './marks';
import { points } from './points';
import { type Axes, scalesOf } from './scales';

Chart.register(LineController, LineElement, PointElement, LinearScale, LogarithmicScale, Filler, Title);

/** So many points a chart draws without effort: below, nothing is left out. */
const EASY = 20_000;
/** While a chart is zoomed or shifted it has columns this many pixels wide, and is drawn finely once it rests, ms. */
const MOVING = 4,
  REST = 180;

export interface Shown extends Axes {
  heading: string;
}

/** @param time the line that stands at the time shown */
export function useChart(
  canvas: RefObject<HTMLCanvasElement | null>,
  time: RefObject<HTMLElement | null>,
  shown: Shown,
): RefObject<Chart | null> {
  const chart = useRef<Chart>(null);
  const { traces, across, units, end, span, range, logX, logY, digits, heading } = shown;
  const dark = useTheme((s) => s.dark);
  const [rested, setRested] = useState(0);
  const moved = useRef({ span, rested, at: -Infinity });
  const now = useRef<Drawn>({ traces, across, units });
  useEffect(() => {
    now.current = { traces, across, units };
  }, [traces, across, units]);

  useEffect(() => {
    const place = () => placeTime(time.current, chart.current, now.current);
    const c = made(canvas.current!, place, (self) => drawMarks(self, now.current));
    chart.current = c;
    const leave = [
      useReadings.subscribe((after, before) => {
        if (after.cursors !== before.cursors || after.limits !== before.limits) chart.current?.update('none');
      }),
      useRuns.subscribe((after, before) => {
        if (after.time !== before.time || after.view !== before.view) place();
      }),
    ];
    return () => {
      leave.forEach((off) => off());
      c.destroy();
      chart.current = null;
    };
  }, [canvas, time]);

  useEffect(() => {
    const c = chart.current;
    if (!c) return;
    const began = performance.now(),
      before = moved.current,
      full = Math.max(50, canvas.current?.clientWidth || 600);
    // the second change in quick succession and those after it
    const moving = before.span !== span && began - before.at < REST && traces.length * full * 2 > EASY / 2;
    moved.current = { span, rested, at: before.span !== span ? began : before.at };
    const rest = moving ? setTimeout(() => setRested((n) => n + 1), REST) : undefined;
    const width = moving ? full / MOVING : Math.max(full, EASY / 2 / Math.max(1, traces.length));
    const axes = { traces, across, units, end, span, range, logX, logY, digits };
    c.data.datasets = datasetsOf(axes, width);
    c.options.scales = scalesOf(axes);
    c.options.plugins = { title: headed(heading) };
    c.update('none');
    c.canvas.dataset.took = (performance.now() - began).toFixed(1);
    return () => clearTimeout(rest);
  }, [canvas, traces, across, units, end, dark, span, logX, logY, digits, rested, range, heading]);
  return chart;
}

function made(canvas: HTMLCanvasElement, place: () => void, marks: (self: Chart) => void): Chart {
  const c = new Chart(canvas, {
    type: 'line',
    data: { datasets: [] },
    options: {
      animation: false,
      parsing: false,
      normalized: true,
      responsive: true,
      maintainAspectRatio: false,
      events: [],
      layout: { padding: { right: 6 } },
      elements: { point: { radius: 0 } },
    },
    plugins: [
      { id: 'cursor', afterDraw: place },
      { id: 'marks', afterDatasetsDraw: marks },
    ],
  });
  // what is drawn on a canvas no document tells: tests ask the chart
  return Object.assign(canvas, { plot: c }).plot;
}

/** @param width of the chart, pixels */
function datasetsOf({ traces, across, units, span, logX, logY }: Axes, width: number): ChartDataset<'line'>[] {
  const from = span?.[0] ?? (across.of === 'time' ? 0 : -Infinity),
    to = span?.[1] ?? Infinity;
  return traces.map((t) => ({
    label: t.label,
    ...points(t, across, from, to, width, { x: logX, y: logY }),
    yAxisID: `y${units.indexOf(t.unit)}`,
    borderColor: t.colour,
    borderDash: t.dashed ? [4, 3] : [],
    ...(t.marks ? { showLine: false, pointRadius: 3, pointBackgroundColor: t.colour } : {}),
    ...(across.of === 'value'
      ? { stepped: 'before' as const, fill: 'origin', backgroundColor: `color-mix(in srgb, ${t.colour} 18%, transparent)` }
      : {}),
  }));
}

const headed = (text: string) => ({
  display: text !== '',
  text,
  color: token('ink'),
  font: { family: 'Archivo Variable', size: 13, weight: 600 as const },
  padding: { top: 2, bottom: 6 },
});
