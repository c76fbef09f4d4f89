/** What tells how far places are from a solid. */
import type { Vec3 } from '../vector';

export interface Field {
  /** Outward unit vector at the last `at`. */
  readonly n: Float64Array;
  /** Which face was nearest at the last `at`: −1 for an edge or a corner; and whether it is bent. */
  readonly face: number;
  readonly bent: boolean;
  /** Whether what was nearest at the last `at` is a flat face with straight edges all round, or one of those, or a corner: what lies on it lies on edges. */
  readonly flat: boolean;
  /** It bulges everywhere: along a line its distance is least at one place. */
  readonly convex?: boolean;
  /** A ball in which all of it lies that may be touched, where it is known: its middle in the axes of the form, and its radius, m. */
  readonly ball?: { readonly centre: Vec3; readonly radius: number };
  /** @returns the distance of a point, m, in the axes of the form */
  at(x: number, y: number, z: number): number;
  /**
   * The same of a corner, by those faces alone that it may press on; left out: by all.
   * @param edges directions in which its edges leave it, three numbers each
   */
  under?(x: number, y: number, z: number, edges: Float64Array): number;
}

/** How far beside a face a corner is still on its border, in parts of the size of a solid. */
export const TINY = 1e-6;
/** Cosine of the angle between a normal and an edge from which on down a corner is not pressed on that face: its edge runs on into the solid. */
const INTO = -0.5;

/** Whether a corner may press on a face with a normal: none of its edges leads straight on behind it. @param edges three numbers each */
export function opposes(edges: Float64Array, nx: number, ny: number, nz: number): boolean {
  for (let e = 0; e < edges.length; e += 3) if (edges[e]! * nx + edges[e + 1]! * ny + edges[e + 2]! * nz < INTO) return false;
  return true;
}
