/** Elements that others refer to by name. */
import { refuse } from '../diagnosis';
import { type Family, familyOf } from '../model/families';

/** An element of a list by its name. @throws Refusal when it is not there, because it is in error or switched off */
export function usable<T extends { readonly name: string }>(list: readonly T[], name: string, family: Family): T {
  return list.find((x) => x.name === name) ?? unusable(name, family);
}

/** @throws Refusal always. @param why ends the sentence */
export function unusable(name: string, family: Family, why = 'is in error or switched off'): never {
  const { one } = familyOf(family);
  refuse({ code: `${one.replace(' ', '-')}-unusable`, message: `The ${one} “${name}” ${why}.`, element: { family, name } });
}
