/**
 * Which pairs are near: a list of those that were less than a margin apart at some posture, by the balls in which they lie, serves until anything has moved by
 * half of that (L. Verlet, Phys. Rev. 159, 1967).
 */
import { type Extent, extentOf } from '../../geometry/contact/extent';
import { type Vec3, add, apply, column, norm } from '../../geometry/vector';
import type { Kinematics } from '../kinematics';
import type { Side } from './contacts';

/** The margin is so wide that a list serves for so many looks, at least, and at most. */
const FEW = 20;
const MANY = 2000;
/** The margin at first, in parts of the mean radius. */
const MARGIN = 0.2;

/** A form as a ball about a place of its body; of one without end the direction out of it. */
interface Ball {
  readonly body: number;
  readonly at: Vec3;
  readonly radius: number;
  readonly out: Vec3 | undefined;
}

export class Near {
  /** Pairs that are listed, and how many. */
  readonly list: Int32Array;
  count = 0;
  /** How far all others are apart at least, m. */
  rest = Infinity;
  /** What has to be gone through, at least, by any two bodies, m. */
  readonly through: number;
  private readonly balls: readonly Ball[];
  private readonly first: Int32Array;
  private readonly second: Int32Array;
  /** Bodies that move, and how far what they have reaches from their centres of mass, m. */
  private readonly bodies: Int32Array;
  private readonly reach: Float64Array;
  /** Where they were when the list was made. */
  private readonly r: Float64Array;
  private readonly A: Float64Array;
  /** Middles of the balls then, ground axes, m. */
  private readonly at: Float64Array;
  private margin: number;
  private looks = 0;
  private known = false;
  private seen: Kinematics | undefined;
  private stamp = -1;

  constructor(pairs: readonly (readonly [Side, Side])[]) {
    const sides = [...new Set(pairs.flat())],
      number = new Map(sides.map((s, i) => [s, i])),
      extents = sides.map((s) => extentOf(s.form));
    this.balls = sides.map((s, i) => ballOf(s, extents[i]!));
    this.list = new Int32Array(pairs.length);
    this.first = Int32Array.from(pairs, ([a]) => number.get(a)!);
    this.second = Int32Array.from(pairs, ([, b]) => number.get(b)!);
    this.through = Math.min(...extents.map((e) => e.thick)) / 2;
    const reach = new Map<number, number>();
    for (const { body, at, radius, out } of this.balls) if (!out) reach.set(body, Math.max(reach.get(body) ?? 0, norm(at) + radius));
    this.bodies = Int32Array.from(reach.keys());
    this.reach = Float64Array.from(reach.values());
    this.r = new Float64Array(3 * this.bodies.length);
    this.A = new Float64Array(9 * this.bodies.length);
    this.at = new Float64Array(3 * sides.length);
    const round = this.balls.filter((b) => !b.out);
    this.margin = round.length > 0 ? (MARGIN * round.reduce((s, b) => s + b.radius, 0)) / round.length : 0;
  }
  /** Whether all pairs are listed. */
  get full(): boolean {
    return this.count === this.list.length;
  }
  /** It is made anew at the next look. */
  forget(): void {
    this.known = false;
    this.stamp = -1;
  }
  /** Looks at where everything is. */
  look(K: Kinematics): void {
    if (this.seen === K && this.stamp === K.moved) return;
    this.seen = K;
    this.stamp = K.moved;
    this.looks++;
    const moved = this.known ? this.moved(K) : Infinity;
    if (2 * moved >= this.margin) this.gather(K);
    else this.rest = this.full ? Infinity : this.margin - 2 * moved;
  }
  /** A list that serves for more. */
  widen(K: Kinematics): void {
    this.margin *= 2;
    this.gather(K);
  }
  /** How far both of the two bodies that are fastest may have come nearer after a time: V t + A t²/2 at most, m. @param out takes V, m/s, and A, m/s² */
  motion({ v, w, bodies }: Kinematics, acceleration: Float64Array, out: Float64Array): void {
    let V1 = 0,
      V2 = 0,
      A1 = 0,
      A2 = 0;
    for (let i = 0; i < this.bodies.length; i++) {
      const b = this.bodies[i]!;
      if (b >= bodies) continue;
      const spin = size(w, 3 * b),
        V = size(v, 3 * b) + spin * this.reach[i]!,
        A = size(acceleration, 6 * b) + (size(acceleration, 6 * b + 3) + spin * spin) * this.reach[i]!;
      V2 = Math.max(V2, Math.min(V, V1));
      V1 = Math.max(V1, V);
      A2 = Math.max(A2, Math.min(A, A1));
      A1 = Math.max(A1, A);
    }
    out[0] = V1 + V2;
    out[1] = A1 + A2;
  }

