'use client';
import { ChevronDown, ChevronRight, Plus, X } from 'lucide-react';
import dynamic from 'next/dynamic';
import { useMemo, useState } from 'react';
import { formatNumber, formatQuantity, readUnit, fixed } from '@vim-pivot/core/page';
import { type SnapKind, nextPlace, snapPlaces } from '@vim-pivot/core/plots';
import type { LimitMeasured } from '@vim-pivot/core/measures';
import { strokesOf, valueAt } from '@vim-pivot/core/scores';
import { edit, select, useDocument } from '@/state/document/document';
import { freeName } from '@/state/document/elements';
import { showMoves, useMoves } from '@/state/readings/moves';
import { addCursor, dropCursor, dropCursors, useReadings } from '@/state/readings/readings';
import { setTime, timeShown, useRuns } from '@/state/runs/runs';
import { Choice } from '@/ui/choice';
import type { GaugeLines } from './use-lines';

const Moves = dynamic(() => import('./moves').then((m) => m.Moves), { ssr: false });
const ModeFit = dynamic(() => import('./mode-fit/mode-fit').then((m) => m.ModeFit), { ssr: false });

const HEAD = 'flex items-center gap-2 px-3 pb-1 pt-2 font-semibold';
const SMALL = 'grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-accent';

/** Cursors: values of a gauge at each, and what lies between neighbours; and the strokes of the gauge. */
export function Cursors({ lines }: { lines: readonly GaugeLines[] }) {
  const cursors = useReadings((s) => s.cursors);
  const time = useRuns(timeShown);
  const [chosen, setChosen] = useState('');
  const [fitting, setFitting] = useState(false);
  const g = lines.find((l) => l.gauge === chosen) ?? lines[0];
  if (!g) return null;
  const factor = readUnit(g.unit)?.factor ?? 1,
    series = { time: g.current.time, values: g.current.values, dim: g.dim };
  const value = (t: number) => (series.time.length > 0 ? valueAt(series, t) : NaN);
  const show = (v: number) => formatNumber(v / factor, 4);
  return (
    <section aria-label="Cursors" className="mt-2 border-t border-line">
      <h2 className={HEAD}>
        <span className="flex-1">Cursors</span>
        {cursors.length > 0 && (
          <button className="text-xs font-normal text-ink-2 underline" onClick={dropCursors}>
            clear
          </button>
        )}
        <button
          className="rounded-md border border-line px-1.5 text-xs font-normal hover:border-ink-2"
          title="Where the time stands now; clicking a chart moves the time"
          onClick={() => addCursor(time)}
        >
          Add at {fixed(time, 3)} s
        </button>
      </h2>
      <div className="px-3 pb-1">
        <Choice
          label="Gauge of the cursors"
          value={g.gauge}
          options={lines.map((l) => ({ value: l.gauge, label: l.gauge }))}
          onChange={setChosen}
          className="w-full border-line bg-sheet py-0.5"
        />
      </div>
      {cursors.length > 0 && <CursorTable cursors={cursors} unit={g.unit} value={value} show={show} />}
      <Snaps g={g} />
      <Strokes g={g} show={show} />
      <div className="px-3 pb-2">
        <button
          className="rounded-md border border-line px-1.5 text-xs hover:border-ink-2"
          title="Frequency and damping of a decay, of one curve or several together; of this run or of a file"
          onClick={() => setFitting(true)}
        >
          Fit modes…
        </button>
      </div>
      {fitting && <ModeFit lines={lines} onClose={() => setFitting(false)} />}
    </section>
  );
}

