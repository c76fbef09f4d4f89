'use client';
import { useEffect, useImperativeHandle, useMemo, useState, type Ref } from 'react';
import { createPortal } from 'react-dom';
import type { Family, Field, LiveValue } from '@vim-pivot/core/page';
import { type Completion, complete, taken } from '@/state/adding/completion';
import { useDocument } from '@/state/document/document';
import { type Place, liveText, wouldBe } from '@/state/document/elements';
import { evaluate, fetchWords } from '@/workers/client';
import type { Word } from '@/workers/protocol';

export interface FormulaHelpHandle {
  /** Whether a key was taken up. */
  key(k: string): boolean;
}

let known: Word[] | undefined;

/** Under a formula while it is typed: what its value is now, what is wrong with it, and what could be written next. */
export function FormulaHelp({
  ref,
  input,
  caret,
  draft,
  field,
  family,
  name,
  place,
  onTake,
}: {
  ref: Ref<FormulaHelpHandle>;
  input: HTMLInputElement;
  caret: number;
  draft: string;
  field: Field;
  family: Family;
  name: string;
  place: Place;
  onTake: (text: string, caret: number) => void;
}) {
  const model = useDocument((s) => s.model);
  const [words, setWords] = useState(known);
  const worth = useWorth(draft, family, name, place);
  const [at, setAt] = useState(-1);
  const [shut, setShut] = useState<string>();
  useEffect(() => {
    if (!known) void fetchWords().then((w) => setWords((known = w)));
  }, []);
  const whole = input.selectionStart === 0 && input.selectionEnd === draft.length && draft !== '';
  const found: Completion | undefined = useMemo(
    () =>
      model && words && !whole && shut !== draft
        ? complete(
            draft,
            caret,
            model,
            words,
            { gauges: 'gauges' in field && !!field.gauges, time: 'time' in field && !!field.time },
            family === 'parameters' ? name : undefined,
          )
        : undefined,
    [model, words, draft, caret, whole, shut, field, family, name],
  );
  const take = (i: number) => {
    const s = found?.list[i];
    if (!s || !found) return;
    const done = taken(draft, found, s);
    setAt(-1);
    setShut(done.text);
    onTake(done.text, done.caret);
  };
  useImperativeHandle(ref, () => ({
    key(k) {
      if (!found) return false;
      if (k === 'ArrowDown' || k === 'ArrowUp')
        setAt((i) => (k === 'ArrowDown' ? (i + 1) % found.list.length : (i <= 0 ? found.list.length : i) - 1));
      else if (k === 'Tab' && (at >= 0 || found.list.length > 0)) take(Math.max(0, at));
      else if (k === 'Enter' && at >= 0) take(at);
      else if (k === 'Escape') setShut(draft);
      else return false;
      return true;
    },
  }));

  const box = input.getBoundingClientRect();
  if (!found && !worth?.live && !worth?.fault) return null;
  const above = box.bottom > innerHeight - 220;
  return createPortal(
    <div
      style={{
        left: Math.min(box.left - 6, innerWidth - 330),
        ...(above ? { bottom: innerHeight - box.top + 4 } : { top: box.bottom + 4 }),
      }}
      className="fixed z-50 w-80 overflow-hidden rounded-lg border border-line bg-sheet text-sm shadow-lg"
    >
      {worth && (worth.live || worth.fault) && (
        <p role="status" className={`px-2.5 py-1 font-mono text-xs ${worth.fault ? 'bg-warn-soft text-warn' : 'text-calm'}`}>
          {worth.fault ?? `= ${liveText(worth.live)}`}
        </p>
      )}
      {found && <Completions found={found} at={at} onTake={take} />}
      {found && (
        <p className="border-t border-line px-2.5 py-0.5 text-[11px] text-ink-2">Tab takes it, arrows choose, Enter enters the value</p>
      )}
    </div>,
    document.body,
  );
}

/** What the formula being typed would come to, asked a moment after the last key. */
function useWorth(draft: string, family: Family, name: string, place: Place): { live?: LiveValue; fault?: string } | undefined {
  const model = useDocument((s) => s.model);
  const [value, setValue] = useState<{ of: string; live?: LiveValue; fault?: string }>();
  useEffect(() => {
    if (!model || draft.trim() === '') return;
    const timer = setTimeout(() => {
      const asked = wouldBe(model, family, name, place, draft);
      if (!asked) return;
      void evaluate(asked.model, asked.path).then((r) => setValue({ of: draft, ...r }));
    }, 90);
    return () => clearTimeout(timer);
  }, [model, draft, family, name, place]);
  return value?.of === draft ? value : undefined;
}

function Completions({ found, at, onTake }: { found: Completion; at: number; onTake: (i: number) => void }) {
  return (
    <ul role="listbox" aria-label="Could stand here" className="border-t border-line py-0.5">
      {found.list.map((s, i) => (
        <li
          key={s.text}
          role="option"
          aria-selected={i === at}
          onMouseDown={(e) => {
            e.preventDefault();
            onTake(i);
          }}
          className={`flex cursor-pointer gap-2 px-2.5 py-0.5 ${i === at ? 'bg-accent-soft' : 'hover:bg-paper'}`}
        >
          <span className="font-mono text-xs leading-5">{s.text}</span>
          <span className="min-w-0 flex-1 truncate text-xs leading-5 text-ink-2">{s.detail}</span>
        </li>
      ))}
    </ul>
  );
}
