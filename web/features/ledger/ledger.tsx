'use client';
import { Plus } from 'lucide-react';
import dynamic from 'next/dynamic';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState } from 'react';
import { FAMILIES, type Family, type RawElement, familyOf, kindOf, kindsOf, onlyShows } from '@vim-pivot/core/page';
import { pickAlso, select, useDocument } from '@/state/document/document';
import { isBlock, rowsToText, sorted } from '@/state/document/rows';
import {
  type Column,
  addElement,
  familyColumns,
  pathOf,
  rawAt,
  removeElement,
  shortText,
  renameElement,
  setNote,
  toggleOff,
} from '@/state/document/elements';
import { Menu, MenuItem } from '@/ui/menu';
import { useRoom } from '@/ui/room';
import { ValueInput } from '@/ui/value-input';

/** Widths of what stands on a tab, px: a letter of its label, a figure of its count, and what is round them. */
const LETTER = 7.1,
  FIGURE = 7.3,
  ROUND = 27;
const tabWidth = (label: string, count: string): number => LETTER * label.length + FIGURE * count.length + ROUND;
/** The first of the tabs, and of the others those that fit beside it. */
function thatFit(tabs: readonly { key: Family; width: number }[], room: number): ReadonlySet<Family> {
  let used = 0;
  return new Set(tabs.filter(({ width }, i) => (used += width) <= room || i === 0).map((t) => t.key));
}
/** What stands in sight though it be empty. */
const USUAL: ReadonlySet<Family> = new Set<Family>(['parameters', 'points', 'bodies', 'shapes', 'joints', 'drives', 'loads', 'gauges']);

/** Every element in an editable table, one tab a family. */
export function Ledger() {
  const model = useDocument((s) => s.model);
  const selected = useDocument((s) => s.selected);
  const [own, setTab] = useState<Family>('parameters');
  const [followed, setFollowed] = useState(selected);
  const [filter, setFilter] = useState('');
  const [timeline, setTimeline] = useState(false);
  // A selection made elsewhere brings its family's tab to the front.
  if (selected !== followed) {
    setFollowed(selected);
    if (selected && selected.family !== own && !onlyShows(selected.family)) setTab(selected.family);
  }
  const brought = useDocument((s) => s.brought);
  const [bar, { width }] = useRoom();
  const rows = model?.[own];
  const shown = useMemo(
    () =>
      (rows ?? [])
        .map((e, index) => ({ e, index }))
        .filter(({ e }) => filter === '' || JSON.stringify(e).toLowerCase().includes(filter.toLowerCase())),
    [rows, filter],
  );

  if (!model || !rows) return null;
  const counts = (key: Family) => model[key].length + (brought[key]?.length ?? 0);
  const families = FAMILIES.filter((f) => !onlyShows(f.key)),
    worth = (key: Family) => (key === own ? 3 : counts(key) > 0 ? 2 : USUAL.has(key) ? 1 : 0);
  // as many tabs as there is room for: what is open, what holds something, what is usual; the rest behind one press
  const wanted = families.filter((f) => worth(f.key) > 0).sort((a, b) => worth(b.key) - worth(a.key));
  const kept = thatFit(
    wanted.map((f) => ({ key: f.key, width: tabWidth(f.label, countText(model[f.key].length, brought[f.key]?.length ?? 0)) })),
    width,
  );
  const tabs = families.filter((f) => kept.has(f.key)),
    others = families.filter((f) => !kept.has(f.key));
  return (
    <section aria-label="Ledger" className="flex h-full min-h-0 flex-col bg-sheet">
      <div className="flex items-center gap-1 border-b border-line px-2 py-1">
        <div ref={bar} role="tablist" aria-label="Kinds of element" className="flex min-w-0 flex-1 gap-0.5 overflow-hidden">
          {tabs.map((f) => (
            <button
              key={f.key}
              role="tab"
              aria-selected={own === f.key}
              onClick={() => setTab(f.key)}
              className={`whitespace-nowrap rounded-md px-2.5 py-1 font-medium ${own === f.key ? 'bg-accent-soft text-ink shadow-[inset_0_-2px_0_var(--color-accent)]' : 'text-ink-2 hover:text-ink'}`}
            >
              {f.label} <Count own={model[f.key].length} brought={brought[f.key]?.length ?? 0} />
            </button>
          ))}
        </div>
        {others.length > 0 && (
          <Menu
            align="end"
            trigger={
              <button
                aria-label="More kinds of element"
                className="whitespace-nowrap rounded-md px-2 py-1 font-medium text-ink-2 hover:text-ink"
              >
                More <span className="font-mono text-xs">{others.length}</span>
              </button>
            }
          >
            {others.map((f) => (
              <MenuItem key={f.key} onSelect={() => setTab(f.key)} {...(counts(f.key) > 0 ? { hint: String(counts(f.key)) } : {})}>
                {f.label}
              </MenuItem>
            ))}
          </Menu>
        )}
        <input
          aria-label="Filter rows"
          placeholder="Filter rows"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
          className="w-36 rounded-md border border-line bg-sheet px-2 py-1"
        />
        {own === 'drives' && (
          <button
            aria-pressed={timeline}
            onClick={() => setTimeline(!timeline)}
            title="Drives over the time: segments that are drawn and dragged"
            className={`whitespace-nowrap rounded-md border px-2 py-1 font-medium hover:border-ink-2 ${timeline ? 'border-calm bg-calm-soft text-calm' : 'border-line'}`}
          >
            Timeline
          </button>
        )}
        <AddButton family={own} />
      </div>
      {own === 'drives' && timeline ? <DriveTimeline /> : <Table family={own} rows={shown} all={rows} />}
    </section>
  );
}

