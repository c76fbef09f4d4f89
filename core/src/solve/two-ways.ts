/**
 * All equilibria of a machine whose two degrees of freedom are coordinates of joints that close no loop. What pushes it along the two is looked at on a grid of
 * postures, all round where a joint turns freely; Newton's method starts wherever both may vanish. As a check the indices of the equilibria that were found, 1
 * or −1 by the determinant of how the push changes there, must add up to how often the push turns along the edges of the grid: to nothing where both
 * coordinates come round, whose product is a torus (Poincaré and Hopf; Milnor, Topology from the Differentiable Viewpoint, § 6). A pair that arises and
 * vanishes together within a part of the grid can be missed, no other.
 */
import type { Freedom } from '../equations/freedom';
import { TWO_PI, atan2 } from '../quantity/elementary';
import type { Mechanism } from '../system/mechanism';
import { massTimes, move } from './reduced';
import { SmallMotions } from './small-motions';
import { type Reach, shapesOf } from './ways';

/** Parts of a whole turn, and of the way of a slide; the second time, where the first does not do. */
const PARTS = [40, 80] as const;
/** The grid begins beside the posture at hand, which may well be an equilibrium, in parts of a step. */
const BESIDE = 0.387;
/** Part of what a push changes by across a cell by which it may miss zero at all of its corners, and yet vanish in it. */
const MISSES = 0.5;
/** Postures from which Newton's method starts, at most, in parts of the cells. */
const MOST = 0.2;
/** Turn of the push along an edge, rad, from which on it is not known which way it went. */
const SURE = 0.375 * TWO_PI;
/** How far to each side of an equilibrium the push is looked at, in parts of a cell; and the part of its square below which a determinant tells nothing. */
const ASIDE = 0.01;
const NOTHING = 1e-9;
/** Rounds in which a posture is brought to its coordinates. */
const ROUNDS = 6;

type Two = readonly [number, number];
/** A coordinate: from where, in which steps, how many; whether it comes round. */
interface Axis {
  readonly freedom: Freedom;
  readonly from: number;
  readonly step: number;
  readonly parts: number;
  readonly round: boolean;
}
interface Corner {
  readonly y: Float64Array;
  readonly push: Two;
}

const wrapped = (x: number) => x - TWO_PI * Math.round(x / TWO_PI);

class Field {
  private readonly noise: number;
  constructor(
    private readonly m: Mechanism,
    private readonly t: number,
    readonly ways: readonly [Freedom, Freedom],
  ) {
    this.noise = new SmallMotions(m).at(t).noise;
  }

  private shapes(): readonly [Float64Array, Float64Array] | undefined {
    this.m.system.linearise();
    return shapesOf(this.m, this.ways) as [Float64Array, Float64Array] | undefined;
  }
  /** Coordinates of the posture in K. */
  get values(): Two {
    const { K } = this.m.system;
    return [this.ways[0].value(K), this.ways[1].value(K)];
  }
  /** Brings the machine to coordinates not far away. @returns whether it can get there */
  to(target: Two): boolean {
    const { m, t, ways } = this;
    for (let k = 0; k < ROUNDS; k++) {
      const now = this.values,
        [e, f] = [0, 1].map((i) => {
          const off = target[i as 0]! - now[i as 0]!;
          return ways[i as 0].type === 'rotation' ? wrapped(off) : off;
        }) as [number, number];
      if (Math.abs(e) + Math.abs(f) < 1e-9) return true;
      const shapes = this.shapes();
      if (
        !shapes ||
        move(
          m,
          shapes[0].map((x, i) => e * x + f * shapes[1][i]!),
          1,
          t,
        ) > 1e-8
      )
        return false;
    }
    return false;
  }
  /** What pushes along both in the posture in K; 0 where that is no more than rounding. */
  push(): Two | undefined {
    const { m, t, noise } = this,
      { system } = m,
      shapes = this.shapes();
    if (!shapes) return undefined;
    system.accelerate(t);
    const [force, mass] = [new Float64Array(system.motions), new Float64Array(system.motions)];
    massTimes(system, system.acceleration, force);
    const dot = (a: Float64Array, b: Float64Array) => a.reduce((s, x, i) => s + x * b[i]!, 0);
    return shapes.map((x) => {
      massTimes(system, x, mass);
      const along = dot(force, x);
      return Math.abs(along) <= noise * Math.sqrt(dot(mass, x)) ? 0 : along;
    }) as unknown as Two;
  }
  corner(target: Two): Corner | undefined {
    const { K, size } = this.m.system;
    if (!this.to(target)) return undefined;
    const push = this.push(),
      y = new Float64Array(size);
    K.store(y);
    return push && { y, push };
  }
}

/** By how much the push turns from one to another, rad; undefined where it cannot be told which way. @param scale of both */
function turn([a, b]: Two, [c, d]: Two, [p, q]: Two): number | undefined {
  const [x, y, z, w] = [a / p, b / q, c / p, d / q],
    by = atan2(x * w - y * z, x * z + y * w);
  return (x === 0 && y === 0) || (z === 0 && w === 0) || Math.abs(by) > SURE ? undefined : by;
}

