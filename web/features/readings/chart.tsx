'use client';
import { CategoryScale, Chart as ChartJs, LineController, LineElement, LinearScale, PointElement } from 'chart.js';
import { useEffect, useRef } from 'react';
import { useRuns, setTime } from '@/state/runs';
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

/** Curves over time with the time cursor; a click puts the cursor, and with it the machine, at that time. */
export function TimeChart({ lines, unit, factor, title, height }: { lines: readonly Line[]; unit: string; factor: number; title: string; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<ChartJs>(null);
  const cursor = useRef<HTMLDivElement>(null);
  const dark = useTheme((s) => s.dark);

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
          if (x !== undefined) setTime(Math.max(0, Math.min(x, self.scales.x!.max)));
        },
      },
      plugins: [{ id: 'cursor', afterDraw: () => place() }],
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
    }
    const stop = useRuns.subscribe((now, before) => {
      if (now.time !== before.time || now.view !== before.view) place();
    });
    return () => {
      stop();
      c.destroy();
      chart.current = null;
    };
  }, []);

  useEffect(() => {
    const c = chart.current;
    if (!c) return;
    c.data.datasets = lines.map((l) => ({
      label: l.label,
      data: thin(l.time, l.values, factor, canvas.current?.clientWidth || 600),
      borderColor: l.colour, borderWidth: 1.5, borderDash: l.dashed ? [4, 3] : [],
    }));
    const tick = { color: token('ink-2'), font: { family: 'JetBrains Mono Variable', size: 10 } };
    const end = Math.max(0, ...lines.map((l) => l.time.at(-1) ?? 0));
    c.options.scales = {
      x: { type: 'linear', min: 0, max: end || 1, grid: { color: token('line') }, border: { color: token('line') }, ticks: { ...tick, maxTicksLimit: 7, maxRotation: 0, callback: (v, i, all) => (i === all.length - 1 ? `${v} s` : `${v}`) } },
      y: { type: 'linear', grid: { color: token('line') }, border: { color: token('line') }, ticks: { ...tick, maxTicksLimit: 5 } },
    };
    c.update('none');
  }, [lines, factor, dark]);

  return (
    <div style={{ height }} className="relative">
      <div ref={cursor} aria-hidden="true" className="pointer-events-none absolute left-[-0.7px] top-0 w-[1.4px] bg-accent" style={{ display: 'none' }} />
      <canvas ref={canvas} role="img" aria-label={`${title} over time, ${unit || 'no unit'}`} />
    </div>
  );
}
