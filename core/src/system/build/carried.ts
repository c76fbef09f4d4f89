/** What has mass between bodies: of loads that say so. */
import type { Assembly, LoadKind } from '../../elements/declarations';
import { addM } from '../../geometry/vector';
import type { Model } from '../../model/document';
import { kindOf } from '../../model/kinds';
import type { ResolvedElement } from '../../model/resolve';
import { type Attempts, valuesOf } from './attempts';
import type { BodyInfo } from './bodies';

/** Bodies between which some load has mass of its own, as typed: whether the load is in error or not. */
export function bearing({ loads }: Model): ReadonlySet<string> {
  return new Set(
    (loads ?? []).flatMap((l) => {
      const massBy = (kindOf('loads', l) as LoadKind | undefined)?.massBy;
      return massBy !== undefined && l[massBy] !== undefined && Array.isArray(l.bodies) ? (l.bodies as string[]) : [];
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
