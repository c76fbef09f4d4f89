'use client';
import { useEffect, useId, useRef, useState } from 'react';
import {
  D,
  type Dimension,
  type Family,
  type LiveValue,
  type RawElement,
  type RawValue,
  formatQuantity,
  identical,
  localText,
  plainText,
  siUnit,
  shownUnit,
} from '@vim-pivot/core/page';
import dynamic from 'next/dynamic';
import type { FormulaHelpHandle } from './formula-help';
import { useDocument } from '@/state/document/document';
import {
  type Place,
  choicesFor,
  fieldOf,
  isLiteral,
  liveText,
  pathOf,
  rawAt,
  setNames,
  setRows,
  setText,
  shortText,
  textOf,
} from '@/state/document/elements';
import { Choice } from './choice';

const FormulaHelp = dynamic(() => import('./formula-help').then((m) => m.FormulaHelp), { ssr: false });

/** The finding that concerns a place, if there is one. */
export function useFault(path: string): string | undefined {
  return useDocument((s) => s.diagnoses.find((d) => d.severity === 'error' && d.path && pathText(d.path) === path)?.message);
}
const pathText = (path: readonly (string | number)[]) =>
  path.reduce<string>((t, p) => t + (typeof p === 'number' ? `[${p}]` : `.${p}`), '$');

/** A value is shown beside a formula, and beside a number in SI units that is shown in others; not beside what explains itself. */
function needsLive(value: RawValue, live: LiveValue): boolean {
  if (typeof value === 'number') return value !== 0 && !identical(live.dim, D.none);
  return value === undefined || !isLiteral(textOf(value));
}

/** Values of a field that is left out, as they were worked out. */
interface Found {
  values: readonly number[];
  dim: Dimension;
}
/** As text in the unit shown; a number alone, of three digits, where there is little room. */
function foundText({ values, dim }: Found, part: number | undefined, little: boolean): string {
  const value = values[part ?? 0] ?? 0;
  return little ? formatQuantity(value, dim, shownUnit(dim), 3).replace(/ .*$/, '') : formatQuantity(value, dim);
}
/** As it is written into the model when one of several is typed over. */
const foundRaw = ({ values, dim }: Found): (number | string)[] =>
  values.map((v) => (v === 0 ? 0 : `${Number(v.toPrecision(9))} ${siUnit(dim)}`));

/**
 * The editor of one place of an element, in the Ledger or on the Card. A formula shows its live value beside it; a
 * formula in error is marked and keeps its last good value.
 */
