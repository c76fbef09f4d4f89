'use client';
import { useEffect, useMemo, useRef, useState } from 'react';
import {
  type Timeline,
  addSegment,
  levels,
  mirrored,
  moveSegment,
  readTimeline,
  reversed,
  setLevel,
  timelineAt,
  writeTimeline,
} from '@vim-pivot/core/timeline';
import {
  type LiveValue,
  type Model,
  type RawElement,
  askedDimension,
  compatible,
  formatQuantity,
  kindOf,
  readUnit,
  shownUnit,
} from '@vim-pivot/core/page';
import { edit, gesture, select, useDocument } from '@/state/document/document';
import { stepFor } from '@/state/scene/grid-step';
import { setTime, useRuns } from '@/state/runs/runs';
import { Menu, MenuItem, MenuLabel, MenuRule } from '@/ui/menu';
import { SegmentFields } from './segment-fields';

/** A drive with its formula seen as a timeline, where it can be. */
export interface Track {
  name: string;
  raw: string;
  unit: string;
  line: Timeline | undefined;
  live: LiveValue | undefined;
}

const valueField = (e: RawElement) => kindOf('drives', e)!.fields;
/** The dimension of what a drive prescribes. */
const dimOf = (model: Model, e: RawElement) => {
  const fields = valueField(e),
    f = fields.value!;
  return f.type === 'quantity' ? askedDimension(f.dim, fields, e, model) : undefined;
};

export function tracksOf(model: Model, live: ReadonlyMap<string, LiveValue>): Track[] {
  const known = (n: string) => {
    const k = model.parameters.findIndex((p) => p.name === n),
      p = live.get(`$.parameters[${k}].value`);
    return k < 0 || !p ? undefined : { value: p.value, dim: p.dim };
  };
  return model.drives.map((e, i): Track => {
    const dim = dimOf(model, e),
      raw = String(e.value ?? ''),
      unit = dim ? shownUnit(dim).replaceAll('·', '*') : '';
    return {
      name: e.name,
      raw,
      unit,
      line: dim && raw !== '' ? readTimeline(raw, dim, unit, known) : undefined,
      live: live.get(`$.drives[${i}].value`),
    };
  });
}

const ROW = 84,
  PAD = 14,
  LEFT = 10;
/** Points of a drawn curve. */
const FINE = 240;
/** Lines at which ends catch are at least this far apart, px. */
const CATCH = 6;

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