/** Values at the cursors, differences and ratios of neighbours, and of three cursors the ratio of the two stretches. */
function CursorTable({
  cursors,
  unit,
  value,
  show,
}: {
  cursors: readonly number[];
  unit: string;
  value: (t: number) => number;
  show: (v: number) => string;
}) {
  return (
    <table className="mb-2 w-full text-xs">
      <thead className="text-ink-2">
        <tr>
          <th className="pl-3 text-left font-normal">cursor</th>
          <th className="text-right font-normal">time</th>
          <th className="pr-1 text-right font-normal">{unit}</th>
          <th />
        </tr>
      </thead>
      <tbody className="font-mono">
        {cursors.map((t, i) => (
          <tr key={`${i}/${t}`}>
            <td className="pl-3">
              <button className="underline" title="Go there" onClick={() => setTime(t)}>
                {i + 1}
              </button>
            </td>
            <td className="text-right">{fixed(t, 3)} s</td>
            <td className="pl-2 pr-1 text-right">{show(value(t))}</td>
            <td>
              <button aria-label={`Take cursor ${i + 1} away`} className={SMALL} onClick={() => dropCursor(i)}>
                <X size={12} aria-hidden="true" />
              </button>
            </td>
          </tr>
        ))}
        {cursors.slice(1).map((t, i) => (
          <tr key={`between ${i}`} className="text-ink-2" data-between={`${i + 1}-${i + 2}`}>
            <td className="whitespace-nowrap pl-3">
              {i + 1} → {i + 2}
            </td>
            <td className="whitespace-nowrap text-right">{fixed(t - cursors[i]!, 4)} s</td>
            <td className="pl-2 pr-1 text-right">
              {value(t) - value(cursors[i]!) >= 0 ? '+' : ''}
              {show(value(t) - value(cursors[i]!))}
              {value(cursors[i]!) !== 0 && (
                <span className="block" title="Ratio of the two values">
                  ×{formatNumber(value(t) / value(cursors[i]!), 3)}
                </span>
              )}
            </td>
            <td />
          </tr>
        ))}
        {cursors.length === 3 && (
          <tr className="font-semibold">
            <td className="whitespace-nowrap pl-3 font-sans">Ratio</td>
            <td className="text-right">{formatNumber((cursors[1]! - cursors[0]!) / (cursors[2]! - cursors[1]!), 4)}</td>
            <td colSpan={2} />
          </tr>
        )}
      </tbody>
    </table>
  );
}

const SNAPS: readonly (readonly [SnapKind, string])[] = [
  ['peak', 'peak'],
  ['zero', 'zero'],
  ['event', 'event'],
  ['limit', 'limit'],
];

/** Takes the time to the next place of a kind, so that a cursor can be put exactly there. */
function Snaps({ g }: { g: GaugeLines }) {
  const go = (kind: SnapKind, forward: boolean) => {
    const { runs, current } = useRuns.getState(),
      events = runs.find((r) => r.id === current)?.happenings ?? [];
    const places = snapPlaces(
      { time: g.current.time, values: g.current.values, dim: g.dim },
      events.map((h) => h.t),
      useReadings.getState().violations.map((v) => v.from),
    );
    const found = nextPlace(places, kind, timeShown(), forward);
    if (found) setTime(found.at);
  };
  return (
    <div role="group" aria-label="Snap" className="flex flex-wrap gap-1 px-3 pb-1 text-xs">
      {SNAPS.map(([kind, label]) => (
        <span key={kind} className="flex items-center rounded-md border border-line">
          <button
            aria-label={`Last ${label}`}
            title={`To the ${label} before`}
            className="min-h-6 min-w-6 hover:text-accent"
            onClick={() => go(kind, false)}
          >
            ◂
          </button>
          {label}
          <button
            aria-label={`Next ${label}`}
            title={`To the next ${label}`}
            className="min-h-6 min-w-6 hover:text-accent"
            onClick={() => go(kind, true)}
          >
            ▸
          </button>
        </span>
      ))}
    </div>
  );
}

