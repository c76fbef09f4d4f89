/** Events of a run as marks on its timeline: those that would stand on one another are one. */
import type { Happening } from '@vim-pivot/core';
import { fixed } from '@vim-pivot/core/page';

export interface Mark {
  /** First and last time, s. */
  readonly from: number;
  readonly to: number;
  readonly count: number;
  readonly says: string;
}

/** Marks that fit on a timeline. */
const FIT = 200;
/** Kinds of events that a mark names. */
const NAMED = 4;

/** @param happenings in the order of their times @param end of the run, s */
export function grouped(happenings: readonly Happening[], end: number): Mark[] {
  const groups: Happening[][] = [];
  for (const h of happenings) {
    const last = groups.at(-1);
    if (last && h.t - last[0]!.t < end / FIT) last.push(h);
    else groups.push([h]);
  }
  return groups.map((list) => {
    const [from, to] = [list[0]!.t, list.at(-1)!.t];
    return { from, to, count: list.length, says: list.length === 1 ? `${fixed(from, 4)} s: ${list[0]!.message}` : said(list, from, to) };
  });
}

/** The most frequent first. */
function said(list: readonly Happening[], from: number, to: number): string {
  const count = new Map<string, number>();
  for (const { message } of list) count.set(message, (count.get(message) ?? 0) + 1);
  const all = [...count].sort((a, b) => b[1] - a[1]),
    named = all.slice(0, NAMED).map(([message, n]) => (n === 1 ? message : `${message} (${n} times)`)),
    rest = all.length - named.length;
  return [`${list.length} events from ${fixed(from, 4)} to ${fixed(to, 4)} s`, ...named, ...(rest > 0 ? [`and ${rest} others`] : [])].join(
    '\n',
  );
}
