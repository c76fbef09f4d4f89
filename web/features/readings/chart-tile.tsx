'use client';
import { useEffect, useMemo, useState } from 'react';
import { D, type RawElement, Refusal, formatNumber, readUnit } from '@vim-pivot/core/page';
import { type WindowName, envelope, histogram } from '@vim-pivot/core/plots';
import { valueAt, within } from '@vim-pivot/core/scores';
import type { ReadCurve } from '@/state/runs/curves';
import { useDocument } from '@/state/document/document';
import { timeShown, useRuns } from '@/state/runs/runs';
import { choiceOf, namesOf } from '@/state/readings/sheets';
import { useTheme } from '@/state/theme';
import { modelWorker } from '@/workers/client';
import { TIME } from './chart';
import { useQuiet } from './use-quiet';
import { curveColour } from './palette';
import { Plot } from './plot/plot';
import type { Across, AxisRange, Bound, Trace } from './plot/trace';
import type { RunCurves, SheetReads } from './sheet-reads';

/** A chart of a sheet: what it draws follows from the tile's fields. */
export function ChartTile({ tile, reads: whole }: { tile: RawElement; reads: SheetReads }) {
  const dark = useTheme((s) => s.dark);
  const number = (field: string) => (s: ReturnType<typeof useDocument.getState>) =>
    s.live.get(`$.tiles[${s.model?.tiles.indexOf(tile) ?? -1}].${field}`)?.value ??
    (typeof tile[field] === 'number' ? tile[field] : undefined);
  const digits = useDocument(number('digits')),
    from = useDocument(number('from')),
    to = useDocument(number('to'));
  const range = useRange(tile);
  const gauges = namesOf(tile, 'gauges'),
    as = choiceOf(tile, 'as');
  const reads = useMemo(
    () => (as === 'curves' || (from === undefined && to === undefined) ? whole : cut(whole, from, to)),
    [whole, as, from, to],
  );
  const spectra = useSpectra(as === 'spectrum' ? reads : undefined, gauges, choiceOf(tile, 'window') as WindowName);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- colours follow the theme
  const drawn = useMemo(() => drawing(tile, reads, spectra), [tile, reads, spectra, dark]);
  if (gauges.length === 0) return <p className="p-2 text-ink-2">No gauge yet. Select this tile and tick gauges at the left.</p>;
  if (drawn.said) return <p className="p-2 text-ink-2">{drawn.said}</p>;
  const fields =
    choiceOf(tile, 'apart') === 'yes'
      ? drawn.traces.reduce<Trace[][]>((all, t) => {
          const own = all.find((f) => f[0]!.gauge === t.gauge);
          if (own) own.push(t);
          else all.push([t]);
          return all;
        }, [])
      : as === 'histogram'
        ? drawn.units.map((u) => drawn.traces.filter((t) => t.unit === u))
        : [drawn.traces];
  return (
    <div className="flex h-full min-h-0 flex-col">
      {choiceOf(tile, 'legend') !== 'no' && (
        <ul aria-label="Legend" className="flex max-h-12 shrink-0 flex-wrap gap-x-3 overflow-auto text-xs text-ink-2">
          {drawn.traces
            .filter((t) => t.label !== '')
            .map((t) => (
              <li key={t.label} className="flex items-center gap-1">
                <svg width="18" height="6" aria-hidden="true">
                  <line x1="0" x2="18" y1="3" y2="3" stroke={t.colour} strokeWidth="2" strokeDasharray={t.dashed ? '4 3' : undefined} />
                </svg>
                {t.label}
                {t.unit ? `, ${t.unit}` : ''}
                {(as === 'curves' || as === 'envelope') && <Now trace={t} />}
              </li>
            ))}
        </ul>
      )}
      {fields.map((traces, i) => (
        <div key={i} className="min-h-0 flex-1">
          <Plot
            title={traces[0]?.gauge ?? tile.name}
            name={tile.name}
            traces={traces}
            across={
              as === 'histogram' ? { of: 'value', label: traces[0]?.gauge ?? '', unit: traces[0]?.unit ?? '', factor: 1 } : drawn.across
            }
            logX={choiceOf(tile, 'horizontal') === 'log'}
            logY={choiceOf(tile, 'vertical') === 'log'}
            digits={digits}
            range={range}
            heading={i === 0 ? choiceOf(tile, 'title') : ''}
            height="100%"
          />
        </div>
      ))}
    </div>
  );
}

