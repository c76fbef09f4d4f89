/** Further applied forces: along a line, wind, buoyancy, actuator. */
import type { Program } from '../formula/program';
import type { Vec3 } from '../geometry/vector';
import { type Force, placeAt, pushAt, speedAt } from './forces';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import type { Magnitude } from './magnitude';
import { type LoadReadings, alongLine, onFreedom } from './load-readings';

/** A force of given magnitude along the line between two places; positive pulls them together. */
export class LineForce implements Force {
  readonly bodies: readonly number[];
  readonly programs: readonly Program[];
  readonly readings = alongLine({ effort: (K, t) => this.magnitude.at(K, t) });
  private readonly d = new Float64Array(3);
  constructor(
    private readonly a: number,
    private readonly sa: Vec3,
    private readonly b: number,
    private readonly sb: Vec3,
    private readonly magnitude: Magnitude,
  ) {
    this.bodies = [a, b];
    this.programs = magnitude.programs;
  }
  apply(K: Kinematics, t: number, F: Float64Array): void {
    const { a, sa, b, sb, d } = this;
    let l = 0;
    for (let k = 0; k < 3; k++) {
      d[k] = placeAt(K, b, sb, k) - placeAt(K, a, sa, k);
      l += d[k]! * d[k]!;
    }
    const f = l > 0 ? this.magnitude.at(K, t) / Math.sqrt(l) : 0;
    pushAt(K, F, a, sa, f * d[0]!, f * d[1]!, f * d[2]!);
    pushAt(K, F, b, sb, -f * d[0]!, -f * d[1]!, -f * d[2]!);
  }
}

/** Gravity that follows a formula: its direction given, its strength changing. */
export class ChangingGravity implements Force {
  readonly bodies: readonly number[];
  readonly programs: readonly Program[];
  constructor(
    private readonly masses: readonly number[],
    private readonly along: Vec3,
    private readonly strength: Magnitude,
  ) {
    this.bodies = masses.map((_, i) => i);
    this.programs = strength.programs;
  }
  apply(K: Kinematics, t: number, F: Float64Array): void {
    const g = this.strength.at(K, t);
    for (let i = 0; i < this.masses.length; i++)
      for (let k = 0; k < 3; k++) F[6 * i + k] = F[6 * i + k]! + this.masses[i]! * g * this.along[k as 0];
  }
}

/** Resistance against the motion of a place through a medium that is still or moves: −(c₁ + c₂ |u|) u with u = v − wind. */
export class Drag implements Force {
  readonly bodies: readonly number[];
  readonly programs?: readonly Program[];
  private readonly u = new Float64Array(3);
  constructor(
    private readonly body: number,
    private readonly at: Vec3,
    private readonly linear: number,
    private readonly quadratic: number,
    private readonly along: Vec3,
    private readonly wind: Magnitude | undefined,
  ) {
    this.bodies = [body];
    if (wind) this.programs = wind.programs;
  }
  apply(K: Kinematics, t: number, F: Float64Array): void {
    const { u } = this,
      w = this.wind?.at(K, t) ?? 0;
    let u2 = 0;
    for (let k = 0; k < 3; k++) {
      u[k] = speedAt(K, this.body, this.at, k) - w * this.along[k as 0];
      u2 += u[k]! * u[k]!;
    }
    const c = -(this.linear + this.quadratic * Math.sqrt(u2));
    pushAt(K, F, this.body, this.at, c * u[0]!, c * u[1]!, c * u[2]!);
  }
}

/** A ball-shaped float: lift ρ g times the volume of the cap below the surface (the height of the surface counts along `up`). */
export class Buoyancy implements Force {
  readonly bodies: readonly number[];
  constructor(
    private readonly body: number,
    private readonly at: Vec3,
    private readonly radius: number,
    private readonly weight: number,
    private readonly up: Vec3,
    private readonly level: number,
  ) {
    this.bodies = [body];
  }
  /** Depth of the ball's lowest point below the surface, within the ball. */
  private depth(K: Kinematics): number {
    let h = 0;
    for (let k = 0; k < 3; k++) h += this.up[k as 0] * placeAt(K, this.body, this.at, k);
    return this.level - h + this.radius;
  }
  apply(K: Kinematics, _t: number, F: Float64Array): void {
    const d = Math.min(2 * this.radius, Math.max(0, this.depth(K)));
    const f = this.weight * (Math.PI / 3) * d * d * (3 * this.radius - d);
    pushAt(K, F, this.body, this.at, f * this.up[0], f * this.up[1], f * this.up[2]);
  }
  energy(K: Kinematics): number {
    const r = this.radius,
      deep = this.depth(K),
      d = Math.min(2 * r, Math.max(0, deep));
    const cap = (Math.PI / 3) * (r * d * d * d - (d * d * d * d) / 4);
    return this.weight * (cap + (4 / 3) * Math.PI * r * r * r * Math.max(0, deep - 2 * r));
  }
}

/**
 * An actuator on a joint freedom: the effort commanded, no more than its limit, and less the faster it already goes that way:
 * at the speed limit it can push no further, and braking is not limited by speed.
 */
export class Actuator implements Force {
  readonly bodies: readonly number[];
  readonly programs: readonly Program[];
  readonly readings: LoadReadings;
  constructor(
    private readonly freedom: Freedom,
    private readonly command: Magnitude,
    private readonly limit: number | undefined,
    private readonly fastest: number | undefined,
  ) {
    this.bodies = freedom.bodies;
    this.programs = command.programs;
    this.readings = onFreedom(freedom, { effort: (K, t) => this.effort(K, t), rate: (K) => freedom.rate(K) });
  }
  apply(K: Kinematics, t: number, F: Float64Array): void {
    this.freedom.push(K, F, this.effort(K, t));
  }
  private effort(K: Kinematics, t: number): number {
    let e = this.command.at(K, t);
    if (this.limit !== undefined) {
      const going = this.fastest === undefined ? 0 : (this.freedom.rate(K) * Math.sign(e)) / this.fastest;
      const most = this.limit * Math.min(1, Math.max(0, 1 - going));
      e = Math.max(-most, Math.min(most, e));
    }
    return e;
  }
}
