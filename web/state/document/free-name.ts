import type { Family, Model } from '@vim-pivot/core/page';

/** A name that nothing in the family has yet. */
export function freeName(family: Family, base: string, model: Model): string {
  const taken = new Set([...model[family].map((e) => e.name), model.ground]);
  if (!taken.has(base)) return base;
  for (let n = 2; ; n++) {
    const name = family === 'parameters' ? `${base}_${n}` : `${base} ${n}`;
    if (!taken.has(name)) return name;
  }
}
