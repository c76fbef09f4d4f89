/** Tables of the document made ready for formulas, every fault with its row. */
import { LARGEST } from '../formula/parse';
import type { Diagnosis } from '../diagnosis';
import { type Between, type Beyond, Table } from '../formula/table';
import { readUnit } from '../quantity/units';
import type { Model, RawElement } from './document';
import { kindOf } from './kinds';

/** Tables that are in use, by name; what is wrong with one is added to the diagnoses. */
export function readTables(model: Pick<Model, 'tables'>, diagnoses: Diagnosis[], off: ReadonlySet<string>): Map<string, Table> {
  const out = new Map<string, Table>();
  model.tables.forEach((e, index) => {
    if (off.has(e.name)) return;
    const table = readTable(e, (field, message, remedy) => {
      diagnoses.push({
        code: 'table',
        severity: 'error',
        message,
        path: ['tables', index, field],
        element: { family: 'tables', name: e.name },
        ...(remedy ? { remedy } : {}),
      });
      return undefined;
    });
    if (table) out.set(e.name, table);
  });
  return out;
}

function readTable(e: RawElement, fault: (field: string, message: string, remedy?: string) => undefined): Table | undefined {
  const standing = (field: string): unknown => {
    const f = kindOf('tables', e)?.fields[field];
    return e[field] ?? (f && 'default' in f ? f.default : undefined);
  };
  const units = ['from', 'to'].map((field) => {
    const text = String(standing(field) ?? '');
    return readUnit(text) ?? fault(field, `“${text}” is not a unit.`, 'Write for example s, deg, N/mm; nothing or 1 for a plain number.');
  });
  const rows = e.data as unknown as readonly (readonly number[])[] | undefined;
  if (!Array.isArray(rows) || rows.length < 2) return fault('data', 'A table needs at least two rows.');
  const [ux, uy] = units;
  if (!ux || !uy) return undefined;
  const bad = rows.findIndex((r) => !Array.isArray(r) || r.length !== 2 || !r.every((v) => Number.isFinite(v)));
  if (bad >= 0) return fault('data', `Row ${bad + 1} is not two numbers.`);
  const vast = rows.findIndex((r) => Math.abs(r[0]! * ux.factor) > LARGEST || Math.abs(r[1]! * uy.factor) > LARGEST);
  if (vast >= 0) return fault('data', `Row ${vast + 1} is too large to compute with.`);
  const x = Float64Array.from(rows, (r) => r[0]! * ux.factor),
    y = Float64Array.from(rows, (r) => r[1]! * uy.factor);
  const back = x.findIndex((v, i) => i > 0 && !(v > x[i - 1]!));
  if (back > 0)
    return fault(
      'data',
      `The first column must increase: row ${back + 1} (${rows[back]![0]}) does not come after row ${back} (${rows[back - 1]![0]}).`,
      'Sort the rows, and leave one of equal ones out.',
    );
  const beyond = String(standing('beyond')) as Beyond;
  if (beyond === 'repeat' && Math.abs(y[y.length - 1]! - y[0]!) > 1e-9 * Math.max(...y.map(Math.abs))) {
    return fault(
      'data',
      `A table that repeats must end as it begins: ${rows[0]![1]} against ${rows.at(-1)![1]}.`,
      'Add a last row with the value of the first.',
    );
  }
  return new Table(x, y, String(standing('between')) as Between, beyond, [ux.dim, uy.dim]);
}
