'use client';
import { type Family, type RawElement, kindOf } from '@vim-pivot/core/page';
import { pickAlso, select } from '@/state/document/document';
import { type Column, rawAt, setNote, shortText, toggleOff } from '@/state/document/elements';
import { ValueInput } from '@/ui/value-input';
import { NameInput } from './name-input';
import { type LedgerTable, fixedWidth } from './use-rows';

export const ROW = 27;
/** What writes blocks of cells comes when it is first needed. */
const cells = () => import('@/state/document/cells');

/** How wide a column is while nobody has set it. */
function widthOf(family: Family, c: Column): string {
  if (c.type === 'choice' || c.type === 'ref') return 'min-w-32';
  if (c.type === 'refs') return 'min-w-60';
  if (c.part !== undefined) return 'min-w-28';
  return family === 'parameters' || family === 'drives' ? 'min-w-96' : 'min-w-40';
}

interface RowProps {
  table: LedgerTable;
  family: Family;
  data: { e: RawElement; index: number };
  columns: readonly Column[];
  kinds: boolean;
  position: number;
  picked: boolean;
  /** Names of all rows, in the order shown: a block that is pasted goes on into those below. */
  names: () => string[];
  onKey: (k: React.KeyboardEvent, position: number, element: RawElement) => void;
  onMenu: (at: { x: number; y: number; name: string }) => void;
  onRange: (name: string) => void;
}

/** A row of the Ledger: the element, with an editor in each cell. */
export function Row({ table, family, data: { e, index }, columns, kinds, position, picked, names, onKey, onMenu, onRange }: RowProps) {
  const fixed = (id: string) => fixedWidth(table, id);
  return (
    <tr
      data-row={e.name}
      data-position={position}
      tabIndex={0}
      aria-selected={picked}
      aria-rowindex={position + 2}
      style={{ height: ROW }}
      onFocus={(f) => f.target === f.currentTarget && !picked && select({ family, name: e.name })}
      onMouseDown={(c) => {
        if (!(c.ctrlKey || c.metaKey || c.shiftKey)) {
          if (!picked || !(c.target instanceof HTMLInputElement)) select({ family, name: e.name });
          return;
        }
        // Ctrl adds to what is picked, of any family; Shift takes all rows up to this one
        c.preventDefault();
        if (c.shiftKey) onRange(e.name);
        else pickAlso({ family, name: e.name });
      }}
      onKeyDown={(k) => onKey(k, position, e)}
      onContextMenu={(c) => {
        if (c.target instanceof HTMLInputElement && c.target.selectionStart !== c.target.selectionEnd) return;
        c.preventDefault();
        if (!picked) select({ family, name: e.name });
        onMenu({ x: c.clientX, y: c.clientY, name: e.name });
      }}
      className={`border-b border-line/60 -outline-offset-2 ${picked ? 'bg-accent-soft' : 'bg-sheet hover:bg-paper'} ${e.off ? 'text-ink-2 opacity-70' : ''}`}
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
      <td style={fixed('name')} className="sticky left-9 z-[1] min-w-36 bg-inherit px-1 font-medium">
        <NameInput family={family} name={e.name} />
      </td>
      {kinds && (
        <td style={fixed('kind')} className="truncate whitespace-nowrap px-1.5 text-ink-2">
          {kindOf(family, e)?.label ?? e.kind}
        </td>
      )}
      {columns.map((c) => (
        <td key={c.key} style={fixed(c.key)} className={`${widthOf(family, c)} px-0.5`}>
          <ValueInput
            bare
            family={family}
            index={index}
            element={e}
            place={c}
            label={`${c.label} of ${e.name}`}
            onBlock={(text) => void cells().then((m) => m.pasteBlock(family, names(), columns, e.name, c.key, text))}
            onFill={() => void cells().then((m) => m.fillDown(family, names(), e.name, c))}
          />
        </td>
      ))}
      {table.state.columnVisibility.note !== false && (
        <td className="min-w-44 px-0.5">
          <NoteInput family={family} element={e} />
        </td>
      )}
    </tr>
  );
}

/** A row while the table is scrolled. */
export function FlyingRow({ family, e, columns, kinds }: { family: Family; e: RawElement; columns: readonly Column[]; kinds: boolean }) {
  return (
    <tr data-row={e.name} style={{ height: ROW }} className={`border-b border-line/60 ${e.off ? 'opacity-55' : ''}`}>
      <td />
      <td className="min-w-36 truncate px-2.5 font-medium">{e.name}</td>
      {kinds && <td className="whitespace-nowrap px-1.5 text-ink-2">{kindOf(family, e)?.label ?? e.kind}</td>}
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
