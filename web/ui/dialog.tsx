'use client';
import { Dialog as Radix } from 'radix-ui';
import type { ReactNode } from 'react';

export function Dialog({
  open,
  onClose,
  title,
  wide = false,
  children,
}: {
  open: boolean;
  wide?: boolean;
  onClose: () => void;
  title: string;
  children: ReactNode;
}) {
  return (
    <Radix.Root open={open} onOpenChange={(o) => !o && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/25 dark:bg-black/50" />
        <Radix.Content
          aria-describedby={undefined}
          className={`fixed left-1/2 top-1/2 z-50 max-h-[80vh] ${wide ? 'w-[880px]' : 'w-[560px]'} max-w-[92vw] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-xl border border-line bg-sheet p-5 text-ink shadow-xl`}
        >
          <Radix.Title className="mb-3 text-base font-semibold">{title}</Radix.Title>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

export const Button = ({
  onClick,
  children,
  primary = false,
  disabled = false,
  title,
}: {
  onClick: () => void;
  children: ReactNode;
  primary?: boolean;
  disabled?: boolean;
  title?: string;
}) => (
  <button
    type="button"
    onClick={onClick}
    disabled={disabled}
    title={title}
    className={`rounded-md border px-3 py-1 font-medium disabled:opacity-45 ${primary ? 'border-accent bg-accent text-on-accent' : 'border-line bg-sheet hover:border-ink-2'}`}
  >
    {children}
  </button>
);
