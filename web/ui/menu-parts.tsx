'use client';
import { Check } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';

/** A menu on Radix primitives with the look of the bench. */
export function Menu({ trigger, children, align = 'start' }: { trigger: ReactNode; children: ReactNode; align?: 'start' | 'end' }) {
  return (
    <DropdownMenu.Root defaultOpen>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align={align}
          sideOffset={4}
          className="z-50 max-h-[70vh] min-w-48 overflow-auto rounded-lg border border-line bg-sheet p-1 text-sm text-ink shadow-lg"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function MenuItem({
  onSelect,
  children,
  hint,
  danger,
  disabled,
}: {
  onSelect: () => void;
  children: ReactNode;
  hint?: string;
  danger?: boolean;
  disabled?: boolean;
}) {
  return (
    <DropdownMenu.Item
      {...(disabled ? { disabled } : {})}
      onSelect={onSelect}
      className={`flex cursor-pointer items-center justify-between gap-6 rounded-md px-2.5 py-1.5 outline-none data-[disabled]:cursor-default data-[disabled]:opacity-45 data-[highlighted]:bg-accent-soft ${danger ? 'text-accent' : ''}`}
    >
      <span>{children}</span>
      {hint && <span className="font-mono text-xs text-ink-2">{hint}</span>}
    </DropdownMenu.Item>
  );
}

/** A choice that can be on or off; the menu stays open. */
export function MenuCheck({ checked, onChange, children }: { checked: boolean; onChange: (on: boolean) => void; children: ReactNode }) {
  return (
    <DropdownMenu.CheckboxItem
      checked={checked}
      onCheckedChange={onChange}
      onSelect={(e) => e.preventDefault()}
      className="flex cursor-pointer items-center gap-2 rounded-md px-2.5 py-1 outline-none data-[highlighted]:bg-accent-soft"
    >
      <span className="grid h-3.5 w-3.5 place-items-center rounded-sm border border-line">
        <DropdownMenu.ItemIndicator>
          <Check size={11} aria-hidden="true" />
        </DropdownMenu.ItemIndicator>
      </span>
      {children}
    </DropdownMenu.CheckboxItem>
  );
}

export const MenuRule = () => <DropdownMenu.Separator className="my-1 h-px bg-line" />;
export const MenuLabel = ({ children }: { children: ReactNode }) => (
  <DropdownMenu.Label className="px-2.5 py-1 text-xs text-ink-2">{children}</DropdownMenu.Label>
);
