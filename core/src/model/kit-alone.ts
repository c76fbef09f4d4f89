/** A kit that is open by itself: its mounts become the ground, or bodies that float. */
import type { Diagnosis } from '../diagnosis';
import { mapAssigned } from './assigned';
import { refsOf } from './bundle';
import type { Model } from './document';
import { FAMILIES } from './families';
import { kindOf } from './kinds';
import { where } from './where';

/** Where a mount is a body of its own because nothing tells how it moves: mass, kg, and inertia, kg·m². */
const FLOATING = { mass: 1, inertia: [0.01, 0.01, 0.01] } as const;

/**
 * A kit by itself. It is held somewhere: by what hangs on the ground, or else by its first mount, which then is the ground. Other mounts move with
 * machines that are not here, and float: held as well they would lock what moves in the machine.
 * @returns a note on each that floats
 */
export function mountsAlone(model: Model): Diagnosis[] {
  const all = model.bodies.filter((b) => kindOf('bodies', b)?.standsIn).map((b) => b.name);
  const tied = new Set(
    (['joints', 'loads', 'instances'] as const).flatMap((family) =>
      model[family].flatMap((e) => refsOf(family, e).flatMap((r) => (r.family === 'bodies' ? r.names : []))),
    ),
  );
  for (const e of model.instances)
    mapAssigned(
      String(e.on ?? ''),
      (n) => n,
      (x) => (tied.add(x), x),
    );
  const floats = new Set(all.slice(tied.has(model.ground) ? 0 : 1).filter((n) => tied.has(n)));
  const mounts = new Set(all.filter((n) => !floats.has(n)));
  model.bodies = model.bodies.map((b) => (floats.has(b.name) ? { name: b.name, ...FLOATING, inertia: [...FLOATING.inertia] } : b));
  hold(model, mounts);
  return [...floats].map((name) => ({
    code: 'mount-floats',
    severity: 'note',
    message: `By itself the kit does not know how ${name} moves: here it floats, as a body of ${FLOATING.mass} kg.`,
    why: 'Loads and motion in the open kit are not those in the machine.',
    remedy: 'Run the machine to read them.',
    ...where(model, 'bodies', name),
  }));
}

/** What is given of these bodies is given of the ground. */
function hold(model: Model, mounts: ReadonlySet<string>): void {
  if (mounts.size === 0) return;
  for (const { key } of FAMILIES)
    model[key] = model[key].map((e) => {
      const copy = { ...e };
      let changed = false;
      for (const [field, f] of Object.entries(kindOf(key, e)?.fields ?? {})) {
        const v = e[field];
        if (f.type === 'assigned' && f.to === 'mounts' && typeof v === 'string') {
          copy[field] = mapAssigned(
            v,
            (n) => n,
            (x) => (mounts.has(x) ? model.ground : x),
          );
          changed = true;
        }
        if ((f.type !== 'ref' && f.type !== 'refs') || f.family !== 'bodies') continue;
        if (f.type === 'ref' && typeof v === 'string' && mounts.has(v)) {
          copy[field] = f.optional ? undefined : model.ground;
          changed = true;
        } else if (f.type === 'refs' && Array.isArray(v) && v.some((n) => mounts.has(String(n)))) {
          copy[field] = v.map((n) => (mounts.has(String(n)) ? model.ground : String(n)));
          changed = true;
        }
      }
      return changed ? copy : e;
    });
}
