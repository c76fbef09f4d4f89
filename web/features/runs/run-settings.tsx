'use client';
import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';
import {
  ANALYSIS_NAMES,
  ANALYSIS_WORDS,
  type Analysis,
  METHOD_NAMES,
  METHOD_WORDS,
  type Method,
  type Model,
  PLANAR_NAMES,
  PLANAR_WORDS,
  fixed,
} from '@vim-pivot/core/page';
import { edit } from '@/state/document/document';
import { setFromShown, useRuns } from '@/state/runs/runs';
import { CheckBox } from '@/ui/check';
import { Choice } from '@/ui/choice';
import { Setting } from './setting';

/** What is computed, how finely it is recorded and how accurately it is solved. */
export function RunSettings({ model, trigger }: { model: Model; trigger: ReactNode }) {
  return (
    <Popover.Root defaultOpen>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={6}
          className="z-50 grid w-72 grid-cols-[auto_1fr] items-center gap-x-3 gap-y-2 rounded-lg border border-line bg-sheet p-3 text-sm text-ink shadow-lg"
        >
          <span className="text-ink-2">Analysis</span>
          <OneOf
            label="Analysis"
            value={model.run.analysis ?? 'dynamic'}
            options={ANALYSIS_NAMES.map((a) => [a, ANALYSIS_WORDS[a].label])}
            onChange={(v) => edit('Analysis', (m) => void (m.run.analysis = v))}
          />
          <p className="col-span-2 text-xs text-ink-2">{ANALYSIS_WORDS[(model.run.analysis ?? 'dynamic') as Analysis].help}</p>
          <span className="text-ink-2">End time</span>
          <Setting model={model} field="until" label="End time" width="w-full" />
          <span className="text-ink-2">Record every</span>
          <Setting model={model} field="every" label="Record every" width="w-full" />
          <span className="text-ink-2">Accuracy</span>
          <Setting model={model} field="accuracy" label="Accuracy" width="w-full" />
          <span className="text-ink-2">Method</span>
          <OneOf
            label="Method"
            value={model.run.method ?? 'auto'}
            options={METHOD_NAMES.map((a) => [a, METHOD_WORDS[a as Method]])}
            onChange={(v) => edit('Method', (m) => void (m.run.method = v))}
          />
          <span className="text-ink-2">Plane motion</span>
          <OneOf
            label="Plane motion"
            value={model.run.planar ?? 'auto'}
            options={PLANAR_NAMES.map((a) => [a, PLANAR_WORDS[a]])}
            onChange={(v) => edit('Plane motion', (m) => void (m.run.planar = v))}
          />
          <span className="text-ink-2">Longest step</span>
          <Setting model={model} field="longest" label="Longest step" width="w-full" unset="chosen by the solver" />
          <StartFrom />
          <p className="col-span-2 text-xs text-ink-2">
            These are independent: recording more finely does not change the solver’s steps, and playback speed changes neither.
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function OneOf({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: (readonly [string, string])[];
  onChange: (v: string) => void;
}) {
  return (
    <Choice
      label={label}
      value={value}
      options={options.map(([v, text]) => ({ value: v, label: text }))}
      onChange={onChange}
      className="h-[26px] w-full border-line bg-sheet"
    />
  );
}

/** Whether the next run goes on from what is shown. */
function StartFrom() {
  const on = useRuns((s) => s.fromShown);
  const run = useRuns((s) => s.runs.find((r) => r.id === s.current));
  const time = useRuns((s) => s.time);
  return (
    <label className="col-span-2 flex items-center gap-2">
      <CheckBox checked={on} disabled={!run} onChange={setFromShown} />
      <span>
        Start from run {run?.number ?? '–'} at <span className="font-mono text-xs">{fixed(time, 3)} s</span>{' '}
        <span className="text-ink-2">(position and speed of every body)</span>
      </span>
    </label>
  );
}
