'use client';
import { Check, ChevronDown } from 'lucide-react';
import { Select } from 'radix-ui';

export interface ChoiceOption {
  value: string;
  label: string;
  disabled?: boolean;
}
export interface ChoiceProps {
  label: string;
  value: string;
  options: readonly ChoiceOption[];
  onChange: (value: string) => void;
  /** What stands where the value is none of the options. */
  placeholder?: string;
  title?: string;
  invalid?: boolean;
  className?: string;
}

/** The library takes no empty value: each stands behind a sign. */
const SIGN = '=';

/** The list of a choice, open; it goes when something is chosen, or nothing. */
export function List({
  label,
  value,
  options,
  onChange,
  placeholder,
  title,
  invalid,
  className,
  onDone,
}: ChoiceProps & { onDone: () => void }) {
  return (
    <Select.Root
      defaultOpen
      value={options.some((o) => o.value === value) ? SIGN + value : ''}
      onValueChange={(v) => v !== '' && onChange(v.slice(SIGN.length))}
      onOpenChange={(open) => !open && setTimeout(onDone)}
    >
      <Select.Trigger aria-label={label} aria-invalid={!!invalid} title={title} className={className}>
        <span className="min-w-0 flex-1 truncate">
          <Select.Value placeholder={placeholder ?? value} />
        </span>
        <ChevronDown size={13} className="shrink-0 text-ink-2" aria-hidden="true" />
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          sideOffset={3}
          className="z-[60] max-h-[min(60vh,var(--radix-select-content-available-height))] min-w-[var(--radix-select-trigger-width)] overflow-hidden rounded-lg border border-line bg-sheet text-sm text-ink shadow-lg"
        >
          <Select.Viewport className="p-1">
            {options.map((o) => (
              <Select.Item
                key={o.value}
                value={SIGN + o.value}
                disabled={o.disabled ?? false}
                className="flex min-h-6 cursor-pointer items-center gap-2 rounded-md py-0.5 pl-2 pr-3 outline-none data-[disabled]:opacity-45 data-[highlighted]:bg-accent-soft"
              >
                <span className="w-3.5 shrink-0">
                  <Select.ItemIndicator>
                    <Check size={13} aria-hidden="true" />
                  </Select.ItemIndicator>
                </span>
                <Select.ItemText>{o.label}</Select.ItemText>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
