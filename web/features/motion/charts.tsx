'use client';
import { useMemo } from 'react';
import type { Curves } from '@vim-pivot/core/analyses';
import { curveColour } from '../readings/palette';
import { Plot } from '../readings/plot/plot';
import type { Across } from '../readings/plot/trace';

/** Charts of an analysis, one below the other. */
export function Charts({ curves }: { curves: readonly Curves[] }) {
  // one colour a name, in all of them
  const names = useMemo(() => [...new Set(curves.flatMap((c) => c.traces.map((t) => t.name)))], [curves]);
  return curves.map((c) => <CurveChart key={`${c.title}/${c.y.unit}`} curves={c} all={names} />);
}

function CurveChart({ curves: { title, x, y, traces }, all }: { curves: Curves; all: readonly string[] }) {
  const names = [...new Set(traces.map((t) => t.name))],
    heading = `${title}${y.unit ? `, ${y.unit}` : ''}, over ${x.unit || x.label.toLowerCase()}`;
  const drawn = useMemo(
    () =>
      traces.map((t) => ({
        ...{ label: t.name, gauge: t.name, x: t.x, y: t.y, unit: y.unit, factor: 1 },
        colour: curveColour(all.indexOf(t.name)),
        dashed: false,
        ...(t.marks ? { marks: true as const } : {}),
      })),
    [traces, y.unit, all],
  );
  const across = useMemo((): Across => ({ of: 'frequency', label: x.label.toLowerCase(), unit: x.unit, factor: 1 }), [x.label, x.unit]);
  return (
    <figure className="pt-1">
      <Plot
        title={title}
        name={title}
        heading={heading}
        traces={drawn}
        across={across}
        logX={x.log ?? false}
        logY={y.log ?? false}
        digits={3}
        height={170}
      />
      <figcaption className="flex flex-wrap gap-x-3 text-xs text-ink-2">
        {traces.some((t) => t.marks) && <span className="w-full">Lines: the linear system. Dots: runs of the machine itself.</span>}
        {names.map((n) => (
          <span key={n} className="flex min-w-0 items-center gap-1">
            <span aria-hidden="true" className="h-0.5 w-3 shrink-0" style={{ background: curveColour(all.indexOf(n)) }} />
            <span className="truncate">{n}</span>
          </span>
        ))}
      </figcaption>
    </figure>
  );
}
