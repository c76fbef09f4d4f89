'use client';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useDocument } from '@/state/document/document';
import { stepFor } from '@/state/scene/grid-step';
import { LEFT } from './row-scale';
import { SegmentFields } from './segment-fields';
import { tracksOf, writeLine } from './track';
import { TrackRow } from './track-row';

/** All drives over the time of the run: segments are drawn at their ends, values that hold up and down. */
export function DriveTimeline() {
  const model = useDocument((s) => s.model);
  const live = useDocument((s) => s.live);
  const [chosen, setChosen] = useState<{ drive: string; segment: number }>();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  useEffect(() => {
    if (!box.current) return;
    const watch = new ResizeObserver(([e]) => e && setWidth(e.contentRect.width));
    watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const tracks = useMemo(() => (model ? tracksOf(model, live) : []), [model, live]);
  if (!model) return null;
  const until = live.get('$.run.until')?.value ?? 1;
  const end = Math.max(until, ...tracks.flatMap((t) => (t.line?.repeat === undefined ? (t.line?.segments.map((s) => s.to) ?? []) : [])));
  const own = tracks.find((t) => t.name === chosen?.drive);
  return (
    <div className="flex min-h-0 flex-1" aria-label="Timeline of the drives" role="group">
      <div className="min-w-0 flex-1 overflow-auto">
        <div ref={box}>
          {tracks.length === 0 && (
            <p className="px-4 py-3 text-ink-2">No drive yet. Pick a joint and hang a drive on it: its timeline stands here.</p>
          )}
          {tracks.map((t) => (
            <TrackRow
              key={t.name}
              track={t}
              model={model}
              width={Math.max(200, width - 170)}
              end={end}
              until={until}
              chosen={chosen?.drive === t.name ? chosen.segment : undefined}
              onChoose={(segment) => setChosen(segment === undefined ? undefined : { drive: t.name, segment })}
            />
          ))}
          {tracks.length > 0 && <Axis width={Math.max(200, width - 170)} end={end} />}
        </div>
      </div>
      {own?.line && chosen && own.line.segments[chosen.segment] && (
        <SegmentFields
          key={`${own.name}/${chosen.segment}`}
          line={own.line}
          segment={chosen.segment}
          name={own.name}
          onLine={(l, label) => writeLine(own.name, l, label)}
          onGone={() => setChosen(undefined)}
        />
      )}
    </div>
  );
}

function Axis({ width, end }: { width: number; end: number }) {
  const step = stepFor((end * 70) / width),
    marks = Array.from({ length: Math.floor(end / step + 1e-9) + 1 }, (_, i) => i * step);
  return (
    <svg
      width={width}
      height="18"
      className="ml-[170px] block"
      aria-hidden="true"
      fontSize="10"
      fontFamily="var(--font-mono)"
      fill="var(--color-ink-2)"
    >
      {marks.map((t, i) => (
        <text key={t} x={LEFT + (t / end) * (width - 2 * LEFT)} y="12" textAnchor={i === 0 ? 'start' : 'middle'}>
          {Number(t.toPrecision(6))}
          {i === marks.length - 1 ? ' s' : ''}
        </text>
      ))}
    </svg>
  );
}
