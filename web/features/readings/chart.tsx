'use client';
import { CategoryScale, Chart as ChartJs, LineController, LineElement, LinearScale, PointElement } from 'chart.js';
import { useEffect, useRef } from 'react';
import { useRuns, setTime } from '@/state/runs';
import { useReadings, zoomTo } from '@/state/readings';
import { thin } from './thin';
import { useTheme } from '@/state/theme';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, CategoryScale);

export interface Line {
  label: string;
  time: Float64Array;
  values: Float64Array;
  dashed: boolean;
  colour: string;
}

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();

/** The records within a span, with one more at each end. */
function part(time: Float64Array, values: Float64Array, span: readonly [number, number] | undefined): [Float64Array, Float64Array] {
  if (!span) return [time, values];
  const first = (t: number) => {
    let lo = 0, hi = time.length;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (time[mid]! < t) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  };
  const from = Math.max(0, first(span[0]) - 1), to = Math.min(time.length, first(span[1]) + 2);
  return [time.subarray(from, to), values.subarray(from, to)];
}

/** A scale reaches to the limits of its gauge. */
function room(gauge: string, factor: number): { suggestedMin?: number; suggestedMax?: number } {
  const levels = useReadings.getState().bounds.filter((b) => b.gauge === gauge).map((b) => b.level / factor);
  return levels.length === 0 ? {} : { suggestedMin: Math.min(...levels), suggestedMax: Math.max(...levels) };
}

