/** Curves as CSV: a time column and one column a gauge, the unit in the header (RFC 4180). */
import Papa from 'papaparse';
import { refuse } from '../diagnosis';
import type { Dimension } from '../quantity/dimension';
import { readUnit, shownUnit } from '../quantity/units';

export interface Curve {
  name: string;
  dim: Dimension;
  /** Left out: the usual unit of the dimension. */
  unit?: string;
  values: Float64Array;
}

/** A value that is no number leaves its cell empty. @param time s */
export function writeCsv(time: Float64Array, curves: readonly Curve[]): string {
  const units = curves.map((c) => c.unit ?? shownUnit(c.dim));
  const factors = units.map((u) => readUnit(u)?.factor ?? 1);
  const fields = ['Time [s]', ...curves.map((c, k) => (units[k] ? `${c.name} [${units[k]}]` : c.name))];
  const data = Array.from(time, (t, i) => [
    tidy(t),
    ...curves.map((c, k) => (Number.isFinite(c.values[i]!) ? tidy(c.values[i]! / factors[k]!) : '')),
  ]);
  return Papa.unparse({ fields, data }, { newline: '\n', escapeFormulae: true }) + '\n';
}

/** A table of words and numbers: one row a line, the unit of each column behind its name. */
export function writeTable(
  columns: readonly { readonly name: string; readonly unit: string }[],
  rows: readonly (readonly (string | number)[])[],
): string {
  const fields = columns.map(({ name, unit }) => (unit ? `${name} [${unit}]` : name)),
    data = rows.map((r) => r.map((x) => (typeof x === 'string' ? x : Number.isFinite(x) ? tidy(x) : '')));
  return Papa.unparse({ fields, data }, { newline: '\n', escapeFormulae: true }) + '\n';
}

/** Twelve significant digits: beyond the solver's accuracy, short enough to read. */
const tidy = (x: number): number => Number(x.toPrecision(12));

/** The first two columns of a CSV text as numbers; a header row is left out. @throws Refusal naming the row at fault */
export function readCsv(text: string): number[][] {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: true });
  // an empty cell is no zero
  const rows = data.map((r) => r.slice(0, 2).map((x) => (x.trim() === '' ? NaN : Number(x))));
  const first = rows[0]?.every((x) => Number.isFinite(x)) ? 0 : 1;
  const bad = rows.findIndex((r, i) => i >= first && !(r.length === 2 && r.every((x) => Number.isFinite(x))));
  if (bad >= 0)
    refuse({
      code: 'csv-row',
      message: `Row ${bad + 1} is not two numbers: ${data[bad]!.join(', ')}.`,
      remedy: 'Give two columns of numbers, with at most one header row.',
    });
  return rows.slice(first);
}

/** Cells as spreadsheets put them on the clipboard: tabs between them, a line a row, quotes round what holds either. */
export const readCells = (text: string): string[][] => Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' }).data;

/** All columns of a CSV text, the first being the time. @returns names as the header has them, units and all @throws Refusal naming the row at fault */
export function readColumns(text: string): { names: string[]; columns: Float64Array[] } {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: true });
  const number = (x: string): number => (x.trim() === '' ? NaN : Number(x.trim().replace(/^(-?\d+),(\d+)$/, '$1.$2')));
  const width = data[0]?.length ?? 0,
    header = !data[0]?.every((x) => Number.isFinite(number(x))),
    rows = data.slice(header ? 1 : 0).map((r) => r.map(number));
  if (width < 2 || rows.length === 0)
    refuse({
      code: 'csv-columns',
      message: 'There are fewer than two columns of numbers.',
      remedy: 'Give the time in the first column, and a curve in each further one.',
    });
  const bad = rows.findIndex((r) => r.length !== width || !r.every((x) => Number.isFinite(x)));
  if (bad >= 0)
    refuse({
      code: 'csv-row',
      message: `Row ${bad + (header ? 2 : 1)} is not ${width} numbers.`,
      remedy: 'Give columns of numbers, with at most one header row.',
    });
  const late = rows.findIndex((r, i) => i > 0 && !(r[0]! > rows[i - 1]![0]!));
  if (late >= 0)
    refuse({
      code: 'csv-time',
      message: `In row ${late + (header ? 2 : 1)} the time does not go on.`,
      remedy: 'Give the time in the first column, increasing.',
    });
  return {
    names: header ? data[0]!.map((n) => n.trim()) : Array.from({ length: width }, (_, k) => (k === 0 ? 'time' : `curve ${k}`)),
    columns: Array.from({ length: width }, (_, k) => Float64Array.from(rows, (r) => r[k]!)),
  };
}
