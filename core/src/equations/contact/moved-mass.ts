/** The mass that a push at a place of a free body meets: 1/m' = 1/m + s·J⁻¹ s, s being the moment of a push of 1 about its centre of mass. */
import { type Mat3, cross, dot, scale } from '../../geometry/vector';
import type { Kinematics } from '../kinematics';

/** kg; kg·m² about the centre of mass, in its axes. */
export interface Inertial {
  readonly mass: number;
  readonly inertia: Mat3;
}

/** Of each body the ten numbers of 1/m and J⁻¹; the ground has none. */
export class MovedMass {
  private readonly of: Float64Array;
  constructor(bodies: readonly Inertial[]) {
    this.of = Float64Array.from([...bodies.flatMap((b) => [1 / b.mass, ...inverse(b.inertia)]), ...new Array<number>(10).fill(0)]);
  }
  /** 1/kg: what a push at a place (ground axes) along a unit vector moves that place by. */
  yields({ r, A }: Kinematics, body: number, x: Float64Array, n: Float64Array): number {
    const { of } = this,
      at = 10 * body,
      p = 9 * body,
      dx = x[0]! - r[3 * body]!,
      dy = x[1]! - r[3 * body + 1]!,
      dz = x[2]! - r[3 * body + 2]!,
      mx = dy * n[2]! - dz * n[1]!,
      my = dz * n[0]! - dx * n[2]!,
      mz = dx * n[1]! - dy * n[0]!,
      a = A[p]! * mx + A[p + 3]! * my + A[p + 6]! * mz,
      b = A[p + 1]! * mx + A[p + 4]! * my + A[p + 7]! * mz,
      c = A[p + 2]! * mx + A[p + 5]! * my + A[p + 8]! * mz;
    return (
      of[at]! +
      a * (of[at + 1]! * a + of[at + 2]! * b + of[at + 3]! * c) +
      b * (of[at + 4]! * a + of[at + 5]! * b + of[at + 6]! * c) +
      c * (of[at + 7]! * a + of[at + 8]! * b + of[at + 9]! * c)
    );
  }
  /** 1/(kg·m²): about how much a moment turns a body that rolls about a place (ground axes). */
  turns({ r }: Kinematics, body: number, x: Float64Array): number {
    const { of } = this,
      at = 10 * body,
      dx = x[0]! - r[3 * body]!,
      dy = x[1]! - r[3 * body + 1]!,
      dz = x[2]! - r[3 * body + 2]!,
      turns = (of[at + 1]! + of[at + 5]! + of[at + 9]!) / 3;
    return of[at] === 0 ? 0 : 1 / ((dx * dx + dy * dy + dz * dz) / of[at]! + (turns > 0 ? 1 / turns : 0));
  }
}

/** None where there is no inertia about some axis: a body without any is moved as a point. */
function inverse([a, b, c, d, e, f, g, h, i]: Mat3): readonly number[] {
  const x = cross([d, e, f], [g, h, i]),
    det = dot([a, b, c], x);
  if (!(det > 0)) return new Array<number>(9).fill(0);
  const k = 1 / det;
  return [scale(x, k), scale(cross([g, h, i], [a, b, c]), k), scale(cross([a, b, c], [d, e, f]), k)].flatMap((v) => [...v]);
}
