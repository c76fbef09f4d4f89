import { useMemo } from 'react';
import { type Timeline, levels, moveSegment, setLevel, timelineAt } from '@vim-pivot/core/timeline';
import { type Model, formatQuantity, readUnit } from '@vim-pivot/core/page';
import { select, useDocument } from '@/state/document/document';
import { setTime, useRuns } from '@/state/runs/runs';
import { LEFT, ROW, type RowScale, rowScale } from './row-scale';
import type { Track } from './track';
import { TrackMenu } from './track-menu';
import { placeOf, useRowHand } from './use-row-hand';

/** Points of a drawn curve. */
const FINE = 240;

interface RowProps {
  track: Track;
  model: Model;
  width: number;
  end: number;
  until: number;
  chosen: number | undefined;
  onChoose: (segment: number | undefined) => void;
}

/** One drive over the time of the run. */
export function TrackRow({ track, model, width, end, until, chosen, onChoose }: RowProps) {
  const { line, live, name } = track;
  const on = useDocument((s) => s.selected?.family === 'drives' && s.selected.name === name);
  const drawn = useMemo(() => curveOf(track, end, until), [track, end, until]);
  const ys = [...drawn.map((p) => p[1]).filter(Number.isFinite), ...(line ? levels(line) : [])],
    lo = Math.min(0, ...ys),
    hi = Math.max(0, ...ys);
  const scale = rowScale(width, end, lo, hi);
  const { X, Y } = scale;
  const words = (v: number) => (line ? inUnit(v, line) : live ? formatQuantity(v, live.dim) : '');
  return (
    <div className={`flex border-b border-line/60 ${on ? 'bg-accent-soft/40' : ''}`} data-track={name}>
      <div className="flex w-[170px] shrink-0 flex-col justify-between px-2 py-1.5 text-xs">
        <span className="flex items-center gap-1">
          <button
            onClick={() => select({ family: 'drives', name })}
            className="min-w-0 flex-1 truncate text-left text-sm font-medium hover:text-accent"
            title={track.raw}
          >
            {name}
          </button>
          <TrackMenu track={track} model={model} until={until} />
        </span>
        <span className="flex justify-between font-mono text-ink-2">
          <span>{words(lo)}</span>
          <span>{words(hi)}</span>
        </span>
      </div>
      <svg
        width={width}
        height={ROW}
        className="block touch-none select-none"
        role="group"
        aria-label={`Timeline of ${name}`}
        onPointerDown={() => onChoose(undefined)}
      >
        <line x1={LEFT} x2={width - LEFT} y1={Y(0)} y2={Y(0)} stroke="var(--color-line)" />
        <line x1={X(until)} x2={X(until)} y1="4" y2={ROW - 4} stroke="var(--color-line)" strokeDasharray="3 3" />
        <polyline
          fill="none"
          stroke={line ? 'var(--color-calm)' : 'var(--color-ink-2)'}
          strokeWidth="1.8"
          points={drawn.flatMap(([t, v]) => (Number.isFinite(v) ? [`${X(t).toFixed(1)},${Y(v).toFixed(1)}`] : [])).join(' ')}
        />
        {line ? (
          <Segments line={line} name={name} scale={scale} end={end} chosen={chosen} onChoose={onChoose} />
        ) : (
          <text x={LEFT + 4} y="14" fontSize="11" fill="var(--color-ink-2)">
            {track.raw === ''
              ? 'No formula yet.'
              : 'A formula of its own, drawn over the run. A timeline can take its place: menu at the left.'}
          </text>
        )}
        <Now end={end} X={X} />
        <rect x="0" y={ROW - 10} width={width} height="10" fillOpacity="0" onClick={(e) => setTime(Math.max(0, placeOf(e, scale.at).t))} />
      </svg>
    </div>
  );
}

/** Values over time: of the timeline, or of a formula as it was worked out over the run. */
function curveOf({ line, live }: Track, end: number, until: number): [number, number][] {
  if (line) return Array.from({ length: FINE + 1 }, (_, i) => [(end * i) / FINE, timelineAt(line, (end * i) / FINE)]);
  const s = live?.samples;
  return s ? [...s].map((v, i) => [(until * i) / (s.length - 1), v]) : [];
}

const inUnit = (v: number, { dim, unit }: Timeline): string => formatQuantity(v, dim, readUnit(unit) ? unit : undefined);

