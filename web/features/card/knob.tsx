'use client';
import { useRef, useState } from 'react';
import type { RawElement } from '@vim-pivot/core/page';
import { numberOf, textGesture } from '@/state/document/elements';
import { Slide } from '@/ui/slide';

/** How far a slider reaches to both sides, beside the value at which it was opened; and its steps. */
const REACH = 0.5;
const STEPS = 200;

/** A slider for the value of a parameter, as a number with its unit. */
export function Knob({ parameter }: { parameter: RawElement }) {
  const text = String(parameter.value ?? ''),
    now = numberOf(text);
  const [about, setAbout] = useState(now);
  const hand = useRef<ReturnType<typeof textGesture>>(undefined);
  if (!now || !about || now.unit !== about.unit) return <p className="px-3 pb-2 text-xs text-ink-2">A formula has no slider.</p>;
  const size = Math.abs(about.value) || 1,
    step = 10 ** Math.floor(Math.log10((2 * REACH * size) / STEPS)),
    [min, max] = [about.value - REACH * size, about.value + REACH * size];
  const set = (v: number) =>
    (hand.current ??= textGesture('parameters', parameter.name, { field: 'value' })).set(`${Number(v.toPrecision(6))}${about.unit}`);
  return (
    <div className="flex items-center gap-2 px-3 pb-2 font-mono text-xs text-ink-2">
      <span>{Number(min.toPrecision(4))}</span>
      <Slide
        className="flex-1"
        label={`${parameter.name} by hand`}
        min={min}
        max={max}
        step={step}
        value={Math.min(max, Math.max(min, now.value))}
        onChange={set}
        onEnd={() => (hand.current = undefined)}
      />
      <span>{Number(max.toPrecision(4))}</span>
      <button
        className="rounded border border-line px-1 font-sans hover:border-ink-2"
        title="Centre the slider on the value"
        onClick={() => setAbout(now)}
      >
        Centre
      </button>
    </div>
  );
}
