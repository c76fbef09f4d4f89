'use client';
import { Columns3 } from 'lucide-react';
import { useMemo } from 'react';
import { type Family, type RawElement, kindsOf } from '@vim-pivot/core/page';
import { type Column, familyColumns } from '@/state/document/elements';
import { Menu, MenuCheck, MenuItem, MenuRule } from '@/ui/menu';
import type { LedgerTable } from './use-rows';

/** Which columns are shown. @param columns those that are, without name, kind and note */
export function ColumnMenu({
  table,
  columns,
  family,
  elements,
}: {
  table: LedgerTable;
  columns: readonly Column[];
  family: Family;
  elements: readonly RawElement[];
}) {
  const all = useMemo(() => familyColumns(family, elements), [family, elements]);
  const { columnVisibility, columnSizing } = table.state;
  const changed = Object.keys(columnSizing).length > 0 || Object.values(columnVisibility).includes(false);
  const choices = [
    ...(kindsOf(family).length > 1 ? [['kind', 'Kind'] as const] : []),
    ...all.map((c) => [c.key, c.label] as const),
    ['note', 'Note'] as const,
  ];
  return (
    <Menu
      trigger={
        <button
          aria-label="Columns"
          title={columns.length < all.length ? `Columns: ${all.length - columns.length} hidden` : 'Columns: which are shown'}
          className={`grid h-6 w-9 place-items-center hover:text-accent ${columns.length < all.length ? 'text-calm' : ''}`}
        >
          <Columns3 size={13} aria-hidden="true" />
        </button>
      }
    >
      {choices.map(([id, label]) => (
        <MenuCheck
          key={id}
          checked={columnVisibility[id] !== false}
          onChange={(on) => table.setColumnVisibility((v) => ({ ...v, [id]: on }))}
        >
          {label}
        </MenuCheck>
      ))}
      {changed && <MenuRule />}
      {changed && (
        <MenuItem
          onSelect={() => {
            table.setColumnVisibility({});
            table.setColumnSizing({});
          }}
        >
          All, as wide as they need
        </MenuItem>
      )}
    </Menu>
  );
}