const countText = (own: number, brought: number): string => (brought > 0 ? `${own} + ${brought}` : String(own));
/** How many stand in the document, and how many instances bring besides. */
function Count({ own, brought }: { own: number; brought: number }) {
  return (
    <span className="font-mono text-xs" {...(brought > 0 ? { title: `${own} here, and ${brought} that instances bring` } : {})}>
      {own}
      {brought > 0 && <span className="text-calm"> + {brought}</span>}
    </span>
  );
}

const DriveTimeline = dynamic(() => import('./timeline').then((m) => m.DriveTimeline), { ssr: false });
const Teach = dynamic(() => import('./teach').then((m) => m.Teach), { ssr: false });
const RowMenu = dynamic(() => import('../scene/scene-menu').then((m) => m.SceneMenu), { ssr: false });
const Brought = dynamic(() => import('./brought').then((m) => m.Brought), { ssr: false });
const MaterialShelf = dynamic(() => import('./material-shelf').then((m) => m.MaterialShelf), { ssr: false });

function AddButton({ family }: { family: Family }) {
  const kinds = kindsOf(family);
  const label = `Add ${familyOf(family).one}`;
  const look = 'flex items-center gap-1 whitespace-nowrap rounded-md border border-line px-2 py-1 font-medium hover:border-ink-2';
  if (family === 'materials') {
    return (
      <Menu
        align="end"
        trigger={
          <button className={look}>
            <Plus size={14} aria-hidden="true" /> {label}…
          </button>
        }
      >
        <MenuItem onSelect={() => addElement(family, kinds[0]!)}>A material of your own</MenuItem>
        <MaterialShelf />
      </Menu>
    );
  }
  if (kinds.length === 1) {
    return (
      <button className={look} onClick={() => addElement(family, kinds[0]!)}>
        <Plus size={14} aria-hidden="true" /> {label}
      </button>
    );
  }
  return (
    <Menu
      align="end"
      trigger={
        <button className={look}>
          <Plus size={14} aria-hidden="true" /> {label}…
        </button>
      }
    >
      {kinds.map((k) => (
        <MenuItem key={k.kind} onSelect={() => addElement(family, k)}>
          <span className="font-medium">{k.label}</span>
          <span className="block max-w-72 text-xs text-ink-2">{k.help}</span>
        </MenuItem>
      ))}
    </Menu>
  );
}

const ROW = 27;
/** What writes blocks of cells comes when it is first needed. */
const cells = () => import('@/state/document/cells');

