/** Curves as CSV: a time column and one column a gauge, the unit in the header (RFC 4180). */
import Papa from 'papaparse';
import type { Dimension } from '../quantity/dimension';
import { readUnit, shownUnit } from '../quantity/units';

export interface Curve {
  name: string;
  dim: Dimension;
  /** Left out: the usual unit of the dimension. */
  unit?: string;
  values: Float64Array;
}

/** @param time s */
export function writeCsv(time: Float64Array, curves: readonly Curve[]): string {
  const units = curves.map((c) => c.unit ?? shownUnit(c.dim));
  const factors = units.map((u) => readUnit(u)?.factor ?? 1);
  const fields = ['Time [s]', ...curves.map((c, k) => (units[k] ? `${c.name} [${units[k]}]` : c.name))];
  const data = Array.from(time, (t, i) => [tidy(t), ...curves.map((c, k) => tidy(c.values[i]! / factors[k]!))]);
  return Papa.unparse({ fields, data }, { newline: '\n', escapeFormulae: true }) + '\n';
}

/** Twelve significant digits: beyond the solver's accuracy, short enough to read. */
const tidy = (x: number): number => Number(x.toPrecision(12));
