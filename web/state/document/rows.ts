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

/** The order of two cells: numbers by size, everything else by letters, the numbers in them by size. */
export const inOrder = (a: unknown, b: unknown): number =>
  typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b), undefined, { numeric: true });
