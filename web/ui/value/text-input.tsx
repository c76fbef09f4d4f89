import dynamic from 'next/dynamic';
import { useEffect, useId, useRef, useState } from 'react';
import { D, type Field, type LiveValue, type RawValue, identical, localText, plainText } from '@vim-pivot/core/page';
import { isLiteral, liveText, setText, shortText, textGesture, textOf } from '@/state/document/elements';
import type { FormulaHelpHandle } from '../formula-help';
import type { Editing } from './editing';
import { pressed } from './pressed';
import { type Found, foundRaw, foundText } from './found';

const FormulaHelp = dynamic(() => import('../formula-help').then((m) => m.FormulaHelp), { ssr: false });

/** A value is shown beside a formula, and beside a number in SI units that is shown in others; not beside what explains itself. */
function needsLive(value: RawValue, live: LiveValue): boolean {
  if (typeof value === 'number') return value !== 0 && !identical(live.dim, D.none);
  return value === undefined || !isLiteral(textOf(value));
}

interface Props extends Editing<Field> {
  live: LiveValue | undefined;
  compact: boolean;
  found: Found | undefined;
  onBlock: ((text: string) => void) | undefined;
  onFill: (() => void) | undefined;
}

/**
 * A field that is typed. A formula shows its live value beside it; one in error is marked and keeps its last good value.
 */
export function TextInput({ live, compact, found, onBlock, onFill, ...on }: Props) {
  const { family, element, place, field, label, value, isDefault, fault, mark, bare } = on;
  const hint = useId();
  const [editor, setEditor] = useState<HTMLInputElement>();
  const [caret, setCaret] = useState(0);
  const help = useRef<FormulaHelpHandle>(null);
  const formula = field.type !== 'refs' && field.type !== 'text';
  const { input, draft, setDraft, leave, commit } = useDraft((text) =>
    setText(family, element.name, place, formula ? plainText(text) : text, found && value === undefined ? foundRaw(found) : undefined),
  );
  const shown = draft ?? (formula ? localText(shortText(value)) : textOf(value));
  const beside = formula && draft === undefined && live && needsLive(value, live) ? liveText(live) : '';
  const note = beside && (
    <span className="shrink-0 px-1.5 font-mono text-xs text-calm" data-live>
      {fault ? `${beside} stays in use` : `= ${beside}`}
    </span>
  );
  const key = (e: React.KeyboardEvent<HTMLInputElement>) => {
    const control = e.ctrlKey || e.metaKey;
    if (!control && !e.shiftKey && help.current?.key(e.key)) e.preventDefault();
    else if (e.key === 'Enter') e.currentTarget.blur();
    else if (e.key === 'Escape') leave(e.currentTarget);
    else if (onFill && control && e.key.toLowerCase() === 'd') {
      e.preventDefault();
      e.currentTarget.blur();
      onFill();
    }
    e.stopPropagation();
  };
  const paste = (e: React.ClipboardEvent<HTMLInputElement>) => {
    const text = e.clipboardData.getData('text/plain');
    if (!onBlock || !/[\t\n]/.test(text.trim())) return;
    e.preventDefault();
    leave(e.currentTarget);
    onBlock(text);
  };
  const size = compact ? 'px-1 text-[11px]' : `px-1.5 ${formula ? 'text-xs' : ''}`;
  return (
    <>
      <span
        className={`flex h-[24px] min-w-0 items-center rounded border hover:border-line focus-within:border-accent ${mark}`}
        title={fault || (beside ? `${shown} = ${beside}` : field.help)}
      >
        <input
          ref={input}
          aria-label={label}
          aria-invalid={!!fault}
          aria-describedby={fault ? hint : undefined}
          spellCheck={false}
          autoComplete="off"
          value={shown}
          placeholder={found && value === undefined ? foundText(found, place.part, compact) : field.optional ? '' : 'needed'}
          onFocus={(e) => {
            setEditor(e.currentTarget);
            setDraft(formula ? localText(textOf(value)) : textOf(value));
          }}
          onChange={(e) => setDraft(e.target.value)}
          onPointerDown={
            formula && draft === undefined && isLiteral(textOf(value)) && textOf(value) !== ''
              ? (e) => pressed(e, textOf(value), () => textGesture(family, element.name, place))
              : undefined
          }
          onBlur={commit}
          onPaste={paste}
          onSelect={(e) => setCaret(e.currentTarget.selectionStart ?? 0)}
          onKeyDown={key}
          className={`min-w-0 flex-1 bg-transparent outline-none ${size} ${formula ? 'font-mono' : ''} ${isDefault && draft === undefined ? 'text-ink-2' : ''}`}
        />
        {bare && note}
        {formula && draft !== undefined && editor && (
          <FormulaHelp
            ref={help}
            caret={caret}
            input={editor}
            draft={plainText(draft)}
            field={field}
            family={family}
            name={element.name}
            place={place}
            onTake={(text, to) => {
              setDraft(localText(text));
              requestAnimationFrame(() => editor.setSelectionRange(to, to));
            }}
          />
        )}
        {fault && (
          <span id={hint} className="sr-only">
            {fault}
          </span>
        )}
      </span>
      {!bare && !compact && note && <span className="col-start-2 -mt-0.5">{note}</span>}
    </>
  );
}

/** What is being typed and not yet taken: taken when the field is left, unless it is left without. */
function useDraft(take: (text: string) => void) {
  const [draft, setDraft] = useState<string>();
  const input = useRef<HTMLInputElement>(null);
  const cancelled = useRef(false);
  const editing = draft !== undefined;
  useEffect(() => {
    if (editing) input.current?.select();
  }, [editing]);
  const commit = () => {
    if (draft !== undefined && !cancelled.current) take(draft);
    cancelled.current = false;
    setDraft(undefined);
  };
  const leave = (element: HTMLInputElement) => {
    cancelled.current = true;
    element.blur();
  };
  return { input, draft, setDraft, commit, leave };
}
