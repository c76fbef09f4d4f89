'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import dynamic from 'next/dynamic';
import { type RefObject, useEffect, useRef, useState } from 'react';
import { type Family, type RawElement, kindsOf } from '@vim-pivot/core/page';
import { pickAlso, useDocument } from '@/state/document/document';
import { removeElement } from '@/state/document/elements';
import { isBlock, rowsToText } from '@/state/document/rows';
import { ColumnHead } from './column-head';
import { ColumnMenu } from './column-menu';
import { FlyingRow, ROW, Row } from './row';
import { useRows } from './use-rows';

const Teach = dynamic(() => import('./teach').then((m) => m.Teach), { ssr: false });
const RowMenu = dynamic(() => import('../scene/scene-menu').then((m) => m.SceneMenu), { ssr: false });
const Brought = dynamic(() => import('./brought').then((m) => m.Brought), { ssr: false });

type Columns = ReturnType<typeof useRows>['columns'];

/** Rows from which on they are plain text while the table flies past. */
const MANY = 200;

/** The elements of a family, a row each. */
export function Table({ family, elements, filter }: { family: Family; elements: readonly RawElement[]; filter: string }) {
  const { table, columns } = useRows(family, elements, filter);
  const { rows } = table.getRowModel();
  const kinds = kindsOf(family).length > 1 && table.state.columnVisibility.kind !== false;
  const [told, setTold] = useState<string>();
  const [menu, setMenu] = useState<{ x: number; y: number; name: string }>();
  const selected = useDocument((s) => (s.selected?.family === family ? s.selected.name : undefined));
  const brought = useDocument((s) => s.brought[family]?.length ?? 0);
  const scroller = useRef<HTMLDivElement>(null);
  const at = selected === undefined ? -1 : rows.findIndex((r) => r.id === selected);
  const { virtual, shown, before, after } = useScrolled(scroller, rows.length, at);

  const names = () => rows.map((r) => r.id);
  const pickedRows = () => rows.filter((r) => r.getIsSelected()).map((r) => r.original.e);
  const focusRow = (position: number) => {
    if (position < 0 || position >= rows.length) return;
    virtual.scrollToIndex(position, { align: 'auto' });
    requestAnimationFrame(() => scroller.current?.querySelector<HTMLElement>(`tr[data-position="${position}"]`)?.focus());
  };
  /** All rows from the one that was picked last to this one. */
  const range = (name: string) => {
    const to = rows.findIndex((r) => r.id === name),
      from = at < 0 ? to : at;
    const within = rows.slice(Math.min(from, to), Math.max(from, to) + 1).map((r) => r.id);
    table.setRowSelection((now) => ({ ...now, ...Object.fromEntries((to < from ? within.reverse() : within).map((n) => [n, true])) }));
  };
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto" {...clipboard(family, columns, pickedRows, setTold)}>
      {menu && (
        <div className="fixed left-0 top-0 z-50">
          <RowMenu x={menu.x} y={menu.y} on={{ family, name: menu.name }} onClose={() => setMenu(undefined)} />
        </div>
      )}
      {told && (
        <p role="status" className="sr-only">
          {told}
        </p>
      )}
      <table className="min-w-full border-collapse text-sm" aria-rowcount={rows.length + 1}>
        <Head table={table} columns={columns} kinds={kinds} family={family} elements={elements} />
        <tbody>
          <Space height={before} />
          {shown.map(({ index: position }) => {
            const row = rows[position]!,
              picked = row.getIsSelected();
            // while the table flies past, rows are text; editors come when it rests
            if (rows.length > MANY && virtual.isScrolling && !picked)
              return <FlyingRow key={row.id} family={family} e={row.original.e} columns={columns} kinds={kinds} />;
            return (
              <Row
                key={row.id}
                table={table}
                family={family}
                data={row.original}
                columns={columns}
                kinds={kinds}
                position={position}
                picked={picked}
                names={names}
                onKey={(k, p, e) =>
                  rowKey(k, {
                    family,
                    name: e.name,
                    before: rows[p - 1]?.id,
                    after: rows[p + 1]?.id,
                    focus: (by) => focusRow(p + by),
                    onMenu: setMenu,
                  })
                }
                onMenu={setMenu}
                onRange={range}
              />
            );
          })}
          <Space height={after} />
          {brought > 0 && <Brought family={family} span={columns.length + (kinds ? 2 : 1)} />}
        </tbody>
      </table>
      {rows.length === 0 && (
        <p className="px-4 py-3 text-ink-2">{elements.length > 0 ? 'No row matches the filter.' : <Teach family={family} />}</p>
      )}
    </div>
  );
}

