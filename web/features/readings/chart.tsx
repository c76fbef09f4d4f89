'use client';
import { CategoryScale, Chart as ChartJs, Decimation, LineController, LineElement, LinearScale, PointElement } from 'chart.js';
import { useEffect, useRef } from 'react';
import { useRuns, setTime } from '@/state/runs';
import { useTheme } from '@/state/theme';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, Decimation);

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
  const dark = useTheme((s) => s.dark);

  useEffect(() => {
    const c = new ChartJs(canvas.current!, {
      type: 'line',
      data: { datasets: [] },
      options: {
        animation: false, parsing: false, normalized: true, responsive: true, maintainAspectRatio: false, events: ['click'],
        layout: { padding: { right: 6 } },
        elements: { point: { radius: 0 } },
        plugins: { decimation: { enabled: true, algorithm: 'min-max' } },
        scales: { x: { type: 'linear' }, y: { type: 'linear' } },
        onClick: (e, _hit, self) => {
          const x = self.scales.x!.getValueForPixel(e.x ?? 0);
          if (x !== undefined) setTime(Math.max(0, Math.min(x, self.scales.x!.max)));
        },
      },
      plugins: [{
        id: 'cursor',
        afterDatasetsDraw(self) {
          const { time, view } = useRuns.getState();
          if (view !== 'run') return;
          const x = self.scales.x!.getPixelForValue(time);
          const { top, bottom, left, right } = self.chartArea;
          if (x < left - 1 || x > right + 1) return;
          self.ctx.save();
          self.ctx.strokeStyle = token('accent');
          self.ctx.lineWidth = 1.4;
          self.ctx.beginPath();
          self.ctx.moveTo(x, top);
          self.ctx.lineTo(x, bottom);
          self.ctx.stroke();
          self.ctx.restore();
        },
      }],
    });
    chart.current = c;
    const stop = useRuns.subscribe((now, before) => {
      if (now.time !== before.time || now.view !== before.view) c.draw();
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
      data: Array.from(l.time, (t, i) => ({ x: t, y: l.values[i]! / factor })),
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
      <canvas ref={canvas} role="img" aria-label={`${title} over time, ${unit || 'no unit'}`} />
    </div>
  );
}
