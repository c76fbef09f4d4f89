/** What has mass between bodies: of loads that say so. */
import type { Assembly, LoadKind } from '../../elements/declarations';
import { addM } from '../../geometry/vector';
import type { ResolvedElement } from '../../model/resolve';
import { type Attempts, valuesOf } from './attempts';
import type { BodyInfo } from './bodies';

/** Bodies between which some load has mass of its own. */
export function bearing(loads: readonly ResolvedElement[]): ReadonlySet<string> {
  return new Set(
    loads.flatMap(({ kind, values }) => {
      const { massBy } = kind as LoadKind;
      return massBy !== undefined && values[massBy] !== undefined ? (values.bodies as readonly string[]) : [];
    }),
  );
}

/** The masses of loads; their rotary inertia is added to that of the bodies. @param inertias nine numbers to a body */
export function carriedBy(
  loads: readonly ResolvedElement[],
  assembly: Assembly,
  bodies: BodyInfo[],
  inertias: Float64Array,
  attempts: Attempts,
): Assembly['carried'] {
  return loads.flatMap((l) => {
    const { massBy, carries } = l.kind as LoadKind,
      found = massBy !== undefined && l.values[massBy] !== undefined ? attempts.at(l, () => carries!(valuesOf(l), assembly)) : undefined;
    for (const { body, inertia } of found?.rotary ?? []) {
      const b = bodies[body];
      if (!b) continue;
      b.inertia = addM(b.inertia, inertia);
      inertias.set(b.inertia, 9 * body);
    }
    return found ? [{ name: l.name, masses: found.masses }] : [];
  });
}
