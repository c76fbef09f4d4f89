/** Renaming throughout the document; apart, because it reads formulas. */
import { FAMILIES, type Model, kindOf } from '@vim-pivot/core/page';
import { type Family, rename, renameInInstances } from '@vim-pivot/core/rename';
import { joinLast, replace, replaceWhole, select, useDocument } from './document';
import { freeName } from './free-name';
import { nameFor, unnumbered } from './names';

/** The model with an element renamed, and with it what still has the name that was made for it. */
export function renamed(model: Model, family: Family, from: string, to: string): Model {
  let next = rename(model, family, from, to);
  for (const { key } of FAMILIES)
    model[key].forEach((e, i) => {
      const kind = kindOf(key, e),
        own = kind && nameFor(kind, e, model);
      if (!kind || (key === family && e.name === from) || unnumbered(e.name) !== own) return;
      const now = next[key][i]!,
        name = nameFor(kind, now, next);
      if (name !== own) next = rename(next, key, now.name, freeName(key, name, next));
    });
  return next;
}

/** One undo step. The name has been found good. */
export function renameNow(family: Family, from: string, name: string): void {
  const { model, inside } = useDocument.getState();
  if (!model || (!model[family].some((e) => e.name === from) && !(family === 'bodies' && model.ground === from))) return;
  if (family === 'kits') replaceWhole(`Rename ${from}`, (w) => rename(w, 'kits', from, name), inside === from ? name : inside);
  else {
    replace(`Rename ${from}`, () => renamed(model, family, from, name));
    // what instances give to the kit that is open goes along
    if (inside !== undefined && (family === 'parameters' || family === 'bodies'))
      joinLast((w) => renameInInstances(w, inside, family, from, name));
  }
  const { selected } = useDocument.getState();
  if (selected?.family === family && selected.name === from) select({ family, name });
}
