'use client';
import { Eye, Pin, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { formatNumber, fixed } from '@vim-pivot/core/page';
import type { RunRow } from '@/state/kept/db';
import { replaceWhole, useDocument } from '@/state/document/document';
import { differences, nameOfRun } from '@/state/runs/run-names';
import { download } from '@/state/files/download';
import {
  deleteRun,
  describeRun,
  dropDamaged,
  rawRun,
  setBaseline,
  showRun,
  sizeOf,
  tidyRuns,
  toggleOverlay,
  useRuns,
} from '@/state/runs/runs';
import { Menu, MenuItem, MenuLabel } from '@/ui/menu';
import { CheckBox } from '@/ui/check';

const DAY = 86_400_000;

/** The runs of the project: which is shown, which are overlaid, what is said of each. */
export function Runs() {
  const runs = useRuns((s) => s.runs);
  const current = useRuns((s) => s.current);
  const overlaid = useRuns((s) => s.overlaid);
  const damaged = useRuns((s) => s.damaged);
  const [open, setOpen] = useState<string>();
  const tool = 'grid h-6 w-6 place-items-center rounded disabled:opacity-40';
  return (
    <section aria-label="Runs" className="mt-2 border-t border-line">
      <h2 className="flex items-center px-3 pb-1 pt-2 font-semibold">
        <span className="flex-1">Runs</span>
        {runs.length > 1 && (
          <Menu
            align="end"
            trigger={
              <button className="text-xs font-normal text-ink-2 underline" title="The latest, the baseline and pinned ones stay">
                tidy up
              </button>
            }
          >
            <MenuLabel>{`Runs take ${formatNumber(runs.reduce((x, r) => x + sizeOf(r), 0) / 1e6, 3)} MB. Delete`}</MenuLabel>
            <MenuItem onSelect={() => void tidyRuns()}>All but the latest</MenuItem>
            <MenuItem onSelect={() => void tidyRuns(DAY)}>Those older than a day</MenuItem>
            <MenuItem onSelect={() => void tidyRuns(7 * DAY)}>Those older than a week</MenuItem>
            <MenuItem onSelect={() => void tidyRuns(0, 1e8)}>The largest, down to 100 MB</MenuItem>
          </Menu>
        )}
      </h2>
      {runs.length + damaged.length === 0 && <p className="px-3 text-ink-2">None yet.</p>}
      <ul className="max-h-72 overflow-y-auto">
        {[...runs].reverse().map((r) => (
          <li key={r.id} className={r.id === current ? 'bg-accent-soft' : ''}>
            <div className="flex items-center gap-0.5 px-3 py-0.5">
              <button
                className="min-w-0 flex-1 truncate text-left"
                aria-pressed={r.id === current}
                title={r.note ?? `Show ${nameOfRun(runs, r.id)}`}
                onClick={() => void showRun(r.id)}
              >
                <span className={r.id === current ? 'font-semibold' : ''}>{nameOfRun(runs, r.id)}</span>
                {r.baseline && <span className="text-xs text-calm"> baseline</span>}
                {r.kit !== undefined && <span className="text-xs text-ink-2"> of {r.kit}</span>}{' '}
                <span className="text-xs text-ink-2">
                  {formatNumber(r.reached, 3)} s{r.status === 'done' ? '' : ` · ${r.status}`}
                </span>
              </button>
              {r.id !== current && (
                <button
                  aria-label={`Overlay run ${r.number}`}
                  aria-pressed={overlaid.includes(r.id)}
                  title={
                    overlaid.includes(r.id)
                      ? 'Take it off the charts'
                      : overlaid.length >= 3
                        ? 'Three runs are overlaid already'
                        : 'Overlay on the charts'
                  }
                  disabled={!overlaid.includes(r.id) && overlaid.length >= 3}
                  onClick={() => void toggleOverlay(r.id)}
                  className={`${tool} ${overlaid.includes(r.id) ? 'bg-calm-soft text-calm' : 'text-ink-2'}`}
                >
                  <Eye size={14} aria-hidden="true" />
                </button>
              )}
              <button
                aria-label={`More on run ${r.number}`}
                aria-expanded={open === r.id}
                title="Name, note, its model"
                onClick={() => setOpen(open === r.id ? undefined : r.id)}
                className={`${tool} ${r.pinned ? 'text-calm' : 'text-ink-2'} hover:text-accent`}
              >
                <Pin size={13} aria-hidden="true" />
              </button>
              <button
                aria-label={`Delete run ${r.number}`}
                title={r.pinned ? 'It is pinned' : 'Delete this run'}
                disabled={!!r.pinned}
                onClick={() => void deleteRun(r.id)}
                className={`${tool} text-ink-2 hover:text-accent`}
              >
                <Trash2 size={13} aria-hidden="true" />
              </button>
            </div>
            {open === r.id && <RunDetails run={r} />}
          </li>
        ))}
        {damaged.map((id) => (
          <li key={id} className="flex items-center gap-1 px-3 py-0.5 text-warn">
            <span className="min-w-0 flex-1 truncate" title="What the store holds of it lacks what a run needs">
              A damaged run
            </span>
            <button
              className="rounded px-1 text-xs underline"
              onClick={() => void rawRun(id).then((text) => download('damaged-run.json', text, 'application/json'))}
            >
              Export
            </button>
            <button
              aria-label="Delete the damaged run"
              onClick={() => void dropDamaged(id)}
              className={`${tool} text-ink-2 hover:text-accent`}
            >
              <Trash2 size={13} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What differences bear on, in the order in which they are told. */
const PARTS = [
  ['motion', 'What moves'],
  ['readings', 'What is read'],
  ['sheets', 'Sheets, notes and colours'],
] as const;

/** Name, note and pin of a run, what the solver did, and the model it was made with. */
function RunDetails({ run }: { run: RunRow }) {
  const whole = useDocument((s) => s.whole);
  const runs = useRuns((s) => s.runs);
  const [other, setOther] = useState<string>();
  const s = run.statistics,
    second = runs.find((r) => r.id === other),
    against = second?.model ?? whole;
  const differ = against ? differences(run.model, against) : [];
  const where = second ? nameOfRun(runs, second.id) : 'the model that is open';
  return (
    <div className="grid gap-1 px-3 pb-2 text-xs">
      <input
        aria-label={`Name of run ${run.number}`}
        defaultValue={run.label ?? ''}
        placeholder={`Run ${run.number}`}
        maxLength={60}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        onBlur={(e) => void describeRun(run.id, { label: e.target.value.trim() })}
        className="rounded border border-line bg-sheet px-1 py-0.5"
      />
      <textarea
        aria-label={`Note on run ${run.number}`}
        defaultValue={run.note ?? ''}
        placeholder="Note"
        rows={2}
        maxLength={2000}
        onBlur={(e) => void describeRun(run.id, { note: e.target.value })}
        className="resize-none rounded border border-line bg-sheet px-1 py-0.5"
      />
      <label className="flex items-center gap-1.5">
        <CheckBox checked={!!run.pinned} onChange={(on) => void describeRun(run.id, { pinned: on })} /> Pinned: it is kept when tidying up
      </label>
      <label className="flex items-center gap-1.5">
        <CheckBox checked={!!run.baseline} onChange={(on) => void setBaseline(on ? run.id : undefined)} /> Baseline: others are compared
        with it
      </label>
      <p className="text-ink-2">
        {new Date(run.made).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}; {fixed(run.seconds, 2)} s of work
        {s ? `, ${s.steps} steps, ${s.evaluations} evaluations, ${run.records} records` : ''}.
      </p>
      {run.kit !== undefined ? (
        <p className="text-ink-2">Of the kit {run.kit}, run by itself.</p>
      ) : (
        <>
          <div className="flex items-center gap-1">
            <span className="text-ink-2">Compared with</span>
            <Menu
              trigger={
                <button
                  aria-label={`Compare run ${run.number} with`}
                  className="min-w-0 flex-1 truncate rounded-md border border-line px-1.5 text-left hover:border-ink-2"
                >
                  {where}
                </button>
              }
            >
              <MenuItem onSelect={() => setOther(undefined)}>The model that is open</MenuItem>
              {runs
                .filter((r) => r.id !== run.id && r.kit === run.kit)
                .reverse()
                .map((r) => (
                  <MenuItem key={r.id} onSelect={() => setOther(r.id)}>
                    {nameOfRun(runs, r.id)}
                  </MenuItem>
                ))}
            </Menu>
          </div>
          {differ.length === 0 ? (
            <p className="text-calm">{second ? 'The two models are the same.' : 'Its model is the one that is open.'}</p>
          ) : (
            <div aria-label="Differences" role="group" className="max-h-40 overflow-auto">
              {PARTS.map(([of, label]) => {
                const list = differ.filter((d) => d.of === of);
                return (
                  list.length > 0 && (
                    <section key={of}>
                      <h4 className="text-ink-2">{label}</h4>
                      <ul className="font-mono">
                        {list.slice(0, 40).map((d) => (
                          <li key={d.text} className="truncate" title={d.text}>
                            {d.text}
                          </li>
                        ))}
                      </ul>
                      {list.length > 40 && <p className="text-ink-2">and {list.length - 40} more</p>}
                    </section>
                  )
                );
              })}
            </div>
          )}
          {!second && differ.length > 0 && (
            <button
              className="justify-self-start rounded-md border border-line px-1.5 hover:border-ink-2"
              onClick={() => replaceWhole(`Model of run ${run.number}`, () => run.model, undefined)}
            >
              Bring its model back
            </button>
          )}
        </>
      )}
    </div>
  );
}
