'use client';
import { Pause, Play, SkipBack, Settings2 } from 'lucide-react';
import { Popover, Slider } from 'radix-ui';
import { useState } from 'react';
import { ANALYSIS_NAMES, ANALYSIS_WORDS, type Analysis, METHOD_NAMES, METHOD_WORDS, type Method, formatNumber, type Model } from '@vim-pivot/core/page';
import { edit, useDocument } from '@/state/document';
import { cancelRun, setFromShown, setSpeed, setTime, startRun, togglePlay, useRuns } from '@/state/runs';
import { Segmented } from '@/ui/segmented';
import { useFault } from '@/ui/value-input';

const SPEEDS = [['0.1', '0.1×'], ['0.25', '¼×'], ['1', '1×'], ['4', '4×']] as const;

/** Run, and the timeline of what was run. */
export function RunBar() {
  const model = useDocument((s) => s.model);
  const blocked = useDocument((s) => s.diagnoses.find((d) => d.severity === 'error'));
  const running = useRuns((s) => s.running);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const track = useRuns((s) => (s.current ? s.tracks.get(s.current) : undefined));
  useRuns((s) => s.tick);
  const playing = useRuns((s) => s.playing);
  const speed = useRuns((s) => s.speed);
  if (!model) return null;
  const end = running && run?.id === running ? run.until : (track?.end ?? 0);

  return (
    <section aria-label="Run bar" className="flex h-11 items-center gap-2.5 border-y border-line bg-sheet px-3">
      {running ? (
        <button onClick={cancelRun} className="w-[72px] rounded-md border border-accent px-3 py-1.5 font-semibold text-accent" title="Stop the run and keep what was computed (Esc)">
          Cancel
        </button>
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
      <Setting model={model} field="until" label="End time" width="w-16" />
      <Settings model={model} />
      <Status />
      <span className="h-6 w-px bg-line" />
      <button aria-label="Back to the start" disabled={end === 0} onClick={() => setTime(0)} className="grid h-8 w-7 place-items-center disabled:opacity-40"><SkipBack size={15} aria-hidden="true" /></button>
      <button aria-label={playing ? 'Pause' : 'Play'} title="Play or pause (Space)" disabled={end === 0} onClick={togglePlay} className="grid h-8 w-8 place-items-center disabled:opacity-40">
        {playing ? <Pause size={17} fill="currentColor" aria-hidden="true" /> : <Play size={17} fill="currentColor" aria-hidden="true" />}
      </button>
      <Timeline end={end} reached={track?.end ?? 0} />
      <Segmented label="Playback speed" value={String(speed)} options={SPEEDS} onChange={(v) => setSpeed(Number(v))} />
    </section>
  );
}

function Status() {
  const running = useRuns((s) => s.running);
  const progress = useRuns((s) => s.progress);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const blocked = useDocument((s) => s.diagnoses.find((d) => d.severity === 'error'));
  const kind = run?.model.run.analysis && run.model.run.analysis !== 'dynamic' ? ` (${run.model.run.analysis})` : '';
  const words = { running: 'stopped', done: 'done in', cancelled: 'cancelled after', failed: 'failed after' } as const;
  const text = running && run
    ? `Run ${run.number} at ${formatNumber(progress, 3)} s`
    : blocked ? `Cannot run: ${blocked.element ? `${blocked.element.name} is in error` : 'the model is in error'}`
      : run ? `Run ${run.number}${kind} ${words[run.status]} ${run.seconds.toFixed(2)} s` : 'Not run yet';
  return (
    <span id="run-status" role="status" className={`w-48 truncate ${blocked && !running ? 'text-accent' : 'text-ink-2'}`} title={blocked && !running ? blocked.message : text}>
      {text}
    </span>
  );
}

function Timeline({ end, reached }: { end: number; reached: number }) {
  const time = useRuns((s) => s.time);
  const view = useRuns((s) => s.view);
  const happenings = useRuns((s) => s.runs.find((r) => r.id === s.current)?.happenings) ?? [];
  const shown = view === 'run' ? Math.min(time, reached) : 0;
  return (
    <>
      <Slider.Root
        className="relative flex h-8 min-w-24 flex-1 touch-none select-none items-center"
        min={0}
        max={end || 1}
        step={Math.max(end / 5000, 1e-6)}
        value={[shown]}
        disabled={end === 0}
        onValueChange={([t]) => setTime(Math.min(t ?? 0, reached))}
      >
        <Slider.Track className="relative h-[3px] flex-1 rounded bg-line">
          <span className="absolute inset-y-0 left-0 rounded bg-ink-2/40" style={{ width: `${end > 0 ? (100 * reached) / end : 0}%` }} />
          <Slider.Range className="absolute h-full rounded bg-ink" />
          {happenings.slice(0, 100).map((h, i) => (
            <span key={i} title={`${h.t.toFixed(4)} s: ${h.message}`} className="absolute -top-[5px] h-[13px] w-[2px] bg-accent" style={{ left: `${(100 * h.t) / (end || 1)}%` }} />
          ))}
        </Slider.Track>
        <Slider.Thumb aria-label="Time" aria-valuetext={`${shown.toFixed(3)} s`} className="block h-5 w-[6px] rounded-sm bg-ink data-[disabled]:bg-line" />
      </Slider.Root>
      <output className="w-[76px] text-right font-mono text-xs" aria-label="Time shown">{shown.toFixed(3)} s</output>
    </>
  );
}

function Settings({ model }: { model: Model }) {
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button aria-label="Run settings" title="How finely to record, how accurately to solve" className="grid h-8 w-8 place-items-center rounded-md text-ink-2 hover:text-ink"><Settings2 size={16} aria-hidden="true" /></button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content side="top" align="start" sideOffset={6} className="z-50 grid w-72 grid-cols-[auto_1fr] items-center gap-x-3 gap-y-2 rounded-lg border border-line bg-sheet p-3 text-sm text-ink shadow-lg">
          <span className="text-ink-2">Analysis</span><Choice label="Analysis" value={model.run.analysis ?? 'dynamic'} options={ANALYSIS_NAMES.map((a) => [a, ANALYSIS_WORDS[a].label])} onChange={(v) => edit('Analysis', (m) => void (m.run.analysis = v))} />
          <p className="col-span-2 text-xs text-ink-2">{ANALYSIS_WORDS[(model.run.analysis ?? 'dynamic') as Analysis].help}</p>
          <span className="text-ink-2">End time</span><Setting model={model} field="until" label="End time" width="w-full" />
          <span className="text-ink-2">Record every</span><Setting model={model} field="every" label="Record every" width="w-full" />
          <span className="text-ink-2">Accuracy</span><Setting model={model} field="accuracy" label="Accuracy" width="w-full" />
          <span className="text-ink-2">Method</span><Choice label="Method" value={model.run.method ?? 'auto'} options={METHOD_NAMES.map((a) => [a, METHOD_WORDS[a as Method]])} onChange={(v) => edit('Method', (m) => void (m.run.method = v))} />
          <StartFrom />
          <p className="col-span-2 text-xs text-ink-2">These are independent: recording more finely does not change the solver’s steps, and playback speed changes neither.</p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Choice({ label, value, options, onChange }: { label: string; value: string; options: (readonly [string, string])[]; onChange: (v: string) => void }) {
  return (
    <select aria-label={label} value={value} onChange={(e) => onChange(e.target.value)} className="h-[26px] w-full rounded-md border border-line bg-sheet px-1">
      {options.map(([v, text]) => <option key={v} value={v}>{text}</option>)}
    </select>
  );
}

/** Whether the next run goes on from what is shown. */
function StartFrom() {
  const on = useRuns((s) => s.fromShown);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const time = useRuns((s) => s.time);
  return (
    <label className="col-span-2 flex items-center gap-2">
      <input type="checkbox" className="accent-calm" checked={on} disabled={!run} onChange={(e) => setFromShown(e.target.checked)} />
      <span>Start from run {run?.number ?? '–'} at <span className="font-mono text-xs">{time.toFixed(3)} s</span> <span className="text-ink-2">(position and speed of every body)</span></span>
    </label>
  );
}

function Setting({ model, field, label, width }: { model: Model; field: 'until' | 'every' | 'accuracy'; label: string; width: string }) {
  const [draft, setDraft] = useState<string>();
  const fault = useFault(`$.run.${field}`);
  const commit = () => {
    if (draft !== undefined && draft !== String(model.run[field])) {
      const plain = /^[\d.]+(e-?\d+)?$/i.test(draft.trim());
      edit(label, (m) => {
        m.run[field] = plain ? (field === 'accuracy' ? Number(draft) : `${draft.trim()} s`) : draft.trim();
      });
    }
    setDraft(undefined);
  };
  return (
    <input
      aria-label={label}
      aria-invalid={!!fault}
      title={fault ?? label}
      spellCheck={false}
      value={draft ?? String(model.run[field])}
      onFocus={(e) => e.currentTarget.select()}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        e.stopPropagation();
      }}
      className={`${width} rounded-md border bg-sheet px-2 py-1 font-mono text-xs ${fault ? 'border-warn bg-warn-soft' : 'border-line'}`}
    />
  );
}
