/** What belongs to a selection: all that hangs on it alone. */
import type { Model, RawElement } from './document';
import { FAMILIES, type Family } from './families';
import { kindOf } from './kinds';

/** What is copied, by family, in the order of the model. */
export type Bundle = ReadonlyMap<Family, ReadonlySet<string>>;

/** What an element refers to, by family. */
export const refsOf = (family: Family, e: RawElement): { family: Family; names: string[]; optional: boolean }[] =>
  Object.entries(kindOf(family, e)?.fields ?? {}).flatMap(([key, f]) => {
    if (f.type !== 'ref' && f.type !== 'refs') return [];
    const names = [e[key]].flat().filter((x): x is string => typeof x === 'string' && x !== '');
    return [{ family: f.family, names, optional: !!f.optional }];
  });

/**
 * The picked elements with all that hangs on them alone: shapes of the bodies, their points, joints and loads between them, drives and gauges of
 * those.
 * @param shared bodies that stay, and on which what is picked may hang
 */
export function bundleOf(model: Model, picked: readonly { family: Family; name: string }[], shared: readonly string[] = []): Bundle {
  const names = new Map<Family, Set<string>>(FAMILIES.map((f) => [f.key, new Set()]));
  const take = (family: Family, name: string) => names.get(family)!.add(name);
  for (const p of picked) take(p.family, p.name);
  const bodies = names.get('bodies')!;
  for (const p of model.points) if (typeof p.body === 'string' && bodies.has(p.body)) take('points', p.name);
  for (const s of model.shapes) if (bodies.has(String(s.body))) take('shapes', s.name);
  // points in the ground on which the bodies and their shapes are drawn
  const drawn = new Set(
    [
      ...model.bodies.filter((b) => bodies.has(b.name)).flatMap((b) => refsOf('bodies', b)),
      ...model.shapes.filter((s) => names.get('shapes')!.has(s.name)).flatMap((s) => refsOf('shapes', s)),
    ].flatMap((r) => (r.family === 'points' ? r.names : [])),
  );
  for (const p of model.points)
    if (drawn.has(p.name) && (p.body === undefined || p.body === '' || p.body === model.ground)) take('points', p.name);
  // what ties two of them, or one of them to the ground
  const ties = (family: Family) => {
    for (const e of model[family]) {
      const on = refsOf(family, e)
        .filter((r) => r.family === 'bodies')
        .flatMap((r) => r.names);
      const foreign = on.filter((b) => !bodies.has(b) && b !== model.ground && !shared.includes(b));
      if (on.some((b) => bodies.has(b)) && foreign.length === 0) take(family, e.name);
    }
  };
  ties('joints');
  ties('loads');
  const joints = names.get('joints')!;
  for (const family of ['couplings', 'starts', 'drives', 'loads', 'gauges'] as const) {
    for (const e of model[family]) {
      const r = refsOf(family, e)
        .filter((x) => ['joints', 'bodies', 'drives'].includes(x.family))
        .flatMap((x) => x.names.map((n) => [x.family, n] as const));
      if (
        r.length > 0 &&
        r.every(([f, n]) => names.get(f)!.has(n) || n === model.ground) &&
        r.some(([f, n]) => (f === 'joints' && joints.has(n)) || names.get(f)!.has(n))
      )
        take(family, e.name);
    }
  }
  // points of the joints and loads that came along
  for (const family of ['joints', 'loads'] as const)
    for (const e of model[family])
      if (names.get(family)!.has(e.name))
        for (const r of refsOf(family, e))
          if (r.family === 'points')
            for (const n of r.names) {
              const home = model.points.find((p) => p.name === n)?.body;
              if (home === undefined || home === '' || home === model.ground || bodies.has(String(home))) take('points', n);
            }
  for (const common of ['parameters', 'tables', 'materials'] as const) names.get(common)!.clear();
  return names;
}

/** Points fixed in bodies that stay, on which what is in a bundle is drawn or hangs. */
export function pointsOn(model: Model, bundle: Bundle, stay: ReadonlySet<string>): string[] {
  const used = new Set(
    (['bodies', 'shapes', 'joints', 'loads', 'gauges'] as const).flatMap((family) =>
      model[family]
        .filter((e) => bundle.get(family)!.has(e.name))
        .flatMap((e) => refsOf(family, e).flatMap((r) => (r.family === 'points' ? r.names : []))),
    ),
  );
  return model.points.filter((p) => used.has(p.name) && stay.has(String(p.body))).map((p) => p.name);
}
