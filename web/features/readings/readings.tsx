'use client';
import { Eye, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { formatNumber, readUnit } from '@vim-pivot/core/page';
import { select, useDocument } from '@/state/document';
import { deleteRun, showRun, toggleOverlay, useRuns } from '@/state/runs';
import { Card } from '../card/card';
import { Scene } from '../scene/scene';
import { GaugeTile } from './gauge-tile';
import { HandOver } from './hand-over';
import { Cursors, Scores } from './measures';
import { useLines } from './use-lines';

/** The Readings stage: gauges and runs at the left, the moving machine and the curves beside each other. */
export function Readings() {
  const gauges = useDocument((s) => s.model?.gauges) ?? [];
  const units = useDocument((s) => s.gauges);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const [filter, setFilter] = useState('');
  const brought = useDocument((s) => s.brought.gauges);
  const names = [...gauges.filter((g) => !g.off).map((g) => g.name), ...(brought ?? [])];
  const { lines, failures } = useLines(names.filter((n) => !hidden.has(n)));
  const hasRun = useRuns((s) => !!s.current);
  const card = useDocument((s) => s.selected !== undefined && ['gauges', 'scores', 'limits'].includes(s.selected.family));

  return (
    <div className="flex h-full min-h-0">
      <aside className="flex w-56 shrink-0 flex-col overflow-auto border-r border-line bg-sheet">
        <h2 className="px-3 pb-1 pt-2 font-semibold">Gauges</h2>
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
                    checked={!hidden.has(n)}
                    onChange={() => setHidden((h) => {
                      const next = new Set(h);
                      if (!next.delete(n)) next.add(n);
                      return next;
                    })}
                  />
                  <span className="flex-1 truncate">{n}</span>
                  <span className="font-mono text-xs text-ink-2">{unit ?? ''}</span>
                </label>
              </li>
            );
          })}
        </ul>
        {names.length === 0 && <p className="px-3 text-ink-2">No gauge yet. Add one in the Ledger of the Build stage.</p>}
        <Cursors lines={lines} />
        <Scores lines={lines} />
        <Runs />
        <Ranges lines={lines} />
      </aside>
      <div className={`grid min-w-0 flex-1 gap-3 p-3 ${card ? 'grid-cols-[minmax(0,4fr)_minmax(0,6fr)_300px]' : 'grid-cols-[minmax(0,5fr)_minmax(0,6fr)]'}`}>
        <div className="flex min-h-0 flex-col overflow-hidden rounded-lg border border-line bg-sheet">
          <h2 className="px-3 py-1.5"><b className="font-semibold">Motion</b> <span className="text-ink-2">moves with the cursor</span></h2>
          <div className="min-h-0 flex-1"><Scene compact /></div>
          <HandOver gauges={lines.map((l) => l.gauge)} />
        </div>
        <div className="flex min-h-0 flex-col gap-2 overflow-auto" aria-label="Charts" role="group">
          {lines.map((g) => <GaugeTile key={g.gauge} g={g} height={150} />)}
          {!hasRun && <p className="p-4 text-ink-2">Nothing has been run yet. Press Run: every gauge ticked at the left is drawn here.</p>}
          {failures.map((f) => <p key={f} className="rounded-md bg-warn-soft px-3 py-1.5 text-warn">{f}</p>)}
        </div>
        {card && (
          <div className="flex min-h-0 flex-col overflow-hidden rounded-lg border border-line bg-sheet">
            <button onClick={() => select(undefined)} className="border-b border-line px-3 py-1 text-right text-xs text-ink-2 hover:text-ink">Close the Card</button>
            <div className="min-h-0 flex-1 overflow-auto"><Card /></div>
          </div>
        )}
      </div>
    </div>
  );
}

function Runs() {
  const runs = useRuns((s) => s.runs);
  const current = useRuns((s) => s.current);
  const overlaid = useRuns((s) => s.overlaid);
  return (
    <section aria-label="Runs" className="mt-2 border-t border-line">
      <h2 className="px-3 pb-1 pt-2 font-semibold">Runs</h2>
      {runs.length === 0 && <p className="px-3 text-ink-2">None yet.</p>}
      <ul>
        {[...runs].reverse().map((r) => (
          <li key={r.id} className={`flex items-center gap-1 px-3 py-0.5 ${r.id === current ? 'bg-accent-soft' : ''}`}>
            <button className="flex-1 truncate text-left" aria-pressed={r.id === current} title={`Show run ${r.number}`} onClick={() => void showRun(r.id)}>
              <span className={r.id === current ? 'font-semibold' : ''}>Run {r.number}</span> <span className="text-xs text-ink-2">{formatNumber(r.reached, 3)} s{r.status === 'done' ? '' : ` · ${r.status}`}</span>
            </button>
            {r.id !== current && (
              <button aria-label={`Overlay run ${r.number}`} aria-pressed={overlaid.includes(r.id)} title={overlaid.includes(r.id) ? 'Take it off the charts' : overlaid.length >= 3 ? 'Three runs are overlaid already' : 'Overlay on the charts'} disabled={!overlaid.includes(r.id) && overlaid.length >= 3} onClick={() => void toggleOverlay(r.id)} className={`grid h-6 w-6 place-items-center rounded disabled:opacity-40 ${overlaid.includes(r.id) ? 'bg-calm-soft text-calm' : 'text-ink-2'}`}>
                <Eye size={14} aria-hidden="true" />
              </button>
            )}
            <button aria-label={`Delete run ${r.number}`} title="Delete this run" onClick={() => void deleteRun(r.id)} className="grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-accent"><Trash2 size={13} aria-hidden="true" /></button>
          </li>
        ))}
      </ul>
    </section>
  );
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
