'use client';
import { useRef, useState } from 'react';
import type { Family } from '@vim-pivot/core/page';
import { renameElement } from '@/state/document/elements';

/** The name of an element, where it can be typed over: every reference follows. */
export function NameInput({ family, name }: { family: Family; name: string }) {
  const [draft, setDraft] = useState<string>();
  const [fault, setFault] = useState<string>();
  const cancelled = useRef(false);
  return (
    <input
      data-name
      aria-label={`Name of ${name}`}
      aria-invalid={!!fault}
      title={fault ?? 'Rename: every reference follows'}
      spellCheck={false}
      value={draft ?? name}
      onFocus={(e) => {
        setDraft(name);
        e.currentTarget.select();
      }}
      onChange={(e) => setDraft(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') {
          cancelled.current = true;
          e.currentTarget.blur();
        }
        e.stopPropagation();
      }}
      onBlur={() => {
        if (draft !== undefined && !cancelled.current) setFault(renameElement(family, name, draft));
        cancelled.current = false;
        setDraft(undefined);
      }}
      className={`h-[24px] w-full rounded border bg-transparent px-1.5 font-medium outline-none hover:border-line focus:border-accent ${fault ? 'border-warn bg-warn-soft' : 'border-transparent'}`}
    />
  );
}
