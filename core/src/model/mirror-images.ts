/** Mirrors written out: images of what is there, after what they mirror. */
import { renameAll } from '../formula/parse';
import { bundleOf, pointsOn, refsOf } from './bundle';
import type { Model, RawElement } from './document';
import { type Expansion, rewritten } from './expansion';
import { FAMILIES, type Family } from './families';
import { placingsOf } from './instances';
import { kindOf } from './kinds';
import { byFamily } from './switched-off';

/** Shared by original and image. */
const NOT_MIRRORED: ReadonlySet<Family> = new Set(['parameters', 'tables', 'materials', 'kits', 'instances']);

type Taken = Record<Family, RawElement[]>;
const namesOf = (value: unknown): string[] => (value === undefined ? [] : [value].flat().map(String));

/** A mirror may mirror what another brings: each waits for those it needs. */
export function bringImages(to: Expansion): void {
  let waiting = to.model.instances.filter((e) => kindOf('instances', e)?.makes === 'mirrored' && !e.off);
  while (waiting.length > 0) {
    const names = new Set(waiting.map((e) => e.name));
    const ready = waiting.filter((e) => !namesOf(e.of).some((n) => names.has(n)));
    if (ready.length === 0)
      return to.fault(
        waiting[0]!.name,
        'mirror-circle',
        `The mirrors are images of each other: ${[...names].join(', ')}.`,
        'Let one of them mirror something else.',
      );
    for (const e of ready) image(to, e);
    waiting = waiting.filter((e) => !ready.includes(e));
  }
}

function image(to: Expansion, e: RawElement): void {
  const { model } = to;
  to.counts.set(e.name, 1);
  if (namesOf(e.of).length + namesOf(e.bodies).length === 0)
    return to.fault(e.name, 'mirror-empty', 'It mirrors nothing.', 'Name instances or bodies.');
  const taken = takenBy(model, e);
  const names = byFamily((key) => new Set(taken[key].map((x) => x.name)));
  if (refused(to, e, taken, names)) return;
  const name = (family: Family, n: string) => (names[family].has(n) ? `${e.name}/${n}` : n);
  const formula = (text: string) => renameAll(text, (n, what) => (what === 'gauge' ? name('gauges', n) : n));
  const outer = placingsOf(e);
  for (const { key: family } of FAMILIES)
    for (const x of taken[family]) {
      const inner = placingsOf(x);
      const placings = [...inner.slice(0, inner.length - outer.length), { instance: e.name, member: 0 }, ...outer];
      to.bring(family, rewritten(family, x, `${e.name}/${x.name}`, { name, formula }), placings);
    }
}

/** What a mirror takes: the instances and bodies it names, with all that hangs on them. */
function takenBy(model: Model, e: RawElement): Taken {
  const listed = new Set(namesOf(e.of)),
    shared = namesOf(e.shared),
    bodies = new Set(namesOf(e.bodies));
  const ofListed = (x: RawElement) => placingsOf(x).some((p) => listed.has(p.instance));
  for (const b of model.bodies) if (ofListed(b)) bodies.add(b.name);
  const bundle = bundleOf(
    model,
    [...bodies].map((name) => ({ family: 'bodies', name })),
    shared,
  );
  const anew = new Set(pointsOn(model, bundle, new Set(shared)));
  const alone = hereOnly(model);
  const takes = (family: Family, x: RawElement) =>
    !NOT_MIRRORED.has(family) &&
    !alone.has(x) &&
    (bundle.get(family)!.has(x.name) || (family === 'points' && anew.has(x.name)) || ofListed(x));
  return byFamily((key) => model[key].filter((x) => takes(key, x)));
}

/** What is to stand on the original alone, with all that hangs on it. */
function hereOnly(model: Model): ReadonlySet<RawElement> {
  const out = new Set<RawElement>(FAMILIES.flatMap(({ key }) => model[key].filter((x) => x.mirrored === false)));
  for (let size = -1; out.size !== size;) {
    size = out.size;
    const names = byFamily((key) => new Set(model[key].filter((x) => out.has(x)).map((x) => x.name)));
    for (const { key } of FAMILIES)
      for (const x of model[key]) if (!out.has(x) && refsOf(key, x).some((r) => r.names.some((n) => names[r.family].has(n)))) out.add(x);
  }
  return out;
}

/** What would change hand in a mirror, or is given in axes that do not come along. */
function refused(to: Expansion, e: RawElement, taken: Taken, names: Record<Family, ReadonlySet<string>>): boolean {
  const handed = FAMILIES.flatMap(({ key }) =>
    taken[key].filter((x) => kindOf(key, x)?.handed).map((x) => `${x.name} (${kindOf(key, x)!.label.toLowerCase()})`),
  );
  if (handed.length > 0) {
    to.fault(
      e.name,
      'mirror-handed',
      `${handed.slice(0, 5).join(', ')} cannot be mirrored: in the mirror it would change hand.`,
      'Leave it out, or make the other side by hand.',
    );
    return true;
  }
  const { ground } = to.model;
  const stays = taken.joints.find(({ axisIn: a }) => typeof a === 'string' && a !== '' && a !== ground && !names.bodies.has(a));
  if (stays)
    to.fault(
      e.name,
      'mirror-axis',
      `The axis of ${stays.name} is given in the axes of ${stays.axisIn as string}, which is not mirrored.`,
      'Give it in the ground’s axes, or mirror that body as well.',
    );
  return !!stays;
}
