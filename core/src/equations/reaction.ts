import type { Constraint } from './constraint';
import type { Kinematics } from './kinematics';

/** The load a joint passes to its second body: force, and moment about the joint's place on that body, ground axes. */
export class Reaction {
  readonly force = new Float64Array(3);
  readonly moment = new Float64Array(3);
  private readonly rows: Int32Array;
  private readonly g = new Float64Array(6);
  private readonly p = new Float64Array(3);
  /** @param constraints its equations, and those of drives whose effort is to be counted in */
  constructor(
    private readonly a: number,
    private readonly b: number,
    private readonly sb: ArrayLike<number>,
    private readonly constraints: readonly Constraint[],
  ) {
    this.rows = new Int32Array(constraints.reduce((s, c) => s + c.rows, 0));
  }

  /** @param G twelve numbers a row */
  measure(K: Kinematics, G: Float64Array, multipliers: Float64Array): void {
    const { a, b, g, force, moment, rows } = this;
    let n = 0;
    for (const c of this.constraints) for (let k = 0; k < c.rows; k++) rows[n++] = c.row + k;
    // read off the second body, or off the first with the sign turned when the second is the ground
    const onGround = b === K.bodies;
    const side = onGround ? 0 : 6,
      sign = onGround ? 1 : -1;
    g.fill(0);
    for (let i = 0; i < n; i++) for (let k = 0; k < 6; k++) g[k] = g[k]! + sign * multipliers[rows[i]!]! * G[12 * rows[i]! + side + k]!;
    force.fill(0);
    moment.fill(0);
    this.take(K, onGround ? a : b);
  }

  /** Adds forces that act between the same two bodies. @param F six numbers a body, as in Force */
  add(K: Kinematics, F: Float64Array): void {
    const { a, b, g } = this;
    const onGround = b === K.bodies,
      body = onGround ? a : b,
      sign = onGround ? -1 : 1;
    for (let k = 0; k < 6; k++) g[k] = sign * F[6 * body + k]!;
    this.take(K, body);
  }

  /** Adds g, which acts at the centre of mass of a body (its moment in the body's axes). */
  private take(K: Kinematics, body: number): void {
    const { b, sb, g, p, force, moment } = this;
    const A = K.A,
      q = 9 * body;
    for (let k = 0; k < 3; k++) {
      force[k] = force[k]! + g[k]!;
      moment[k] = moment[k]! + A[q + 3 * k]! * g[3]! + A[q + 3 * k + 1]! * g[4]! + A[q + 3 * k + 2]! * g[5]!;
      // from the centre of mass to the joint's place on the second body
      const e = 9 * b + 3 * k;
      p[k] = K.r[3 * b + k]! + A[e]! * sb[0]! + A[e + 1]! * sb[1]! + A[e + 2]! * sb[2]! - K.r[3 * body + k]!;
    }
    moment[0] = moment[0]! - (p[1]! * g[2]! - p[2]! * g[1]!);
    moment[1] = moment[1]! - (p[2]! * g[0]! - p[0]! * g[2]!);
    moment[2] = moment[2]! - (p[0]! * g[1]! - p[1]! * g[0]!);
  }
}
