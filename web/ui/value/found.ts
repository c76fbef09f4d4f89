/** Values of a field that is left out, as they were worked out: they stand grey in it. */
import { type Dimension, formatQuantity, localText, readUnit, shownUnit, siUnit } from '@vim-pivot/core/page';

/** SI. */
export interface Found {
  values: readonly number[];
  dim: Dimension;
}
/** Characters for which there is room in a narrow field. */
const ROOM = 7;
/** As text in the unit shown; a number alone, of three digits, where there is little room. */
export function foundText({ values, dim }: Found, part: number | undefined, little: boolean): string {
  const value = values[part ?? 0] ?? 0;
  if (!little) return formatQuantity(value, dim);
  const unit = shownUnit(dim),
    text = formatQuantity(value, dim, unit, 3).replace(/ .*$/, '');
  return text.length <= ROOM ? text : localText((value / readUnit(unit)!.factor).toExponential(2));
}
/** As it is written into the model when one of several is typed over. */
export const foundRaw = ({ values, dim }: Found): (number | string)[] =>
  values.map((v) => (v === 0 ? 0 : `${Number(v.toPrecision(9))} ${siUnit(dim)}`));
