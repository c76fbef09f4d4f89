import type { Vec3 } from '../../geometry/vector';
import type { Kinematics } from '../kinematics';

/** What may be read of places that touch. */
export type ContactReading = 'normal' | 'friction' | 'depth' | 'slip' | 'places' | 'impulse' | 'wear';
export interface Touches {
  /** Bodies that it holds apart: each pair once. */
  readonly pairs: readonly (readonly [number, number])[];
  /** N, m, m/s, how many, or N·s and J since the start. @param body where that one touches alone; left out: everywhere */
  read(K: Kinematics, of: ContactReading, body: number | undefined): number;
  /** What overlaps at the state in K. */
  overlaps(K: Kinematics): readonly Overlap[];
  /** Where it acts at the state in K: on the first of two bodies as told, on the second the other way; ground axes. */
  places(K: Kinematics): readonly { readonly a: number; readonly b: number; readonly at: Vec3; readonly force: Vec3 }[];
}
/** Shapes of bodies a and b that overlap: how deep, m, how fast that throws them apart, m/s, and where, with the direction out of b; ground axes. */
export interface Overlap {
  readonly shapes: readonly [string, string];
  readonly a: number;
  readonly b: number;
  readonly depth: number;
  readonly speed: number;
  readonly at: Vec3;
  readonly n: Vec3;
}