/** The rows that are in sight; the selected one is brought there. @param at position of the selected row, or −1 */
function useScrolled(scroller: RefObject<HTMLDivElement | null>, count: number, at: number) {
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 2,
    scrollPaddingEnd: ROW,
  });
  useEffect(() => {
    if (at < 0) return;
    // once the page is laid out: asking where the row stands before that would lay it out within the same task
    const frame = requestAnimationFrame(() => virtual.scrollToIndex(at, { align: 'auto' }));
    return () => cancelAnimationFrame(frame);
    // only when the selection moves
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [at]);
  const shown = virtual.getVirtualItems();
  return { virtual, shown, before: shown[0]?.start ?? 0, after: virtual.getTotalSize() - (shown.at(-1)?.end ?? 0) };
}

interface OnRow {
  family: Family;
  name: string;
  /** Names of its neighbours. */
  before: string | undefined;
  after: string | undefined;
  /** Goes to a row so many further down. */
  focus: (by: 1 | -1) => void;
  onMenu: (menu: { x: number; y: number; name: string }) => void;
}

/** Keys on a row: arrows go on, with Shift they pick; Enter and F2 edit, Delete takes it out. */
function rowKey(k: React.KeyboardEvent, { family, name, before, after, focus, onMenu }: OnRow): void {
  if (k.target !== k.currentTarget) return;
  const enter = (what: string) => k.currentTarget.querySelector<HTMLElement>(what)?.focus();
  if (k.key === 'ArrowDown' || k.key === 'ArrowUp') {
    const down = k.key === 'ArrowDown',
      next = down ? after : before;
    if (k.shiftKey && next !== undefined) pickAlso({ family, name: next });
    focus(down ? 1 : -1);
  } else if (k.key === 'Enter') enter('td input, td [role=combobox], td select');
  else if (k.key === 'F2') enter('input[data-name]');
  else if (k.key === 'ContextMenu' || (k.key === 'F10' && k.shiftKey)) {
    const r = k.currentTarget.getBoundingClientRect();
    onMenu({ x: r.left + 60, y: r.bottom, name });
  } else if (k.key === 'Delete') removeElement(family, name);
  else return;
  k.preventDefault();
}

const typing = (e: React.ClipboardEvent) => e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
const counted = (n: number) => `${n} row${n === 1 ? '' : 's'}`;

/** Rows go to and from the clipboard as text. @param say tells what was done */
const clipboard = (family: Family, columns: Columns, picked: () => readonly RawElement[], say: (words: string) => void) => ({
  onCopy: (e: React.ClipboardEvent) => {
    const copied = picked();
    if (typing(e) || copied.length === 0) return;
    e.clipboardData.setData('text/plain', rowsToText(family, copied, columns));
    e.preventDefault();
    say(`${counted(copied.length)} copied.`);
  },
  onPaste: (e: React.ClipboardEvent) => {
    const text = e.clipboardData.getData('text/plain');
    if (typing(e) || !isBlock(text)) return;
    e.preventDefault();
    void import('@/state/document/cells').then(({ pasteRows }) => {
      const done = pasteRows(family, text, columns);
      say(typeof done === 'string' ? done : `${counted(done)} pasted.`);
    });
  },
});

/** Rows that are out of sight. */
function Space({ height }: { height: number }) {
  return height > 0 ? (
    <tr aria-hidden="true">
      <td style={{ height }} />
    </tr>
  ) : null;
}

type RowsTable = ReturnType<typeof useRows>['table'];

function Head({
  table,
  columns,
  kinds,
  family,
  elements,
}: {
  table: RowsTable;
  columns: Columns;
  kinds: boolean;
  family: Family;
  elements: readonly RawElement[];
}) {
  const heads = new Map(table.getHeaderGroups()[0]!.headers.map((h) => [h.column.id, h]));
  const head = (id: string, label: string, help?: string, look?: string) => {
    const header = heads.get(id);
    return (
      header && (
        <ColumnHead
          key={id}
          table={table}
          header={header}
          label={label}
          {...(help === undefined ? {} : { help })}
          {...(look === undefined ? {} : { look })}
        />
      )
    );
  };
  return (
    <thead className="sticky top-0 z-10 bg-sheet text-left text-xs text-ink-2">
      <tr className="[&>th]:shadow-[inset_0_-1px_0_var(--color-line)]">
        <th className="sticky left-0 z-20 w-9 min-w-9 bg-sheet">
          <ColumnMenu table={table} columns={columns} family={family} elements={elements} />
        </th>
        {head('name', 'Name', undefined, 'sticky left-9 z-20 min-w-36 bg-sheet')}
        {kinds && head('kind', 'Kind')}
        {columns.map((c) => head(c.key, c.label, c.help))}
        {head('note', 'Note', undefined, 'w-full py-1')}
      </tr>
    </thead>
  );
}