/** Curves over time with the time cursor; a click puts the cursor, and with it the machine, at that time. */
export function TimeChart({ lines, unit, factor, title, height }: { lines: readonly Line[]; unit: string; factor: number; title: string; height: number }) {
  const span = useReadings((s) => s.span);
  const dragged = useRef(false);
  const hand = useRef<{ x: number; span: readonly [number, number] }>(undefined);
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<ChartJs>(null);
  const cursor = useRef<HTMLDivElement>(null);
  const dark = useTheme((s) => s.dark);
  const by = useRef({ factor, title });
  useEffect(() => {
    by.current = { factor, title };
  }, [factor, title]);

  useEffect(() => {
    const c = new ChartJs(canvas.current!, {
      type: 'line',
      data: { datasets: [] },
      options: {
        animation: false, parsing: false, normalized: true, responsive: true, maintainAspectRatio: false, events: ['click'],
        layout: { padding: { right: 6 } },
        elements: { point: { radius: 0 } },
        scales: { x: { type: 'linear' }, y: { type: 'linear' } },
        onClick: (e, _hit, self) => {
          const x = self.scales.x!.getValueForPixel(e.x ?? 0);
          if (x !== undefined && !dragged.current) setTime(Math.max(0, Math.min(x, self.scales.x!.max)));
        },
      },
      plugins: [{ id: 'cursor', afterDraw: () => place() }, { id: 'marks', afterDatasetsDraw: (self) => marks(self) }],
    });
    chart.current = c;
    /** The cursor is a line laid over the canvas, so that playing redraws no curve. */
    function place() {
      const line = cursor.current;
      const self = chart.current;
      const x = self?.scales.x;
      if (!line || !self || !x) return;
      const { time, view } = useRuns.getState();
      const at = x.getPixelForValue(time);
      const { top, bottom, left, right } = self.chartArea;
      line.style.display = view === 'run' && at > left - 1 && at < right + 1 ? '' : 'none';
      line.style.transform = `translate(${at}px, ${top}px)`;
      line.style.height = `${bottom - top}px`;
      self.canvas.dataset.cursor = String(at);
    }
    /** Cursors with their numbers, and the levels of limits. */
    function marks(self: ChartJs): void {
      const { ctx, chartArea: { left, right, top, bottom }, scales } = self;
      ctx.save();
      ctx.font = '10px "JetBrains Mono Variable"';
      for (const b of useReadings.getState().bounds.filter((x) => x.gauge === by.current.title)) {
        const y = scales.y!.getPixelForValue(b.level / by.current.factor);
        if (y < top - 1 || y > bottom + 1) continue;
        ctx.strokeStyle = ctx.fillStyle = token('warn');
        ctx.setLineDash([5, 3]);
        ctx.beginPath();
        ctx.moveTo(left, y);
        ctx.lineTo(right, y);
        ctx.stroke();
        ctx.fillText(b.limit, left + 4, y - 3);
      }
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
      ctx.restore();
    }
    const drawn = useReadings.subscribe((now, before) => {
      if (now.cursors !== before.cursors || now.bounds !== before.bounds) chart.current?.update('none');
    });
    const stop = useRuns.subscribe((now, before) => {
      if (now.time !== before.time || now.view !== before.view) place();
    });
    return () => {
      stop();
      drawn();
      c.destroy();
      chart.current = null;
    };
  }, []);

  useEffect(() => {
    const c = chart.current;
    if (!c) return;
    c.data.datasets = lines.map((l) => ({
      label: l.label,
      data: thin(...part(l.time, l.values, span), factor, canvas.current?.clientWidth || 600),
      borderColor: l.colour, borderWidth: 1.5, borderDash: l.dashed ? [4, 3] : [],
    }));
    const tick = { color: token('ink-2'), font: { family: 'JetBrains Mono Variable', size: 10 } };
    const end = Math.max(0, ...lines.map((l) => l.time.at(-1) ?? 0));
    c.options.scales = {
      x: { type: 'linear', min: span?.[0] ?? 0, max: span?.[1] ?? (end || 1), grid: { color: token('line') }, border: { color: token('line') }, ticks: { ...tick, maxTicksLimit: 7, maxRotation: 0, callback: (v, i, all) => (i === all.length - 1 ? `${v} s` : `${v}`) } },
      y: { type: 'linear', ...room(title, factor), grid: { color: token('line') }, border: { color: token('line') }, ticks: { ...tick, maxTicksLimit: 5 } },
    };
    c.update('none');
  }, [lines, factor, title, dark, span]);

  const ends = (): readonly [number, number, number] => {
    const end = Math.max(0, ...lines.map((l) => l.time.at(-1) ?? 0)) || 1;
    // as it is now: several turns of the wheel may come before the page is drawn anew
    const now = useReadings.getState().span;
    return [now?.[0] ?? 0, now?.[1] ?? end, end];
  };
  // the wheel is listened to directly: it must be able to keep the page from scrolling
  useEffect(() => {
    const element = canvas.current!;
    const wheel = (e: WheelEvent) => {
      const scale = chart.current?.scales.x;
      if (!scale || !(e.ctrlKey || e.shiftKey || e.altKey)) return;
      e.preventDefault();
      const at = scale.getValueForPixel(e.offsetX) ?? 0, [from, to, end] = ends(), k = Math.exp(Math.sign(e.deltaY || e.deltaX) * 0.25);
      zoomTo(at - (at - from) * k, at + (to - at) * k, end);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  });

  return (
    <div style={{ height }} className="relative" data-chart={title} data-span={span ? span.map((t) => t.toFixed(4)).join(' to ') : 'all'}>
      <div ref={cursor} aria-hidden="true" className="pointer-events-none absolute left-[-0.7px] top-0 w-[1.4px] bg-accent" style={{ display: 'none' }} />
      <canvas
        ref={canvas}
        title="Click: go there. Ctrl or Shift with the wheel: zoom in time. Drag: shift. Double click: all."
        onPointerDown={(e) => {
          const [from, to] = ends();
          dragged.current = false;
          hand.current = { x: e.clientX, span: [from, to] };
        }}
        onPointerMove={(e) => {
          const h = hand.current, area = chart.current?.chartArea;
          if (!h || !area || !span || Math.abs(e.clientX - h.x) < 4) return;
          dragged.current = true;
          const shift = ((h.x - e.clientX) / (area.right - area.left)) * (h.span[1] - h.span[0]);
          zoomTo(h.span[0] + shift, h.span[1] + shift, ends()[2]);
        }}
        onPointerUp={() => (hand.current = undefined)}
        onPointerLeave={() => (hand.current = undefined)}
        onDoubleClick={() => zoomTo(0, Infinity, ends()[2])}
        data-title={`${title}, ${unit}`} role="img" aria-label={`${title} over time, ${unit || 'no unit'}`} />
    </div>
  );
}