/** Forward and return strokes of a course that goes to and fro. */
function Strokes({ g, show }: { g: GaugeLines; show: (v: number) => string }) {
  const { time, values } = g.current;
  const strokes = useMemo(() => strokesOf({ time, values, dim: g.dim }), [time, values, g.dim]);
  const mean = (list: typeof strokes) => list.reduce((s, x) => s + (x.to - x.from), 0) / list.length;
  const forth = strokes.filter((x) => x.end > x.start),
    back = strokes.filter((x) => x.end < x.start);
  if (forth.length === 0 || back.length === 0) return null;
  const last = strokes.slice(-4),
    size = (list: typeof strokes) => list.reduce((x, k) => x + Math.abs(k.end - k.start), 0) / list.length;
  return (
    <div className="px-3 pb-2 pt-1" data-testid="strokes">
      <p className="text-xs text-ink-2">Strokes of {g.gauge}</p>
      <dl className="grid grid-cols-[1fr_auto_auto] gap-x-2 text-xs">
        <dt title={`Mean of ${forth.length}`}>Up</dt>
        <dd className="text-right font-mono" data-length="up">
          {show(size(forth))} {g.unit}
        </dd>
        <dd className="text-right font-mono" data-stroke="up">
          {fixed(mean(forth), 4)} s
        </dd>
        <dt title={`Mean of ${back.length}`}>Down</dt>
        <dd className="text-right font-mono" data-length="down">
          {show(size(back))} {g.unit}
        </dd>
        <dd className="text-right font-mono" data-stroke="down">
          {fixed(mean(back), 4)} s
        </dd>
        <dt>Time ratio</dt>
        <dd className="col-span-2 text-right font-mono">
          {formatNumber(Math.max(mean(forth), mean(back)) / Math.min(mean(forth), mean(back)), 4)}
        </dd>
        <dt title="Within half a per cent of its range">Longest rest</dt>
        <dd className="col-span-2 text-right font-mono">
          {fixed(
            strokes.reduce((m, x) => Math.max(m, x.dwell), 0),
            4,
          )}{' '}
          s
        </dd>
      </dl>
      <button
        className="mt-1 rounded-md border border-line px-1.5 text-xs hover:border-ink-2"
        title={`From ${show(last[0]!.start)} on`}
        onClick={() => {
          const three = strokes.slice(-2);
          dropCursors();
          for (const t of [three[0]!.from, three[0]!.to, three[1]?.to]) if (t !== undefined) addCursor(t);
        }}
      >
        Put cursors on the last strokes
      </button>
    </div>
  );
}

/** Below a score: unfolds the numbers that move it. */
function WhatMoves({ score }: { score: string }) {
  const open = useMoves((s) => s.score === score),
    Sign = open ? ChevronDown : ChevronRight;
  return (
    <dd>
      <button
        aria-expanded={open}
        className="flex items-center gap-0.5 text-xs text-ink-2 hover:text-accent"
        title="Which numbers of the model move it, and how much"
        onClick={() => showMoves(open ? undefined : score)}
      >
        <Sign size={12} aria-hidden="true" />
        What moves it
      </button>
      {open && <Moves score={score} />}
    </dd>
  );
}

/** Scores of the run, and what passes its limits. */
export function Scores({ lines }: { lines: readonly GaugeLines[] }) {
  const scores = useReadings((s) => s.scores);
  const fared = useReadings((s) => s.limits);
  const limits = useDocument((s) => s.model?.limits) ?? [];
  const rows: { name: string; fared?: LimitMeasured }[] =
    fared.length > 0 ? fared.map((f) => ({ name: f.name, fared: f })) : limits.filter((l) => !l.off);
  const add = (family: 'scores' | 'limits') => {
    const { model } = useDocument.getState();
    const gauge = lines[0]?.gauge ?? model?.gauges[0]?.name;
    if (!model || !gauge) return;
    const name = freeName(family, family === 'scores' ? `${gauge}, peak` : `${gauge} limit`, model);
    edit(`Add ${name}`, (m) => void m[family].push({ name, gauge, ...(family === 'limits' ? {} : { of: 'peak' }) }));
    select({ family, name });
  };
  return (
    <>
      <section aria-label="Scores" className="mt-2 border-t border-line">
        <h2 className={HEAD}>
          <span className="flex-1">Scores</span>
          <button aria-label="Add a score" className={SMALL} onClick={() => add('scores')}>
            <Plus size={14} aria-hidden="true" />
          </button>
        </h2>
        {scores.length === 0 && <p className="px-3 pb-1 text-xs text-ink-2">One number from a gauge: a peak, a mean, a settling time.</p>}
        <dl>
          {scores.map((s) => (
            <div key={s.name} className="px-3 py-0.5">
              <dt className="truncate">
                <button className="hover:text-accent" onClick={() => select({ family: 'scores', name: s.name })}>
                  {s.name}
                </button>
              </dt>
              <dd className="text-right font-mono text-xs" title={s.fault}>
                {s.value === undefined || !s.dim ? (
                  <span className="font-sans text-warn">{s.fault}</span>
                ) : (
                  formatQuantity(s.value, s.dim, readUnit(s.unit ?? '') ? s.unit : undefined, 5)
                )}
                {s.at !== undefined && (
                  <>
                    {' '}
                    <button className="text-ink-2 underline" title="Go there" onClick={() => setTime(s.at!)}>
                      at {fixed(s.at, 3)} s
                    </button>
                  </>
                )}
              </dd>
              {s.value !== undefined && <WhatMoves score={s.name} />}
            </div>
          ))}
        </dl>
      </section>
      <section aria-label="Limits" className="mt-2 border-t border-line">
        <h2 className={HEAD}>
          <span className="flex-1">Limits</span>
          <button aria-label="Add a limit" className={SMALL} onClick={() => add('limits')}>
            <Plus size={14} aria-hidden="true" />
          </button>
        </h2>
        {rows.length === 0 && (
          <p className="px-3 pb-1 text-xs text-ink-2">What a gauge must keep to: a motor’s rated torque, a pin’s allowed load.</p>
        )}
        <ul>
          {rows.map(({ name, fared: row }) => (
            <li key={name} className="px-3 py-0.5">
              <button className="block w-full truncate text-left hover:text-accent" onClick={() => select({ family: 'limits', name })}>
                {name}
              </button>
              <p className="text-right font-mono text-xs">
                {!row ? (
                  <span className="font-sans text-ink-2">not run yet</span>
                ) : row.fault ? (
                  <span className="font-sans text-warn">{row.fault}</span>
                ) : row.worst && row.dim ? (
                  <button className="text-warn underline" onClick={() => setTime(row.worst!.at)}>
                    {formatQuantity(row.worst.worst, row.dim, readUnit(row.unit ?? '') ? row.unit : undefined, 4)} at{' '}
                    {fixed(row.worst.at, 3)} s
                  </button>
                ) : (
                  <span className="font-sans text-calm">kept</span>
                )}
              </p>
            </li>
          ))}
        </ul>
      </section>
    </>
  );
}

