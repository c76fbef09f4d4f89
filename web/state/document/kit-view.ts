/** A kit that is open, as a view of the document: it is worked on as a model, and what changes in it changes in the whole. */
import { type Patch, enablePatches, produceWithPatches } from 'immer';
import { FAMILIES, type Model, contentOf } from '@vim-pivot/core/page';

enablePatches();

/** The kit that is open as a model: its own families, with the kits of the whole. */
export function viewOf(whole: Model, inside: string | undefined): Model {
  const kit = inside === undefined ? undefined : whole.kits.find((k) => k.name === inside);
  return kit
    ? {
        ...contentOf(kit),
        name: kit.name,
        run: whole.run,
        kits: whole.kits,
        ...(whole.up ? { up: whole.up } : {}),
        ...(whole.units ? { units: whole.units } : {}),
      }
    : whole;
}

/** Writes what was changed of the view back into a draft of the whole. */
function writeBack(d: Model, inside: string, before: Model, after: Model): void {
  for (const key of ['run', 'up'] as const) if (after[key] !== before[key]) d[key] = after[key] as never;
  const own = Object.fromEntries(
    (['ground', 'note', ...FAMILIES.map((f) => f.key)] as const).flatMap((key) =>
      key !== 'kits' && after[key] !== before[key] ? [[key, after[key]]] : [],
    ),
  );
  d.kits.forEach((k, i) => {
    const now = after.kits.find((x) => x.name === k.name);
    if (k.name === inside) Object.assign(contentOf(k), own);
    else if (now && now !== before.kits.find((x) => x.name === k.name)) d.kits[i] = now;
  });
  // kits made or taken out meanwhile
  d.kits = [
    ...d.kits.filter((k) => k.name === inside || after.kits.some((x) => x.name === k.name)),
    ...after.kits.filter((k) => !before.kits.some((x) => x.name === k.name)),
  ];
}

/** The whole after a change of what is worked on, with the patches of the whole. */
export function changeOf(
  whole: Model,
  view: Model,
  inside: string | undefined,
  recipe: (m: Model) => unknown,
): readonly [Model, Patch[], Patch[]] {
  if (inside === undefined) return produceWithPatches(whole, recipe as (m: Model) => Model);
  const [next, forward] = produceWithPatches(view, recipe as (m: Model) => Model);
  return forward.length === 0 ? [whole, [], []] : produceWithPatches(whole, (d: Model) => writeBack(d, inside, view, next));
}
