/** Shapes as drawn: their solids, each made once, though several may be made of it. */
import { unusable } from '../../elements/usable';
import type { ShapeKind } from '../../elements/declarations';
import { type MassProperties, NO_MASS, withDensity } from '../../geometry/mass';
import type { Solid } from '../../geometry/solid';
import type { Layout } from '../../model/layout';
import type { Resolution, ResolvedElement } from '../../model/resolve';
import { type Attempts, valuesOf } from './attempts';

/** A shape: its mass, and its mesh in ground axes as drawn. */
export interface ShapeInfo {
  name: string;
  body: string;
  mesh: Solid['mesh'];
  surface: Solid['surface'];
  forms: Solid['forms'];
  mass: MassProperties;
  /** m³. */
  volume: number;
}

/** Shapes that are usable, in SI, ground axes; what is wrong with others is noted. Parts of other shapes are left out. */
export function drawnShapes({ elements, model }: Resolution, layout: Layout, attempts: Attempts): ShapeInfo[] {
  const density = new Map(elements.materials.map((m) => [m.name, (m.values as { density: number }).density]));
  const bodyMaterial = new Map(elements.bodies.map((b) => [b.name, (b.values as { material?: string }).material]));
  const drawing = { point: layout.point, body: layout.body, ground: model.ground };
  const solids = new Map<string, Solid | undefined>();

  function solid(name: string): Solid {
    const e = elements.shapes.find((x) => x.name === name);
    if (e && !solids.has(name)) {
      // as long as it is being made it is not there: a shape made of itself meets nothing
      solids.set(name, undefined);
      solids.set(
        name,
        attempts.at(e, () => (e.kind as ShapeKind).solid(valuesOf(e), { ...drawing, solid })),
      );
    }
    return solids.get(name) ?? unusable(name, 'shapes', 'is in error, or made of itself');
  }

  const parts = partsOfOthers(elements.shapes);
  return elements.shapes.flatMap((s): ShapeInfo[] => {
    const made = attempts.at(s, () => solid(s.name));
    if (!made || parts.has(s.name)) return [];
    const { body, material: own } = s.values as { body: string; material?: string };
    const material = own ?? bodyMaterial.get(body);
    const mass = material === undefined ? NO_MASS : withDensity(made.mass, density.get(material) ?? 0);
    return [{ name: s.name, body, mass, volume: made.mass.mass, mesh: made.mesh, surface: made.surface, forms: made.forms }];
  });
}

/** Shapes that are part of another one: they count there alone. */
const partsOfOthers = (shapes: readonly ResolvedElement[]): Set<string> =>
  new Set(
    shapes.flatMap((s) =>
      Object.entries(s.kind.fields).flatMap(([key, f]) =>
        f.type === 'refs' && f.family === 'shapes' ? ((s.values[key] as string[] | undefined) ?? []) : [],
      ),
    ),
  );
