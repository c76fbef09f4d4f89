'use client';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { FAMILIES, type Family, onlyShows } from '@vim-pivot/core/page';
import { useDocument } from '@/state/document/document';
import { Menu, MenuItem } from '@/ui/menu';
import { useRoom } from '@/ui/room';
import { AddButton } from './add-button';
import { Table } from './table';

const DriveTimeline = dynamic(() => import('./timeline/timeline').then((m) => m.DriveTimeline), { ssr: false });

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
      {own === 'drives' && timeline ? <DriveTimeline /> : <Table key={own} family={own} elements={rows} filter={filter} />}
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
