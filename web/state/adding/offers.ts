/** Select, then act: which kinds of element the selection can be made into. Read off the declarations alone. */
import { type Family, type Field, type Kind, type Model, type RawElement, applies, fits, kindsOf } from '@vim-pivot/core/page';
import type { Selected } from '../document/document';

/** An element that could be added, with the body made for it when a shape has none. */
export interface Offer {
  kind: Kind;
  element: RawElement;
  body?: RawElement;
  /** What it does to the freedoms, or is for, in words. */
  effect: string;
  /** Labels of fields that must still be given. */
  missing: string[];
}

/** Bodies of points, by name. */
export type Homes = Readonly<Record<string, string>>;

/** Families whose kinds hang on other elements. */
const ACTED: readonly Family[] = ['joints', 'shapes', 'loads', 'couplings', 'starts', 'drives', 'gauges'];

/** @param homes bodies of the points that instances bring */
export const offersFor = (model: Model, picked: readonly Selected[], homes: Homes = {}): Offer[] =>
  picked.length === 0 ? [] : ACTED.flatMap((family) => kindsOf(family).flatMap((k) => fill(k, model, picked, homes) ?? []));

/** The element of a kind that takes up everything picked, in order; undefined when it has no place for it, or lacks a reference. */
export function fill(kind: Kind, model: Model, picked: readonly Selected[], homes: Homes = {}): Offer | undefined {
  const left = new Map<Family, string[]>();
  for (const p of picked) left.set(p.family, [...(left.get(p.family) ?? []), p.name]);
  completeBodies(kind, model, left, homes);
  // a shape made of shapes belongs to the body of the first
  const first = kind.family === 'shapes' ? left.get('shapes')?.[0] : undefined,
    home = first === undefined ? undefined : model.shapes.find((s) => s.name === first)?.body;
  if (typeof home === 'string' && !left.has('bodies')) left.set('bodies', [home]);
  const element: RawElement = { name: '', ...(kindsOf(kind.family).length > 1 ? { kind: kind.kind } : {}) };
  let body: RawElement | undefined;
  const missing: string[] = [];
  const fields = Object.entries(kind.fields);
  // references that are needed come first, those that may be left out take what remains
  for (const optional of [false, true])
    for (const [key, f] of fields) {
      if (f.type !== 'ref' && f.type !== 'refs') continue;
      if (!!f.optional !== optional || !applies(f, kind.fields, element)) continue;
      const list = left.get(f.family) ?? [];
      if (f.type === 'ref' && list[0] !== undefined && !fits(f, model, list[0])) continue;
      if (f.type === 'refs') {
        // a list leaves others of its family what these need
        const later = optional
            ? 0
            : fields.slice(fields.findIndex(([k]) => k === key) + 1).reduce((sum, [, g]) => sum + least(g, f.family), 0),
          taken = list.splice(0, Math.min(f.max, Math.max(f.min, list.length - later)));
        if (optional && taken.length === 0) continue;
        if (taken.length < f.min) return undefined;
        if (taken.length > 0) element[key] = taken;
      } else if (list.length > 0) element[key] = list.shift()!;
      else if (!optional && kind.family === 'shapes' && f.family === 'bodies') body = { name: '' };
      else if (!optional) return undefined;
    }
  if ([...left.values()].some((l) => l.length > 0)) return undefined;
  for (const [, f] of fields) if (needed(f) && applies(f, kind.fields, element)) missing.push(f.label);
  if (body) {
    const ends = fields.flatMap(([key, f]) =>
      f.type === 'ref' && f.family === 'points'
        ? [element[key] as string]
        : f.type === 'refs' && f.family === 'points'
          ? (element[key] as unknown as string[])
          : [],
    );
    const material = model.materials[0]?.name;
    body = {
      ...body,
      ...(ends[0] ? { origin: ends[0] } : {}),
      ...(ends.length === 2 && ends[1] ? { aim: ends[1] } : {}),
      ...(material ? { material } : {}),
    };
  }
  return { kind, element, ...(body ? { body } : {}), missing, effect: effectOf(kind) };
}

/** How many of a family a list of references needs. */
const least = (f: Field, family: Family): number => (f.type === 'refs' && f.family === family && !f.optional ? f.min : 0);

const needed = (f: Field): boolean =>
  (f.type === 'quantity' || f.type === 'vector' || f.type === 'grid') && !f.optional && !('default' in f && f.default !== undefined);

/** Bodies that follow from what is picked: those in which the points are fixed, and the ground as the other side of a single body. */
function completeBodies(kind: Kind, model: Model, left: Map<Family, string[]>, homes: Homes): void {
  const lists = Object.values(kind.fields).filter((f) => f.type === 'refs' && f.family === 'bodies' && !f.optional),
    wants = lists.reduce((sum, f) => sum + least(f, 'bodies'), 0) >= 2,
    // two sides, or as many as one likes
    two = lists.length === 1 && lists[0]!.type === 'refs' && lists[0]!.max === 2;
  const single = Object.values(kind.fields).some((f) => f.type === 'ref' && f.family === 'bodies' && !f.optional);
  const bodies = left.get('bodies') ?? [];
  const points = left.get('points') ?? [];
  const home = (p: string): string => homes[p] ?? String(model.points.find((x) => x.name === p)?.body ?? model.ground);
  if (wants) {
    if (bodies.length === 0 && points.length >= 2) {
      const homes = points.map(home);
      if (new Set(homes).size > 1) left.set('bodies', two ? [...new Set(homes)].slice(0, 2) : homes);
    } else if (bodies.length === 1) {
      // the other body is that of the point, else the ground
      const other = points.map(home).find((b) => b !== bodies[0] && b !== model.ground) ?? model.ground;
      if (other !== bodies[0]) left.set('bodies', [other, ...bodies]);
    }
  } else if (single && bodies.length === 0 && points.length > 0 && kind.family !== 'shapes') {
    const [first] = points.map(home);
    if (first && first !== model.ground) left.set('bodies', [first]);
  } else if (single && bodies.length === 0) {
    // the body on which a load acts; of two the second, which is less often the ground
    const load = model.loads.find((l) => l.name === left.get('loads')?.[0]),
      on = load?.body ?? (Array.isArray(load?.bodies) ? load.bodies.at(-1) : undefined);
    if (typeof on === 'string') left.set('bodies', [on]);
  }
}

function effectOf(kind: Kind): string {
  const { leaves, holds } = kind as Kind & { leaves?: number; holds?: readonly string[] };
  if (leaves === undefined || !holds) return kind.help;
  return `Takes ${6 - leaves} of 6 freedoms, leaves ${leaves}${kind.freedoms && kind.freedoms.length > 0 ? ` (${kind.freedoms.join(', ')})` : ''}.`;
}
