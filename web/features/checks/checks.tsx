'use client';
import { ChevronLeft, ChevronRight, CircleCheck } from 'lucide-react';
import { useState } from 'react';
import { type Diagnosis, type Family, formatQuantity, jsonPath, readUnit, fixed } from '@vim-pivot/core/page';
import { select, useDocument } from '@/state/document/document';
import { applyFix } from '@/state/document/elements';
import { titleOf } from '@/state/runs/title';
import { startRun, useRuns } from '@/state/runs/runs';
import { findingsOf, useReadings } from '@/state/readings/readings';
import { WARN_AT, useStorage } from '@/state/kept/storage';

/** What the browser's storage has to say. */
function shortage({ used, quota, failed }: { used: number; quota: number; failed: string | undefined }): Diagnosis[] {
  if (failed)
    return [
      {
        code: 'storage-failed',
        severity: 'error',
        message: failed,
        remedy: 'Delete old runs or projects under Projects, or export the project file now.',
      },
    ];
  if (quota === 0 || used < WARN_AT * quota) return [];
  return [
    {
      code: 'storage-short',
      severity: 'warning',
      message: `This browser's storage for projects is ${Math.round((100 * used) / quota)} % full.`,
      remedy: 'Delete old runs or projects soon, or export them.',
    },
  ];
}

const RANK = { error: 0, warning: 1, note: 2 } as const;

/** The findings about the model, one at a time, always in sight. */
export function Checks() {
  const list = useFindings();
  const [at, setAt] = useState(0);
  const first = list[0] && `${list[0].code} ${list[0].message}`;
  const [led, setLed] = useState(first);
  if (led !== first) {
    // something more urgent has come up, or what stood first is mended
    setLed(first);
    setAt(0);
  }
  const i = Math.min(at, list.length - 1);
  const d = list[i];
  if (!d) {
    return (
      <div className="flex h-8 items-center gap-2 border-t border-line bg-sheet px-3 text-calm" role="status">
        <CircleCheck size={15} aria-hidden="true" /> No findings: the model can be run.
      </div>
    );
  }
  const bad = d.severity === 'error',
    quiet = d.severity === 'note';
  return (
    <section
      aria-label="Checks"
      className={`flex h-8 items-center gap-2 border-t border-line px-3 ${bad ? 'bg-accent-soft' : quiet ? 'bg-sheet' : 'bg-warn-soft'}`}
    >
      <span className={`whitespace-nowrap font-semibold ${bad ? 'text-accent' : quiet ? 'text-ink-2' : 'text-warn'}`}>
        {bad ? 'Error' : quiet ? 'Note' : 'Check'} {i + 1} of {list.length}
      </span>
      {list.length > 1 && (
        <span className="flex">
          <button
            aria-label="Previous finding"
            className="grid h-6 w-6 place-items-center"
            onClick={() => setAt((i + list.length - 1) % list.length)}
          >
            <ChevronLeft size={15} aria-hidden="true" />
          </button>
          <button aria-label="Next finding" className="grid h-6 w-6 place-items-center" onClick={() => setAt((i + 1) % list.length)}>
            <ChevronRight size={15} aria-hidden="true" />
          </button>
        </span>
      )}
      <span
        className="min-w-0 flex-1 truncate"
        role={bad ? 'alert' : 'status'}
        title={[d.message, d.why, d.remedy, d.path ? jsonPath(d.path) : ''].filter(Boolean).join('\n')}
      >
        {d.element && <b>{d.element.name}: </b>}
        {d.message} <span className="text-ink-2">{d.remedy ?? d.why}</span>
      </span>
      {d.fix && (
        <button
          className="whitespace-nowrap rounded-md border border-line bg-sheet px-2 font-medium hover:border-ink-2"
          title="One step; undo takes it back"
          onClick={() => {
            applyFix(d.fix!);
            if (d.fix!.again) startRun();
          }}
        >
          {d.fix.label}
        </button>
      )}
      {d.element && (
        <button
          className="whitespace-nowrap font-medium underline"
          onClick={() => select({ family: d.element!.family as Family, name: d.element!.name })}
        >
          Show
        </button>
      )}
    </section>
  );
}

/** What stops the user first, then what went wrong in the run, then what may be wrong, then what is only worth knowing. */
function useFindings(): Diagnosis[] {
  const found = useDocument((s) => s.diagnoses);
  const refusal = useRuns((s) => s.refusal);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const store = useStorage();
  const notices = useDocument((s) => s.notices);
  const violations = useReadings((s) => s.violations);
  const passed = findingsOf(
    violations,
    (v) =>
      `Not kept in run ${run?.number ?? ''}: ${v.gauge} reaches ${formatQuantity(v.worst, v.dim, readUnit(v.unit) ? v.unit : undefined, 4)} at ${fixed(v.at, 3)} s.`,
  );
  const off = useReadings((s) => s.workings)
    .filter((w) => w.bad)
    .map((w): Diagnosis => ({
      code: 'working-differs',
      severity: 'warning',
      message: `Measured it differs from the value by hand by ${(100 * w.difference!).toPrecision(3)} %.`,
      element: { family: 'workings', name: w.name },
      remedy: 'One of the two is wrong, or the working leaves something out.',
    }));
  const ofRun = (run?.diagnoses ?? []).map((d) => ({ ...d, message: `${titleOf(run!)}: ${d.message}` }));
  return [
    ...shortage(store),
    ...(found.some((d) => d.severity === 'error') ? [] : refusal),
    ...notices,
    ...ofRun,
    ...found,
    ...passed,
    ...off,
  ].sort((a, b) => RANK[a.severity] - RANK[b.severity]);
}
