/** A positive quantity that is typed beside a model: a setting, an option. */
import type { Dimension } from '../quantity/dimension';
import { compile } from './compile';
import { FormulaError } from './parse';

/** @returns SI @throws FormulaError when it is none, or of another dimension */
export function amountOf(text: string, dim: Dimension): number {
  const value = compile(text, { lookup: () => undefined, time: false }, dim).at(0).v;
  if (value > 0 && Number.isFinite(value)) return value;
  throw new FormulaError('value-range', 'It must be greater than zero.', 0, text.length);
}
