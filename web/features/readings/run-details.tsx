import { useState } from 'react';
import { fixed } from '@vim-pivot/core/page';
import type { RunRow } from '@/state/kept/db';
import { replaceWhole, useDocument } from '@/state/document/document';
import { differences, nameOfRun } from '@/state/runs/run-names';
import { describeRun, setBaseline, useRuns } from '@/state/runs/runs';
import { CheckBox } from '@/ui/check';
import { Menu, MenuItem } from '@/ui/menu';

/** What differences bear on, in the order in which they are told. */
const PARTS = [
  ['motion', 'What moves'],
  ['readings', 'What is read'],
  ['sheets', 'Sheets, notes and colours'],
] as const;

/** Name, note and pin of a run, what the solver did, and the model it was made with. */
export function RunDetails({ run }: { run: RunRow }) {
  const s = run.statistics;
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
        {s?.folded ? ` ${s.folded} ${s.folded === 1 ? 'body' : 'bodies'} computed in the plane in which joints hold them.` : ''}
        {s?.oneByOne ? ' Too large to be compiled as a whole: its equations were compiled kind by kind.' : ''}
      </p>
      {run.kit !== undefined ? <p className="text-ink-2">Of the kit {run.kit}, run by itself.</p> : <Comparison run={run} />}
    </div>
  );
}

/** Its model against the one that is open, or that of another run. */
function Comparison({ run }: { run: RunRow }) {
  const whole = useDocument((s) => s.whole);
  const runs = useRuns((s) => s.runs);
  const [other, setOther] = useState<string>();
  const second = runs.find((r) => r.id === other),
    against = second?.model ?? whole;
  const differ = against ? differences(run.model, against) : [];
  const where = second ? nameOfRun(runs, second.id) : 'the model that is open';
  return (
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
        <Differences list={differ} />
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
  );
}

function Differences({ list: all }: { list: ReturnType<typeof differences> }) {
  return (
    <div aria-label="Differences" role="group" className="max-h-40 overflow-auto">
      {PARTS.map(([of, label]) => {
        const list = all.filter((d) => d.of === of);
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
  );
}
