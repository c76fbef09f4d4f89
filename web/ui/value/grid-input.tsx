import type { GridField } from '@vim-pivot/core/page';
import { setRows } from '@/state/document/elements';
import type { Editing } from './editing';

/** Rows of numbers as lines of text; rows copied from a spreadsheet can be pasted as they are. */
export function GridInput({ family, element, place, field, label, value, fault, bare }: Editing<GridField>) {
  const rows = Array.isArray(value) ? (value as unknown as readonly (readonly number[])[]) : [];
  if (bare)
    return (
      <span className="px-1.5 text-ink-2" title={`${field.help} Edit them on the Card.`}>
        {rows.length} rows
      </span>
    );
  const text = rows.map((r) => r.join('\t')).join('\n');
  return (
    <textarea
      key={text}
      aria-label={label}
      aria-invalid={!!fault}
      title={fault || field.help}
      rows={Math.min(10, Math.max(4, rows.length + 1))}
      defaultValue={text}
      spellCheck={false}
      placeholder={`${field.columns} numbers a line`}
      onBlur={(e) => setRows(family, element.name, place.field, e.target.value)}
      onKeyDown={(e) => e.stopPropagation()}
      className={`w-full resize-y rounded border bg-sheet px-1.5 py-1 font-mono text-xs ${fault ? 'border-warn bg-warn-soft' : 'border-line'}`}
    />
  );
}
