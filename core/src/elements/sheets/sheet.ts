import type { Kind } from '../../model/kinds';

export const sheet = {
  family: 'sheets',
  kind: 'sheet',
  label: 'Sheet',
  help: 'A page of Readings, on which tiles are arranged: charts, the moving machine, tables, numbers, notes, pictures.',
  fields: {},
} as const satisfies Kind;