/** How often the push turns along the edges of a grid; on a side that comes round there are none. */
function alongEdges(corners: readonly (readonly Corner[])[], [A, B]: readonly [Axis, Axis], scale: Two): number | undefined {
  const line = (list: readonly Corner[]): number => list.slice(1).reduce((s, c, k) => s + (turn(list[k]!.push, c.push, scale) ?? NaN), 0),
    column = (j: number) => corners.map((row) => row[j]!);
  const sum = (B.round ? 0 : line(column(0)) - line(column(B.parts))) + (A.round ? 0 : line(corners[A.parts]!) - line(corners[0]!));
  return Number.isNaN(sum) ? undefined : Math.round(sum / TWO_PI);
}

/** What the grid tells: from where to start, and what the indices must add up to; undefined where that cannot be told. */
export interface Searched {
  readonly starts: readonly Float64Array[];
  readonly total: number | undefined;
  /** The index of an equilibrium, which stands in K; 0 of one outside of the grid; undefined where it has none. */
  index(): number | undefined;
}

/** @param start a state on the constraints, at rest @param reaches of both coordinates @param again whether a grid as fine as the second is looked at */
export function searched(m: Mechanism, t: number, start: Float64Array, reaches: readonly Reach[], again: boolean): Searched | undefined {
  const { K } = m.system;
  K.load(start);
  K.rest();
  const field = new Field(m, t, [reaches[0]!.freedom, reaches[1]!.freedom]),
    here = field.values,
    parts = PARTS[again ? 1 : 0],
    axes = reaches.map(({ freedom, far, round }, k): Axis => {
      const n = freedom.type === 'rotation' && !round ? 2 * parts : parts,
        step = (2 * far) / n;
      return { freedom, from: here[k as 0] - far + BESIDE * step, step, parts: n, round };
    }) as [Axis, Axis],
    [A, B] = axes,
    at = (i: number, j: number): Two => [A.from + i * A.step, B.from + j * B.step],
    corners: Corner[][] = [];
  // from where it stands to the first corner in steps that it can follow
  for (let k = 1; k <= parts; k++) {
    const [p, q] = at(0, 0);
    if (!field.to([here[0] + ((p - here[0]) * k) / parts, here[1] + ((q - here[1]) * k) / parts])) return undefined;
  }
  for (let i = 0; i <= A.parts; i++) {
    const row: Corner[] = [];
    if (i > 0) K.load(corners[i - 1]![0]!.y);
    for (let j = 0; j <= B.parts; j++) {
      const c = field.corner(at(i, j));
      if (!c) return undefined;
      row.push(c);
    }
    corners.push(row);
  }
  const most = (k: 0 | 1) => corners.reduce((x, row) => row.reduce((z, c) => Math.max(z, Math.abs(c.push[k])), x), 0) || 1,
    scale: Two = [most(0), most(1)],
    starts: Float64Array[] = [];
  for (let i = 0; i < A.parts; i++)
    for (let j = 0; j < B.parts; j++) {
      const four = [corners[i]![j]!, corners[i + 1]![j]!, corners[i + 1]![j + 1]!, corners[i]![j + 1]!].map((c) => c.push),
        turns = four.map((p, k) => turn(p, four[(k + 1) % 4]!, scale)),
        winds = turns.some((x) => x === undefined) || Math.abs(turns.reduce((s: number, x) => s + x!, 0)) > 0.5 * TWO_PI;
      const may = ([0, 1] as const).every((k) => {
        const all = four.map((p) => p[k]),
          [lo, hi] = [Math.min(...all), Math.max(...all)],
          more = MISSES * (hi - lo);
        return lo - more <= 0 && hi + more >= 0;
      });
      if (may || winds) starts.push(corners[i]![j]!.y);
    }
  if (starts.length > MOST * A.parts * B.parts) return undefined;
  const within = ({ from, step, parts: n, round }: Axis, x: number) => round || (x > from && x < from + n * step);
  return {
    starts,
    total: alongEdges(corners, axes, scale),
    index() {
      const y = new Float64Array(m.system.size),
        centre = field.values;
      K.store(y);
      if (!within(A, centre[0]) || !within(B, centre[1])) return 0;
      const side = (k: 0 | 1, sense: 1 | -1): Two | undefined => {
        K.load(y);
        const by = sense * ASIDE * axes[k].step;
        return field.to([centre[0] + (k === 0 ? by : 0), centre[1] + (k === 1 ? by : 0)]) ? field.push() : undefined;
      };
      const [p, q, u, v] = [side(0, 1), side(0, -1), side(1, 1), side(1, -1)];
      K.load(y);
      if (!p || !q || !u || !v) return undefined;
      const by = (x: Two, z: Two, k: 0 | 1) => (x[k] - z[k]) / scale[k],
        [a, b, c, d] = [by(p, q, 0), by(u, v, 0), by(p, q, 1), by(u, v, 1)],
        det = a * d - b * c;
      if (Math.abs(det) > NOTHING * (a * a + b * b + c * c + d * d)) return det > 0 ? 1 : -1;
      return undefined;
    },
  };
}
