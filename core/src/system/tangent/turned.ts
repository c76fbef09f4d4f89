/**
 * Bodies that no constraint touches, seen as turned with themselves: what pushes them, springs and beams, keeps its directions in their axes and not in those
 * of the ground. A derivative that was taken where they stood is good where they have turned to, once changes are brought back by how far that is.
 */
import { turningOf } from '../../equations/fold';
import { rotationInto } from '../../equations/quaternion';
import type { System } from '../system';

/** One of them in a state: where its place, its velocity and its turn stand. */
interface Body {
  readonly place: readonly [number, number, number];
  readonly velocity: readonly [number, number, number];
  readonly turn: number;
  /** Of one that turns about one axis: which of the ground's it lies along, and its sense. */
  readonly about: { readonly axis: number; readonly sign: number } | undefined;
}

export class Turned {
  private readonly list: readonly Body[];
  private readonly base: Float64Array;
  /** Of three places how each body has turned from the base: its quaternion (or cosine and sine of half the angle), and the matrix of that in ground axes. */
  private readonly by: readonly Float64Array[];
  private readonly matrices: readonly Float64Array[];

  constructor({ K, groups, bodies, leftOut, own }: System) {
    const { layout } = K,
      holding = groups.flatMap((g) => g.constraints.filter((c) => c.inertia === undefined)),
      touched = new Set(holding.flatMap((c) => [c.a, c.b, ...c.more.flat()])),
      list: Body[] = [];
    let velocity = layout.motions;
    for (let b = 0; b < bodies; b++) {
      const moves = (k: number) => !leftOut || leftOut.moves[6 * b + k] === 1,
        count = [0, 1, 2, 3, 4, 5].filter(moves).length,
        turning = leftOut && turningOf(leftOut, b),
        [m, p, q] = turning ? [turning.ground, (turning.ground + 1) % 3, (turning.ground + 2) % 3] : [-1, -1, -1],
        whole = count === 6,
        flat = turning !== undefined && count === 3 && moves(p) && moves(q);
      if (!own.of[b] && !touched.has(b) && (whole || flat)) {
        const at = layout.posture[b]!,
          // of a body in a plane only the two lengths in it stand there, in order
          order = flat ? [0, 1, 2].map((k) => (k === m ? -1 : [0, 1, 2].filter((x) => x !== m).indexOf(k))) : [0, 1, 2],
          triple = (from: number) => order.map((k) => (k < 0 ? -1 : from + k)) as unknown as Body['place'];
        list.push({
          place: triple(at),
          velocity: triple(velocity),
          turn: layout.turn[b]!,
          about: flat ? { axis: m, sign: turning.sign } : undefined,
        });
      }
      velocity += own.of[b]?.placed ? 0 : count;
    }
    this.list = list;
    this.base = new Float64Array(4 * list.length);
    this.by = [0, 1, 2].map(() => new Float64Array(4 * list.length));
    this.matrices = [0, 1, 2].map(() => new Float64Array(9 * list.length));
  }
  get none(): boolean {
    return this.list.length === 0;
  }

  private quaternion(y: Float64Array, { turn, about }: Body, out: Float64Array, at: number): void {
    const n = about ? 2 : 4;
    let s = 0;
    for (let k = 0; k < n; k++) s += y[turn + k]! * y[turn + k]!;
    const by = 1 / Math.sqrt(s);
    for (let k = 0; k < n; k++) out[at + k] = y[turn + k]! * by;
  }
  /** Where they stand when the derivative is taken. */
  from(y: Float64Array): void {
    this.list.forEach((b, i) => this.quaternion(y, b, this.base, 4 * i));
  }
  /** How far they have turned at one of three places. */
  note(place: number, y: Float64Array): void {
    const { list, base } = this,
      by = this.by[place]!,
      R = this.matrices[place]!;
    for (let i = 0; i < list.length; i++) {
      const o = 4 * i,
        body = list[i]!;
      this.quaternion(y, body, by, o);
      const a = by[o]!,
        b = by[o + 1]!,
        e = base[o]!,
        f = base[o + 1]!;
      if (body.about) {
        by[o] = a * e + b * f;
        by[o + 1] = b * e - a * f;
        continue;
      }
      const c = by[o + 2]!,
        d = by[o + 3]!,
        g = base[o + 2]!,
        h = base[o + 3]!;
      // q ∘ q̄₀
      const w = a * e + b * f + c * g + d * h,
        x = -a * f + b * e - c * h + d * g,
        y1 = -a * g + b * h + c * e - d * f,
        z = -a * h - b * g + c * f + d * e;
      by[o] = w;
      by[o + 1] = x;
      by[o + 2] = y1;
      by[o + 3] = z;
      rotationInto(R, 9 * i, by, o);
    }
  }

  /** A change of a state at that place, brought back to the base (−1), or from there to it (1). */
  turn(place: number, x: Float64Array, sense: 1 | -1): void {
    const { list } = this,
      by = this.by[place]!,
      R = this.matrices[place]!;
    for (let i = 0; i < list.length; i++) {
      const { place: p, velocity: v, turn, about } = list[i]!,
        o = 4 * i;
      if (about) {
        const c = by[o]!,
          s = sense * by[o + 1]!,
          cosine = c * c - s * s,
          sine = about.sign * 2 * c * s,
          [k, l] = [(about.axis + 1) % 3, (about.axis + 2) % 3];
        for (const at of [p, v]) {
          const a = x[at[k as 0]]!,
            b = x[at[l as 0]]!;
          x[at[k as 0]] = cosine * a - sine * b;
          x[at[l as 0]] = sine * a + cosine * b;
        }
        const a = x[turn]!,
          b = x[turn + 1]!;
        x[turn] = c * a - s * b;
        x[turn + 1] = s * a + c * b;
        continue;
      }
      const r = 9 * i;
      for (const at of [p, v]) {
        const [a, b, c] = [x[at[0]]!, x[at[1]]!, x[at[2]]!];
        for (let k = 0; k < 3; k++)
          x[at[k as 0]] =
            sense > 0
              ? R[r + 3 * k]! * a + R[r + 3 * k + 1]! * b + R[r + 3 * k + 2]! * c
              : R[r + k]! * a + R[r + 3 + k]! * b + R[r + 6 + k]! * c;
      }
      const w = by[o]!,
        b = sense * by[o + 1]!,
        c = sense * by[o + 2]!,
        d = sense * by[o + 3]!,
        [e, f, g, h] = [x[turn]!, x[turn + 1]!, x[turn + 2]!, x[turn + 3]!];
      x[turn] = w * e - b * f - c * g - d * h;
      x[turn + 1] = w * f + b * e + c * h - d * g;
      x[turn + 2] = w * g - b * h + c * e + d * f;
      x[turn + 3] = w * h + b * g - c * f + d * e;
    }
  }
}