/** Values worked out by hand beside those measured. */
export function Workings() {
  const rows = useReadings((s) => s.workings);
  const notes = useDocument((s) => s.model?.workings) ?? [];
  const scores = useReadings((s) => s.scores);
  const add = () => {
    const { model } = useDocument.getState();
    if (!model) return;
    const name = freeName('workings', 'By hand', model);
    edit(`Add ${name}`, (m) => void m.workings.push({ name, value: 0, ...(scores[0] ? { score: scores[0].name } : {}) }));
    select({ family: 'workings', name });
  };
  return (
    <section aria-label="Workings" className="mt-2 border-t border-line">
      <h2 className={HEAD}>
        <span className="flex-1">Workings</span>
        <button aria-label="Add a working" className={SMALL} onClick={add}>
          <Plus size={14} aria-hidden="true" />
        </button>
      </h2>
      {rows.length === 0 && (
        <p className="px-3 pb-1 text-xs text-ink-2">
          A value worked out by hand, with units, beside a score: their difference in per cent.
        </p>
      )}
      <dl>
        {rows.map((w) => {
          const unit = readUnit(w.unit ?? '') ? w.unit : undefined,
            e = notes.find((n) => n.name === w.name);
          return (
            <div key={w.name} className="px-3 py-1">
              <dt className="truncate">
                <button className="hover:text-accent" onClick={() => select({ family: 'workings', name: w.name })}>
                  {w.name}
                </button>
              </dt>
              <dd className="text-xs">
                <p className="truncate font-mono text-ink-2" title={String(e?.value ?? '')}>
                  {String(e?.value ?? '')}
                </p>
                <p className="text-right font-mono">
                  {w.hand !== undefined && w.dim && formatQuantity(w.hand, w.dim, unit, 5)}
                  {w.measured !== undefined && w.dim && (
                    <>
                      {' '}
                      <span className="text-ink-2">measured</span> {formatQuantity(w.measured, w.dim, unit, 5)}
                    </>
                  )}
                </p>
                {w.difference !== undefined && (
                  <p className={`text-right font-mono ${w.bad ? 'text-warn' : 'text-calm'}`}>
                    {w.difference >= 0 ? '+' : ''}
                    {(100 * w.difference).toPrecision(3)} %
                  </p>
                )}
                {w.fault && <p className="text-warn">{w.fault}</p>}
              </dd>
            </div>
          );
        })}
      </dl>
    </section>
  );
}
