/** Names with an asterisk, which stand for all that are called so: “Slat *” for Slat 1, Slat 2 and so on. An asterisk is any text, none as well. */

/** Whether a name stands for several. */
export const isPattern = (name: string): boolean => name.includes('*');

/** Those of some names that a pattern means, in their order. */
export function matching(pattern: string, names: Iterable<string>): string[] {
  const parts = pattern.split('*').map((x) => x.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')),
    means = new RegExp(`^${parts.join('.*')}$`, 'su');
  return [...names].filter((n) => means.test(n));
}
