'use client';
import { useMemo } from 'react';
import { changedSince } from '@/state/document/changed';
import { useDocument } from '@/state/document/document';
import { startRun, useRuns } from '@/state/runs/runs';

/** Marks curves of a run that is no longer of the model as it stands, and says what has changed. */
export function OlderRun() {
  const model = useDocument((s) => s.model);
  const inside = useDocument((s) => s.inside);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const blocked = useDocument((s) => s.diagnoses.some((d) => d.severity === 'error'));
  const running = useRuns((s) => s.running);
  const changed = useMemo(() => (run && model && run.kit === inside ? changedSince(run.model, model) : []), [run, model, inside]);
  // a live run is about to be followed by the next
  if (changed.length === 0 || run?.live) return null;
  return (
    <p role="status" aria-label="Older run" className="flex items-start gap-2 rounded-md border border-warn bg-warn-soft px-2 py-1 text-xs">
      <span className="min-w-0 flex-1">
        <b className="text-warn">Run {run!.number} is of the model before it was changed</b> ({changed.join(', ')}). Its curves are drawn as
        they were.
      </span>
      {!running && (
        <button disabled={blocked} className="whitespace-nowrap font-medium underline disabled:opacity-45" onClick={startRun}>
          Run again
        </button>
      )}
    </p>
  );
}
