'use client';
import { Check, X } from 'lucide-react';
import { useHelp, walk } from '@/state/asking';
import { useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';
import { STEPS } from '@/state/adding/walk-steps';

/** The walk through a first machine, beside the scene. */
export function Walk() {
  const walking = useHelp((s) => s.walking);
  const model = useDocument((s) => s.model);
  const runs = useRuns((s) => s.runs);
  if (!walking || !model) return null;
  const at = STEPS.findIndex((s) => !s.done({ model, runs })),
    here = at < 0 ? STEPS.length : at,
    step = STEPS[here];
  return (
    <section
      aria-label="A first machine"
      className="absolute bottom-3 left-3 z-10 w-[330px] rounded-xl border border-accent bg-sheet p-3 shadow-lg"
    >
      <header className="mb-1 flex items-center">
        <h2 className="flex-1 font-semibold">
          {step ? `A first machine: step ${here + 1} of ${STEPS.length}` : 'That is a first machine'}
        </h2>
        <button
          aria-label="End the walk"
          title="End the walk"
          onClick={() => walk(false)}
          className="grid h-6 w-6 place-items-center text-ink-2 hover:text-ink"
        >
          <X size={15} aria-hidden="true" />
        </button>
      </header>
      <ol className="mb-1.5 flex gap-1" aria-label="Steps">
        {STEPS.map((s, i) => (
          <li
            key={s.text + String(s.say)}
            title={s.say ?? s.text}
            className={`grid h-4 w-4 place-items-center rounded-full border ${i < here ? 'border-calm bg-calm text-on-accent' : i === here ? 'border-accent' : 'border-line'}`}
          >
            {i < here && <Check size={10} aria-hidden="true" />}
          </li>
        ))}
      </ol>
      {step ? (
        <div role="status">
          <p>{step.text}</p>
          {step.say && <p className="my-1 rounded-md bg-paper px-2 py-1 font-mono">{step.say}</p>}
          <p className="text-ink-2">{step.why}</p>
        </div>
      ) : (
        <p role="status">
          From here on: more links and joints make a mechanism. The page of help behind ? tells the keys, how to pick, formulas and units.
        </p>
      )}
    </section>
  );
}
