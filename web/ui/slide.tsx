'use client';
import { Slider } from 'radix-ui';

/** A number between two, set by hand. */
export function Slide({
  label,
  min,
  max,
  step,
  value,
  onChange,
  onEnd,
  className = '',
}: {
  label: string;
  min: number;
  max: number;
  step: number;
  value: number;
  onChange: (v: number) => void;
  /** The hand lets go. */
  onEnd?: () => void;
  className?: string;
}) {
  return (
    <Slider.Root
      min={min}
      max={max}
      step={step}
      value={[value]}
      onValueChange={([v]) => v !== undefined && onChange(v)}
      onValueCommit={onEnd}
      className={`relative flex h-5 touch-none select-none items-center ${className}`}
    >
      <Slider.Track className="relative h-1 grow rounded-full bg-line">
        <Slider.Range className="absolute h-full rounded-full bg-calm" />
      </Slider.Track>
      <Slider.Thumb
        aria-label={label}
        className="block h-3.5 w-3.5 rounded-full border border-calm bg-sheet outline-none focus-visible:ring-2 focus-visible:ring-calm"
      />
    </Slider.Root>
  );
}
