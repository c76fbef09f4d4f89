/** A straight edge of a solid. */
import type { Vec3 } from '../vector';

/** With the outward normals of the faces that meet in it. */
export interface StraightEdge {
  readonly type: 'straight';
  readonly from: Vec3;
  readonly to: Vec3;
  readonly normals: readonly [Vec3, Vec3];
}
