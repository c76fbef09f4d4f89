/** Which forms may meet: those of bodies of two sets, each pair of bodies once, but for those that a joint joins. */
import { refuse } from '../../diagnosis';
import type { ContactAsked, Side } from './contacts';

/** @throws Refusal where there is nothing that could touch */
export function pairsOf({ name, first, second, by, on, machine }: ContactAsked): (readonly [Side, Side])[] {
  const told = new Set<string>(),
    sides = (bodies: readonly string[], shapes: readonly string[] | undefined) =>
      new Map(bodies.map((b) => [b, machine.forms(b).filter((s) => shapes?.includes(s.shape) ?? true)])),
    [ones, others] = [sides(first, by), sides(second, on)],
    pairs = first.flatMap((a) =>
      second.flatMap((b) => {
        const key = [a, b].sort().join('\n');
        if (a === b || machine.joined(a, b) || told.has(key)) return [];
        told.add(key);
        return ones.get(a)!.flatMap((x) => others.get(b)!.map((y) => [x, y] as const));
      }),
    );
  if (pairs.length === 0)
    refuse({
      code: 'contact-empty',
      message: 'There is nothing that could touch.',
      why: 'Bodies that a joint joins do not count, nor one with itself, nor bodies without shapes, nor shapes that are not among those named.',
      remedy: 'Give shapes to both bodies, or name others.',
      element: { family: 'loads', name },
    });
  return pairs;
}
