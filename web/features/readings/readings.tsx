'use client';
import { Eye, Pin, Plus, Trash2 } from 'lucide-react';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { FAMILIES, type Model, formatNumber, readUnit } from '@vim-pivot/core/page';
import type { RunRow } from '@/state/db';
import { replaceWhole, select, useDocument } from '@/state/document';
import { namesOf, toggleGauge, useSheets } from '@/state/sheets';
import { useShows } from '@/state/shows';
import { setBaseline, deleteRun, describeRun, showRun, sizeOf, tidyRuns, toggleOverlay, useRuns } from '@/state/runs';
import { Menu, MenuItem, MenuLabel } from '@/ui/menu';
import { Card } from '../card/card';
import { Scene } from '../scene/scene';
import { GaugeTile } from './gauge-tile';
import { SheetBar } from './sheet-bar';
import { HandOver } from './hand-over';
import { Playback } from './playback';
import { Cursors, Scores, Workings } from './measures';
import { useLines } from './use-lines';

const GaugeFinder = dynamic(() => import('./gauge-finder').then((m) => m.GaugeFinder), { ssr: false });
const Sheet = dynamic(() => import('./sheet').then((m) => m.Sheet), { ssr: false });

/** The Readings stage: gauges and runs at the left, the moving machine and the curves beside each other. */
export function Readings() {
  const gauges = useDocument((s) => s.model?.gauges) ?? [];
  const units = useDocument((s) => s.gauges);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const [filter, setFilter] = useState('');
  const [finding, setFinding] = useState(false);
  const brought = useDocument((s) => s.brought.gauges);
  const names = [...gauges.filter((g) => !g.off).map((g) => g.name), ...(brought ?? [])];
  const { lines, failures } = useLines(names.filter((n) => !hidden.has(n)));
  const hasRun = useRuns((s) => !!s.current);
  const follow = useShows((s) => s.follow), turning = useShows((s) => s.turning);
  const card = useDocument((s) => s.selected !== undefined && ['gauges', 'scores', 'limits', 'workings', 'tiles', 'sheets'].includes(s.selected.family));

  const open = useSheets((s) => s.open), sheet = useDocument((s) => (open !== undefined && s.model?.sheets.some((x) => x.name === open) ? open : undefined));
  const selected = useDocument((s) => (s.selected?.family === 'tiles' ? s.model?.tiles.find((t) => t.name === s.selected!.name) : undefined));
  const tile = sheet !== undefined && selected && (selected.kind === 'chart' || selected.kind === 'table') ? selected : undefined;

  const curves = lines.map((l) => l.current);

  return (
    <div className="flex h-full min-h-0 flex-col">
      <SheetBar open={sheet} />
    <div className="flex min-h-0 flex-1">
      <aside className="flex w-56 shrink-0 flex-col overflow-auto border-r border-line bg-sheet">
        <h2 className="flex items-center px-3 pb-1 pt-2 font-semibold"><span className="flex-1">Gauges</span><button aria-label="Add a gauge" title="Search what the machine can tell" className="grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-accent" onClick={() => setFinding(true)}><Plus size={14} aria-hidden="true" /></button></h2>
        {finding && <GaugeFinder onClose={() => setFinding(false)} />}
        <input aria-label="Filter gauges" placeholder="Filter" value={filter} onChange={(e) => setFilter(e.target.value)} className="mx-3 mb-1 rounded-md border border-line bg-sheet px-2 py-1" />
        <ul>
          {names.filter((n) => n.toLowerCase().includes(filter.toLowerCase())).map((n) => {
            const unit = units.find((d) => d.name === n)?.unit;
            return (
              <li key={n}>
                <label className="flex cursor-pointer items-center gap-2 px-3 py-1 hover:bg-paper">
                  <input
                    type="checkbox"
                    className="accent-calm"
                    disabled={sheet !== undefined && !tile}
                    title={sheet !== undefined && !tile ? 'Select a chart or a table of the sheet: gauges are ticked for it' : undefined}
                    checked={sheet !== undefined && !tile ? false : tile ? namesOf(tile, 'gauges').includes(n) : !hidden.has(n)}
                    onChange={() => (tile ? toggleGauge(tile, n) : setHidden((h) => {
                      const next = new Set(h);
                      if (!next.delete(n)) next.add(n);
                      return next;
                    }))}
                  />
                  <span className="flex-1 truncate">{n}</span>
                  <span className="font-mono text-xs text-ink-2">{unit ?? ''}</span>
                </label>
              </li>
            );
          })}
        </ul>
        {names.length === 0 && <p className="px-3 text-ink-2">No gauge yet. Add one with + above, or click a joint in the scene of the Build stage.</p>}
        <Cursors lines={lines} />
        <Scores lines={lines} />
        <Workings />
        <Runs />
        <Ranges lines={lines} />
      </aside>
      <div className={`grid min-w-0 flex-1 gap-3 p-3 ${card ? 'grid-cols-[minmax(0,4fr)_minmax(0,6fr)_300px]' : 'grid-cols-[minmax(0,5fr)_minmax(0,6fr)]'}`}>
        {sheet !== undefined && <div className="col-span-2 flex min-h-0 min-w-0 flex-col"><div className="min-h-0 flex-1 overflow-auto rounded-lg"><Sheet key={sheet} name={sheet} /></div><div className="flex shrink-0 flex-wrap items-center rounded-lg border border-line bg-sheet [&>*]:border-t-0"><Playback curves={curves} /><HandOver curves={curves} /></div></div>}
        {sheet === undefined && <div className="flex min-h-0 flex-col overflow-hidden rounded-lg border border-line bg-sheet">
          <h2 className="px-3 py-1.5"><b className="font-semibold">Motion</b> <span className="text-ink-2">moves with the cursor</span></h2>
          <div className="min-h-0 flex-1"><Scene compact {...(follow === undefined ? {} : { follow, turning })} /></div>
          <Playback curves={curves} />
          <HandOver curves={curves} />
        </div>}
        {sheet === undefined && <div className="flex min-h-0 flex-col gap-2 overflow-auto" aria-label="Charts" role="group">
          {lines.map((g) => <GaugeTile key={g.gauge} g={g} height={150} />)}
          {!hasRun && <p className="p-4 text-ink-2">Nothing has been run yet. Press Run: every gauge ticked at the left is drawn here.</p>}
          {failures.map((f) => <p key={f} className="rounded-md bg-warn-soft px-3 py-1.5 text-warn">{f}</p>)}
        </div>}
        {card && (
          <div className="flex min-h-0 flex-col overflow-hidden rounded-lg border border-line bg-sheet">
            <button onClick={() => select(undefined)} className="border-b border-line px-3 py-1 text-right text-xs text-ink-2 hover:text-ink">Close the Card</button>
            <div className="min-h-0 flex-1 overflow-auto"><Card /></div>
          </div>
        )}
      </div>
    </div>
    </div>
  );
}

