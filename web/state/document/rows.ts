/** Rows of the Ledger in order, and as text for the clipboard. */
import { type Family, type RawElement, kindsOf } from '@vim-pivot/core/page';
import { type Column, fieldOf, rawAt, textOf } from './elements';

export const isBlock = (text: string): boolean => /[\t\n]/.test(text.trim());

/** Rows with a header line: name, kind where there are several, and every column. */
export function rowsToText(family: Family, rows: readonly RawElement[], columns: readonly Column[]): string {
  const many = kindsOf(family).length > 1;
  const head = ['Name', ...(many ? ['Kind'] : []), ...columns.map((c) => c.label)];
  const line = (e: RawElement) => [
    e.name,
    ...(many ? [e.kind ?? ''] : []),
    ...columns.map((c) => (fieldOf(family, e, c.field) ? textOf(rawAt(family, e, c).value) : '')),
  ];
  return [head, ...rows.map(line)].map((cells) => cells.join('\t')).join('\n');
}

/** The order of rows by a column: numbers by size, everything else by letters; live values where there are any. */
export function sorted<T extends { e: RawElement; index: number }>(
  family: Family,
  rows: readonly T[],
  by: { key: string; down: boolean } | undefined,
  columns: readonly Column[],
  value: (index: number, c: Column) => number | undefined,
): readonly T[] {
  if (!by) return rows;
  const column = columns.find((c) => c.key === by.key);
  const keyOf = (r: T): number | string =>
    by.key === 'name'
      ? r.e.name
      : by.key === 'kind'
        ? String(r.e.kind ?? '')
        : column
          ? (value(r.index, column) ?? textOf(rawAt(family, r.e, column).value))
          : '';
  const sign = by.down ? -1 : 1;
  return [...rows].sort((a, b) => {
    const [x, y] = [keyOf(a), keyOf(b)];
    if (typeof x === 'number' && typeof y === 'number') return sign * (x - y);
    return sign * String(x).localeCompare(String(y), undefined, { numeric: true });
  });
}