function Table({ family, rows: given, all }: { family: Family; rows: { e: RawElement; index: number }[]; all: readonly RawElement[] }) {
  const picked = useDocument((s) => s.picked);
  const selected = useDocument((s) => s.selected);
  const columns = useMemo(() => familyColumns(family, all), [family, all]);
  const many = kindsOf(family).length > 1;
  const [sort, setSort] = useState<{ key: string; down: boolean }>();
  const [told, setTold] = useState<string>();
  const [menu, setMenu] = useState<{ x: number; y: number; name: string }>();
  const brought = useDocument((s) => s.brought[family]?.length ?? 0);
  const live = useDocument((s) => s.live);
  const rows = useMemo(
    () => sorted(family, given, sort, columns, (index, c) => live.get(pathOf(family, index, c))?.value),
    [family, given, sort, columns, live],
  );
  const names = rows.map((r) => r.e.name);
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 2,
    scrollPaddingEnd: ROW,
  });
  const shown = virtual.getVirtualItems();
  const before = shown[0]?.start ?? 0,
    after = virtual.getTotalSize() - (shown.at(-1)?.end ?? 0);

  // another family begins at its first column
  useEffect(() => {
    if (scroller.current) scroller.current.scrollLeft = 0;
  }, [family]);
  const at = selected?.family === family ? names.indexOf(selected.name) : -1;
  useEffect(() => {
    if (at < 0) return;
    // once the page is laid out: asking where the row stands before that would lay it out within the same task
    const frame = requestAnimationFrame(() => virtual.scrollToIndex(at, { align: 'auto' }));
    return () => cancelAnimationFrame(frame);
    // only when the selection moves
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [at, family]);

  const focusRow = (position: number) => {
    if (position < 0 || position >= rows.length) return;
    virtual.scrollToIndex(position, { align: 'auto' });
    requestAnimationFrame(() => scroller.current?.querySelector<HTMLElement>(`tr[data-position="${position}"]`)?.focus());
  };
  const mates = () => {
    const chosen = rows.filter((r) => picked.some((p) => p.family === family && p.name === r.e.name)).map((r) => r.e);
    return chosen;
  };
  const keys = (k: React.KeyboardEvent, position: number, element: RawElement) => {
    if (k.target !== k.currentTarget) return;
    if (k.key === 'ArrowDown' || k.key === 'ArrowUp') {
      const next = position + (k.key === 'ArrowDown' ? 1 : -1);
      if (k.shiftKey && rows[next]) pickAlso({ family, name: rows[next]!.e.name });
      focusRow(next);
    } else if (k.key === 'Enter') k.currentTarget.querySelector<HTMLElement>('td input, td select')?.focus();
    else if (k.key === 'F2') k.currentTarget.querySelector<HTMLElement>('input[data-name]')?.focus();
    else if (k.key === 'ContextMenu' || (k.key === 'F10' && k.shiftKey)) {
      const r = k.currentTarget.getBoundingClientRect();
      setMenu({ x: r.left + 60, y: r.bottom, name: element.name });
    } else if (k.key === 'Delete') removeElement(family, element.name);
    else return;
    k.preventDefault();
  };
  const by = (key: string) => setSort((s) => (s?.key !== key ? { key, down: false } : s.down ? undefined : { key, down: true }));
  const head = (id: string, label: string, help?: string, look = '') => (
    <th
      key={id}
      aria-sort={sort?.key === id ? (sort.down ? 'descending' : 'ascending') : 'none'}
      className={`whitespace-nowrap px-1.5 font-medium ${look}`}
    >
      <button title={`${help ?? label}\nClick to sort`} onClick={() => by(id)} className="min-h-6 min-w-6 hover:text-ink">
        {label}
        {sort?.key === id ? (sort.down ? ' ↓' : ' ↑') : ''}
      </button>
    </th>
  );

  return (
    <div
      ref={scroller}
      className="min-h-0 flex-1 overflow-auto"
      onCopy={(e) => {
        if (e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement || mates().length === 0) return;
        e.clipboardData.setData('text/plain', rowsToText(family, mates(), columns));
        e.preventDefault();
        setTold(`${mates().length} row${mates().length === 1 ? '' : 's'} copied.`);
      }}
      onPaste={(e) => {
        if (e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement) return;
        const text = e.clipboardData.getData('text/plain');
        if (!isBlock(text)) return;
        e.preventDefault();
        void cells().then(({ pasteRows }) => {
          const done = pasteRows(family, text, columns);
          setTold(typeof done === 'string' ? done : `${done} row${done === 1 ? '' : 's'} pasted.`);
        });
      }}
    >
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
        <thead className="sticky top-0 z-10 bg-sheet text-left text-xs text-ink-2">
          <tr className="[&>th]:shadow-[inset_0_-1px_0_var(--color-line)]">
            <th className="sticky left-0 z-20 w-9 min-w-9 bg-sheet">
              <span className="sr-only">In use</span>
            </th>
            {head('name', 'Name', undefined, 'sticky left-9 z-20 min-w-36 bg-sheet')}
            {many && head('kind', 'Kind')}
            {columns.map((c) => head(c.key, c.label, c.help))}
            <th className="w-full px-1.5 py-1 font-medium">Note</th>
          </tr>
        </thead>
        <tbody>
          {before > 0 && (
            <tr aria-hidden="true">
              <td style={{ height: before }} />
            </tr>
          )}
          {shown.map(({ index: position }) => {
            const { e, index } = rows[position]!;
            const on = picked.some((p) => p.family === family && p.name === e.name);
            // while the table flies past, rows are text; editors come when it rests
            if (rows.length > 200 && virtual.isScrolling && !on)
              return <FlyingRow key={e.name} family={family} e={e} columns={columns} many={many} />;
            return (
              <tr
                key={e.name}
                data-row={e.name}
                data-position={position}
                tabIndex={0}
                aria-selected={on}
                aria-rowindex={position + 2}
                style={{ height: ROW }}
                onFocus={(f) => f.target === f.currentTarget && !on && select({ family, name: e.name })}
                onMouseDown={(c) => {
                  if (!(c.ctrlKey || c.metaKey || c.shiftKey)) {
                    if (!on || picked.every((p) => p.family !== family) || !(c.target instanceof HTMLInputElement))
                      select({ family, name: e.name });
                    return;
                  }
                  // Ctrl adds to what is picked, of any family
                  c.preventDefault();
                  pickAlso({ family, name: e.name });
                }}
                onKeyDown={(k) => keys(k, position, e)}
                onContextMenu={(c) => {
                  if (c.target instanceof HTMLInputElement && c.target.selectionStart !== c.target.selectionEnd) return;
                  c.preventDefault();
                  if (!on) select({ family, name: e.name });
                  setMenu({ x: c.clientX, y: c.clientY, name: e.name });
                }}
                className={`border-b border-line/60 -outline-offset-2 ${on ? 'bg-accent-soft' : 'bg-sheet hover:bg-paper'} ${e.off ? 'text-ink-2 opacity-70' : ''}`}
              >
                <td className="sticky left-0 z-[1] w-9 min-w-9 bg-inherit px-1.5 text-center">
                  <button
                    aria-label={e.off ? `Switch ${e.name} on` : `Switch ${e.name} off`}
                    aria-pressed={!e.off}
                    title={e.off ? 'Off: click to use it again' : 'In use: click to switch it off'}
                    onClick={() => toggleOff(family, e.name)}
                    className="grid h-6 w-6 place-items-center"
                  >
                    <span className={`h-2.5 w-2.5 rounded-full border-2 ${e.off ? 'border-ink-2' : 'border-calm bg-calm'}`} />
                  </button>
                </td>
                <td className="sticky left-9 z-[1] min-w-36 bg-inherit px-1 font-medium">
                  <NameInput family={family} name={e.name} />
                </td>
                {many && <td className="whitespace-nowrap px-1.5 text-ink-2">{kindOf(family, e)?.label ?? e.kind}</td>}
                {columns.map((c) => (
                  <td
                    key={c.key}
                    className={
                      c.type === 'choice' || c.type === 'ref'
                        ? 'min-w-32 px-0.5'
                        : c.type === 'refs'
                          ? 'min-w-60 px-0.5'
                          : c.part === undefined
                            ? family === 'parameters' || family === 'drives'
                              ? 'min-w-96 px-0.5'
                              : 'min-w-40 px-0.5'
                            : 'min-w-28 px-0.5'
                    }
                  >
                    <ValueInput
                      bare
                      family={family}
                      index={index}
                      element={e}
                      place={c}
                      label={`${c.label} of ${e.name}`}
                      onBlock={(text) => void cells().then((m) => m.pasteBlock(family, names, columns, e.name, c.key, text))}
                      onFill={() => void cells().then((m) => m.fillDown(family, names, e.name, c))}
                    />
                  </td>
                ))}
                <td className="min-w-44 px-0.5">
                  <NoteInput family={family} element={e} />
                </td>
              </tr>
            );
          })}
          {after > 0 && (
            <tr aria-hidden="true">
              <td style={{ height: after }} />
            </tr>
          )}
          {brought > 0 && <Brought family={family} span={columns.length + (many ? 2 : 1)} />}
        </tbody>
      </table>
      {rows.length === 0 && (
        <p className="px-4 py-3 text-ink-2">{all.length > 0 ? 'No row matches the filter.' : <Teach family={family} />}</p>
      )}
    </div>
  );
}

