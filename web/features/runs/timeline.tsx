'use client';
import { fixed } from '@vim-pivot/core/page';
import { Slider } from 'radix-ui';
import { useMemo } from 'react';
import { grouped } from '@/state/runs/grouped';
import { type ViolationRow, useReadings } from '@/state/readings/readings';
import { setTime, timeShown, useRuns } from '@/state/runs/runs';

const NO_VIOLATIONS: readonly ViolationRow[] = [];

/** The time of the run that is shown, with its events and what passed its limits. */
export function Timeline({ end, reached }: { end: number; reached: number }) {
  const time = useRuns(timeShown);
  const happenings = useRuns((s) => s.runs.find((r) => r.id === s.current)?.happenings);
  const current = useRuns((s) => s.current);
  const violations = useReadings((s) => (s.run === current ? s.violations : NO_VIOLATIONS));
  const shown = Math.min(time, reached);
  const marks = useMemo(() => grouped(happenings ?? [], end), [happenings, end]);
  return (
    <>
      <Slider.Root
        className="relative flex h-8 min-w-24 flex-1 touch-none select-none items-center"
        min={0}
        max={end || 1}
        step={Math.max(end / 5000, 1e-6)}
        value={[shown]}
        disabled={end === 0}
        onValueChange={([t]) => setTime(Math.min(t ?? 0, reached))}
      >
        <Slider.Track className="relative h-[3px] flex-1 rounded bg-line">
          <span className="absolute inset-y-0 left-0 rounded bg-ink-2/40" style={{ width: `${end > 0 ? (100 * reached) / end : 0}%` }} />
          <Slider.Range className="absolute h-full rounded bg-ink" />
          {violations.slice(0, 200).map((v, i) => (
            <span
              key={`limit ${i}`}
              data-violation={v.limit}
              title={`${v.limit}: passed from ${fixed(v.from, 3)} to ${fixed(v.to, 3)} s`}
              className="absolute -top-[6px] h-[4px] min-w-[2px] rounded-sm bg-warn"
              style={{ left: `${(100 * v.from) / (end || 1)}%`, width: `${(100 * (v.to - v.from)) / (end || 1)}%` }}
            />
          ))}
          {marks.map((m, i) => (
            <span
              key={i}
              title={m.says}
              data-events={m.count}
              className={`absolute -top-[5px] h-[13px] min-w-[2px] ${m.count > 1 ? 'bg-accent/70' : 'bg-accent'}`}
              style={{ left: `${(100 * m.from) / (end || 1)}%`, width: `${(100 * (m.to - m.from)) / (end || 1)}%` }}
            />
          ))}
        </Slider.Track>
        <Slider.Thumb
          aria-label="Time"
          aria-valuetext={`${fixed(shown, 3)} s`}
          className="block h-5 w-[6px] rounded-sm bg-ink data-[disabled]:bg-line"
        />
      </Slider.Root>
      <output className="w-[76px] text-right font-mono text-xs" aria-label="Time shown">
        {fixed(shown, 3)} s
      </output>
    </>
  );
}
