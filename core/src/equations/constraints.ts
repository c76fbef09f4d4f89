/** The elementary constraints between two bodies. */
import type { Mat3, Vec3 } from '../geometry/vector';
import type { Prescription } from './constraint';
import type { Kinematics } from './kinematics';
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
  /** Turns the direction and moves the place in a. */
  aim(u: ArrayLike<number>, s: ArrayLike<number>): void {
    for (let k = 0; k < 3; k++) {
      this.numbers[k] = u[k]!;
      this.numbers[3 + k] = s[k]!;
    }
    this.changed();
  }
  /** Scalar product of the direction with a vector in a's axes. */
  dotAim(v: Float64Array): number {
    const { numbers: n } = this;
    return n[0]! * v[0]! + n[1]! * v[1]! + n[2]! * v[2]!;
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

/** Two shafts turn alike at any bend. */
export class SameTwist extends Stated {
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
