'use client';
import { Plus } from 'lucide-react';
import { useRef, useState } from 'react';
import { FAMILIES, type Family, type RawElement, familyOf, kindOf, kindsOf } from '@vim-pivot/core/page';
import { pickAlso, select, useDocument } from '@/state/document';
import { addElement, familyColumns, familyLabel, removeElement, renameElement, setNote, toggleOff } from '@/state/elements';
import { Menu, MenuItem } from '@/ui/menu';
import { ValueInput } from '@/ui/value-input';

/** Every element in an editable table, one tab a family. */
export function Ledger() {
  const model = useDocument((s) => s.model);
  const selected = useDocument((s) => s.selected);
  const [own, setTab] = useState<Family>('parameters');
  const [followed, setFollowed] = useState(selected);
  const [filter, setFilter] = useState('');
  // A selection made elsewhere brings its family's tab to the front.
  if (selected !== followed) {
    setFollowed(selected);
    if (selected && selected.family !== own) setTab(selected.family);
  }
  if (!model) return null;
  const rows = model[own];
  const shown = rows.map((e, index) => ({ e, index })).filter(({ e }) => JSON.stringify(e).toLowerCase().includes(filter.toLowerCase()));

  return (
    <section aria-label="Ledger" className="flex h-full min-h-0 flex-col bg-sheet">
      <div className="flex items-center gap-1 border-b border-line px-2 py-1">
        <div role="tablist" aria-label="Kinds of element" className="flex flex-1 gap-0.5 overflow-x-auto">
          {FAMILIES.map((f) => (
            <button
              key={f.key}
              role="tab"
              aria-selected={own === f.key}
              onClick={() => setTab(f.key)}
              className={`whitespace-nowrap rounded-md px-2.5 py-1 font-medium ${own === f.key ? 'bg-accent-soft text-accent' : 'text-ink-2 hover:text-ink'}`}
            >
              {f.label} <span className="font-mono text-xs">{model[f.key].length}</span>
            </button>
          ))}
        </div>
        <input aria-label="Filter rows" placeholder="Filter rows" value={filter} onChange={(e) => setFilter(e.target.value)} className="w-36 rounded-md border border-line bg-sheet px-2 py-1" />
        <AddButton family={own} />
      </div>
      <Table family={own} rows={shown} all={rows} />
    </section>
  );
}

function AddButton({ family }: { family: Family }) {
  const kinds = kindsOf(family);
  const label = `Add ${familyOf(family).one}`;
  const look = 'flex items-center gap-1 whitespace-nowrap rounded-md border border-line px-2 py-1 font-medium hover:border-ink-2';
  if (kinds.length === 1) {
    return (
      <button className={look} onClick={() => addElement(family, kinds[0]!)}>
        <Plus size={14} aria-hidden="true" /> {label}
      </button>
    );
  }
  return (
    <Menu align="end" trigger={<button className={look}><Plus size={14} aria-hidden="true" /> {label}…</button>}>
      {kinds.map((k) => (
        <MenuItem key={k.kind} onSelect={() => addElement(family, k)}>
          <span className="font-medium">{k.label}</span>
          <span className="block max-w-72 text-xs text-ink-2">{k.help}</span>
        </MenuItem>
      ))}
    </Menu>
  );
}

