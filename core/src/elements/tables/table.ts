import { choice, grid, text } from '../../model/fields';
import type { Kind } from '../../model/kinds';

const FIELDS = {
  from: text('Unit of x', 'Unit of the first column, such as s or deg; 1 for a plain number.', { default: 's' }),
  to: text('Unit of y', 'Unit of the second column.', { default: '1' }),
  data: grid(2, 2, 100_000, 'Rows', 'Pairs of numbers, the first column increasing.'),
  between: choice(
    { monotone: 'monotone: smooth, without overshoot', akima: 'smooth (Akima)', linear: 'straight lines' },
    'Between',
    'How values between the rows are found. Straight lines have corners, which a driven position must not have.',
  ),
  beyond: choice({ hold: 'keep the end values', extend: 'go on straight', repeat: 'repeat' }, 'Beyond', 'What holds outside the rows.'),
} as const;

export const table: Kind<typeof FIELDS> = {
  family: 'tables',
  kind: 'table',
  label: 'Table',
  help: 'Data points as a function for formulas: a table named lift is used as lift(t). A run from outside may replace its rows by measured ones.',
  fields: FIELDS,
  // a ramp stays a ramp until somebody wants it smooth
  fresh: { between: 'linear' },
};
