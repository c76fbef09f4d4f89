'use client';
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

export const MenuRule = () => <DropdownMenu.Separator className="my-1 h-px bg-line" />;
export const MenuLabel = ({ children }: { children: ReactNode }) => (
  <DropdownMenu.Label className="px-2.5 py-1 text-xs text-ink-2">{children}</DropdownMenu.Label>
);
