/** What tells runs apart: a name of their own, else what of their models differs. */
import { FAMILIES, type Model, kindOf, onlyReads, onlyShows } from '@vim-pivot/core/page';
import type { RunRow } from '../kept/db';
import { titleOf } from './title';

/** A difference of two models, in words; whether it bears on the motion, on what is read of it, or only on sheets. */
export interface Difference {
  of: 'motion' | 'readings' | 'sheets';
  text: string;
}

const SETTINGS = ['until', 'every', 'accuracy', 'longest', 'analysis', 'method', 'planar'] as const;
const text = (v: unknown): string => (v === undefined ? '–' : typeof v === 'string' ? v : JSON.stringify(v));

/** What two models differ in, field by field: as it is in the first, then in the second; what bears on the motion first. */
export function differences(first: Model, second: Model): Difference[] {
  const out: Difference[] = [];
  const add = (of: Difference['of'], words: string) => void out.push({ of, text: words });
  for (const key of SETTINGS)
    if (first.run[key] !== second.run[key]) add('motion', `run ${key}: ${text(first.run[key])} → ${text(second.run[key])}`);
  for (const { key } of FAMILIES) {
    const of = onlyShows(key) ? 'sheets' : onlyReads(key) ? 'readings' : 'motion';
    const a = new Map((first[key] ?? []).map((e) => [e.name, e])),
      b = new Map((second[key] ?? []).map((e) => [e.name, e]));
    for (const [name, e] of a) {
      const other = b.get(name);
      if (!other) add(of, `${name}: gone`);
      else if (e !== other)
        for (const f of new Set([...Object.keys(e), ...Object.keys(other)])) {
          if (JSON.stringify(e[f]) === JSON.stringify(other[f])) continue;
          // words and colours move nothing
          const quiet = f === 'note' || kindOf(key, e)?.fields[f]?.type === 'colour';
          add(
            quiet ? 'sheets' : of,
            f === 'content'
              ? `${name}: its content`
              : `${name}, ${(kindOf(key, e)?.fields[f]?.label ?? f).toLowerCase()}: ${text(e[f])} → ${text(other[f])}`,
          );
        }
    }
    for (const name of b.keys()) if (!a.has(name)) add(of, `${name}: new`);
  }
  const rank = { motion: 0, readings: 1, sheets: 2 };
  return out.sort((x, y) => rank[x.of] - rank[y.of]);
}

/** Names longer than this tell less than a number. */
const LONGEST = 40;

/**
 * What of the parameters, else of single values, is not the same in all of these runs, for each of them: “crank 90 mm”.
 * Runs whose models differ otherwise, or not at all, have no entry.
 */
export function tellingApart(runs: readonly Pick<RunRow, 'id' | 'model' | 'kit'>[]): Map<string, string> {
  const names = new Map<string, string>(),
    kits = new Set(runs.map((r) => r.kit));
  for (const kit of kits) {
    const group = runs.filter((r) => r.kit === kit),
      [first] = group;
    if (!first || group.length < 2) continue;
    const values = new Map<string, (string | undefined)[]>();
    group.forEach((r, k) => {
      for (const p of r.model.parameters)
        values.set(p.name, (values.get(p.name) ?? Array.from<undefined>({ length: group.length })).with(k, text(p.value)));
    });
    const varying = [...values].filter(([, list]) => new Set(list).size > 1);
    group.forEach((r, k) => {
      const own = varying.map(([name, list]) => `${name} ${list[k] ?? '–'}`).join(', ');
      if (own !== '' && own.length <= LONGEST) names.set(r.id, own);
    });
  }
  return names;
}

let known: { runs: readonly RunRow[]; names: Map<string, string> } | undefined;
/** What a run is called: the name it was given, or its number with what tells it apart. */
export function nameOfRun(runs: readonly RunRow[], id: string | undefined): string {
  const r = runs.find((x) => x.id === id);
  if (!r) return '';
  if (r.label) return r.label;
  if (known?.runs !== runs) known = { runs, names: tellingApart(runs) };
  const apart = known.names.get(r.id);
  return `${titleOf(r)}${apart ? `, ${apart}` : ''}`;
}
