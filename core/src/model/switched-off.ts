/** Elements switched off, by hand or because of what they refer to. */
import type { Model } from './document';
import { FAMILIES, type Family } from './families';
import { kindOf } from './kinds';

/** Something for each family. */
export const byFamily = <T>(make: (family: Family) => T): Record<Family, T> =>
  Object.fromEntries(FAMILIES.map(({ key }) => [key, make(key)])) as Record<Family, T>;

/** Names switched off, and those that refer to something switched off. */
export function findOff(model: Model): Record<Family, Set<string>> {
  const off = byFamily((key) => new Set(model[key].filter((e) => e.off).map((e) => e.name)));
  for (let grown = true; grown;) {
    grown = false;
    for (const { key } of FAMILIES)
      for (const e of model[key]) {
        if (off[key].has(e.name)) continue;
        const lost = Object.entries(kindOf(key, e)?.fields ?? {}).some(([k, f]) => {
          const v = e[k];
          // what an instance that is off would bring is off as well
          const gone = (n: string) =>
            off[f.type === 'ref' || f.type === 'refs' ? f.family : key].has(n) ||
            (off.instances.size > 0 && off.instances.has(n.slice(0, Math.max(0, n.indexOf('/')))));
          if (f.type === 'ref') return typeof v === 'string' && gone(v);
          return f.type === 'refs' && Array.isArray(v) && v.some((x) => gone(String(x)));
        });
        if (!lost) continue;
        off[key].add(e.name);
        grown = true;
      }
  }
  return off;
}
