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
  const data = Array.from(time, (t, i) => [tidy(t), ...curves.map((c, k) => (Number.isFinite(c.values[i]!) ? tidy(c.values[i]! / factors[k]!) : ''))]);
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
  if (bad >= 0) refuse({ code: 'csv-row', message: `Row ${bad + 1} is not two numbers: ${data[bad]!.join(', ')}.`, remedy: 'Give two columns of numbers, with at most one header row.' });
  return rows.slice(first);
}
