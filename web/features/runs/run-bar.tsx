'use client';
import { Pause, Play, SkipBack, Settings2 } from 'lucide-react';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { formatNumber, type Model, fixed } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { cancelRun, setSpeed, setTime, startRun, togglePlay, unqueue, useRuns } from '@/state/runs/runs';
import { titleOf } from '@/state/runs/title';
import { Segmented } from '@/ui/segmented';
import { Clock } from './clock';
import { Setting } from './setting';

// the slider comes with the first run
const Timeline = dynamic(() => import('./timeline').then((m) => m.Timeline), { ssr: false });
const Outcome = dynamic(() => import('./outcome').then((m) => m.Outcome), { ssr: false });
const RunSettings = dynamic(() => import('./run-settings').then((m) => m.RunSettings), { ssr: false });

const SPEEDS = [
  ['0.1', '0.1×'],
  ['0.25', '¼×'],
  ['1', '1×'],
  ['4', '4×'],
] as const;

/** Run, and the timeline of what was run; above it why a run did not come to its end. */
export function RunBar() {
  // only a run that did not come to its end has something to say
  const said = useRuns(
    (s) => s.refusal.length > 0 || s.runs.some((r) => r.id === s.current && (r.status === 'failed' || r.status === 'stopped')),
  );
  return (
    <>
      {said && <Outcome />}
      <Bar />
      <Clock />
    </>
  );
}

function Bar() {
  const model = useDocument((s) => s.model);
  const blocked = useDocument((s) => s.diagnoses.find((d) => d.severity === 'error'));
  const running = useRuns((s) => s.running);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const track = useRuns((s) => (s.current ? s.tracks.get(s.current) : undefined));
  useRuns((s) => s.tick);
  const playing = useRuns((s) => s.playing);
  const speed = useRuns((s) => s.speed);
  const queued = useRuns((s) => s.queue.length);
  if (!model) return null;
  const end = running && run?.id === running ? run.until : (track?.end ?? 0);

  return (
    <section aria-label="Run bar" className="flex h-11 items-center gap-2.5 border-y border-line bg-sheet px-3">
      {running ? (
        <>
          <button
            onClick={cancelRun}
            className="w-[72px] rounded-md border border-accent px-3 py-1.5 font-semibold text-accent"
            title="Stop the run and keep what was computed (Esc)"
          >
            Cancel
          </button>
          <button
            onClick={startRun}
            disabled={!!blocked}
            className="rounded-md border border-line px-2 py-1 font-medium hover:border-ink-2 disabled:opacity-45"
            title="Run the model as it is now when the present run is done"
          >
            Run next{queued > 0 ? ` (${queued})` : ''}
          </button>
          {queued > 0 && (
            <button
              aria-label="Take the last one out of the queue"
              title="Take the last one out of the queue"
              onClick={() => unqueue(queued - 1)}
              className="px-1 text-ink-2 hover:text-accent"
            >
              ×
            </button>
          )}
        </>
      ) : (
        <button
          onClick={startRun}
          disabled={!!blocked}
          aria-describedby="run-status"
          className="w-[72px] rounded-md bg-accent px-3 py-1.5 font-semibold text-on-accent disabled:opacity-45"
          title={blocked ? `Cannot run: ${blocked.message}` : 'Run the model (Ctrl+Enter)'}
        >
          Run
        </button>
      )}
      <Live blocked={!!blocked} />
      <Setting model={model} field="until" label="End time" width="w-16" />
      <Settings model={model} />
      <Status />
      <span className="h-6 w-px bg-line" />
      <button
        aria-label="Back to the start"
        disabled={end === 0}
        onClick={() => setTime(0)}
        className="grid h-8 w-7 place-items-center disabled:opacity-40"
      >
        <SkipBack size={15} aria-hidden="true" />
      </button>
      <button
        aria-label={playing ? 'Pause' : 'Play'}
        title="Play or pause (Space)"
        disabled={end === 0}
        onClick={togglePlay}
        className="grid h-8 w-8 place-items-center disabled:opacity-40"
      >
        {playing ? <Pause size={17} fill="currentColor" aria-hidden="true" /> : <Play size={17} fill="currentColor" aria-hidden="true" />}
      </button>
      {end > 0 ? (
        <Timeline end={end} reached={track?.end ?? 0} />
      ) : (
        <>
          <span aria-hidden="true" className="h-[3px] min-w-24 flex-1 rounded bg-line" />
          <output className="w-[76px] text-right font-mono text-xs" aria-label="Time shown">
            {fixed(0, 3)} s
          </output>
        </>
      )}
      <Segmented label="Playback speed" value={String(speed)} options={SPEEDS} onChange={(v) => setSpeed(Number(v))} />
    </section>
  );
}

/** Whether the run is repeated while something is moved. */
function Live({ blocked }: { blocked: boolean }) {
  const live = useRuns((s) => s.live);
  return (
    <button
      aria-pressed={live}
      disabled={blocked && !live}
      onClick={() => void import('@/state/runs/live').then((m) => m.toggleLive())}
      title="Repeat the run while a value is dragged, a slider moved or a point drawn; what stands at the end is kept"
      className={`rounded-md border px-2 py-1 font-medium disabled:opacity-45 ${live ? 'border-calm bg-calm-soft text-calm' : 'border-line hover:border-ink-2'}`}
    >
      Live
    </button>
  );
}

function Status() {
  const running = useRuns((s) => s.running);
  const progress = useRuns((s) => s.progress);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const blocked = useDocument((s) => s.diagnoses.find((d) => d.severity === 'error'));
  const kind = run?.model.run.analysis && run.model.run.analysis !== 'dynamic' ? ` (${run.model.run.analysis})` : '';
  /** How long it took, or how far it came: the time of the machine, not of the clock. */
  const words =
    run &&
    {
      running: 'running',
      done: `done in ${fixed(run.seconds, 2)} s`,
      cancelled: `cancelled at ${formatNumber(run.reached, 3)} s`,
      stopped: `stopped at ${formatNumber(run.reached, 3)} s`,
      failed: `failed at ${formatNumber(run.reached, 3)} s`,
    }[run.status];
  const text =
    running && run
      ? `Run ${run.number} at ${formatNumber(progress, 3)} s`
      : blocked
        ? `Cannot run: ${blocked.element ? `${blocked.element.name} is in error` : 'the model is in error'}`
        : run
          ? `${titleOf(run)}${kind} ${words}`
          : 'Not run yet';
  return (
    <span
      id="run-status"
      role="status"
      className={`max-w-72 min-w-40 truncate ${blocked && !running ? 'text-accent' : 'text-ink-2'}`}
      title={blocked && !running ? blocked.message : text}
    >
      {text}
    </span>
  );
}

function Settings({ model }: { model: Model }) {
  const [wanted, setWanted] = useState(false);
  const button = (
    <button
      aria-label="Run settings"
      aria-haspopup="dialog"
      onClick={() => setWanted(true)}
      title="How finely to record, how accurately to solve"
      className="grid h-8 w-8 place-items-center rounded-md text-ink-2 hover:text-ink"
    >
      <Settings2 size={16} aria-hidden="true" />
    </button>
  );
  return wanted ? <RunSettings model={model} trigger={button} /> : button;
}