function writeLine(drive: string, line: Timeline, label: string): void {
  edit(label, (m) => {
    const d = m.drives.find((x) => x.name === drive);
    if (d) d.value = writeTimeline(line);
  });
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

interface RowProps {
  track: Track;
  model: Model;
  width: number;
  end: number;
  until: number;
  chosen: number | undefined;
  onChoose: (segment: number | undefined) => void;
}

function TrackRow({ track, model, width, end, until, chosen, onChoose }: RowProps) {
  const { line, live, name } = track;
  const on = useDocument((s) => s.selected?.family === 'drives' && s.selected.name === name);
  const time = useRuns((s) => (s.view === 'run' ? s.time : undefined));
  const hand = useRef<{ hand: ReturnType<typeof gesture>; begun: Timeline; change: (l: Timeline, x: number, y: number) => Timeline }>(
    undefined,
  );
  const drawn = useMemo(() => {
    if (line) return Array.from({ length: FINE + 1 }, (_, i): [number, number] => [(end * i) / FINE, timelineAt(line, (end * i) / FINE)]);
    const s = live?.samples;
    return s ? [...s].map((v, i): [number, number] => [(until * i) / (s.length - 1), v]) : [];
  }, [line, live, end, until]);
  const ys = [...drawn.map((p) => p[1]).filter(Number.isFinite), ...(line ? levels(line) : [])],
    lo = Math.min(0, ...ys),
    hi = Math.max(0, ...ys),
    span = hi - lo || 1;
  const X = (t: number) => LEFT + (t / end) * (width - 2 * LEFT),
    Y = (v: number) => ROW - PAD - ((v - lo) / span) * (ROW - 2 * PAD);
  const snap = (t: number, loose: boolean) => {
    const step = stepFor((CATCH * end) / width);
    return loose ? t : Math.round(t / step) * step;
  };
  const begin = (change: NonNullable<typeof hand.current>['change']) => (e: React.PointerEvent) => {
    if (e.button !== 0 || !line) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    hand.current = { hand: gesture(), begun: line, change };
    e.stopPropagation();
  };
  const drag = (e: React.PointerEvent<SVGElement>) => {
    const h = hand.current,
      svg = e.currentTarget.ownerSVGElement;
    if (!h || !svg) return;
    const r = svg.getBoundingClientRect(),
      t = ((e.clientX - r.left - LEFT) / (width - 2 * LEFT)) * end,
      v = lo + ((ROW - PAD - (e.clientY - r.top)) / (ROW - 2 * PAD)) * span;
    const next = h.change(h.begun, snap(t, e.altKey), v);
    h.hand.set(`Timeline of ${name}`, (m) => {
      const d = m.drives.find((x) => x.name === name);
      if (d) d.value = writeTimeline(next);
    });
  };
  const drop = () => (hand.current = undefined);
  /** By keys what dragging does. */
  const keyed = (change: (l: Timeline, sign: 1 | -1) => Timeline) => (e: React.KeyboardEvent) => {
    const sign = e.key === 'ArrowRight' || e.key === 'ArrowUp' ? 1 : e.key === 'ArrowLeft' || e.key === 'ArrowDown' ? -1 : 0;
    if (sign === 0 || !line) return;
    e.preventDefault();
    e.stopPropagation();
    writeLine(name, change(line, sign), `Timeline of ${name}`);
  };
  const grip = stepFor((CATCH * end) / width),
    unit = line?.unit ?? track.unit;
  const words = (v: number) =>
    line ? formatQuantity(v, line.dim, readUnit(unit) ? unit : undefined) : live ? formatQuantity(v, live.dim) : '';
  const roundTo = (v: number) => {
    const f = readUnit(unit)?.factor ?? 1,
      step = stepFor((span / f) * (3 / (ROW - 2 * PAD)));
    return Math.round(v / f / step) * step * f;
  };
  const at = line ? levels(line) : [];
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
        {line &&
          at.map((v, k) => {
            const from = k === 0 ? 0 : line.segments[k - 1]!.to,
              to = line.segments[k]?.from ?? line.repeat ?? end;
            return (
              <rect
                key={`level ${k}`}
                role="slider"
                tabIndex={0}
                aria-label={`Value ${k + 1} of ${name}`}
                aria-valuenow={Number((v / (readUnit(unit)?.factor ?? 1)).toPrecision(6))}
                aria-valuetext={words(v)}
                x={X(from)}
                width={Math.max(6, X(Math.min(to, end)) - X(from))}
                y={Y(v) - 5}
                height="10"
                fill="var(--color-calm)"
                fillOpacity="0"
                className="cursor-ns-resize hover:fill-calm/20"
                onPointerDown={begin((l, _x, y) => setLevel(l, k, roundTo(y)))}
                onPointerMove={drag}
                onPointerUp={drop}
                onKeyDown={keyed((l, sign) => setLevel(l, k, roundTo(v + sign * span * 0.05)))}
              >
                <title>{`Holds ${words(v)}: drag it up or down`}</title>
              </rect>
            );
          })}
        {line?.segments.map((s, k) => (
          <g key={`segment ${k}`}>
            <rect
              x={X(s.from)}
              width={Math.max(2, X(s.to) - X(s.from))}
              y="2"
              height={ROW - 4}
              fill="var(--color-accent)"
              fillOpacity={chosen === k ? 0.14 : 0.05}
              stroke={chosen === k ? 'var(--color-accent)' : 'none'}
              className="cursor-grab"
              onPointerDown={(e) => {
                const begun = e.clientX,
                  from = s.from;
                onChoose(k);
                select({ family: 'drives', name });
                const r = e.currentTarget.ownerSVGElement!.getBoundingClientRect(),
                  first = ((begun - r.left - LEFT) / (width - 2 * LEFT)) * end;
                begin((l, x) => moveSegment(l, k, 'both', snap(from + x - first, false)))(e);
              }}
              onPointerMove={drag}
              onPointerUp={drop}
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
                onFocus={() => onChoose(k)}
                onPointerDown={(e) => {
                  onChoose(k);
                  begin((l, x) => moveSegment(l, k, what, x))(e);
                }}
                onPointerMove={drag}
                onPointerUp={drop}
                onKeyDown={keyed((l, sign) => moveSegment(l, k, what, s[what] + sign * grip))}
              />
            ))}
          </g>
        ))}
        {line?.repeat !== undefined && (
          <line x1={X(line.repeat)} x2={X(line.repeat)} y1="0" y2={ROW} stroke="var(--color-warn)" strokeWidth="1.5">
            <title>From here on it begins anew</title>
          </line>
        )}
        {time !== undefined && time <= end && (
          <line x1={X(time)} x2={X(time)} y1="0" y2={ROW} stroke="var(--color-accent)" className="pointer-events-none" />
        )}
        {!line && (
          <text x={LEFT + 4} y="14" fontSize="11" fill="var(--color-ink-2)">
            {track.raw === ''
              ? 'No formula yet.'
              : 'A formula of its own, drawn over the run. A timeline can take its place: menu at the left.'}
          </text>
        )}
        <rect
          x="0"
          y={ROW - 10}
          width={width}
          height="10"
          fillOpacity="0"
          onClick={(e) => {
            const r = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
            setTime(Math.max(0, ((e.clientX - r.left - LEFT) / (width - 2 * LEFT)) * end));
          }}
        />
      </svg>
    </div>
  );
}

