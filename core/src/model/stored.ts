/** Geometry that a model uses and that is kept beside it. */
import { type Model, type RawElement, contentOf } from './document';
import { FAMILIES, type Family } from './families';
import { type Kind, kindOf } from './kinds';

/** Names of stored geometry that one element uses. */
export const geometryOf = (family: Family, e: RawElement): string[] =>
  Object.entries(kindOf(family, e)?.fields ?? {}).flatMap(([field, f]) =>
    f.type === 'text' && f.stored && typeof e[field] === 'string' ? [e[field]] : [],
  );

/** Names of the stored geometry of a model, each once. */
export const geometriesOf = (model: Model): string[] => [
  ...new Set(
    FAMILIES.flatMap(({ key }) =>
      (model[key] ?? []).flatMap((e) => (kindOf(key, e)?.holdsModel ? geometriesOf(contentOf(e)) : geometryOf(key, e))),
    ),
  ),
];

/** A model whose stored geometry goes by other names. */
export function withGeometries(model: Model, names: ReadonlyMap<string, string>): Model {
  if (!geometriesOf(model).some((n) => names.has(n))) return model;
  const out = { ...model };
  for (const { key } of FAMILIES)
    out[key] = (model[key] ?? []).map((e): RawElement => {
      const kind = kindOf(key, e);
      if (kind?.holdsModel) return { ...e, content: withGeometries(contentOf(e), names) } as unknown as RawElement;
      const copy = { ...e };
      for (const [field, f] of Object.entries(kind?.fields ?? {}))
        if (f.type === 'text' && f.stored) copy[field] = names.get(String(e[field])) ?? e[field];
      return copy;
    });
  return out;
}

/** What must be loaded before a model can be built. */
export function needs(model: Model): Set<NonNullable<Kind['needs']>> {
  const found = new Set<NonNullable<Kind['needs']>>();
  for (const { key } of FAMILIES)
    for (const e of model[key] ?? []) {
      const kind = kindOf(key, e);
      if (kind?.needs && !e.off) found.add(kind.needs);
      if (kind?.holdsModel) for (const n of needs(contentOf(e))) found.add(n);
    }
  return found;
}
