/**
 * Bodies that screws carry, each by an angle or a way within bounds: bounds of where they stand and of what they move with, all as middles and how far these
 * may be off (Rump, Acta Numerica 19, 2010, § 9). What moves a body is told where nothing nearer to the ground has moved yet, and then turned as a whole by
 * what does: so that turns that a place and an axis share count once.
 */
import type { Vec3 } from '../../geometry/vector';
import { TWO_PI, cos, sin } from '../../quantity/elementary';
import { type Around, EPSILON, around } from './around';

/** A screw by which all is told: turn about an axis through p by |n| for each 1, and along d. */
export interface Told {
  readonly n: Vec3;
  readonly p: Vec3;
  readonly d: Vec3;
  /** Whether it moves each body. */
  readonly moves: readonly boolean[];
}

/** Numbers of a body by a screw: turn, velocity, and turn about its own axes. */
export const NINE = 9;
export const [TURN, SPEED, OWN] = [0, 3, 6] as const;
/** Roundings of a sum of three products. */
const FEW = 8 * EPSILON;

export class Carried {
  /** Of each body. */
  readonly r: Around;
  readonly A: Around;
  /** Of each body by each screw: nine numbers. */
  readonly moves: Around;
  /** Whether the screw moves it. */
  readonly has: Uint8Array;
  private readonly turns: Around;
  private readonly x = around(3);
  private readonly B = around(9);

  /** @param rounding of places @param agree of turns and axes */
  constructor(
    private readonly bodies: number,
    readonly screws: number,
    private readonly rounding: number,
    private readonly agree: number,
  ) {
    this.r = around(3 * bodies);
    this.A = around(9 * bodies);
    this.moves = around(NINE * bodies * screws);
    this.has = new Uint8Array(bodies * screws);
    this.turns = around(9 * screws);
  }

