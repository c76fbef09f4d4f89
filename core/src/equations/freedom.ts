import type { Constraint } from './constraint';
import type { Kinematics } from './kinematics';

/** An equation whose Φ is a coordinate less its course. */
export interface Coordinate extends Constraint {
  /** Angle within one turn, rad, or distance, m. */
  coordinate(K: Kinematics): number;
}

/** A joint coordinate with its rate and acceleration, read through the equation that could drive it. */
export class Freedom {
  private readonly G = new Float64Array(12);
  private readonly out = new Float64Array(1);
  constructor(
    readonly type: 'rotation' | 'translation',
    /** With a course of zero, and not one of the system's own: its row is 0. */
    readonly equation: Coordinate,
  ) {}

  /** The two it is between. */
  get bodies(): readonly [number, number] {
    return [this.equation.a, this.equation.b];
  }
  /** Angle within one turn, rad, or distance, m. */
  value(K: Kinematics): number {
    return this.equation.coordinate(K);
  }
  rate(K: Kinematics): number {
    this.equation.jacobian(K, this.G);
    return this.through(K, K.v, K.w, 3, 3, 0);
  }
  /** @param acceleration six numbers a body */
  acceleration(K: Kinematics, acceleration: Float64Array): number {
    this.equation.jacobian(K, this.G);
    this.equation.gamma(K, 0, this.out);
    return this.through(K, acceleration, acceleration, 6, 6, 3) - this.out[0]!;
  }
  /** Its row of the constraint matrix: six numbers for each of its two bodies. Overwritten by the next call. */
  row(K: Kinematics): Float64Array {
    this.equation.jacobian(K, this.G);
    return this.G;
  }
  /** γ of its row: the coordinate's acceleration is row · u̇ − γ. */
  gamma(K: Kinematics): number {
    this.equation.gamma(K, 0, this.out);
    return this.out[0]!;
  }
  /** Adds an effort (N·m or N) in the positive sense of the coordinate to the forces on both bodies. */
  push(K: Kinematics, F: Float64Array, effort: number): void {
    this.equation.jacobian(K, this.G);
    const { a, b } = this.equation;
    for (let k = 0; k < 6; k++) {
      F[6 * a + k] = F[6 * a + k]! + effort * this.G[k]!;
      F[6 * b + k] = F[6 * b + k]! + effort * this.G[6 + k]!;
    }
  }
  private through(
    { bodies }: Kinematics,
    linear: Float64Array,
    angular: Float64Array,
    stride: number,
    spin: number,
    offset: number,
  ): number {
    const { G } = this;
    const { a, b } = this.equation;
    let s = 0;
    for (let k = 0; k < 3; k++) {
      if (a < bodies) s += G[k]! * linear[a * stride + k]! + G[3 + k]! * angular[a * spin + offset + k]!;
      if (b < bodies) s += G[6 + k]! * linear[b * stride + k]! + G[9 + k]! * angular[b * spin + offset + k]!;
    }
    return s;
  }
}
