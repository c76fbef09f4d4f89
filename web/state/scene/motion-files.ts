/** What an analysis has found, as a file. */
import type { Found } from '@vim-pivot/core/analyses';
import { useDocument } from '../document/document';
import { download, fileName } from '../files/download';

const named = (analysis: string): string => `${fileName(useDocument.getState().model?.name ?? 'model')}-${analysis}`;

/** As `pivot` prints it with --json. */
export const saveJson = (analysis: string, { data, diagnoses }: Found): void =>
  download(`${named(analysis)}.json`, JSON.stringify({ ...data, diagnoses }, null, 1), 'application/json');

export async function saveCsv(analysis: string, { table }: Found): Promise<void> {
  const { writeTable } = await import('@vim-pivot/core/csv');
  download(`${named(analysis)}.csv`, writeTable(table.columns, table.rows), 'text/csv');
}