  /**
   * @param screws as they are in the middle, those nearer to the ground first @param half how far each goes to both sides
   * @param r,A where bodies are in the middle @param still screws that do not move
   */
  put(screws: readonly Told[], half: readonly number[], r: Float64Array, A: Float64Array, still: readonly boolean[]): void {
    const { has } = this;
    screws.forEach((s, k) => this.turn(k, s.n, half[k]!));
    for (let b = 0; b < this.bodies; b++) {
      screws.forEach((s, k) => (has[b * this.screws + k] = s.moves[b] && !still[k] ? 1 : 0));
      this.body(b, screws, half, r, A);
    }
  }
  /** What a screw turns by: I + sin α u × + (1 − cos α) (u uᵀ − I), α to both sides of nothing. */
  private turn(k: number, n: Vec3, half: number): void {
    const { mid, rad } = this.turns,
      size = Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]),
      far = size * half * (1 + FEW),
      s = far < 0.25 * TWO_PI ? sin(far) : 1,
      c = 0.5 * (far < 0.5 * TWO_PI ? 1 - cos(far) + FEW : 2),
      u = n.map((x) => (size > 0 ? x / size : 0));
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++) {
        const at = 9 * k + 3 * i + j,
          one = i === j ? 1 : 0,
          other = size > 0 ? u[i]! * u[j]! - one : 0,
          cross = i === j ? 0 : u[3 - i - j]!;
        mid[at] = one + c * other;
        rad[at] = s * Math.abs(cross) + c * Math.abs(other) + (size > 0 ? this.agree * Math.min(1, far) * 4 + FEW : 0);
      }
  }
  private body(b: number, screws: readonly Told[], half: readonly number[], r: Float64Array, A: Float64Array): void {
    const { has, moves, x, B, rounding, agree } = this,
      count = screws.length;
    for (let i = 0; i < 3; i++) {
      x.mid[i] = r[3 * b + i]!;
      x.rad[i] = rounding;
    }
    for (let e = 0; e < 9; e++) {
      B.mid[e] = A[9 * b + e]!;
      B.rad[e] = agree;
    }
    for (let k = count - 1; k >= 0; k--) {
      if (!has[b * count + k]) continue;
      const { n, p, d } = screws[k]!,
        at = NINE * (b * count + k);
      for (let i = 0; i < 3; i++) {
        x.mid[i] = x.mid[i]! - p[i]!;
        x.rad[i] = x.rad[i]! + rounding + EPSILON * (Math.abs(x.mid[i]!) + Math.abs(p[i]!));
      }
      this.turned(k, x, 0);
      // what has been told of those further out goes along
      for (let j = k + 1; j < count; j++) {
        if (!has[b * count + j]) continue;
        const other = NINE * (b * count + j);
        this.turned(k, moves, other + TURN);
        this.turned(k, moves, other + SPEED);
      }
      this.turnedAll(k);
      for (let i = 0; i < 3; i++) {
        const [j, l] = [(i + 1) % 3, (i + 2) % 3],
          [p1, p2] = [n[j]! * x.mid[l]!, n[l]! * x.mid[j]!];
        moves.mid[at + TURN + i] = n[i]!;
        moves.rad[at + TURN + i] = agree;
        moves.mid[at + SPEED + i] = p1 - p2 + d[i]!;
        moves.rad[at + SPEED + i] =
          (Math.abs(n[j]!) + agree) * x.rad[l]! +
          (Math.abs(n[l]!) + agree) * x.rad[j]! +
          agree * (Math.abs(x.mid[l]!) + Math.abs(x.mid[j]!)) +
          rounding +
          FEW * (Math.abs(p1) + Math.abs(p2) + Math.abs(d[i]!));
        let [s, e] = [0, FEW];
        for (let m = 0; m < 3; m++) {
          s += B.mid[3 * m + i]! * n[m]!;
          e += B.rad[3 * m + i]! * (Math.abs(n[m]!) + agree) + agree * Math.abs(B.mid[3 * m + i]!);
        }
        moves.mid[at + OWN + i] = s;
        moves.rad[at + OWN + i] = e;
      }
      for (let i = 0; i < 3; i++) {
        x.mid[i] = x.mid[i]! + p[i]!;
        x.rad[i] = x.rad[i]! + rounding + (Math.abs(d[i]!) + rounding) * half[k]! + EPSILON * (Math.abs(x.mid[i]!) + Math.abs(p[i]!));
      }
    }
    for (let i = 0; i < 3; i++) {
      this.r.mid[3 * b + i] = x.mid[i]!;
      this.r.rad[3 * b + i] = x.rad[i]!;
    }
    for (let e = 0; e < 9; e++) {
      this.A.mid[9 * b + e] = B.mid[e]!;
      this.A.rad[9 * b + e] = B.rad[e]!;
    }
  }
  /** Three numbers turned by a screw, in their place. */
  private turned(k: number, { mid, rad }: Around, at: number): void {
    const { turns: R } = this,
      [x, y, z] = [mid[at]!, mid[at + 1]!, mid[at + 2]!],
      [a, b, c] = [Math.abs(x), Math.abs(y), Math.abs(z)],
      [p, q, r] = [rad[at]!, rad[at + 1]!, rad[at + 2]!];
    for (let i = 0; i < 3; i++) {
      const e = 9 * k + 3 * i,
        [u, v, w] = [R.mid[e]!, R.mid[e + 1]!, R.mid[e + 2]!],
        [l, m, n] = [Math.abs(u), Math.abs(v), Math.abs(w)];
      mid[at + i] = u * x + v * y + w * z;
      rad[at + i] =
        (l * p + m * q + n * r + R.rad[e]! * (a + p) + R.rad[e + 1]! * (b + q) + R.rad[e + 2]! * (c + r)) * (1 + FEW) +
        FEW * (l * a + m * b + n * c);
    }
  }
  /** The axes of a body turned by a screw, column by column. */
  private turnedAll(k: number): void {
    const { B, column } = this;
    for (let j = 0; j < 3; j++) {
      for (let i = 0; i < 3; i++) {
        column.mid[i] = B.mid[3 * i + j]!;
        column.rad[i] = B.rad[3 * i + j]!;
      }
      this.turned(k, column, 0);
      for (let i = 0; i < 3; i++) {
        B.mid[3 * i + j] = column.mid[i]!;
        B.rad[3 * i + j] = column.rad[i]!;
      }
    }
  }
  private readonly column = around(3);
}
