/**
 * Geometry that does not stand in the model file: meshes by the name of their content. Whoever builds a model that uses them provides them
 * first (`provide.ts`); what is never provided is named in a finding.
 */
import type { MeshFault } from './faults';
import type { Geometry } from './mesh';

export interface Kept extends Geometry {
  /**
   * What is wrong with its surface. How it encloses its volume is looked at once, when it has at most so many triangles.
   * @returns also how many triangles were looked at
   */
  faults(most: number): { faults: readonly MeshFault[]; looked: number };
}

const kept = new Map<string, Kept>();
/** Keeps geometry under the name of its content. */
export const keepGeometry = (id: string, g: Kept): void => void kept.set(id, g);
/** Geometry that was kept, or undefined. */
export const geometryNamed = (id: string): Kept | undefined => kept.get(id);