const RANGE = ['low', 'high', 'left', 'right'] as const;
/** The ends that are set for its axes. */
function useRange(tile: RawElement): AxisRange {
  const index = useDocument((s) => s.model?.tiles.indexOf(tile) ?? -1),
    live = useDocument((s) => s.live);
  return useMemo(
    () =>
      Object.fromEntries(
        RANGE.flatMap((key): [string, Bound][] => {
          const known = live.get(`$.tiles[${index}].${key}`),
            raw = tile[key];
          return raw === undefined
            ? []
            : typeof raw === 'number'
              ? [[key, { value: raw, dim: D.none }]]
              : known
                ? [[key, { value: known.value, dim: known.dim }]]
                : [];
        }),
      ),
    [tile, index, live],
  );
}

/** What a trace reads at the time shown. */
function Now({ trace: { x, y, time, factor } }: { trace: Trace }) {
  const at = useRuns(timeShown),
    quiet = useQuiet(y);
  const times = time ?? x;
  if (times.length === 0 || at < times[0]! || at > times[times.length - 1]!) return null;
  return (
    <span className="font-mono text-ink">{formatNumber(quiet(valueAt({ time: times, values: y, dim: D.none }, at)) / factor, 4)}</span>
  );
}

/** What was read, of a part of the time. */
function cut(reads: SheetReads, from: number | undefined, to: number | undefined): SheetReads {
  const part = (r: RunCurves): RunCurves => ({
    ...r,
    curves: r.curves.map((c) => ({ ...c, ...within({ time: c.time, values: c.values, dim: c.dim }, from, to) })),
  });
  return { ...reads, runs: reads.runs.map(part), baseline: reads.baseline && part(reads.baseline) };
}

type Spectra = ReadonlyMap<Float64Array, { frequency: Float64Array; amplitude: Float64Array; resolution: number } | string>;

/** Spectra are worked out beside the page, once for each course. */
function useSpectra(reads: SheetReads | undefined, gauges: readonly string[], window: WindowName): Spectra {
  const [done, setDone] = useState<{ window: WindowName; spectra: Spectra }>({ window, spectra: new Map() });
  const wanted = gauges.join('\n');
  useEffect(() => {
    if (!reads) return;
    let stopped = false;
    void (async () => {
      const spectra = new Map<Float64Array, { frequency: Float64Array; amplitude: Float64Array; resolution: number } | string>();
      for (const r of reads.runs)
        for (const c of r.curves)
          if (wanted.split('\n').includes(c.gauge)) {
            const made = await modelWorker()
              .ask({ type: 'spectrum', time: c.time, values: c.values, window }, 'spectrum')
              .then(
                (x) => x.spectrum,
                (e: unknown) => (e instanceof Refusal ? e.message : Promise.reject(e)),
              );
            if (stopped) return;
            spectra.set(c.values, made);
          }
      setDone({ window, spectra });
    })();
    return () => {
      stopped = true;
    };
  }, [reads, wanted, window]);
  return done.spectra;
}

interface Drawing {
  traces: Trace[];
  units: string[];
  across: Across;
  /** What is said instead, when there is nothing to draw. */
  said?: string;
}