export function ValueInput({
  family,
  index,
  element,
  place,
  label,
  bare = false,
  compact = false,
  found,
  onBlock,
  onFill,
}: {
  family: Family;
  index: number;
  element: RawElement;
  place: Place;
  label: string;
  bare?: boolean;
  compact?: boolean;
  /** What counts while nothing is typed, SI; it stands grey in the field. */ found?: Found | undefined;
  /** Several cells were pasted here. */ onBlock?: (text: string) => void;
  /** Ctrl+D: write this cell into those below. */ onFill?: () => void;
}) {
  const field = fieldOf(family, element, place.field);
  const path = pathOf(family, index, place);
  const live = useDocument((s) => s.live.get(path));
  const fault = useFault(path) ?? '';
  const model = useDocument((s) => s.model);
  const { value, isDefault } = rawAt(family, element, place);
  const [draft, setDraft] = useState<string>();
  const input = useRef<HTMLInputElement>(null);
  const hint = useId();
  const cancelled = useRef(false);
  const [editor, setEditor] = useState<HTMLInputElement>();
  const [caret, setCaret] = useState(0);
  const help = useRef<FormulaHelpHandle>(null);
  const settling = useRef<ReturnType<typeof setTimeout>>(undefined);

  useEffect(() => {
    if (draft !== undefined) input.current?.select();
    // only when editing begins
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [draft === undefined]);

  if (!field || !model)
    return (
      <span className="text-ink-2/50" aria-hidden="true">
        –
      </span>
    );
  const frame = bare ? 'border-transparent' : 'border-line bg-sheet';
  const mark = fault ? 'border-warn! bg-warn-soft' : frame;

  if (field.type === 'ref' || field.type === 'choice') {
    const options = choicesFor(field, model);
    const text = textOf(value);
    const known = options.some((o) => o.value === text);
    // left out, a body is the ground
    const home = field.type === 'ref' && field.family === 'bodies' && !!field.optional;
    return (
      <Choice
        label={label}
        invalid={!!fault}
        title={fault || field.help}
        value={home ? text || model.ground : text}
        options={[
          ...(!home && (field.optional || text === '') ? [{ value: '', label: text === '' && !field.optional ? 'choose…' : 'none' }] : []),
          ...(!known && text !== '' ? [{ value: text, label: `${text} (missing)` }] : []),
          ...options,
        ]}
        onChange={(v) => setText(family, element.name, place, v)}
        className={`h-[24px] w-full hover:border-line ${mark} ${isDefault ? 'text-ink-2' : ''} bg-transparent`}
      />
    );
  }

  if (field.type === 'refs' && field.max <= 2) {
    const names = Array.isArray(value) ? (value as string[]) : [];
    const options = choicesFor(field, model);
    return (
      <span className={`flex min-w-0 gap-0.5 ${bare ? '' : 'flex-col'}`} title={fault || field.help}>
        {Array.from({ length: field.max }, (_, k) => (
          <Choice
            key={k}
            label={`${label}, ${k === 0 ? 'first' : 'second'}`}
            invalid={!!fault}
            value={names[k] ?? ''}
            options={[
              { value: '', label: k < field.min ? 'choose…' : 'same' },
              ...(names[k] && !options.some((o) => o.value === names[k]) ? [{ value: names[k], label: `${names[k]} (missing)` }] : []),
              ...options,
            ]}
            onChange={(v) =>
              setNames(
                family,
                element.name,
                place.field,
                Array.from({ length: field.max }, (_x, i) => (i === k ? v : (names[i] ?? ''))).filter(Boolean),
              )
            }
            className={`h-[24px] ${bare ? 'flex-1' : 'flex-none'} bg-transparent hover:border-line ${mark}`}
          />
        ))}
      </span>
    );
  }

  if (field.type === 'colour') {
    return (
      <span className="flex h-[24px] items-center gap-1.5" title={fault || field.help}>
        <input
          key={textOf(value)}
          type="color"
          aria-label={label}
          defaultValue={textOf(value) || '#8a8a8a'}
          onChange={(e) => {
            // the picker tells of every shade the pointer passes
            clearTimeout(settling.current);
            const text = e.target.value;
            settling.current = setTimeout(() => setText(family, element.name, place, text), 250);
          }}
          className={`h-5 w-8 cursor-pointer rounded border border-line ${value ? '' : 'opacity-40'}`}
        />
        {value ? (
          <button onClick={() => setText(family, element.name, place, '')} className="text-xs text-ink-2 underline">
            as usual
          </button>
        ) : (
          <span className="text-xs text-ink-2">as usual</span>
        )}
      </span>
    );
  }

  if (field.type === 'grid') {
    const rows = Array.isArray(value) ? (value as unknown as readonly (readonly number[])[]) : [];
    if (bare)
      return (
        <span className="px-1.5 text-ink-2" title={`${field.help} Edit them on the Card.`}>
          {rows.length} rows
        </span>
      );
    return (
      <GridInput
        family={family}
        name={element.name}
        place={place}
        rows={rows}
        columns={field.columns}
        label={label}
        fault={fault}
        help={field.help}
      />
    );
  }

  const formula = field.type !== 'refs' && field.type !== 'text';
  const shown = draft ?? (formula ? localText(shortText(value)) : textOf(value));
  const beside = formula && draft === undefined && live && needsLive(value, live) ? liveText(live) : '';
  const commit = () => {
    if (draft !== undefined && !cancelled.current)
      setText(family, element.name, place, formula ? plainText(draft) : draft, found && value === undefined ? foundRaw(found) : undefined);
    cancelled.current = false;
    setDraft(undefined);
  };
  const note = beside && (
    <span className="shrink-0 px-1.5 font-mono text-xs text-calm" data-live>
      {fault ? `${beside} stays in use` : `= ${beside}`}
    </span>
  );
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
          onBlur={commit}
          onPaste={(e) => {
            const text = e.clipboardData.getData('text/plain');
            if (!onBlock || !/[\t\n]/.test(text.trim())) return;
            e.preventDefault();
            cancelled.current = true;
            e.currentTarget.blur();
            onBlock(text);
          }}
          onSelect={(e) => setCaret(e.currentTarget.selectionStart ?? 0)}
          onKeyDown={(e) => {
            if (!e.ctrlKey && !e.metaKey && !e.shiftKey && help.current?.key(e.key)) {
              e.preventDefault();
              e.stopPropagation();
              return;
            }
            if (e.key === 'Enter') e.currentTarget.blur();
            if (onFill && e.key.toLowerCase() === 'd' && (e.ctrlKey || e.metaKey)) {
              e.preventDefault();
              e.currentTarget.blur();
              onFill();
            }
            if (e.key === 'Escape') {
              cancelled.current = true;
              e.currentTarget.blur();
            }
            e.stopPropagation();
          }}
          className={`min-w-0 flex-1 bg-transparent outline-none ${compact ? 'px-1 text-[11px]' : `px-1.5 ${formula ? 'text-xs' : ''}`} ${formula ? 'font-mono' : ''} ${isDefault && draft === undefined ? 'text-ink-2' : ''}`}
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

/** Rows of numbers as lines of text; rows copied from a spreadsheet can be pasted as they are. */
function GridInput({
  family,
  name,
  place,
  rows,
  columns,
  label,
  fault,
  help,
}: {
  family: Family;
  name: string;
  place: Place;
  rows: readonly (readonly number[])[];
  columns: number;
  label: string;
  fault: string;
  help: string;
}) {
  const text = rows.map((r) => r.join('\t')).join('\n');
  return (
    <textarea
      key={text}
      aria-label={label}
      aria-invalid={!!fault}
      title={fault || help}
      rows={Math.min(10, Math.max(4, rows.length + 1))}
      defaultValue={text}
      spellCheck={false}
      placeholder={`${columns} numbers a line`}
      onBlur={(e) => setRows(family, name, place.field, e.target.value)}
      onKeyDown={(e) => e.stopPropagation()}
      className={`w-full resize-y rounded border bg-sheet px-1.5 py-1 font-mono text-xs ${fault ? 'border-warn bg-warn-soft' : 'border-line'}`}
    />
  );
}