function Table({ family, rows, all }: { family: Family; rows: { e: RawElement; index: number }[]; all: readonly RawElement[] }) {
  const picked = useDocument((s) => s.picked);
  const adding = useRef(false);
  const columns = familyColumns(family, all);
  const many = kindsOf(family).length > 1;
  const body = useRef<HTMLTableSectionElement>(null);

  const focusRow = (index: number) => body.current?.querySelectorAll<HTMLElement>('tr[data-row]')[index]?.focus();
  const keys = (e: React.KeyboardEvent, position: number, element: RawElement) => {
    if (e.target !== e.currentTarget) return;
    if (e.key === 'ArrowDown') focusRow(position + 1);
    else if (e.key === 'ArrowUp') focusRow(position - 1);
    else if (e.key === 'Enter') e.currentTarget.querySelector<HTMLElement>('td input, td select')?.focus();
    else if (e.key === 'F2') e.currentTarget.querySelector<HTMLElement>('input[data-name]')?.focus();
    else if (e.key === 'Delete') removeElement(family, element.name);
    else return;
    e.preventDefault();
  };

  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <table className="min-w-full border-collapse text-sm">
        <thead className="sticky top-0 z-10 bg-sheet text-left text-xs text-ink-2">
          <tr className="shadow-[inset_0_-1px_0_var(--color-line)]">
            <th className="w-7"><span className="sr-only">In use</span></th>
            <th className="px-1.5 py-1 font-medium">Name</th>
            {many && <th className="px-1.5 py-1 font-medium">Kind</th>}
            {columns.map((c) => (
              <th key={c.key} title={c.help} className="whitespace-nowrap px-1.5 py-1 font-medium">{c.label}</th>
            ))}
            <th className="w-full px-1.5 py-1 font-medium">Note</th>
          </tr>
        </thead>
        <tbody ref={body}>
          {rows.map(({ e, index }, position) => {
            const on = picked.some((p) => p.family === family && p.name === e.name);
            return (
              <tr
                key={e.name}
                data-row={e.name}
                tabIndex={0}
                aria-selected={on}
                onFocus={(f) => f.target === f.currentTarget && !adding.current && !picked.some((p) => p.family === family && p.name === e.name) && select({ family, name: e.name })}
                onMouseDown={(c) => {
                  if (!(c.ctrlKey || c.metaKey || c.shiftKey)) {
                    select({ family, name: e.name });
                    return;
                  }
                  // Ctrl adds to what is picked, of any family
                  c.preventDefault();
                  pickAlso({ family, name: e.name });
                }}
                onKeyDown={(k) => keys(k, position, e)}
                className={`border-b border-line/60 -outline-offset-2 ${on ? 'bg-accent-soft' : 'hover:bg-paper'} ${e.off ? 'opacity-55' : ''}`}
              >
                <td className="px-1.5 text-center">
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
                <td className="min-w-36 px-1 font-medium"><NameInput family={family} name={e.name} /></td>
                {many && <td className="whitespace-nowrap px-1.5 text-ink-2">{kindOf(family, e)?.label ?? e.kind}</td>}
                {columns.map((c) => (
                  <td key={c.key} className={c.type === 'choice' || c.type === 'ref' ? 'min-w-32 px-0.5' : c.type === 'refs' ? 'min-w-60 px-0.5' : c.part === undefined ? (family === 'parameters' || family === 'drives' ? 'min-w-96 px-0.5' : 'min-w-40 px-0.5') : 'min-w-28 px-0.5'}>
                    <ValueInput bare family={family} index={index} element={e} place={c} label={`${c.label} of ${e.name}`} />
                  </td>
                ))}
                <td className="min-w-44 px-0.5"><NoteInput family={family} element={e} /></td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {rows.length === 0 && (
        <p className="px-4 py-3 text-ink-2">
          {all.length > 0 ? 'No row matches the filter.' : `No ${familyLabel(family).toLowerCase()} yet. ${TEACH[family]}`}
        </p>
      )}
    </div>
  );
}

/** What an empty tab tells a newcomer. */
const TEACH: Record<Family, string> = {
  parameters: 'A parameter is a named quantity for use in formulas, such as arm = 40 mm.',
  tables: 'A table makes data points into a function for formulas: lift(t).',
  points: 'Points come first: name the pins and centres, and everything else hangs on them.',
  materials: 'A material gives shapes their density.',
  bodies: 'A body moves as one piece. Give it shapes between points, or type in its mass and inertia.',
  shapes: 'A shape gives a body its look and its mass: a link bar between two points, a plate, a box.',
  joints: 'A joint connects two bodies at a point and leaves some freedoms.',
  couplings: 'A coupling ties joint coordinates together: a belt, a gear ratio, a rack, a differential.',
  starts: 'A start value says where a joint stands, and how fast it moves, when the run begins.',
  drives: 'A drive prescribes the motion of a joint as a formula of time.',
  loads: 'Loads push and pull: gravity, forces, springs.',
  gauges: 'A gauge names a reading: a joint’s travel, a pin load, a torque.',
};

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
