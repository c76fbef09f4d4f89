'use client';
import {
  Chart as ChartJs,
  type ChartDataset,
  Filler,
  Title,
  LineController,
  LineElement,
  LinearScale,
  LogarithmicScale,
  PointElement,
  type Scale,
  type ScaleOptionsByType,
} from 'chart.js';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Thinned, type SnapPlace, snapPlaces, snapTo } from '@vim-pivot/core/plots';
import { D, type Dimension, identical, localText, readUnit } from '@vim-pivot/core/page';
import { recordAt } from '@vim-pivot/core/scores';
import { moveCursor, useReadings, zoomTo } from '@/state/readings/readings';
import { setTime, useRuns } from '@/state/runs/runs';
import { useTheme } from '@/state/theme';
import { token } from '@/ui/ink';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, LogarithmicScale, Filler, Title);

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
function endOf(b: Bound | undefined, unit: string, factor: number, plain: boolean): number | undefined {
  if (!b) return undefined;
  const dim = readUnit(unit)?.dim ?? D.none;
  if (identical(b.dim, dim)) return b.value / factor;
  return identical(b.dim, D.none) && plain ? b.value : undefined;
}
const limitsOf = (min: number | undefined, max: number | undefined) => ({
  ...(min === undefined ? {} : { min }),
  ...(max === undefined ? {} : { max }),
});
const NO_RANGE: AxisRange = {};

/** Prepared once for each course, however often and wherever it is drawn. */
const prepared = new WeakMap<Float64Array, Thinned>();
const thinned = (x: Float64Array, y: Float64Array): Thinned => {
  let t = prepared.get(y);
  if (!t) prepared.set(y, (t = new Thinned(x, y)));
  return t;
};
/** Points of a curve over another gauge at most, before those that lie between their neighbours are left out. */
const MOST = 20_000;
/** So many points a chart draws without effort: below, nothing is left out. */
const EASY = 20_000;
/** While a chart is zoomed or shifted it has columns this many pixels wide, and is drawn finely once it rests, ms. */
const MOVING = 4,
  REST = 180;
/** A cursor is caught and snaps within so many pixels. */
const CATCH = 6,
  SNAP = 10;

/**
 * Width of lines, pixels. Where a line goes to and fro within the columns it is as thin as the screen can draw: measured ten to twenty times as quick
 * (bench/browser.ts).
 */
const LINE = 1.5,
  thin = () => 1 / (globalThis.devicePixelRatio || 1);

