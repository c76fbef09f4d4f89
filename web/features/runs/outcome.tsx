'use client';
import { X } from 'lucide-react';
import { useState } from 'react';
import { type Diagnosis, type Family, formatNumber, homeOf } from '@vim-pivot/core/page';
import { select, useDocument } from '@/state/document/document';
import { titleOf } from '@/state/runs/title';
import { setTime, useRuns } from '@/state/runs/runs';

const ENDED = { failed: 'failed', stopped: 'was stopped' } as const;

/** Why the last run did not come to its end, or could not begin: in full, with the posture and the element one press away. */
export function Outcome() {
  const running = useRuns((s) => s.running);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const refusal = useRuns((s) => s.refusal);
  const blocked = useDocument((s) => s.diagnoses.some((d) => d.severity === 'error'));
  const [closed, setClosed] = useState<unknown>();
  if (running) return null;
  const refused = !blocked && refusal.length > 0;
  const ended = run && (run.status === 'failed' || run.status === 'stopped') ? run : undefined;
  const reason: Diagnosis | undefined = refused
    ? refusal[0]
    : ended?.diagnoses.find((d) => d.severity === 'error' || d.code === 'limit-stop');
  const about = refused ? refusal : ended;
  if (!reason || closed === about) return null;
  const head = refused
    ? 'The run could not begin'
    : `${titleOf(ended!)} ${ENDED[ended!.status as 'failed']} at ${formatNumber(ended!.reached, 4)} s`;
  return (
    <section
      aria-label="Why the run ended"
      role="alert"
      className={`flex items-start gap-3 border-t px-3 py-1.5 ${reason.severity === 'error' ? 'border-accent bg-accent-soft' : 'border-warn bg-warn-soft'}`}
    >
      <p className="min-w-0 flex-1">
        <b className={reason.severity === 'error' ? 'text-accent' : 'text-warn'}>{head}.</b>{' '}
        {reason.element && <b>{reason.element.name}: </b>}
        {reason.message}{' '}
        <span className="text-ink-2">
          {reason.why} {reason.remedy}
        </span>
        {refused && refusal.length > 1 && <span className="text-ink-2"> And {refusal.length - 1} more.</span>}
      </p>
      {(reason.element || ended) && (
        <button
          className="whitespace-nowrap rounded-md border border-line bg-sheet px-2 py-0.5 font-medium hover:border-ink-2"
          title="The posture at which it ended, and the element"
          onClick={() => show(reason, refused ? undefined : ended?.reached)}
        >
          Show
        </button>
      )}
      <button
        aria-label="Close the reason"
        title="Close"
        onClick={() => setClosed(about)}
        className="grid h-6 w-6 place-items-center text-ink-2 hover:text-ink"
      >
        <X size={15} aria-hidden="true" />
      </button>
    </section>
  );
}

function show({ element }: Diagnosis, at: number | undefined): void {
  const { model } = useDocument.getState();
  const home = element && model && element.family in model ? homeOf(model, element.family as Family, element.name) : undefined;
  if (home) select(home);
  if (at !== undefined) {
    useRuns.setState({ playing: false });
    setTime(at);
  }
}
