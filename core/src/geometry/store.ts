/**
 * Geometry that does not stand in the model file: meshes by the name of their content. Whoever builds a model that uses them provides them
 * first; what is never provided is named in a finding.
 */
import { type Geometry, geometryOf } from './mesh';

const kept = new Map<string, Geometry>();

/** @param id name of the content @param positions welded corners, m @param indices three a triangle */
export function provideGeometry(id: string, positions: Float32Array, indices: Uint32Array): Geometry {
  const known = kept.get(id);
  if (known) return known;
  const made = geometryOf(positions, indices);
  kept.set(id, made);
  return made;
}

export const geometryNamed = (id: string): Geometry | undefined => kept.get(id);
