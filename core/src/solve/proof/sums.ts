/** What forces on bodies push along coordinates, Q = Σ f·u, and how that changes with these: ∂Q/∂σ = Σ u·(∂f/∂z) v + f·∂u/∂σ. */
import type { Bounds } from '../../system/tangent/equation-bounds';
import { type Around, EPSILON, around } from './around';
import { type Carried, NINE, OWN, SPEED, TURN } from './carried';

const FEW = 8 * EPSILON;

export class Sums {
  /** By coordinate, and by two of them. */
  readonly push: Around;
  readonly slope: Around;
  /** Forces by entry of a motion. */
  private readonly f: Around;

  /** @param n coordinates */
  constructor(
    private readonly n: number,
    bodies: number,
  ) {
    this.push = around(n);
    this.slope = around(n * n);
    this.f = around(6 * bodies);
  }
  /** Forgets what was added. */
  clear(): void {
    for (const { mid, rad } of [this.push, this.slope]) {
      mid.fill(0);
      rad.fill(0);
    }
    this.rest();
  }
  /** Forgets the forces. */
  rest(): void {
    this.f.mid.fill(0);
    this.f.rad.fill(0);
  }

  /** A force along entry i of a motion. */
  force(i: number, lo: number, hi: number): void {
    const { mid, rad } = this.f,
      x = 0.5 * (lo + hi);
    mid[i] = mid[i]! + x;
    rad[i] = rad[i]! + 0.5 * (hi - lo) * (1 + FEW) + FEW * (Math.abs(x) + Math.abs(mid[i]!));
  }
  /** Adds what the forces push. */
  pushes({ moves, has, screws }: Carried): void {
    const { f, n } = this;
    for (let i = 0; i < f.mid.length; i++) {
      if (f.mid[i] === 0 && f.rad[i] === 0) continue;
      for (let a = 0; a < n; a++) {
        const u = entryOf(i, a, screws);
        if (has[Math.floor(i / 6) * screws + a]) put(this.push, a, f.mid[i]!, f.rad[i]!, moves.mid[u]!, moves.rad[u]!);
      }
    }
  }
  /** Adds how that changes. @param entries of K, by which forces change */
  slopes({ row, column, lo, hi }: Bounds, entries: readonly number[], { moves, has, screws }: Carried): void {
    const { n, slope, f } = this,
      bodies = f.mid.length / 6;
    for (const e of entries) {
      const [i, j] = [row[e]!, column[e]!],
        k = 0.5 * (lo[e]! + hi[e]!),
        s = 0.5 * (hi[e]! - lo[e]!) * (1 + FEW) + FEW * Math.abs(k),
        [p, q] = [Math.floor(i / 6) * screws, Math.floor(j / 6) * screws];
      for (let a = 0; a < n; a++) {
        if (!has[p + a]) continue;
        const u = entryOf(i, a, screws),
          [x, r] = [k * moves.mid[u]!, Math.abs(k) * moves.rad[u]! + s * (Math.abs(moves.mid[u]!) + moves.rad[u]!)];
        for (let c = 0; c < n; c++) {
          if (!has[q + c]) continue;
          const v = entryOf(j, c, screws);
          put(slope, a * n + c, x, r + FEW * Math.abs(x), moves.mid[v]!, moves.rad[v]!);
        }
      }
    }
    for (let b = 0; b < bodies; b++)
      for (let a = 0; a < n; a++)
        for (let c = 0; c < n; c++) {
          if (!has[b * screws + a] || !has[b * screws + c]) continue;
          const [u, v] = [NINE * (b * screws + a), NINE * (b * screws + c)];
          // the one nearer to the ground carries the other; what that says of turns about own axes then stays
          if (a >= c) this.crossed(a * n + c, 6 * b, moves, v + TURN, u + SPEED, 1);
          else {
            this.crossed(a * n + c, 6 * b, moves, u + TURN, v + SPEED, 1);
            this.crossed(a * n + c, 6 * b + 3, moves, v + OWN, u + OWN, -1);
          }
        }
  }
  /** Adds F · (x × y). @param F,x,y where they begin */
  private crossed(to: number, F: number, { mid, rad }: Around, x: number, y: number, sign: number): void {
    const { f, slope } = this;
    for (let i = 0; i < 3; i++) {
      const [j, k] = [(i + 1) % 3, (i + 2) % 3],
        [a, b, c, d] = [mid[x + j]!, mid[y + k]!, mid[x + k]!, mid[y + j]!],
        [p, q, r, s] = [rad[x + j]!, rad[y + k]!, rad[x + k]!, rad[y + j]!],
        off = Math.abs(a) * q + p * (Math.abs(b) + q) + Math.abs(c) * s + r * (Math.abs(d) + s);
      put(slope, to, f.mid[F + i]!, f.rad[F + i]!, sign * (a * b - c * d), off * (1 + FEW) + FEW * (Math.abs(a * b) + Math.abs(c * d)));
    }
  }
}

/** Where entry i of a motion stands while coordinate k moves by 1. */
export const entryOf = (i: number, k: number, screws: number): number =>
  NINE * (Math.floor(i / 6) * screws + k) + (i % 6 < 3 ? SPEED + (i % 6) : OWN + (i % 6) - 3);
/** Adds a product. @param x,r,y,s middles, and how far off these may be */
export function put({ mid, rad }: Around, at: number, x: number, r: number, y: number, s: number): void {
  const by = x * y;
  mid[at] = mid[at]! + by;
  rad[at] = (rad[at]! + Math.abs(x) * s + r * (Math.abs(y) + s)) * (1 + FEW) + FEW * (Math.abs(by) + Math.abs(mid[at]!));
}
