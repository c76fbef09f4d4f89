'use client';
import { Check } from 'lucide-react';
import { Checkbox } from 'radix-ui';

/** A box that is ticked or not; what stands beside it in the same label ticks it too. */
export function CheckBox({
  checked,
  onChange,
  disabled = false,
  label,
  className = '',
}: {
  checked: boolean;
  onChange: (on: boolean) => void;
  disabled?: boolean;
  label?: string;
  className?: string;
}) {
  return (
    <Checkbox.Root
      checked={checked}
      onCheckedChange={(on) => onChange(on === true)}
      disabled={disabled}
      aria-label={label}
      className={`grid h-4 w-4 shrink-0 place-items-center rounded border border-ink-2/60 bg-sheet hover:border-ink disabled:opacity-45 data-[state=checked]:border-calm data-[state=checked]:bg-calm ${className}`}
    >
      <Checkbox.Indicator>
        <Check size={12} strokeWidth={3} className="text-sheet" aria-hidden="true" />
      </Checkbox.Indicator>
    </Checkbox.Root>
  );
}