  /** How far anything has moved since the list was made, at most, m. */
  private moved({ r, A, bodies }: Kinematics): number {
    let most = 0;
    for (let i = 0; i < this.bodies.length; i++) {
      const b = this.bodies[i]!;
      if (b >= bodies) continue;
      let way = 0,
        turn = 0;
      for (let k = 0; k < 3; k++) {
        const d = r[3 * b + k]! - this.r[3 * i + k]!;
        way += d * d;
      }
      for (let k = 0; k < 9; k++) {
        const d = A[9 * b + k]! - this.A[9 * i + k]!;
        turn += d * d;
      }
      const far = Math.sqrt(way) + Math.sqrt(turn) * this.reach[i]!;
      if (far > most) most = far;
    }
    return most;
  }
  private gather(K: Kinematics): void {
    const { balls, at, bodies } = this;
    if (this.known && this.looks < FEW) this.margin *= 2;
    else if (this.looks > MANY) this.margin /= 2;
    this.looks = 0;
    this.known = true;
    for (let i = 0; i < bodies.length; i++) {
      const b = bodies[i]!;
      for (let k = 0; k < 3; k++) this.r[3 * i + k] = K.r[3 * b + k]!;
      for (let k = 0; k < 9; k++) this.A[9 * i + k] = K.A[9 * b + k]!;
    }
    for (let i = 0; i < balls.length; i++) {
      const { body, at: p } = balls[i]!;
      for (let k = 0; k < 3; k++)
        at[3 * i + k] =
          K.r[3 * body + k]! + K.A[9 * body + 3 * k]! * p[0] + K.A[9 * body + 3 * k + 1]! * p[1] + K.A[9 * body + 3 * k + 2]! * p[2];
    }
    this.count = 0;
    for (let i = 0; i < this.first.length; i++)
      if (this.apart(K, this.first[i]!, this.second[i]!) < this.margin) this.list[this.count++] = i;
    this.rest = this.full ? Infinity : this.margin;
  }
  /** How far two are apart at least. */
  private apart(K: Kinematics, i: number, j: number): number {
    const { balls, at } = this,
      [a, b] = [balls[i]!, balls[j]!];
    if (a.out) return b.out ? Infinity : this.above(K, a, i, j);
    if (b.out) return this.above(K, b, j, i);
    const x = at[3 * i]! - at[3 * j]!,
      y = at[3 * i + 1]! - at[3 * j + 1]!,
      z = at[3 * i + 2]! - at[3 * j + 2]!;
    return Math.sqrt(x * x + y * y + z * z) - a.radius - b.radius;
  }
  /** How far a ball is out of what has no end; always near to one that moves. */
  private above({ A, bodies }: Kinematics, { body, out }: Ball, i: number, j: number): number {
    if (body < bodies) return -Infinity;
    let far = 0;
    for (let k = 0; k < 3; k++) {
      const p = 9 * body + 3 * k;
      far += (A[p]! * out![0] + A[p + 1]! * out![1] + A[p + 2]! * out![2]) * (this.at[3 * j + k]! - this.at[3 * i + k]!);
    }
    return far - this.balls[j]!.radius;
  }
}

const ballOf = ({ body, turn, shift }: Side, { centre, radius }: Extent): Ball => ({
  body,
  at: add(shift, apply(turn, centre)),
  radius,
  out: radius === Infinity ? column(turn, 2) : undefined,
});
function size(x: Float64Array, p: number): number {
  return Math.sqrt(x[p]! * x[p]! + x[p + 1]! * x[p + 1]! + x[p + 2]! * x[p + 2]!);
}