const DAY = 86_400_000;

function Runs() {
  const runs = useRuns((s) => s.runs);
  const current = useRuns((s) => s.current);
  const overlaid = useRuns((s) => s.overlaid);
  const [open, setOpen] = useState<string>();
  const tool = 'grid h-6 w-6 place-items-center rounded disabled:opacity-40';
  return (
    <section aria-label="Runs" className="mt-2 border-t border-line">
      <h2 className="flex items-center px-3 pb-1 pt-2 font-semibold">
        <span className="flex-1">Runs</span>
        {runs.length > 1 && (
          <Menu align="end" trigger={<button className="text-xs font-normal text-ink-2 underline" title="The latest, the baseline and pinned ones stay">tidy up</button>}>
            <MenuLabel>{`Runs take ${formatNumber(runs.reduce((x, r) => x + sizeOf(r), 0) / 1e6, 3)} MB. Delete`}</MenuLabel>
            <MenuItem onSelect={() => void tidyRuns()}>All but the latest</MenuItem>
            <MenuItem onSelect={() => void tidyRuns(DAY)}>Those older than a day</MenuItem>
            <MenuItem onSelect={() => void tidyRuns(7 * DAY)}>Those older than a week</MenuItem>
            <MenuItem onSelect={() => void tidyRuns(0, 1e8)}>The largest, down to 100 MB</MenuItem>
          </Menu>
        )}
      </h2>
      {runs.length === 0 && <p className="px-3 text-ink-2">None yet.</p>}
      <ul>
        {[...runs].reverse().map((r) => (
          <li key={r.id} className={r.id === current ? 'bg-accent-soft' : ''}>
            <div className="flex items-center gap-0.5 px-3 py-0.5">
              <button className="min-w-0 flex-1 truncate text-left" aria-pressed={r.id === current} title={r.note ?? `Show run ${r.number}`} onClick={() => void showRun(r.id)}>
                <span className={r.id === current ? 'font-semibold' : ''}>{r.label || `Run ${r.number}`}</span>{r.baseline && <span className="text-xs text-calm"> baseline</span>}{r.kit !== undefined && <span className="text-xs text-ink-2"> of {r.kit}</span>} <span className="text-xs text-ink-2">{formatNumber(r.reached, 3)} s{r.status === 'done' ? '' : ` · ${r.status}`}</span>
              </button>
              {r.id !== current && (
                <button aria-label={`Overlay run ${r.number}`} aria-pressed={overlaid.includes(r.id)} title={overlaid.includes(r.id) ? 'Take it off the charts' : overlaid.length >= 3 ? 'Three runs are overlaid already' : 'Overlay on the charts'} disabled={!overlaid.includes(r.id) && overlaid.length >= 3} onClick={() => void toggleOverlay(r.id)} className={`${tool} ${overlaid.includes(r.id) ? 'bg-calm-soft text-calm' : 'text-ink-2'}`}>
                  <Eye size={14} aria-hidden="true" />
                </button>
              )}
              <button aria-label={`More on run ${r.number}`} aria-expanded={open === r.id} title="Name, note, its model" onClick={() => setOpen(open === r.id ? undefined : r.id)} className={`${tool} ${r.pinned ? 'text-calm' : 'text-ink-2'} hover:text-accent`}><Pin size={13} aria-hidden="true" /></button>
              <button aria-label={`Delete run ${r.number}`} title={r.pinned ? 'It is pinned' : 'Delete this run'} disabled={!!r.pinned} onClick={() => void deleteRun(r.id)} className={`${tool} text-ink-2 hover:text-accent`}><Trash2 size={13} aria-hidden="true" /></button>
            </div>
            {open === r.id && <RunDetails run={r} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Name, note and pin of a run, what the solver did, and the model it was made with. */
function RunDetails({ run }: { run: RunRow }) {
  const model = useDocument((s) => s.whole);
  const same = model ? differences(run.model, model) : [];
  const s = run.statistics;
  return (
    <div className="grid gap-1 px-3 pb-2 text-xs">
      <input aria-label={`Name of run ${run.number}`} defaultValue={run.label ?? ''} placeholder={`Run ${run.number}`} maxLength={60} onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()} onBlur={(e) => void describeRun(run.id, { label: e.target.value.trim() })} className="rounded border border-line bg-sheet px-1 py-0.5" />
      <textarea aria-label={`Note on run ${run.number}`} defaultValue={run.note ?? ''} placeholder="Note" rows={2} maxLength={2000} onBlur={(e) => void describeRun(run.id, { note: e.target.value })} className="resize-none rounded border border-line bg-sheet px-1 py-0.5" />
      <label className="flex items-center gap-1.5"><input type="checkbox" checked={!!run.pinned} onChange={(e) => void describeRun(run.id, { pinned: e.target.checked })} /> Pinned: it is kept when tidying up</label>
      <label className="flex items-center gap-1.5"><input type="checkbox" checked={!!run.baseline} onChange={(e) => void setBaseline(e.target.checked ? run.id : undefined)} /> Baseline: others are compared with it</label>
      <p className="text-ink-2">{new Date(run.made).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}; {run.seconds.toFixed(2)} s of work{s ? `, ${s.steps} steps, ${s.evaluations} evaluations, ${run.records} records` : ''}.</p>
      {run.kit !== undefined ? <p className="text-ink-2">Of the kit {run.kit}, run by itself.</p> : same.length === 0 ? <p className="text-calm">Its model is the one that is open.</p> : (
        <>
          <p className="text-ink-2">Its model differs in:</p>
          <ul aria-label="Differences" className="max-h-24 overflow-auto font-mono">{same.slice(0, 40).map((d) => <li key={d} className="truncate" title={d}>{d}</li>)}</ul>
          <button className="justify-self-start rounded-md border border-line px-1.5 hover:border-ink-2" onClick={() => replaceWhole(`Model of run ${run.number}`, () => run.model, undefined)}>Bring its model back</button>
        </>
      )}
    </div>
  );
}

/** What two models differ in, field by field: as it was in the run, then as it is. */
function differences(before: Model, now: Model): string[] {
  const text = (v: unknown) => (v === undefined ? '–' : typeof v === 'string' ? v : JSON.stringify(v));
  const out: string[] = [];
  for (const key of ['until', 'every', 'accuracy', 'analysis', 'method'] as const) if (before.run[key] !== now.run[key]) out.push(`run ${key}: ${text(before.run[key])} → ${text(now.run[key])}`);
  for (const { key } of FAMILIES) {
    const a = new Map((before[key] ?? []).map((e) => [e.name, e])), b = new Map((now[key] ?? []).map((e) => [e.name, e]));
    for (const [name, e] of a) {
      const other = b.get(name);
      if (!other) out.push(`${name}: gone`);
      else if (e !== other) for (const f of new Set([...Object.keys(e), ...Object.keys(other)])) if (JSON.stringify(e[f]) !== JSON.stringify(other[f])) out.push(f === 'content' ? `${name}: its content` : `${name}, ${f}: ${text(e[f])} → ${text(other[f])}`);
    }
    for (const name of b.keys()) if (!a.has(name)) out.push(`${name}: new`);
  }
  return out;
}

/** Smallest and largest value of each gauge shown. */
function Ranges({ lines }: { lines: ReturnType<typeof useLines>['lines'] }) {
  if (lines.length === 0) return null;
  return (
    <section aria-label="Ranges" className="mt-2 border-t border-line pb-3">
      <h2 className="px-3 pb-1 pt-2 font-semibold">Range over the run</h2>
      <dl>
        {lines.map((g) => {
          const { unit } = g;
          const factor = readUnit(unit)?.factor ?? 1;
          let lo = Infinity, hi = -Infinity;
          for (const v of g.current.values) {
            lo = Math.min(lo, v);
            hi = Math.max(hi, v);
          }
          // rounding noise beside a large range is nothing
          const show = (v: number) => formatNumber(Math.abs(v) < 1e-9 * (hi - lo) ? 0 : v / factor, 3);
          return (
            <div key={g.gauge} className="px-3 py-0.5">
              <dt className="truncate text-ink-2">{g.gauge}</dt>
              <dd className="text-right font-mono text-xs">{lo <= hi ? `${show(lo)} … ${show(hi)} ${unit}` : ''}</dd>
            </div>
          );
        })}
      </dl>
    </section>
  );
}