/** What can be done with a whole timeline, here or into another drive. */
function TrackMenu({ track, model, until }: { track: Track; model: Model; until: number }) {
  const { line, name } = track,
    e = model.drives.find((d) => d.name === name)!,
    dim = dimOf(model, e);
  const others = model.drives.filter((d) => {
    const own = d.name !== name && dimOf(model, d);
    return own && dim && compatible(own, dim);
  });
  const put = (target: string, l: Timeline, label: string) => {
    writeLine(target, l, label);
    select({ family: 'drives', name: target });
  };
  const half = dim ? (readUnit(track.unit)?.factor ?? 1) * 90 : 1;
  const fresh = (): Timeline => addSegment({ unit: track.unit, dim: dim!, start: 0, segments: [] }, until, half);
  return (
    <Menu
      trigger={
        <button aria-label={`Menu of the timeline of ${name}`} className="rounded border border-line px-1.5 hover:border-ink-2">
          …
        </button>
      }
    >
      {!line && (
        <MenuItem disabled={!dim} onSelect={() => put(name, fresh(), `Timeline for ${name}`)} hint="takes the place of the formula">
          A timeline
        </MenuItem>
      )}
      {line && (
        <>
          <MenuItem
            onSelect={() => put(name, addSegment(line, until, -(levels(line).at(-1)! - line.start) || half), `Segment for ${name}`)}
          >
            Add a segment
          </MenuItem>
          <MenuItem onSelect={() => put(name, reversed(line, until), `Reverse ${name}`)}>Reverse in time</MenuItem>
          <MenuItem onSelect={() => put(name, mirrored(line), `Mirror ${name}`)}>Mirror: the other sign</MenuItem>
          {line.repeat === undefined ? (
            <MenuItem
              disabled={line.segments.length === 0}
              onSelect={() => put(name, { ...line, repeat: line.segments.at(-1)!.to + (line.segments[0]!.from || 0.1) }, `Repeat ${name}`)}
            >
              Repeat
            </MenuItem>
          ) : (
            <MenuItem onSelect={() => put(name, { ...line, repeat: undefined }, `Once, ${name}`)}>Once only</MenuItem>
          )}
          {others.length > 0 && <MenuRule />}
          {others.length > 0 && <MenuLabel>To another drive</MenuLabel>}
          {others.flatMap((o) => [
            <MenuItem key={`c ${o.name}`} onSelect={() => put(o.name, line, `Timeline of ${name} for ${o.name}`)}>
              Copy to {o.name}
            </MenuItem>,
            <MenuItem key={`m ${o.name}`} onSelect={() => put(o.name, mirrored(line), `Timeline of ${name}, mirrored, for ${o.name}`)}>
              Mirror to {o.name}
            </MenuItem>,
            <MenuItem
              key={`r ${o.name}`}
              onSelect={() => put(o.name, reversed(line, until), `Timeline of ${name}, reversed, for ${o.name}`)}
            >
              Reverse to {o.name}
            </MenuItem>,
          ])}
        </>
      )}
    </Menu>
  );
}
