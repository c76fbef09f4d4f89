/** Part of a machine becomes a kit, and the machine holds an instance of it in the same place. */
import { Refusal } from '../diagnosis';
import { namesIn, parse, renameAll } from '../formula/parse';
import type { Vec3 } from '../geometry/vector';
import { writeAssigned } from './assigned';
import { bundleOf, refsOf } from './bundle';
import { type Model, type RawElement, type RawValue, kitContent } from './document';
import { FAMILIES, type Family } from './families';
import { takesFormula } from './fields';
import { kindOf } from './kinds';

/** Names and tables that formulas of an element use. */
function namesUsed(family: Family, e: RawElement, found: Set<string>): void {
  const look = (v: unknown): void => {
    if (Array.isArray(v)) return v.forEach(look);
    if (typeof v !== 'string') return;
    try {
      const root = parse(v);
      namesIn(root, found);
      renameAll(v, (n, what) => {
        if (what === 'call') found.add(n);
        return n;
      });
    } catch {
      // half-typed: it is copied as it is
    }
  };
  for (const [key, f] of Object.entries(kindOf(family, e)?.fields ?? {})) if (takesFormula(f)) look(e[key]);
}

/**
 * Makes a kit of what is picked with all that hangs on it; bodies on which it hangs besides become its mounts, parameters it uses become its own,
 * with the machine's as their values here.
 * @param place ground coordinates of a point as drawn, m
 * @throws Refusal when nothing that moves is picked, or the name is taken
 */
export function kitOf(
  model: Model,
  picked: readonly { family: Family; name: string }[],
  name: string,
  place: (point: string) => Vec3,
): Model {
  const refuse = (message: string, remedy: string): never => {
    throw new Refusal([{ code: 'kit-make', severity: 'error', message, remedy }]);
  };
  if (model.kits.some((k) => k.name === name) || model.instances.some((k) => k.name === name))
    refuse(`There is already a kit or an instance “${name}”.`, 'Choose another name.');
  const own = new Set(picked.filter((p) => p.family === 'bodies' && p.name !== model.ground).map((p) => p.name));
  const inner = new Set(picked.filter((p) => p.family === 'instances').map((p) => p.name));
  if (own.size + inner.size === 0) refuse('A kit is made of bodies or instances, with what hangs on them.', 'Pick the bodies first.');
  const others = model.bodies.map((b) => b.name).filter((b) => !own.has(b));
  const bundle = bundleOf(model, picked, others);
  const taken = Object.fromEntries(
    FAMILIES.map(({ key }) => [key, key === 'kits' ? [] : model[key].filter((e) => bundle.get(key)!.has(e.name))]),
  ) as unknown as Record<Family, RawElement[]>;
  const isTaken = (family: Family, n: string) => bundle.get(family)!.has(n) || [...inner].some((i) => n.startsWith(`${i}/`));

  // what it hangs on besides
  const mounts = new Set<string>();
  const strays = new Set<string>();
  for (const { key } of FAMILIES)
    for (const e of taken[key])
      for (const r of refsOf(key, e))
        for (const n of r.names) {
          if (r.family === 'bodies' && n !== model.ground && !isTaken('bodies', n)) mounts.add(n);
          if (r.family === 'points' && !isTaken('points', n)) strays.add(n);
        }
  // what it uses
  const used = new Set<string>();
  for (const { key } of FAMILIES) for (const e of taken[key]) namesUsed(key, e, used);
  const materials = new Set([...taken.bodies, ...taken.shapes].map((e) => e.material).filter((m): m is string => typeof m === 'string'));
  for (const m of model.materials) if (materials.has(m.name)) namesUsed('materials', m, used);
  for (const { key } of FAMILIES)
    for (const e of taken[key]) for (const r of refsOf(key, e)) if (r.family === 'tables') r.names.forEach((n) => used.add(n));
  for (let grown = -1; grown !== used.size;) {
    grown = used.size;
    for (const p of model.parameters) if (used.has(p.name)) namesUsed('parameters', p, used);
  }
  const parameters = model.parameters.filter((p) => used.has(p.name));
  const leaves = parameters.filter((p) => {
    const names = new Set<string>();
    namesUsed('parameters', p, names);
    return !parameters.some((q) => names.has(q.name));
  });

  const content = kitContent(name, {
    ground: model.ground,
    ...taken,
    parameters: parameters.map((p) => ({ ...p })),
    tables: model.tables.filter((t) => used.has(t.name)),
    materials: model.materials.filter((m) => materials.has(m.name)),
    bodies: [...[...mounts].map((n) => ({ name: n, kind: 'mount' })), ...taken.bodies],
    points: [...[...strays].map((n) => ({ name: n, at: [...place(n)] })), ...taken.points],
    kits: [],
  });
  const renamed = (family: Family, n: string) => (isTaken(family, n) ? `${name}/${n}` : n);
  const rest = Object.fromEntries(
    FAMILIES.map(({ key }) => [
      key,
      model[key]
        .filter((e) => !bundle.get(key)!.has(e.name))
        .map((e) => {
          const copy = { ...e };
          for (const [field, f] of Object.entries(kindOf(key, e)?.fields ?? {})) {
            const v = copy[field] as RawValue;
            if (f.type === 'ref' && typeof v === 'string') copy[field] = renamed(f.family, v);
            else if (f.type === 'refs' && Array.isArray(v)) copy[field] = v.map((n) => renamed(f.family, String(n)));
            else if (takesFormula(f) && typeof v === 'string')
              copy[field] = renameAll(v, (n, what) => (what === 'gauge' ? renamed('gauges', n) : n));
          }
          return copy;
        }),
    ]),
  );
  const instance: RawElement = {
    name,
    kind: 'single',
    kit: name,
    ...(leaves.length > 0 ? { values: writeAssigned(new Map(leaves.map((p) => [p.name, p.name]))) } : {}),
    ...(mounts.size > 0 ? { on: writeAssigned(new Map([...mounts].map((n) => [n, n]))) } : {}),
  };
  return {
    ...model,
    ...rest,
    kits: [...model.kits, { name, content } as unknown as RawElement],
    instances: [...(rest.instances as RawElement[]), instance],
  };
}
