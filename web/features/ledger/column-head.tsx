'use client';
import { type LedgerHeader, type LedgerTable, fixedWidth } from './use-rows';

/** A step of the arrow keys, and the narrowest column, px. */
const STEP = 12,
  LEAST = 56;

/** The head of a column: a click sorts by it, its right edge makes it wider. */
export function ColumnHead({
  table,
  header,
  label,
  help,
  look = '',
}: {
  table: LedgerTable;
  header: LedgerHeader;
  label: string;
  help?: string;
  look?: string;
}) {
  const { column } = header;
  const sorted = column.getIsSorted();
  const width = table.state.columnSizing[column.id];
  /** From here on it has a width of its own, which begins with what it has. */
  const fix = (handle: HTMLElement, more = 0) => {
    const now = handle.closest('th')?.getBoundingClientRect().width ?? header.getSize();
    table.setColumnSizing((s) => ({ ...s, [column.id]: Math.max(LEAST, Math.round(now) + more) }));
  };
  const drag = (e: React.MouseEvent | React.TouchEvent) => {
    fix(e.currentTarget as HTMLElement);
    header.getResizeHandler()(e);
  };
  return (
    <th
      aria-sort={sorted ? (sorted === 'desc' ? 'descending' : 'ascending') : 'none'}
      style={fixedWidth(table, column.id)}
      className={`relative whitespace-nowrap px-1.5 font-medium ${look}`}
    >
      <button
        title={`${help ?? label}\nClick to sort`}
        onClick={column.getToggleSortingHandler()}
        className="min-h-6 min-w-6 max-w-full truncate hover:text-ink"
      >
        {label}
        {sorted ? (sorted === 'desc' ? ' ↓' : ' ↑') : ''}
      </button>
      {column.getCanResize() && (
        <span
          role="separator"
          aria-orientation="vertical"
          aria-label={`Width of ${label}`}
          aria-valuenow={width ?? 0}
          title="Drag, or arrow keys. Double click: as wide as it needs"
          tabIndex={-1}
          onMouseDown={drag}
          onTouchStart={drag}
          onDoubleClick={() => column.resetSize()}
          onKeyDown={(e) => {
            const by = { ArrowLeft: -STEP, ArrowRight: STEP }[e.key];
            if (by === undefined) return;
            e.preventDefault();
            e.stopPropagation();
            fix(e.currentTarget, by);
          }}
          className={`absolute inset-y-0 right-0 w-1.5 cursor-col-resize touch-none select-none outline-none hover:bg-calm focus-visible:bg-accent ${column.getIsResizing() ? 'bg-accent' : ''}`}
        />
      )}
    </th>
  );
}
