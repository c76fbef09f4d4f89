/** Renaming throughout the document; apart, because it reads formulas. */
import { type Family, rename, renameInInstances } from '@vim-pivot/core/rename';
import { joinLast, replace, replaceWhole, select, useDocument } from './document';

/** One undo step. The name has been found good. */
export function renameNow(family: Family, from: string, name: string): void {
  const { model, inside } = useDocument.getState();
  if (!model || (!model[family].some((e) => e.name === from) && !(family === 'bodies' && model.ground === from))) return;
  if (family === 'kits') replaceWhole(`Rename ${from}`, (w) => rename(w, 'kits', from, name), inside === from ? name : inside);
  else {
    replace(`Rename ${from}`, () => rename(model, family, from, name));
    // what instances give to the kit that is open goes along
    if (inside !== undefined && (family === 'parameters' || family === 'bodies')) joinLast((w) => renameInInstances(w, inside, family, from, name));
  }
  const { selected } = useDocument.getState();
  if (selected?.family === family && selected.name === from) select({ family, name });
}