/** What a chart of a width draws of a trace. */
function points(
  t: Trace,
  across: Across,
  from: number,
  to: number,
  width: number,
  log: { x: boolean; y: boolean },
): { data: { x: number; y: number }[]; borderWidth: number; _decimated: boolean } {
  let crowded = false;
  const out: { x: number; y: number }[] = [];
  const add = (x: number, y: number) => {
    const v = log.y ? Math.abs(y) : y;
    if ((log.y && !(v > 0)) || (log.x && !(x > 0))) return;
    out.push({ x: x / across.factor, y: v / t.factor });
  };
  if (across.of !== 'gauge') crowded = thinned(t.x, t.y).columns(from, to, Math.round(width), add);
  else {
    const step = Math.max(1, Math.ceil(t.x.length / MOST));
    for (let i = 0; i < t.x.length; i += step) add(t.x[i]!, t.y[i]!);
  }
  // what is left is drawn as it is: the library would put it into columns of pixels once more, and smooth curves would look stepped
  return { data: out, borderWidth: crowded ? thin() : LINE, _decimated: !crowded };
}

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
  /** Stands above the curves. */ heading?: string;
  range?: AxisRange;
  name: string;
  traces: readonly Trace[];
  across: Across;
  logX?: boolean;
  logY?: boolean;
  digits?: number | undefined;
  height: number | string;
}) {
  const shared = useReadings((s) => s.span);
  const span = across.of === 'time' ? shared : undefined;
  const dragged = useRef(false);
  const hand = useRef<{ x: number; span: readonly [number, number]; cursor?: number; places?: SnapPlace[] }>(undefined);
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<ChartJs>(null);
  const cursor = useRef<HTMLDivElement>(null);
  const dark = useTheme((s) => s.dark);
  const [rested, setRested] = useState(0);
  const moved = useRef({ span, rested, at: -Infinity });
  const units = useMemo(() => [...new Set(traces.map((t) => t.unit))], [traces]);
  const now = useRef({ traces, across, units });
  useEffect(() => {
    now.current = { traces, across, units };
  }, [traces, across, units]);

  useEffect(() => {
    const c = new ChartJs(canvas.current!, {
      type: 'line',
      data: { datasets: [] },
      options: {
        animation: false,
        parsing: false,
        normalized: true,
        responsive: true,
        maintainAspectRatio: false,
        events: ['click'],
        layout: { padding: { right: 6 } },
        elements: { point: { radius: 0 } },
        onClick: (e, _hit, self) => {
          const x = self.scales.x?.getValueForPixel(e.x ?? 0);
          if (now.current.across.of === 'time' && x !== undefined && !dragged.current)
            setTime(Math.max(0, Math.min(x, self.scales.x!.max)));
        },
      },
      plugins: [
        { id: 'cursor', afterDraw: () => place() },
        { id: 'marks', afterDatasetsDraw: (self) => marks(self) },
      ],
    });
    chart.current = c;
    Object.assign(canvas.current!, { plot: c });
    /** The time is a line laid over the canvas, so that playing redraws no curve; over another gauge it is a spot. */
    function place() {
      const line = cursor.current,
        self = chart.current,
        x = self?.scales.x;
      if (!line || !self || !x) return;
      const { time, view } = useRuns.getState(),
        { traces: ts, across: a } = now.current,
        { top, bottom, left, right } = self.chartArea;
      if (a.of === 'time') {
        const at = x.getPixelForValue(time);
        line.style.display = view === 'run' && at > left - 1 && at < right + 1 ? '' : 'none';
        line.style.transform = `translate(${at}px, ${top}px)`;
        line.style.height = `${bottom - top}px`;
        self.canvas.dataset.cursor = String(at);
        return;
      }
      line.style.display = 'none';
      const spot = line.nextElementSibling as HTMLElement,
        t = ts[0],
        when = t?.time;
      spot.style.display = 'none';
      if (a.of !== 'gauge' || view !== 'run' || !t || !when) return;
      const k = recordAt(when, time);
      const y = self.scales.y0;
      if (!y || when.length === 0) return;
      spot.style.display = '';
      spot.style.transform = `translate(${x.getPixelForValue(t.x[k]! / a.factor) - 4}px, ${y.getPixelForValue(t.y[k]! / t.factor) - 4}px)`;
    }
    /** Cursors with their numbers, and the levels of limits. */
    function marks(self: ChartJs): void {
      const {
          ctx,
          chartArea: { left, right, top, bottom },
          scales,
        } = self,
        { traces: ts, across: a, units: us } = now.current;
      // the first drawing comes before there is anything to draw
      if (!scales.x) return;
      ctx.save();
      ctx.font = '10px "JetBrains Mono Variable"';
      const levels = a.of === 'time' || a.of === 'gauge' ? useReadings.getState().bounds : [];
      for (const b of levels) {
        const t = ts.find((x) => x.gauge === b.gauge),
          axis = t && scales[`y${us.indexOf(t.unit)}`];
        if (!t || !axis) continue;
        const y = axis.getPixelForValue(b.level / t.factor);
        if (y < top - 1 || y > bottom + 1) continue;
        ctx.strokeStyle = ctx.fillStyle = token('warn');
        ctx.setLineDash([5, 3]);
        ctx.beginPath();
        ctx.moveTo(left, y);
        ctx.lineTo(right, y);
        ctx.stroke();
        ctx.fillText(b.limit, left + 4, y - 3);
      }
      if (a.of === 'time') {
        ctx.setLineDash([3, 3]);
        useReadings.getState().cursors.forEach((t, i) => {
          const x = scales.x!.getPixelForValue(t);
          if (x < left || x > right) return;
          ctx.strokeStyle = token('ink');
          ctx.beginPath();
          ctx.moveTo(x, top);
          ctx.lineTo(x, bottom);
          ctx.stroke();
          ctx.fillStyle = token('ink');
          ctx.fillRect(x - 7, top, 14, 13);
          ctx.fillStyle = token('paper');
          ctx.textAlign = 'center';
          ctx.fillText(String(i + 1), x, top + 10);
          ctx.textAlign = 'left';
        });
      }
      ctx.restore();
    }
    const drawn = useReadings.subscribe((after, before) => {
      if (after.cursors !== before.cursors || after.bounds !== before.bounds) chart.current?.update('none');
    });
    const stop = useRuns.subscribe((after, before) => {
      if (after.time !== before.time || after.view !== before.view) place();
    });
    return () => {
      stop();
      drawn();
      c.destroy();
      chart.current = null;
    };
  }, []);

  const end = useMemo(() => traces.reduce((m, t) => Math.max(m, t.x.at(-1) ?? 0), 0), [traces]);
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
    const width = moving ? full / MOVING : Math.max(full, EASY / 2 / Math.max(1, traces.length)),
      from = span?.[0] ?? (across.of === 'time' ? 0 : -Infinity),
      to = span?.[1] ?? Infinity;
    c.data.datasets = traces.map((t): ChartDataset<'line'> => ({
      label: t.label,
      ...points(t, across, from, to, width, { x: logX, y: logY }),
      yAxisID: `y${units.indexOf(t.unit)}`,
      borderColor: t.colour,
      borderDash: t.dashed ? [4, 3] : [],
      ...(across.of === 'value'
        ? { stepped: 'before' as const, fill: 'origin', backgroundColor: `color-mix(in srgb, ${t.colour} 18%, transparent)` }
        : {}),
    }));
    const tick = { color: token('ink-2'), font: { family: 'JetBrains Mono Variable', size: 10 } };
    const shown = (v: number | string) =>
      localText(String(digits ? Number(Number(v).toPrecision(digits)) : typeof v === 'number' ? Number(v.toPrecision(6)) : v));
    const grid = { color: token('line') },
      border = { color: token('line') };
    const ticks = (unit: string, count: number) => ({
      ...tick,
      maxTicksLimit: count,
      maxRotation: 0,
      callback: (v: number | string, i: number, all: readonly unknown[]) =>
        i === all.length - 1 && unit !== '' ? `${shown(v)} ${unit}` : shown(v),
    });
    const scales: Record<string, object> = {
      x: {
        type: logX ? 'logarithmic' : 'linear',
        ...(across.of === 'time' ? { min: span?.[0] ?? 0, max: span?.[1] ?? (end || 1) } : {}),
        ...(span
          ? {}
          : limitsOf(endOf(range.left, across.unit, across.factor, true), endOf(range.right, across.unit, across.factor, true))),
        ...(across.of === 'gauge'
          ? {
              title: {
                display: true,
                text: `${across.label}${across.unit ? `, ${across.unit}` : ''}`,
                color: token('ink-2'),
                font: { size: 11 },
              },
            }
          : {}),
        grid,
        border,
        ticks: ticks(across.unit, 7),
      },
    };
    units.forEach((unit, i) => {
      const own = traces.filter((t) => t.unit === unit),
        levels =
          across.of === 'time'
            ? useReadings
                .getState()
                .bounds.filter((b) => own.some((t) => t.gauge === b.gauge))
                .map((b) => b.level / own[0]!.factor)
            : [];
      scales[`y${i}`] = {
        type: logY ? 'logarithmic' : 'linear',
        position: i === 0 ? 'left' : 'right',
        border,
        ticks: ticks(units.length > 1 ? unit : '', 5),
        grid: i === 0 ? grid : { drawOnChartArea: false },
        ...(levels.length > 0 && !logY ? { suggestedMin: Math.min(...levels), suggestedMax: Math.max(...levels) } : {}),
        ...limitsOf(endOf(range.low, unit, own[0]!.factor, i === 0), endOf(range.high, unit, own[0]!.factor, i === 0)),
        ...(across.of === 'gauge'
          ? {
              title: {
                display: true,
                text: `${[...new Set(own.map((t) => t.gauge))].join(', ')}${unit ? `, ${unit}` : ''}`,
                color: token('ink-2'),
                font: { size: 11 },
              },
            }
          : {}),
        ...(logY ? { afterBuildTicks: (axis: Scale) => (axis.ticks = decades(axis)) } : {}),
      };
    });
    c.options.scales = scales as unknown as Record<string, ScaleOptionsByType<'linear'>>;
    c.options.plugins = {
      title: {
        display: heading !== '',
        text: heading,
        color: token('ink'),
        font: { family: 'Archivo Variable', size: 13, weight: 600 },
        padding: { top: 2, bottom: 6 },
      },
    };
    c.update('none');
    c.canvas.dataset.took = (performance.now() - began).toFixed(1);
    return () => clearTimeout(rest);
  }, [traces, across, units, end, dark, span, logX, logY, digits, rested, range, heading]);

  const ends = (): readonly [number, number, number] => {
    // as it is now: several turns of the wheel may come before the page is drawn anew
    const s = useReadings.getState().span;
    return [s?.[0] ?? 0, s?.[1] ?? (end || 1), end || 1];
  };
  // the wheel is listened to directly: it must be able to keep the page from scrolling
  useEffect(() => {
    const element = canvas.current!;
    const wheel = (e: WheelEvent) => {
      const scale = chart.current?.scales.x;
      if (!scale || across.of !== 'time' || !(e.ctrlKey || e.shiftKey || e.altKey)) return;
      e.preventDefault();
      const at = scale.getValueForPixel(e.offsetX) ?? 0,
        [from, to, last] = ends(),
        k = Math.exp(Math.sign(e.deltaY || e.deltaX) * 0.25);
      zoomTo(at - (at - from) * k, at + (to - at) * k, last);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  });

  const pixelOf = (t: number) => chart.current?.scales.x?.getPixelForValue(t) ?? NaN;
  return (
    <div
      style={{ height }}
      className="relative min-h-0"
      data-chart={name}
      data-span={span ? span.map((t) => t.toFixed(4)).join(' to ') : 'all'}
    >
      <div
        ref={cursor}
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
        onPointerDown={(e) => {
          if (across.of !== 'time') return;
          const [from, to] = ends(),
            x = e.clientX - e.currentTarget.getBoundingClientRect().left;
          dragged.current = false;
          const { cursors } = useReadings.getState(),
            near = cursors.findIndex((t) => Math.abs(pixelOf(t) - x) <= CATCH);
          hand.current = { x: e.clientX, span: [from, to] };
          if (near < 0) return;
          const t = traces[0],
            { runs, current } = useRuns.getState(),
            run = runs.find((r) => r.id === current);
          hand.current.cursor = near;
          hand.current.places = t
            ? snapPlaces(
                { time: t.x, values: t.y, dim: [0, 0, 0, 0, 0, 0] },
                (run?.happenings ?? []).map((h) => h.t),
                useReadings.getState().violations.map((v) => v.from),
              )
            : [];
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          const h = hand.current,
            area = chart.current?.chartArea,
            scale = chart.current?.scales.x;
          if (!h || !area || !scale || Math.abs(e.clientX - h.x) < 4) return;
          if (h.cursor !== undefined) {
            dragged.current = true;
            const t = scale.getValueForPixel(e.clientX - e.currentTarget.getBoundingClientRect().left) ?? 0;
            const reach = ((h.span[1] - h.span[0]) * SNAP) / Math.max(1, area.right - area.left);
            h.cursor = moveCursor(h.cursor, Math.max(0, Math.min(end, e.altKey ? t : (snapTo(h.places ?? [], t, reach)?.at ?? t))));
            return;
          }
          if (!span) return;
          dragged.current = true;
          const shift = ((h.x - e.clientX) / (area.right - area.left)) * (h.span[1] - h.span[0]);
          zoomTo(h.span[0] + shift, h.span[1] + shift, ends()[2]);
        }}
        onPointerUp={() => (hand.current = undefined)}
        onPointerLeave={() => (hand.current = undefined)}
        onDoubleClick={() => across.of === 'time' && zoomTo(0, Infinity, ends()[2])}
        data-title={title}
        role="img"
        aria-label={`${heading || title} over ${across.label}${across.of === 'gauge' && across.unit ? ` (${across.unit})` : ''}${units.length === 1 ? `, ${units[0] || 'no unit'}` : ''}`}
      />
    </div>
  );
}

/** Only whole powers of ten on a logarithmic axis, unless there are fewer than two. */
function decades(axis: Scale): { value: number }[] {
  const whole = axis.ticks.filter((t) => Math.abs(Math.log10(t.value) - Math.round(Math.log10(t.value))) < 1e-6);
  return whole.length > 1 ? whole : axis.ticks;
}
