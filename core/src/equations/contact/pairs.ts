/** Which forms may meet: those of bodies of two sets, each pair of shapes once, but for bodies that a joint joins and for what a later contact names. */
import { refuse } from '../../diagnosis';
import type { ContactAsked, Sets, Side } from './contacts';

/** A shape of a body. */
type Shape = Pick<Side, 'shape'> & { readonly of: string };

/** @throws Refusal where there is nothing that could touch */
export function pairsOf({ name, machine, later, ...sets }: ContactAsked): (readonly [Side, Side])[] {
  const told = new Set<string>(),
    taken = later.map(names),
    forms = new Map([...sets.first, ...sets.second].map((b) => [b, byShape(machine.forms(b))])),
    pairs: (readonly [Side, Side])[] = [];
  for (const a of sets.first)
    for (const b of sets.second) {
      if (a === b || machine.joined(a, b)) continue;
      for (const [one, x] of forms.get(a)!) {
        if (sets.by && !sets.by.includes(one)) continue;
        for (const [other, y] of forms.get(b)!) {
          if (sets.on && !sets.on.includes(other)) continue;
          const key = [one, other].sort().join('\n');
          if (told.has(key) || taken.some((t) => t({ of: a, shape: one }, { of: b, shape: other }))) continue;
          told.add(key);
          for (const f of x) for (const g of y) pairs.push([f, g]);
        }
      }
    }
  if (pairs.length === 0)
    refuse({
      code: 'contact-empty',
      message: 'There is nothing that could touch.',
      why: 'Bodies that a joint joins do not count, nor those that are fixed to one another, nor one with itself, nor bodies without shapes, nor imported ones whose surface is open, nor shapes that are not among those named, nor what a later contact names as well.',
      remedy: 'Give shapes to both bodies, or name others.',
      element: { family: 'loads', name },
    });
  return pairs;
}

function byShape(sides: readonly Side[]): Map<string, Side[]> {
  const out = new Map<string, Side[]>();
  for (const s of sides) out.set(s.shape, [...(out.get(s.shape) ?? []), s]);
  return out;
}

/** Whether a contact names two shapes. */
function names({ first, second, by, on }: Sets): (one: Shape, other: Shape) => boolean {
  const [ones, others] = [new Set(first), new Set(second)],
    is = (x: Shape, bodies: ReadonlySet<string>, shapes: readonly string[] | undefined) =>
      bodies.has(x.of) && (shapes?.includes(x.shape) ?? true);
  return (one, other) => (is(one, ones, by) && is(other, others, on)) || (is(other, ones, by) && is(one, others, on));
}
