'use client';
import {
  type ReactTable,
  columnFilteringFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  createColumnHelper,
  createFilteredRowModel,
  createSortedRowModel,
  globalFilteringFeature,
  rowSelectionFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { useEffect, useMemo } from 'react';
import { type Family, type LiveValue, type RawElement, kindOf, kindsOf } from '@vim-pivot/core/page';
import { columnLayout, keepColumnLayout } from '@/state/document/column-layout';
import { pickRows, useDocument } from '@/state/document/document';
import { type Column, familyColumns, pathOf, rawAt, textOf } from '@/state/document/elements';
import { inOrder } from '@/state/document/rows';

/** An element with its place in the model. */
export interface RowData {
  e: RawElement;
  index: number;
}

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  columnFilteringFeature,
  globalFilteringFeature,
  filteredRowModel: createFilteredRowModel(),
  rowSelectionFeature,
  columnVisibilityFeature,
  columnSizingFeature,
  columnResizingFeature,
});
export type LedgerTable = ReactTable<typeof features, RowData>;
export type LedgerRow = ReturnType<LedgerTable['getRowModel']>['rows'][number];
export type LedgerHeader = ReturnType<LedgerTable['getHeaderGroups']>[number]['headers'][number];

const helper = createColumnHelper<typeof features, RowData>();
/** What a column sorts by: the value that counts where there is one, else what is written. */
const valueOf =
  (family: Family, c: Column, live: ReadonlyMap<string, LiveValue>) =>
  ({ e, index }: RowData) =>
    live.get(pathOf(family, index, c))?.value ?? textOf(rawAt(family, e, c).value);

/** The width of a column that was set by hand. */
export function fixedWidth(table: LedgerTable, id: string): { width: number; minWidth: number; maxWidth: number } | undefined {
  const width = table.state.columnSizing[id];
  return width === undefined ? undefined : { width, minWidth: width, maxWidth: width };
}

/** Rows of a family in order, filtered, and its columns with their widths. */
export function useRows(
  family: Family,
  elements: readonly RawElement[],
  filter: string,
): { table: LedgerTable; columns: readonly Column[] } {
  const picked = useDocument((s) => s.picked);
  const live = useDocument((s) => s.live);
  const fields = useMemo(() => familyColumns(family, elements), [family, elements]);
  const data = useMemo(() => elements.map((e, index) => ({ e, index })), [elements]);
  const columns = useMemo(() => {
    const sortFn = (a: LedgerRow, b: LedgerRow, id: string) => inOrder(a.getValue(id), b.getValue(id));
    return helper.columns([
      helper.accessor(({ e }) => e.name, { id: 'name', sortFn, enableHiding: false }),
      ...(kindsOf(family).length > 1
        ? [helper.accessor(({ e }) => kindOf(family, e)?.label ?? String(e.kind ?? ''), { id: 'kind', sortFn })]
        : []),
      ...fields.map((c) => helper.accessor(valueOf(family, c, live), { id: c.key, sortFn, sortDescFirst: false })),
      helper.accessor(({ e }) => e.note ?? '', { id: 'note', sortFn, enableResizing: false }),
    ]);
  }, [family, fields, live]);
  const rowSelection = useMemo(
    () => Object.fromEntries(picked.filter((p) => p.family === family).map((p) => [p.name, true as const])),
    [picked, family],
  );
  const kept = useMemo(() => columnLayout(family), [family]);
  const table = useTable({
    features,
    data,
    columns,
    getRowId: ({ e }) => e.name,
    initialState: { columnSizing: kept.sizing, columnVisibility: kept.visibility },
    state: { rowSelection, globalFilter: filter },
    onRowSelectionChange: (change) => {
      const next = typeof change === 'function' ? change(rowSelection) : change;
      pickRows(
        family,
        Object.keys(next).filter((name) => next[name]),
      );
    },
    // all that is written in an element is searched, once for each row
    getColumnCanGlobalFilter: (column) => column.id === 'name',
    globalFilterFn: (row, _column, wanted: string) => JSON.stringify(row.original.e).toLowerCase().includes(wanted.toLowerCase()),
    columnResizeMode: 'onChange',
    autoResetAll: false,
  });
  const { columnSizing, columnVisibility } = table.state;
  useEffect(() => {
    if (columnSizing !== kept.sizing || columnVisibility !== kept.visibility)
      keepColumnLayout(family, { sizing: columnSizing, visibility: columnVisibility });
  }, [family, kept, columnSizing, columnVisibility]);
  const shown = useMemo(() => fields.filter((c) => columnVisibility[c.key] !== false), [fields, columnVisibility]);
  return { table, columns: shown };
}
