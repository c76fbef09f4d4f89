import type { Ex } from '../expressions/arithmetic';
import type { Graph } from '../expressions/graph';
import { type VectorEx, cross, dot, minus, toGround } from '../expressions/vectors';
import type { Constraint } from './constraint';
import type { Kinematics } from './kinematics';
import type { CarriedLaw, Input } from './laws/stated-force';
import { type BodyEx, direction, place } from './stated/body';
import { vectorOf } from './values';

/** The load a joint passes to its second body: force, and moment about the joint's place on that body, ground axes. */
export class Reaction {
  readonly force = new Float64Array(3);
  readonly moment = new Float64Array(3);
  private readonly rows: Int32Array;
  private readonly g = new Float64Array(6);
  private readonly p = new Float64Array(3);
  /** @param constraints its equations, and those of drives whose effort is to be counted in */
  constructor(
    readonly a: number,
    readonly b: number,
    readonly sb: readonly number[],
    readonly constraints: readonly Constraint[],
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

/** The same as expressions, at a place on the second body. @param six what acts at the centre of mass of one of the two, the moment in its axes */
function atPlace(g: Graph, six: readonly Ex[], on: BodyEx, p: VectorEx): { force: VectorEx; moment: VectorEx } {
  const force = vectorOf(six, 0);
  return { force, moment: minus(g, toGround(g, on.A, vectorOf(six, 3)), cross(g, minus(g, p, on.r), force)) };
}

/** How a joint is loaded: along an axis of its first body, across it, and by a moment across it. Numbers: its place in the second body, and the axis. */
const loaded: CarriedLaw = {
  of(g, [a, b], n, rows, [, onGround]) {
    // read off the second body, or off the first with the sign turned when the second is the ground
    const [side, on] = onGround ? [0, a!] : [6, b!],
      six = Array.from({ length: 6 }, (_, k) =>
        rows.reduce((sum, { multiplier, row }) => {
          const x = g.multiply(multiplier, row[side + k]!);
          return onGround ? g.add(sum, x) : g.subtract(sum, x);
        }, g.zero),
      ),
      { force, moment } = atPlace(g, six, on, place(g, b!, vectorOf(n, 0))),
      z = direction(g, a!, vectorOf(n, 3));
    const across = (x: VectorEx) => {
      const along = dot(g, x, z);
      return g.root(g.most(g.zero, g.subtract(dot(g, x, x), g.square(along))));
    };
    return [dot(g, force, z), across(force), across(moment)];
  },
};

/** What a load takes in that depends on how a joint is loaded, once `measure` has found that. @param axis in its first body */
export function bearing(reaction: Reaction, axis: readonly number[]): Input {
  const { a, b, sb, constraints, force, moment } = reaction;
  return {
    count: 3,
    carried: { law: loaded, constraints, bodies: [a, b], numbers: [...sb, ...axis] },
    fill({ A }, _t, to, at) {
      const p = 9 * a;
      let along = 0,
        turned = 0,
        f2 = 0,
        m2 = 0;
      for (let k = 0; k < 3; k++) {
        const z = A[p + 3 * k]! * axis[0]! + A[p + 3 * k + 1]! * axis[1]! + A[p + 3 * k + 2]! * axis[2]!;
        along += force[k]! * z;
        turned += moment[k]! * z;
        f2 += force[k]! * force[k]!;
        m2 += moment[k]! * moment[k]!;
      }
      to[at] = along;
      to[at + 1] = Math.sqrt(Math.max(0, f2 - along * along));
      to[at + 2] = Math.sqrt(Math.max(0, m2 - turned * turned));
    },
  };
}
