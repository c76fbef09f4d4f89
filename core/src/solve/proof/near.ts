/**
 * Postures near one, by coordinates z: of each body its displacement, and twice the tangent of half its turn about its own axes (Cayley; Shuster, J. Astronaut.
 * Sci. 41, 1993), so that z is a small displacement where it is small. Bounds of z give bounds of where the bodies stand, all of them rational.
 */
import { OUT, above, below, over, square, times } from '../../quantity/interval';
import type { EquationBounds } from '../../system/tangent/equation-bounds';
import type { System } from '../../system/system';
import type { Around } from './around';

/** Where each of nine entries of x × and of x xᵀ comes from: (sign, part), and two parts. */
const CROSS = [
  [0, 0],
  [-1, 2],
  [1, 1],
  [1, 2],
  [0, 0],
  [-1, 0],
  [-1, 1],
  [1, 0],
  [0, 0],
] as const;

export class Near {
  private readonly r: Float64Array;
  private readonly A: Float64Array;
  /** Of each body by nine entries: small turns about its axes where it stands, by changes of z, and the other way round. */
  readonly turns: readonly [lo: Float64Array, hi: Float64Array];
  readonly back: readonly [lo: Float64Array, hi: Float64Array];
  private readonly lo = new Float64Array(9);
  private readonly hi = new Float64Array(9);

  /** About the posture in K. */
  constructor(
    private readonly system: System,
    private readonly bounds: EquationBounds,
  ) {
    const { K, bodies } = system,
      nine = () => new Float64Array(9 * bodies);
    this.r = K.r.slice();
    this.A = K.A.slice();
    this.turns = [nine(), nine()];
    this.back = [nine(), nine()];
  }

  /** Puts bounds of z into those of the equations. */
  put({ mid, rad }: Around): void {
    const { system, bounds, r } = this,
      { lo, hi } = bounds;
    for (let b = 0; b < system.bodies; b++) {
      const p = bounds.placeOf(b);
      for (let k = 0; k < 3; k++) {
        const x = r[3 * b + k]!,
          z = 6 * b + k;
        lo[p + k] = below(x + below(mid[z]! - rad[z]!));
        hi[p + k] = above(x + above(mid[z]! + rad[z]!));
      }
      this.turn(b, mid, rad);
    }
  }
  /** 1 + |c|² and c cᵀ from bounds of c = z/2: (I − c ×)/(1 + |c|²), its inverse I + c × + c cᵀ, and A (I + 2 (c × + c cᵀ − |c|²)/(1 + |c|²)). */
  private turn(b: number, mid: Float64Array, rad: Float64Array): void {
    const { lo, hi, bounds, A } = this,
      [turnsLo, turnsHi] = this.turns,
      [backLo, backHi] = this.back,
      c = [3, 4, 5].map((k) => [0.5 * below(mid[6 * b + k]! - rad[6 * b + k]!), 0.5 * above(mid[6 * b + k]! + rad[6 * b + k]!)] as const),
      squares = c.map(([x, y]) => (square(x, y), [OUT[0]!, OUT[1]!] as const)),
      sum = (list: readonly (readonly [number, number])[]) =>
        list.reduce<readonly [number, number]>(([x, y], [z, w]) => [below(x + z), above(y + w)], [0, 0]),
      n = sum([[1, 1], ...squares]);
    for (let e = 0; e < 9; e++) {
      const [sign, part] = CROSS[e]!,
        [i, j] = [Math.floor(e / 3), e % 3],
        one = i === j ? 1 : 0,
        x = c[part]!,
        cross = sign === 0 ? ([0, 0] as const) : sign > 0 ? x : ([-x[1], -x[0]] as const);
      if (i === j) [OUT[0], OUT[1]] = squares[i]!;
      else times(c[i]![0], c[i]![1], c[j]![0], c[j]![1]);
      const [p, q] = [OUT[0]!, OUT[1]!];
      backLo[9 * b + e] = below(below(one + cross[0]) + p);
      backHi[9 * b + e] = above(above(one + cross[1]) + q);
      over(one - cross[1], one - cross[0], n[0], n[1]);
      turnsLo[9 * b + e] = OUT[0]!;
      turnsHi[9 * b + e] = OUT[1]!;
      // what turns it: of the diagonal 1 − 2 (the squares of both others)/n
      const [s, t] = i === j ? sum(squares.filter((_, k) => k !== i)) : ([below(cross[0] + p), above(cross[1] + q)] as const);
      over(2 * s, 2 * t, n[0], n[1]);
      lo[e] = i === j ? below(1 - OUT[1]!) : OUT[0]!;
      hi[e] = i === j ? above(1 - OUT[0]!) : OUT[1]!;
    }
    const to = bounds.turnOf(b);
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++) {
        let [x, y] = [0, 0];
        for (let k = 0; k < 3; k++) {
          const a = A[9 * b + 3 * i + k]!;
          times(a, a, lo[3 * k + j]!, hi[3 * k + j]!);
          x = below(x + OUT[0]!);
          y = above(y + OUT[1]!);
        }
        bounds.lo[to + 3 * i + j] = x;
        bounds.hi[to + 3 * i + j] = y;
      }
  }

  /** Coordinates of the posture in K, as near as rounding tells. */
  of(out: Float64Array): Float64Array {
    const { system, r, A } = this,
      { K, bodies } = system;
    for (let b = 0; b < bodies; b++) {
      for (let k = 0; k < 3; k++) out[6 * b + k] = K.r[3 * b + k]! - r[3 * b + k]!;
      // R = Aᵀ of then times that of now; c × = (R − Rᵀ)/(1 + trace R)
      const R = (i: number, j: number): number => [0, 1, 2].reduce((s, k) => s + A[9 * b + 3 * k + i]! * K.A[9 * b + 3 * k + j]!, 0),
        n = 2 / (1 + R(0, 0) + R(1, 1) + R(2, 2));
      out[6 * b + 3] = n * (R(2, 1) - R(1, 2));
      out[6 * b + 4] = n * (R(0, 2) - R(2, 0));
      out[6 * b + 5] = n * (R(1, 0) - R(0, 1));
    }
    return out;
  }
}
