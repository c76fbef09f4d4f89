/** Which forms may meet: those of bodies of two sets, each pair of bodies once, but for those that a joint joins. */
import { refuse } from '../../diagnosis';
import type { ContactAsked, Side } from './contacts';

/** @throws Refusal where there is nothing that could touch */
export function pairsOf({ name, first, second, machine }: ContactAsked): (readonly [Side, Side])[] {
  const told = new Set<string>(),
    pairs = first.flatMap((a) =>
      second.flatMap((b) => {
        const key = [a, b].sort().join('\n');
        if (a === b || machine.joined(a, b) || told.has(key)) return [];
        told.add(key);
        return machine.forms(a).flatMap((x) => machine.forms(b).map((y) => [x, y] as const));
      }),
    );
  if (pairs.length === 0)
    refuse({
      code: 'contact-empty',
      message: 'There is nothing that could touch.',
      why: 'Bodies that a joint joins do not count, nor one with itself, nor bodies without shapes.',
      remedy: 'Give shapes to both bodies, or name others.',
      element: { family: 'loads', name },
    });
  return pairs;
}
