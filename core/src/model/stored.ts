/** Geometry that a model uses and that is kept beside it. */
import { type Model, type RawElement, contentOf } from './document';
import { FAMILIES, type Family } from './families';
import { kindOf } from './kinds';

/** Names of stored geometry that one element uses. */
export const geometryOf = (family: Family, e: RawElement): string[] =>
  Object.entries(kindOf(family, e)?.fields ?? {}).flatMap(([field, f]) => (f.type === 'text' && f.stored && typeof e[field] === 'string' ? [e[field]] : []));

/** Names of the stored geometry of a model, each once. */
export const geometriesOf = (model: Model): string[] => [...new Set(FAMILIES.flatMap(({ key }) => (model[key] ?? []).flatMap((e) => (kindOf(key, e)?.holdsModel ? geometriesOf(contentOf(e)) : geometryOf(key, e)))))];
