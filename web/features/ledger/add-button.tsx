'use client';
import { Plus } from 'lucide-react';
import dynamic from 'next/dynamic';
import { type Family, familyOf, kindsOf } from '@vim-pivot/core/page';
import { addElement } from '@/state/document/elements';
import { Menu, MenuItem } from '@/ui/menu';

const MaterialShelf = dynamic(() => import('./material-shelf').then((m) => m.MaterialShelf), { ssr: false });

/** Adds an element of a family: of the kind that is chosen where there are several. */
export function AddButton({ family }: { family: Family }) {
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
