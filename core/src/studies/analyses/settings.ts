/** Settings of an analysis, from what is typed to what it works with. */
import { refuse } from '../../diagnosis';
import { amountOf } from '../../formula/amount';
import { FormulaError } from '../../formula/parse';
import type { Model } from '../../model/document';
import type { Dimension } from '../../quantity/dimension';
import { D } from '../../quantity/dimension';
import type { Mechanism } from '../../system/mechanism';
import type { CountSetting, Given, NameSetting, Setting, Settings, Values } from './analysis';

/** @throws Refusal that names the setting and says what fits */
export function settingsFrom<S extends Settings>(settings: S, given: Given['settings'], of: { m: Mechanism; model: Model }): Values<S> {
  return Object.fromEntries(Object.entries(settings).map(([key, s]) => [key, valueOf(s, given[key], of)])) as Values<S>;
}

type Typed = Given['settings'][string];
const textOf = (typed: Typed): string => String(typed ?? '').trim();

function valueOf(s: Setting, typed: Typed, of: { m: Mechanism; model: Model }): unknown {
  if (s.type === 'name') return named(s, typed, of);
  const text = textOf(typed);
  if (s.type === 'count') return text === '' ? s.default : whole(s, text);
  if (text === '') return undefined;
  return s.type === 'amount' ? text : positive(s.label, text, s.dim);
}

function whole({ label, least, most }: CountSetting, text: string): number {
  const n = Number(text);
  return Number.isInteger(n) && n >= least && n <= most
    ? n
    : refuse({ code: 'setting', message: `${label}: “${text}” is no whole number from ${least} to ${most}.` });
}

/** @throws Refusal */
export function positive(label: string, text: string, dim: Dimension): number {
  try {
    return amountOf(text, dim);
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    return refuse({ code: 'setting', message: `${label}: “${text}” does not fit. ${e.message}` });
  }
}
/** A time of a run. */
export const timeFrom = (text: string): number => positive('Time', text, D.time);

function named({ label, names, several }: NameSetting, typed: Typed, of: { m: Mechanism; model: Model }): string | readonly string[] {
  const list = (typeof typed === 'string' ? [typed] : (typed ?? [])).filter((x) => x !== ''),
    known = names(of),
    other = list.find((x) => !known.includes(x)),
    some = known.slice(0, 12),
    more = known.length > some.length ? ` and ${known.length - some.length} more` : '',
    remedy = known.length === 0 ? 'The model has none.' : `Name ${known.length > 1 ? 'one of these' : 'this'}: ${some.join(', ')}${more}.`;
  if (other !== undefined) refuse({ code: 'setting-name', message: `${label}: there is no “${other}”.`, remedy });
  if (list.length === 0) refuse({ code: 'setting-name', message: `${label}: none is named.`, remedy });
  return several ? [...new Set(list)] : list[0]!;
}
