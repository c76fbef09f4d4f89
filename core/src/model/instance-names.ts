/** Names of what instances bring. */
import type { Model, RawElement } from './document';
import type { Family } from './families';

/** The name under which an instance's parameters are known in formulas. */
export const inFormulas = (instance: string): string =>
  instance
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9_]/g, '_')
    .replace(/^(\d)/, '_$1');

/** What the members of an instance are called. */
export const memberName = (instance: string, many: boolean, member: number): string => (many ? `${instance} ${member + 1}` : instance);

/** The element of the model itself that stands behind one that an instance brought; undefined when there is none. */
export function homeOf(model: Model, family: Family, name: string): { family: Family; name: string } | undefined {
  if (model[family].some((e) => e.name === name) || (family === 'bodies' && name === model.ground)) return { family, name };
  const formula = family === 'parameters' || family === 'tables',
    [end, gap] = formula ? ['.', '_'] : ['/', ' '];
  const brings = (i: RawElement) => {
    const head = formula ? inFormulas(i.name) : i.name,
      rest = name.slice(head.length);
    return (
      name.startsWith(head) && (rest.startsWith(end) || (rest.startsWith(gap) && rest.slice(1, rest.indexOf(end)).match(/^\d+$/) !== null))
    );
  };
  const found = (model.instances ?? []).filter(brings).sort((a, b) => b.name.length - a.name.length)[0];
  return found && { family: 'instances', name: found.name };
}
