/** What passed through what in a run, in words, with the contact that would have held it. */
import type { Diagnosis } from '../diagnosis';
import { D } from '../quantity/dimension';
import { formatQuantity } from '../quantity/units';
import type { Mechanism } from '../system/mechanism';
import type { Passing } from './passings';

/** Findings at most: what goes through the same body is one. */
const MOST = 3;

/**
 * Of what no joint guides it is surely not meant; links of a mechanism may be drawn through one another.
 * @param list the earliest first @param complete whether all of the run was looked at @returns one finding for each body that others went through
 */
export function passedThrough(
  { model, joints }: Pick<Mechanism, 'model' | 'joints'>,
  list: readonly Passing[],
  complete = true,
): Diagnosis[] {
  const out: Diagnosis[] = [],
    guided = (body: string) => body === model.ground || joints.some((j) => j.bodies.includes(body)),
    taken = new Set(model.loads.map((l) => l.name));
  let left = [...list];
  while (left.length > 0 && out.length < MOST) {
    const through = throughMost(left, model.ground),
      own = left.filter((p) => p.bodies.includes(through)),
      others = own.map((p) => p.bodies.find((b) => b !== through)!),
      name = free(taken);
    left = left.filter((p) => !p.bodies.includes(through));
    taken.add(name);
    const more = others.length - 1,
      rest = more === 0 ? '' : more === 1 ? `, and “${others[1]}” later` : `, and ${more} other bodies later`;
    out.push({
      code: 'passed-through',
      severity: own.some((p) => p.bodies.some((b) => !guided(b))) ? 'warning' : 'note',
      message: `“${others[0]}” passed through “${through}” at ${formatQuantity(own[0]!.time, D.time, 's', 3)}${rest}.`,
      why: 'Nothing holds them apart: no joint and no contact.',
      remedy: 'Add contact if they should touch.',
      element: { family: 'bodies', name: others[0]! },
      others: [...others.slice(1), through].filter((b) => b !== model.ground).map((b) => ({ family: 'bodies', name: b })),
      time: own[0]!.time,
      fix: {
        label: 'Add contact and run',
        changes: [{ family: 'loads', name, add: { name, kind: 'contact', first: others, second: [through] } }],
        again: true,
      },
    });
  }
  if (!complete)
    out.push({
      code: 'passings-unfinished',
      severity: 'note',
      message: 'Not all of the run was looked at for bodies that pass through one another.',
      why: 'Very many of them come near one another.',
      remedy: 'Give those that should touch a contact: what is in contact need not be looked at.',
    });
  return out;
}

/** The body that most went through; of several the ground, or the one that was met first. */
function throughMost(list: readonly Passing[], ground: string): string {
  const count = new Map<string, number>();
  for (const { bodies } of list) for (const b of [...bodies].reverse()) count.set(b, (count.get(b) ?? 0) + (b === ground ? 1.5 : 1));
  return [...count].reduce((most, now) => (now[1] > most[1] ? now : most))[0];
}
function free(taken: ReadonlySet<string>): string {
  for (let n = 1; ; n++) {
    const name = n === 1 ? 'Contact' : `Contact ${n}`;
    if (!taken.has(name)) return name;
  }
}
