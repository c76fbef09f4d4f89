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
}
