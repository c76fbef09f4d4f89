'use client';
import { useState } from 'react';
import { type Model, type RunFormula, localText, plainText } from '@vim-pivot/core/page';
import { edit } from '@/state/document/document';
import { useFault } from '@/ui/value/fault';

/** One of the run's settings, as a formula. */
export function Setting({
  model,
  field,
  label,
  width,
  unset,
}: {
  model: Model;
  field: RunFormula;
  label: string;
  width: string;
  /** For a setting that may be left out: what then counts, in words. */
  unset?: string;
}) {
  const [draft, setDraft] = useState<string>();
  const fault = useFault(`$.run.${field}`);
  const commit = () => {
    const typed = draft === undefined ? undefined : plainText(draft).trim();
    if (typed !== undefined && typed !== String(model.run[field] ?? '')) {
      const plain = /^[\d.]+(e-?\d+)?$/i.test(typed);
      edit(label, (m) => {
        if (field === 'longest' && typed === '') delete m.run.longest;
        else m.run[field] = plain ? (field === 'accuracy' ? Number(typed) : `${typed} s`) : typed;
      });
    }
    setDraft(undefined);
  };
  return (
    <input
      aria-label={label}
      aria-invalid={!!fault}
      title={fault ?? label}
      spellCheck={false}
      placeholder={unset}
      value={draft ?? localText(String(model.run[field] ?? ''))}
      onFocus={(e) => e.currentTarget.select()}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        e.stopPropagation();
      }}
      className={`${width} rounded-md border bg-sheet px-2 py-1 font-mono text-xs ${fault ? 'border-warn bg-warn-soft' : 'border-line'}`}
    />
  );
}