/** The traces of a chart, from its fields and what was read. */
function drawing(tile: RawElement, reads: SheetReads, spectra: Spectra): Drawing {
  const gauges = namesOf(tile, 'gauges'),
    as = choiceOf(tile, 'as'),
    over = choiceOf(tile, 'over'),
    which = choiceOf(tile, 'runs');
  const nothing = (said: string): Drawing => ({ traces: [], units: [], across: TIME, said });
  if (reads.runs.length === 0) return nothing('Nothing has been run yet. Press Run.');
  const { baseline } = reads;
  if (which === 'difference' && !baseline)
    return nothing('No run is the baseline. Open a run in the list of runs and mark it as the baseline.');
  const runs: readonly RunCurves[] =
    which === 'one' ? reads.runs.slice(0, 1) : which === 'difference' ? reads.runs.filter((r) => r.run !== baseline!.run) : reads.runs;
  if (runs.length === 0)
    return nothing('Only the baseline run is shown: there is nothing to compare with it. Run again, or show another run.');
  const traces: Trace[] = [],
    notes: string[] = [];
  let across: Across = TIME;
  const find = (r: RunCurves, gauge: string): ReadCurve | undefined => r.curves.find((c) => c.gauge === gauge);
  gauges.forEach((gauge, g) =>
    runs.forEach((r, k) => {
      let c = find(r, gauge);
      if (!c) return;
      let label = runs.length > 1 ? `${gauge}, ${r.label}` : gauge;
      if (which === 'difference') {
        const b = find(baseline!, gauge);
        if (!b || b.time.length === 0) return;
        const series = { time: b.time, values: b.values, dim: b.dim },
          end = b.time.at(-1)!,
          from = c;
        // only as far as both go
        const count = c.time.findIndex((t) => t > end + 1e-12),
          n = count < 0 ? c.time.length : count;
        c = { ...c, time: c.time.subarray(0, n), values: from.values.slice(0, n).map((v, i) => v - valueAt(series, from.time[i]!)) };
        label = `${gauge}: ${r.label} less ${baseline!.label}`;
      }
      const factor = readUnit(c.unit)?.factor ?? 1,
        base = { gauge, label, unit: c.unit, factor, colour: curveColour(gauges.length > 1 ? g : k), dashed: k > 0 };
      if (as === 'spectrum') {
        across = { of: 'frequency', label: 'frequency', unit: 'Hz', factor: 1 };
        const s = spectra.get(c.values);
        if (typeof s === 'string') notes.push(s);
        else if (s) traces.push({ ...base, x: s.frequency.subarray(1), y: s.amplitude.subarray(1) });
      } else if (as === 'histogram') {
        const h = histogram(
          { time: c.time, values: c.values, dim: c.dim },
          Math.max(1, Math.min(1000, Math.round(Number(tile.bins) || 40))),
        );
        // the share of the time, in per cent, over the gauge
        traces.push({ ...base, x: h.edges.map((e) => e / factor), y: Float64Array.from([...h.share, 0]), factor: 0.01 });
      } else if (as === 'envelope') {
        const { upper, lower } = envelope({ time: c.time, values: c.values, dim: c.dim });
        traces.push(
          { ...base, x: c.time, y: c.values },
          { ...base, label: '', x: upper.time, y: upper.values, dashed: true },
          { ...base, label: '', x: lower.time, y: lower.values, dashed: true },
        );
      } else if (over !== '') {
        const o = find(r, over);
        if (!o) return void notes.push(`“${over}” cannot be read in ${r.label}.`);
        across = { of: 'gauge', label: over, unit: o.unit, factor: readUnit(o.unit)?.factor ?? 1 };
        traces.push({ ...base, x: o.values, y: c.values, time: c.time });
      } else traces.push({ ...base, x: c.time, y: c.values });
    }),
  );
  if (traces.length === 0 && notes.length > 0) return nothing(notes[0]!);
  if (traces.length > 0 && traces.every((t) => t.x.length === 0))
    return nothing('Nothing was recorded in this part of the time. Widen it on the Card.');
  return { traces, units: [...new Set(traces.map((t) => t.unit))], across };
}
