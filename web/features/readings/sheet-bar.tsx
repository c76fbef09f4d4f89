'use client';
import { LayoutGrid, Plus, X } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { type Model, kindsOf } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { renameElement } from '@/state/document/elements';
import { READY, addReady, addSheet, addTile, arrangeEvenly, openSheet, removeSheet, tilesOn } from '@/state/readings/sheets';
import { Menu, MenuItem, MenuLabel, MenuRule } from '@/ui/menu';

const TOOL =
  'flex items-center gap-1 whitespace-nowrap rounded-md border border-line bg-sheet px-2 py-0.5 font-medium hover:border-ink-2 disabled:opacity-45';

/** The sheets of the project, and what can be put on the one that is open. */
export function SheetBar({ open, children }: { open: string | undefined; children?: ReactNode }) {
  const model = useDocument((s) => s.model);
  const [naming, setNaming] = useState<string>();
  if (!model) return null;
  const tab = (on: boolean) =>
    `whitespace-nowrap rounded-md px-2.5 py-0.5 font-medium ${on ? 'bg-accent-soft text-ink shadow-[inset_0_-2px_0_var(--color-accent)]' : 'text-ink-2 hover:text-ink'}`;
  return (
    <div className="flex items-center gap-2 border-b border-line bg-sheet px-3 py-1">
      <div className="flex min-w-0 flex-1 items-center gap-1 overflow-x-auto">
        <div role="tablist" aria-label="Sheets" className="flex items-center gap-1">
          <button
            role="tab"
            aria-selected={open === undefined}
            className={tab(open === undefined)}
            onClick={() => openSheet(undefined)}
            title="Every gauge that is ticked at the left"
          >
            All gauges
          </button>
          {model.sheets.map((s) =>
            naming === s.name ? (
              <NameInput
                key={s.name}
                name={s.name}
                taken={(n) => model.sheets.some((x) => x.name === n)}
                onDone={() => setNaming(undefined)}
              />
            ) : (
              <button
                key={s.name}
                role="tab"
                aria-selected={open === s.name}
                className={tab(open === s.name)}
                onClick={() => (open === s.name ? setNaming(s.name) : openSheet(s.name))}
                title={open === s.name ? 'Click once more to rename' : `Sheet ${s.name}`}
              >
                {s.name}
              </button>
            ),
          )}
        </div>
        <NewSheet model={model} />
      </div>
      {children}
      {open !== undefined && <Tools model={model} open={open} />}
    </div>
  );
}

function NameInput({ name, taken, onDone }: { name: string; taken: (n: string) => boolean; onDone: () => void }) {
  return (
    <input
      autoFocus
      aria-label={`Name of sheet ${name}`}
      defaultValue={name}
      maxLength={80}
      className="w-36 rounded border border-line bg-sheet px-1.5"
      onKeyDown={(e) => (e.key === 'Enter' ? e.currentTarget.blur() : e.key === 'Escape' && onDone())}
      onBlur={(e) => {
        const to = e.target.value.trim();
        onDone();
        if (to === '' || to === name || taken(to)) return;
        openSheet(to);
        renameElement('sheets', name, to);
      }}
    />
  );
}

function NewSheet({ model }: { model: Model }) {
  return (
    <Menu
      trigger={
        <button
          aria-label="Add a sheet"
          className="flex items-center gap-1 whitespace-nowrap rounded-md px-2 py-0.5 text-ink-2 hover:text-ink"
        >
          <Plus size={14} aria-hidden="true" /> Sheet
        </button>
      }
    >
      <MenuItem onSelect={addSheet}>An empty sheet</MenuItem>
      <MenuRule />
      <MenuLabel>Ready-made, with the gauges it needs</MenuLabel>
      {READY.map((r) => {
        const made = r.make(model);
        return (
          <MenuItem key={r.label} disabled={!made} onSelect={() => addReady(r)} hint={made ? '' : `needs ${r.needs}`}>
            {r.label}
          </MenuItem>
        );
      })}
    </Menu>
  );
}

/** What can be done with the sheet that is open. */
function Tools({ model, open }: { model: Model; open: string }) {
  return (
    <>
      <Menu
        align="end"
        trigger={
          <button className={TOOL}>
            <Plus size={14} aria-hidden="true" /> Add tile…
          </button>
        }
      >
        {kindsOf('tiles').map((k) => (
          <MenuItem key={k.kind} onSelect={() => addTile(k.kind)}>
            {k.label}
          </MenuItem>
        ))}
      </Menu>
      <button
        className={TOOL}
        disabled={tilesOn(model, open).length < 2}
        title="All tiles over the whole sheet, in even rows"
        onClick={() => arrangeEvenly(open)}
      >
        <LayoutGrid size={14} aria-hidden="true" /> Arrange
      </button>
      <button
        className={TOOL}
        aria-label={`Delete sheet ${open}`}
        title="Delete this sheet with its tiles (undo brings it back)"
        onClick={() => removeSheet(open)}
      >
        <X size={14} aria-hidden="true" />
      </button>
    </>
  );
}
