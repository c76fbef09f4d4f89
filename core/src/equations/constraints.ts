/** The elementary constraints between two bodies. */
import type { Mat3, Vec3 } from '../geometry/vector';
import type { Prescription } from './constraint';
import type { Kinematics } from './kinematics';
import type { Watch } from './watch';
import { coincide, perpendicular, pointDistance, sameTwist, thread, travelAlongAxis, turnAboutAxis } from './stated/elementary';
import { Stated } from './stated/stated';

/** Two points coincide. */
export class Coincide extends Stated {
  constructor(a: number, sa: Vec3, b: number, sb: Vec3) {
    super(coincide, a, b, [...sa, ...sb]);
  }
}

/** Two body-fixed directions stay square. */
export class Perpendicular extends Stated {
  constructor(a: number, ua: Vec3, b: number, vb: Vec3) {
    super(perpendicular, a, b, [...ua, ...vb]);
  }
}

/** The point of b seen from a, along a direction fixed in a, is at a given distance; without a course it stays in a plane. */
export class TravelAlongAxis extends Stated {
  constructor(a: number, ua: Vec3, sa: Vec3, b: number, sb: Vec3, course?: Prescription) {
    super(travelAlongAxis, a, b, [...ua, ...sa, ...sb], course);
  }
  /** Present distance along the direction, m. */
  coordinate(K: Kinematics): number {
    return this.free(K);
  }
}

/** The angle of b about a's z follows a course: from a's x to b's x. The two z axes are kept parallel by the joint; Φ is wrapped. */
export class TurnAboutAxis extends Stated {
  constructor(a: number, xa: Vec3, ya: Vec3, b: number, xb: Vec3, course: Prescription) {
    super(turnAboutAxis, a, b, [...xa, ...ya, ...xb], course);
  }
  /** Present angle within one turn, rad. */
  coordinate(K: Kinematics): number {
    return this.free(K);
  }
}

/** Two places stay a given distance apart. */
export class PointDistance extends Stated {
  constructor(a: number, sa: Vec3, b: number, sb: Vec3, length: number) {
    super(pointDistance, a, b, [...sa, ...sb, length]);
  }
}

/**
 * Two shafts turn alike at any bend. Bent back by 180° they have no common turn, and past that the equation holds for shafts that are turned against each
 * other by half a turn.
 */
export class SameTwist extends Stated {
  override readonly watch: Watch = {
    /** (1 + cos β) cos τ, of the bend β and the twist τ between the shafts. */
    value: ({ A }) => {
      const { a, b, numbers: n } = this;
      if (!this.holds) return NaN;
      let sum = 0;
      for (let k = 0; k < 3; k++)
        for (let v = 0; v < 6; v += 3) {
          const p = 9 * a + 3 * k,
            q = 9 * b + 3 * k;
          sum +=
            (A[p]! * n[v]! + A[p + 1]! * n[v + 1]! + A[p + 2]! * n[v + 2]!) *
            (A[q]! * n[v + 6]! + A[q + 1]! * n[v + 7]! + A[q + 2]! * n[v + 8]!);
        }
      return sum;
    },
    fire: () => undefined,
    fault: {
      code: 'shafts-bent-back',
      message: 'Its shafts are bent back on each other by 180°.',
      why: 'Shafts that point against each other have no common turn: how the joint goes on from there is not determined.',
      remedy: 'Limit the bend of the joint, or choose another joint.',
    },
  };
  constructor(a: number, xa: Vec3, ya: Vec3, b: number, xb: Vec3, yb: Vec3) {
    super(sameTwist, a, b, [...xa, ...ya, ...xb, ...yb]);
  }
}

/** Travel follows turning: s − (lead/2π) θ = 0. @param fa axes of the thread in a, its columns x, y, z */
export class Thread extends Stated {
  constructor(a: number, fa: Mat3, sa: Vec3, b: number, xb: Vec3, sb: Vec3, lead: number) {
    super(thread, a, b, [fa[0], fa[3], fa[6], fa[1], fa[4], fa[7], fa[2], fa[5], fa[8], ...sa, ...xb, ...sb, lead]);
  }
}
