'use client';
import dynamic from 'next/dynamic';
import { formatNumber, readUnit } from '@vim-pivot/core/page';
import { timeShown, useRuns } from '@/state/runs/runs';
import { select } from '@/state/document/document';
import { useQuiet } from './use-quiet';
import type { GaugeLines } from './use-lines';

const TimeChart = dynamic(() => import('./chart').then((m) => m.TimeChart), { ssr: false });

/** One gauge: its curves, its value at the time cursor, and what positive means. */
export function GaugeTile({ g, height }: { g: GaugeLines; height: number }) {
  const { unit } = g;
  const factor = readUnit(unit)?.factor ?? 1;
  return (
    <article aria-label={g.gauge} className="rounded-lg border border-line bg-sheet px-3 pb-1.5 pt-2">
      <header className="flex flex-wrap items-baseline gap-x-3">
        <button className="font-semibold hover:text-accent" title={g.positive} onClick={() => select({ family: 'gauges', name: g.gauge })}>
          {g.gauge}
        </button>
        {g.lines.length > 1 &&
          g.lines.map((l) => (
            <span key={l.label} className="flex items-center gap-1 text-xs text-ink-2">
              <svg width="18" height="6" aria-hidden="true">
                <line x1="0" x2="18" y1="3" y2="3" stroke={l.colour} strokeWidth="2" strokeDasharray={l.dashed ? '4 3' : undefined} />
              </svg>
              {l.label}
            </span>
          ))}
        <Reading g={g} factor={factor} unit={unit} />
        <button
          aria-label={`${g.gauge} as PNG`}
          title="This chart as a picture"
          className="text-xs text-ink-2 underline hover:text-ink"
          onClick={(e) => {
            const canvas = e.currentTarget.closest('article')?.querySelector('canvas');
            if (canvas)
              void import('@/state/files/download').then(({ download, fileName }) =>
                canvas.toBlob((b) => b && download(`${fileName(g.gauge)}.png`, b, 'image/png')),
              );
          }}
        >
          PNG
        </button>
      </header>
      <TimeChart lines={g.lines} unit={unit} factor={factor} title={g.gauge} height={height} />
    </article>
  );
}

function Reading({ g, factor, unit }: { g: GaugeLines; factor: number; unit: string }) {
  const time = useRuns(timeShown);
  const { time: t, values } = g.current,
    quiet = useQuiet(values);
  let lo = 0,
    hi = t.length - 1;
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1;
    if (t[mid]! <= time) lo = mid;
    else hi = mid - 1;
  }
  return (
    <span className="ml-auto font-mono text-xs">{values.length > 0 ? `${formatNumber(quiet(values[lo]!) / factor)} ${unit}` : ''}</span>
  );
}
