'use client';
import { Eye, Pin, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { formatNumber } from '@vim-pivot/core/page';
import type { RunRow } from '@/state/kept/db';
import { nameOfRun } from '@/state/runs/run-names';
import { download } from '@/state/files/download';
import { OVERLAID, deleteRun, dropDamaged, rawRun, showRun, sizeOf, tidyRuns, toggleOverlay, useRuns } from '@/state/runs/runs';
import { Menu, MenuItem, MenuLabel } from '@/ui/menu';
import { RunDetails } from './run-details';

const DAY = 86_400_000;
const TOOL = 'grid h-6 w-6 place-items-center rounded disabled:opacity-40';

/** The runs of the project: which is shown, which are overlaid, what is said of each. */
export function Runs() {
  const all = useRuns((s) => s.runs),
    runs = all.filter((r) => !r.live);
  /** The run whose details are open. */
  const [open, setOpen] = useState<string>();
  const damaged = useRuns((s) => s.damaged);
  return (
    <section aria-label="Runs" className="mt-2 border-t border-line">
      <h2 className="flex items-center px-3 pb-1 pt-2 font-semibold">
        <span className="flex-1">Runs</span>
        {runs.length > 1 && <TidyUp runs={runs} />}
      </h2>
      {runs.length + damaged.length === 0 && <p className="px-3 text-ink-2">None yet.</p>}
      <ul className="max-h-72 overflow-y-auto">
        {[...runs].reverse().map((r) => (
          <RunLine key={r.id} run={r} open={open === r.id} onOpen={(on) => setOpen(on ? r.id : undefined)} />
        ))}
        {damaged.map((id) => (
          <Damaged key={id} id={id} />
        ))}
      </ul>
    </section>
  );
}

function TidyUp({ runs }: { runs: readonly RunRow[] }) {
  return (
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
  );
}

/** A run in the list: pressed, it is shown. */
function RunLine({ run, open, onOpen }: { run: RunRow; open: boolean; onOpen: (on: boolean) => void }) {
  const name = useRuns((s) => nameOfRun(s.runs, run.id));
  const shown = useRuns((s) => s.current === run.id);
  const over = useRuns((s) => s.overlaid.includes(run.id));
  const full = useRuns((s) => s.overlaid.length >= OVERLAID);
  return (
    <li className={shown ? 'bg-accent-soft' : ''}>
      <div className="flex items-center gap-0.5 px-3 py-0.5">
        <button
          className="min-w-0 flex-1 truncate text-left"
          aria-pressed={shown}
          title={run.note ?? `Show ${name}`}
          onClick={() => void showRun(run.id)}
        >
          <span className={shown ? 'font-semibold' : ''}>{name}</span>
          {run.baseline && <span className="text-xs text-calm"> baseline</span>}
          {run.kit !== undefined && <span className="text-xs text-ink-2"> of {run.kit}</span>}{' '}
          <span className="text-xs text-ink-2">
            {formatNumber(run.reached, 3)} s{run.status === 'done' ? '' : ` · ${run.status}`}
          </span>
        </button>
        {!shown && (
          <button
            aria-label={`Overlay run ${run.number}`}
            aria-pressed={over}
            title={over ? 'Take it off the charts' : full ? 'Three runs are overlaid already' : 'Overlay on the charts'}
            disabled={!over && full}
            onClick={() => void toggleOverlay(run.id)}
            className={`${TOOL} ${over ? 'bg-calm-soft text-calm' : 'text-ink-2'}`}
          >
            <Eye size={14} aria-hidden="true" />
          </button>
        )}
        <button
          aria-label={`More on run ${run.number}`}
          aria-expanded={open}
          title="Name, note, its model"
          onClick={() => onOpen(!open)}
          className={`${TOOL} ${run.pinned ? 'text-calm' : 'text-ink-2'} hover:text-accent`}
        >
          <Pin size={13} aria-hidden="true" />
        </button>
        <button
          aria-label={`Delete run ${run.number}`}
          title={run.pinned ? 'It is pinned' : 'Delete this run'}
          disabled={!!run.pinned}
          onClick={() => void deleteRun(run.id)}
          className={`${TOOL} text-ink-2 hover:text-accent`}
        >
          <Trash2 size={13} aria-hidden="true" />
        </button>
      </div>
      {open && <RunDetails run={run} />}
    </li>
  );
}

/** A run of which the store lacks what it needs. */
function Damaged({ id }: { id: string }) {
  return (
    <li className="flex items-center gap-1 px-3 py-0.5 text-warn">
      <span className="min-w-0 flex-1 truncate" title="What the store holds of it lacks what a run needs">
        A damaged run
      </span>
      <button
        className="rounded px-1 text-xs underline"
        onClick={() => void rawRun(id).then((text) => download('damaged-run.json', text, 'application/json'))}
      >
        Export
      </button>
      <button aria-label="Delete the damaged run" onClick={() => void dropDamaged(id)} className={`${TOOL} text-ink-2 hover:text-accent`}>
        <Trash2 size={13} aria-hidden="true" />
      </button>
    </li>
  );
}