/** A row while the table is scrolled. */
function FlyingRow({ family, e, columns, many }: { family: Family; e: RawElement; columns: readonly Column[]; many: boolean }) {
  return (
    <tr data-row={e.name} style={{ height: ROW }} className={`border-b border-line/60 ${e.off ? 'opacity-55' : ''}`}>
      <td />
      <td className="min-w-36 truncate px-2.5 font-medium">{e.name}</td>
      {many && <td className="whitespace-nowrap px-1.5 text-ink-2">{kindOf(family, e)?.label ?? e.kind}</td>}
      {columns.map((c) => (
        <td key={c.key} className="max-w-96 truncate px-2 font-mono text-xs">
          {shortText(rawAt(family, e, c).value)}
        </td>
      ))}
      <td />
    </tr>
  );
}

function NoteInput({ family, element }: { family: Family; element: RawElement }) {
  return (
    <input
      key={element.note ?? ''}
      aria-label={`Note on ${element.name}`}
      defaultValue={element.note ?? ''}
      onBlur={(e) => setNote(family, element.name, e.target.value)}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        e.stopPropagation();
      }}
      className="h-[24px] w-full rounded border border-transparent bg-transparent px-1.5 text-ink-2 outline-none hover:border-line focus:border-accent"
    />
  );
}

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
