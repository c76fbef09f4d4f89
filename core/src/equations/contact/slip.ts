/** How both bodies of a place move past one another there, and towards one another. */
import type { Vec3 } from '../../geometry/vector';
import type { Kinematics } from '../kinematics';
import { velocityAt } from './at-place';
import type { Meeting } from './meeting';

/** Bodies of which the surface runs, as a belt does: how fast, m/s, in their own axes. */
export interface Runs {
  readonly bodies: readonly number[];
  readonly speed: Vec3;
}

export class Slip {
  /** Of each body whether its surface runs. */
  private readonly runs: Uint8Array;
  private readonly belt = new Float64Array(3);
  /** @param bodies how many there are, with the ground */
  constructor(
    bodies: number,
    private readonly running?: Runs,
  ) {
    this.runs = new Uint8Array(bodies);
    for (const body of running?.bodies ?? []) this.runs[body] = 1;
  }

  /** Rate at which a gap that was looked at closes, m/s; the velocity along the surface into `to`. */
  closing(K: Kinematics, m: Meeting, to: Float64Array, at: number): number {
    const { x, n } = m;
    let along = 0;
    for (let k = 0; k < 3; k++) {
      const v = velocityAt(K, m.a, x, k) - velocityAt(K, m.b, x, k);
      to[at + k] = v;
      along += v * n[k]!;
    }
    const across = this.driven(K, m, to, at) + along;
    for (let k = 0; k < 3; k++) to[at + k] = to[at + k]! - across * n[k]!;
    return -along;
  }
  /** Adds how fast surfaces run past one another that are driven round their bodies. @returns that along the normal, m/s */
  private driven({ A }: Kinematics, { a, b, n }: Meeting, to: Float64Array, at: number): number {
    const { runs, belt, running } = this;
    if (!running || runs[a] === runs[b]) return 0;
    const [x, y, z] = running.speed,
      body = runs[a] === 1 ? a : b,
      sign = body === a ? 1 : -1;
    let along = 0;
    for (let k = 0; k < 3; k++) {
      const p = 9 * body + 3 * k;
      belt[k] = sign * (A[p]! * x + A[p + 1]! * y + A[p + 2]! * z);
      to[at + k] = to[at + k]! + belt[k]!;
      along += belt[k]! * n[k]!;
    }
    return along;
  }
}
