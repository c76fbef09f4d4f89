/** Blocks of cells to and from the clipboard, as a spreadsheet holds them: tabs between cells, a line a row. Each paste is one undo step. */
import { readCells } from '@vim-pivot/core/csv';
import { type Family, type RawElement, kindOf, kindsOf, plainText } from '@vim-pivot/core/page';
import { edit, useDocument } from './document';
import { type Column, fieldOf, freeName, rawAt, textOf, write } from './elements';

/** A number with a decimal comma, where numbers have one, as the document writes it; formulas are taken as they are. */
const plainCell = (cell: string): string => (/^\s*[-−+]?\d+,\d+(\s*[^\d\s]\S*)?\s*$/.test(cell) ? plainText(cell) : cell);
const lines = (text: string): string[][] => readCells(text).map((row) => row.map(plainCell));
/** Adds rows from text with a header line as `rowsToText` writes it; names that are taken get a number. @returns how many, or why none */
export function pasteRows(family: Family, text: string, columns: readonly Column[]): number | string {
  const { model } = useDocument.getState();
  const [head, ...body] = lines(text);
  if (!model || head?.[0] !== 'Name' || body.length === 0) return 'Rows are pasted with their header line, whose first cell is “Name”.';
  const places = head.map((text) => columns.find((c) => c.label === text));
  const kindAt = head.indexOf('Kind');
  const unknown = head.find((_cell, i) => i > 0 && i !== kindAt && !places[i]);
  if (unknown) return `There is no column “${unknown}” here.`;
  edit(`Paste ${body.length} row${body.length === 1 ? '' : 's'}`, (m) => {
    for (const cells of body) {
      const kind = kindsOf(family).find((k) => k.kind === cells[kindAt]) ?? kindsOf(family)[0]!;
      const e: RawElement = {
        name: freeName(family, cells[0]?.trim() || kind.label, m),
        ...(kindsOf(family).length > 1 ? { kind: kind.kind } : {}),
      };
      m[family].push(e);
      const target = m[family].at(-1)!;
      places.forEach((c, i) => {
        if (c && cells[i]?.trim()) write(family, target, c, cells[i]!, m);
      });
    }
  });
  return body.length;
}

/** Writes a block of cells into rows from a place on, to the right and downwards; what reaches past the last row or column is left out. */
export function pasteBlock(
  family: Family,
  rows: readonly string[],
  columns: readonly Column[],
  row: string,
  column: string,
  text: string,
): void {
  const block = lines(text);
  const top = rows.indexOf(row),
    left = columns.findIndex((c) => c.key === column);
  edit(`Paste ${block.length} × ${block[0]!.length} cells`, (m) => {
    block.forEach((cells, i) => {
      const e = m[family].find((x) => x.name === rows[top + i]);
      if (!e) return;
      cells.forEach((cell, k) => {
        const c = columns[left + k];
        if (c && fieldOf(family, e, c.field)) write(family, e, c, cell, m);
      });
    });
  });
}

/** Writes what stands in one row into the rows picked below it (or into the next row when it alone is picked). */
export function fillDown(family: Family, rows: readonly string[], row: string, column: Column): void {
  const { model, picked } = useDocument.getState();
  const from = model?.[family].find((x) => x.name === row);
  if (!model || !from) return;
  const text = textOf(rawAt(family, from, column).value);
  const chosen = picked.filter((p) => p.family === family && p.name !== row).map((p) => p.name);
  const below = chosen.length > 0 ? chosen : rows.slice(rows.indexOf(row) + 1, rows.indexOf(row) + 2);
  edit(`Fill down ${column.label}`, (m) => {
    for (const name of below) {
      const e = m[family].find((x) => x.name === name);
      if (e && kindOf(family, e)?.fields[column.field]) write(family, e, column, text, m);
    }
  });
}
