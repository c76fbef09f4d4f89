/** Many places in a tree of balls: those that are far from a solid are passed over together. */
import type { Vec3 } from '../vector';

/** A ball in which something lies, m. */
export interface Ball {
  readonly centre: Vec3;
  readonly radius: number;
}

/** Places of a leaf. */
const LEAF = 4;

export class BallTree {
  /** Middle and radius of the ball round each node; its first child, or −1 − the place of its first one in `order`; how many there are below. */
  private readonly balls: number[] = [];
  private readonly child: number[] = [];
  private readonly below: number[] = [];
  private readonly order: number[];
  private readonly stack = new Int32Array(128);

  /** How many places there are. */
  get count(): number {
    return this.places.length;
  }
  constructor(private readonly places: readonly Ball[]) {
    this.order = places.map((_, i) => i);
    if (places.length === 0) return;
    this.child.push(0);
    this.fill(
      places.map((b) => b.centre),
      0,
      0,
      places.length,
    );
  }
  private fill(points: readonly Vec3[], node: number, from: number, to: number): void {
    const own = this.order.slice(from, to),
      low = [0, 1, 2].map((k) => own.reduce((m, i) => Math.min(m, points[i]![k as 0]), Infinity)),
      high = [0, 1, 2].map((k) => own.reduce((m, i) => Math.max(m, points[i]![k as 0]), -Infinity)),
      middle = low.map((x, k) => (x + high[k]!) / 2),
      reach = (i: number) =>
        Math.sqrt(middle.reduce((s, x, k) => s + (points[i]![k as 0] - x) * (points[i]![k as 0] - x), 0)) + this.places[i]!.radius;
    this.balls.splice(
      4 * node,
      4,
      ...middle,
      own.reduce((m, i) => Math.max(m, reach(i)), 0),
    );
    this.below[node] = to - from;
    if (to - from <= LEAF) {
      this.child[node] = -1 - from;
      return;
    }
    const axis = [0, 1, 2].reduce((a, k) => (high[k]! - low[k]! > high[a]! - low[a]! ? k : a), 0);
    own.sort((a, b) => points[a]![axis as 0] - points[b]![axis as 0]);
    own.forEach((i, k) => (this.order[from + k] = i));
    const half = (from + to) >> 1,
      first = this.child.length;
    this.child[node] = first;
    this.child.push(0, 0);
    this.balls.push(0, 0, 0, 0, 0, 0, 0, 0);
    this.fill(points, first, from, half);
    this.fill(points, first + 1, half, to);
  }

  /**
   * @param far of the middle of a ball from the solid, m @param within what is farther away than that is passed over, m
   * @param near is told of the others; of points a leaf at a time
   */
  look(far: (x: number, y: number, z: number) => number, within: number, near: (place: number) => void): void {
    const { balls, child, below, order, stack, places } = this;
    let top = 0;
    if (child.length > 0) stack[top++] = 0;
    while (top > 0) {
      const i = stack[--top]!,
        first = child[i]!;
      if (far(balls[4 * i]!, balls[4 * i + 1]!, balls[4 * i + 2]!) - balls[4 * i + 3]! > within) continue;
      if (first < 0) {
        for (let k = -1 - first, end = k + below[i]!; k < end; k++) {
          const { centre, radius } = places[order[k]!]!;
          if (radius === 0 || far(centre[0], centre[1], centre[2]) - radius <= within) near(order[k]!);
        }
      } else {
        stack[top++] = first;
        stack[top++] = first + 1;
      }
    }
  }
}