/** The time shown. */
function Now({ end, X }: { end: number; X: RowScale['X'] }) {
  const time = useRuns((s) => (s.view === 'run' ? s.time : undefined));
  if (time === undefined || time > end) return null;
  return <line x1={X(time)} x2={X(time)} y1="0" y2={ROW} stroke="var(--color-accent)" className="pointer-events-none" />;
}

interface Parts {
  line: Timeline;
  name: string;
  scale: RowScale;
  end: number;
}

/** What can be dragged: values that hold, segments, and their ends. */
function Segments({ chosen, onChoose, ...parts }: Parts & Pick<RowProps, 'chosen' | 'onChoose'>) {
  const { line, scale } = parts;
  return (
    <>
      {levels(line).map((_, k) => (
        <Level key={`level ${k}`} {...parts} k={k} />
      ))}
      {line.segments.map((_, k) => (
        <Segment key={`segment ${k}`} {...parts} k={k} chosen={chosen === k} onChoose={() => onChoose(k)} />
      ))}
      {line.repeat !== undefined && (
        <line x1={scale.X(line.repeat)} x2={scale.X(line.repeat)} y1="0" y2={ROW} stroke="var(--color-warn)" strokeWidth="1.5">
          <title>From here on it begins anew</title>
        </line>
      )}
    </>
  );
}

/** A value that holds, dragged up and down. */
function Level({ line, name, scale, end, k }: Parts & { k: number }) {
  const { X, Y, round, span } = scale;
  const { dragged, keyed } = useRowHand(name, line, scale);
  const factor = readUnit(line.unit)?.factor ?? 1;
  const v = levels(line)[k]!,
    from = k === 0 ? 0 : line.segments[k - 1]!.to,
    to = line.segments[k]?.from ?? line.repeat ?? end;
  return (
    <rect
      role="slider"
      tabIndex={0}
      aria-label={`Value ${k + 1} of ${name}`}
      aria-valuenow={Number((v / factor).toPrecision(6))}
      aria-valuetext={inUnit(v, line)}
      x={X(from)}
      width={Math.max(6, X(Math.min(to, end)) - X(from))}
      y={Y(v) - 5}
      height="10"
      fill="var(--color-calm)"
      fillOpacity="0"
      className="cursor-ns-resize hover:fill-calm/20"
      {...dragged((l, _t, y) => setLevel(l, k, round(y, factor)))}
      onKeyDown={keyed((l, sign) => setLevel(l, k, round(v + sign * span * 0.05, factor)))}
    >
      <title>{`Holds ${inUnit(v, line)}: drag it up or down`}</title>
    </rect>
  );
}

/** A passage from one value to the next, dragged as a whole or by its ends. */
function Segment({ line, name, scale, k, chosen, onChoose }: Parts & { k: number; chosen: boolean; onChoose: () => void }) {
  const { X, snap, grip } = scale;
  const { dragged, keyed } = useRowHand(name, line, scale);
  const s = line.segments[k]!;
  const hold = () => {
    onChoose();
    select({ family: 'drives', name });
  };
  return (
    <g>
      <rect
        x={X(s.from)}
        width={Math.max(2, X(s.to) - X(s.from))}
        y="2"
        height={ROW - 4}
        fill="var(--color-accent)"
        fillOpacity={chosen ? 0.14 : 0.05}
        stroke={chosen ? 'var(--color-accent)' : 'none'}
        className="cursor-grab"
        {...dragged((l, t, _v, pressed) => moveSegment(l, k, 'both', snap(l.segments[k]!.from + t - pressed)), hold)}
      >
        <title>{`${s.shape} from ${s.from.toPrecision(4)} s to ${s.to.toPrecision(4)} s: drag it, or its ends`}</title>
      </rect>
      {(['from', 'to'] as const).map((what) => (
        <rect
          key={what}
          role="slider"
          tabIndex={0}
          aria-label={`${what === 'from' ? 'Beginning' : 'End'} of segment ${k + 1} of ${name}`}
          aria-valuenow={Number(s[what].toPrecision(6))}
          aria-valuetext={`${s[what].toPrecision(4)} s`}
          x={X(s[what]) - 4}
          width="8"
          y="8"
          height={ROW - 16}
          rx="2"
          fill="var(--color-accent)"
          fillOpacity="0.25"
          className="cursor-ew-resize hover:fill-accent"
          onFocus={onChoose}
          {...dragged((l, t) => moveSegment(l, k, what, t), onChoose)}
          onKeyDown={keyed((l, sign) => moveSegment(l, k, what, s[what] + sign * grip))}
        />
      ))}
    </g>
  );
}
