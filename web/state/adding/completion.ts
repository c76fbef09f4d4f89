/** What can stand at the caret of a formula: parameters, tables, functions, units after a number, gauges in braces. */
import type { Model } from '@vim-pivot/core/page';
import type { Word } from '../../workers/protocol';

export interface Suggestion {
  /** What is written, and where the caret goes, counted from its beginning. */
  text: string;
  caret: number;
  detail: string;
}

export interface Completion {
  /** The piece of the text that is replaced. */
  from: number;
  to: number;
  list: Suggestion[];
}

const MOST = 8;

/** @param words functions and units @param gauges whether `{Name}` may stand here @param time whether `t` may */
export function complete(
  text: string,
  caret: number,
  model: Model,
  words: readonly Word[],
  { gauges, time }: { gauges: boolean; time: boolean },
  own?: string,
): Completion | undefined {
  const before = text.slice(0, caret);
  const brace = /\{([^{}]*)$/.exec(before);
  if (brace) {
    if (!gauges) return undefined;
    const low = brace[1]!.trimStart().toLowerCase();
    const list = model.gauges
      .filter((g) => !g.off && g.name.toLowerCase().includes(low))
      .slice(0, MOST)
      .map((g) => ({ text: `{${g.name}}`, caret: g.name.length + 2, detail: 'gauge' }));
    const to = text[caret] === '}' ? caret + 1 : caret;
    return list.length > 0 ? { from: caret - brace[0].length, to, list } : undefined;
  }
  const token = /[A-Za-zµ°_][A-Za-z_0-9µ°]*$/.exec(before)?.[0];
  if (!token) return undefined;
  const from = caret - token.length,
    low = token.toLowerCase();
  const plain = (name: string, detail: string): Suggestion => ({ text: name, caret: name.length, detail });
  // a unit follows a number
  const unit = /(?:^|[^A-Za-z_])\d+\.?\d*\s+$|(?:^|[^A-Za-z_\d.])\d*\.?\d+\s*$/.test(before.slice(0, from));
  const units = words.filter((w) => w.type === 'unit' && w.name.toLowerCase().startsWith(low)).map((w) => plain(w.name, w.help));
  const names = [
    ...(time && 't'.startsWith(low) ? [plain('t', 'time')] : []),
    ...model.parameters
      .filter((p) => !p.off && p.name !== own && p.name.toLowerCase().includes(low))
      .map((p) => plain(p.name, `parameter ${typeof p.value === 'string' || typeof p.value === 'number' ? `= ${p.value}` : ''}`)),
    ...model.tables
      .filter((p) => !p.off && p.name.toLowerCase().includes(low))
      .map((p) => ({ text: `${p.name}()`, caret: p.name.length + 1, detail: 'table' })),
    ...words
      .filter((w) => w.type !== 'unit' && w.name.toLowerCase().startsWith(low))
      .map((w) =>
        w.type === 'function'
          ? { text: `${w.name}()`, caret: w.name.length + 1, detail: `(${w.args.join(', ')}) ${w.help}` }
          : plain(w.name, w.help),
      ),
  ];
  const rank = (s: Suggestion) => (s.text.toLowerCase().startsWith(low) ? 0 : 1);
  const list = (unit ? units : names)
    .filter((s) => s.text !== token)
    .sort((a, b) => rank(a) - rank(b))
    .slice(0, MOST);
  return list.length > 0 ? { from, to: caret, list } : undefined;
}

/** The text with a suggestion taken, and where the caret then is. */
export function taken(text: string, c: Completion, s: Suggestion): { text: string; caret: number } {
  return { text: text.slice(0, c.from) + s.text + text.slice(c.to), caret: c.from + s.caret };
}
