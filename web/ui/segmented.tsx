'use client';
import { ToggleGroup } from 'radix-ui';

/** A small choice of one among few, all in sight. What is chosen can be pressed again: a view that was turned stands as it was. */
export function Segmented({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (v: string) => void;
}) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(v) => onChange(v || value)}
      className="inline-flex overflow-hidden rounded-md border border-line bg-sheet"
    >
      {options.map(([v, text]) => (
        <ToggleGroup.Item
          key={v}
          value={v}
          className="border-r border-line px-2.5 py-1 font-medium text-ink-2 last:border-r-0 hover:text-ink data-[state=on]:bg-calm-soft data-[state=on]:text-calm"
        >
          {text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
