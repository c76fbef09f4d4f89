'use client';
import { ToggleGroup } from 'radix-ui';

/** A small choice of one among few, all in sight. */
export function Segmented({ label, value, options, onChange }: { label: string; value: string; options: readonly (readonly [string, string])[]; onChange: (v: string) => void }) {
  return (
    <ToggleGroup.Root type="single" aria-label={label} value={value} onValueChange={(v) => v && onChange(v)} className="inline-flex overflow-hidden rounded-md border border-line bg-sheet">
      {options.map(([v, text]) => (
        <ToggleGroup.Item key={v} value={v} className="border-r border-line px-2.5 py-1 font-medium text-ink-2 last:border-r-0 hover:text-ink data-[state=on]:bg-calm-soft data-[state=on]:text-calm">
          {text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
