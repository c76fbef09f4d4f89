/**
 * Joint coordinates that close loops, looked at everywhere with proof. Joints that close loops are opened, so that coordinates q of the others lead the machine
 * (`tree.ts`); where the opened ones fit, Φ(q) = 0, with J = ∂Φ/∂q. Of the pushes Q along the coordinates they carry Jᵀλ, and nothing pushes what is left free
 * where the rest p of Q = Jᵀλ + Cᵀp vanishes, C being coordinates that lead while the others follow. So there are as many equations Φ = 0, p = 0 as
 * coordinates, and these are looked through cell by cell (`cells.ts`), from how J and Q are in the middle and how both change (`closed.ts`).
 */
import type { Mechanism } from '../../system/mechanism';
import type { Reach } from '../ways';
import { type Around, type Between, EPSILON, around, between } from './around';
import type { Cell, Point, Pushed } from './cells';
import { Closed, type Rows, combined } from './closed';
import { inverse } from './inverse';
import { Sums, entryOf, put } from './sums';
import { Tree, entriesOf } from './tree';
import { OTHERWISE } from './why';

/** How often a cell is made smaller, as long as some side becomes that part of what it was. */
const ROUNDS = 2;
const LESS = 0.8;
const FEW = 8 * EPSILON;
/** Numbers that are not known. */
const UNKNOWN: Between = { lo: -Infinity, hi: Infinity };

export class Loop {
  readonly tree: Tree;
  /** Of each row of the system which row of J it is; −1 for the others. */
  private readonly nth: Int32Array;
  /** Of each entry of G which row of J it belongs to; and where what rows carry changes. */
  private readonly rowOf: Int32Array;
  private readonly entries: readonly number[];
  private readonly n: number;
  /** Φ in the middle of the cell at hand; J there, and how it changes in the cell, by screws. */
  private readonly phi: Around;
  private readonly rows: Rows;
  private readonly sums: Sums[];
  /** The cell. */
  private middle: Point | undefined;
  private half: Point | undefined;
  /** Whether a row may jump there: then how it changes says nothing. */
  private jumps = false;
  /** What pushes in its middle, once that has been worked out. */
  private here: readonly Between[] | undefined;

  /**
   * About the posture in K, at rest, the loops open.
   * @param shapes motions in which one coordinate moves by 1 and no other
   */
  constructor(
    private readonly m: Mechanism,
    private readonly t: number,
    reaches: readonly Reach[],
    shapes: readonly Float64Array[],
    /** Rows that close loops, and hold what no others do. */
    readonly closing: readonly number[],
  ) {
    const n = (this.n = reaches.length),
      { system } = m;
    this.tree = new Tree(
      m,
      t,
      reaches.map((r) => r.freedom),
      shapes,
      closing,
    );
    const { bounds } = this.tree;
    this.nth = new Int32Array(system.rows).fill(-1);
    closing.forEach((r, k) => (this.nth[r] = k));
    this.rowOf = bounds.G.row.map((r) => this.nth[r]!);
    this.entries = bounds.bent.flatMap(entriesOf);
    this.sums = closing.map(() => new Sums(n, system.bodies));
    this.phi = around(closing.length);
    this.rows = { n, J: around(closing.length * n), H: this.sums.map((s) => s.slope), far: new Float64Array(n) };
  }

  /**
   * What of a cell is left where loops close. With coordinates i in which the machine has to follow the others, and M of J the inverse of their columns in the
   * middle, M Φ + M J δ + ½ δᵀ M H δ = 0 tells of each between what it is (Hansen & Sengupta, BIT 21, 1981).
   */
  within(cell: Cell): Cell | undefined {
    const { order } = this.tree;
    let { centre, half } = cell;
    for (let round = 0; round < ROUNDS; round++) {
      const ends = !this.look(centre, half) ? 'empty' : this.jumps ? undefined : this.narrowed();
      if (ends === 'empty') return undefined;
      // what was looked at need not be looked at again
      if (!ends || !order.some((a, k) => ends.rad[a]! < LESS * half[k]!)) break;
      const from = centre,
        far = half;
      centre = from.map((x, k) => x + ends.mid[order[k]!]!);
      half = order.map((a, k) => ends.rad[a]! * (1 + FEW) + FEW * (Math.abs(from[k]!) + far[k]!));
    }
    return { centre, half };
  }
  /** Of each coordinate the part of its range, from the middle, in which loops can close; undefined where nothing can be said. */
  private narrowed(): Around | 'empty' | undefined {
    const { rows, phi, n } = this,
      { J, far } = rows,
      closing = phi.mid.length,
      follow = this.followers(),
      M =
        follow &&
        inverse(
          Float64Array.from({ length: closing * closing }, (_, e) => J.mid[Math.floor(e / closing) * n + follow[e % closing]!]!),
          closing,
        );
    if (!M) return undefined;
    const out = { mid: new Float64Array(n), rad: far.slice() },
      MJ = combined(M, rows, 0.5);
    for (let i = 0; i < closing; i++) {
      const own = follow[i]!,
        least = MJ.mid[i * n + own]! - MJ.rad[i * n + own]!,
        most = MJ.mid[i * n + own]! + MJ.rad[i * n + own]!;
      if (!(least > 0)) continue;
      let [x, r] = [0, 0];
      for (let k = 0; k < closing; k++) {
        const by = M[i * closing + k]!;
        x += by * phi.mid[k]!;
        r += Math.abs(by) * (phi.rad[k]! + FEW * Math.abs(phi.mid[k]!));
      }
      for (let j = 0; j < n; j++) {
        if (j === own) continue;
        const [v, s] = [MJ.mid[i * n + j]!, MJ.rad[i * n + j]!];
        x += v * out.mid[j]!;
        r += (Math.abs(v) + s) * out.rad[j]! + s * Math.abs(out.mid[j]!) + FEW * Math.abs(v * out.mid[j]!);
      }
      // −(x ± r) divided by what is between these
      const [less, more] = [-x - r, -x + r],
        lo = (less / (less > 0 ? most : least)) * (1 - Math.sign(less) * FEW),
        hi = (more / (more > 0 ? least : most)) * (1 + Math.sign(more) * FEW),
        from = Math.max(lo, out.mid[own]! - out.rad[own]!),
        to = Math.min(hi, out.mid[own]! + out.rad[own]!);
      if (from > to) return 'empty';
      out.mid[own] = 0.5 * (from + to);
      out.rad[own] = 0.5 * (to - from) + FEW * (Math.abs(from) + Math.abs(to));
    }
    return out;
  }
  /** As many columns of J as it has rows, each as far from those before as can be (Gram & Schmidt); undefined where there are none. */
  private followers(): number[] | undefined {
    const { n } = this,
      { J } = this.rows,
      closing = this.phi.mid.length,
      left = Float64Array.from(J.mid),
      out: number[] = [];
    for (let c = 0; c < closing; c++) {
      let [most, at] = [0, -1];
      for (let j = 0; j < n; j++) {
        let s = 0;
        for (let k = 0; k < closing; k++) s += left[k * n + j]! * left[k * n + j]!;
        if (s > most && !out.includes(j)) [most, at] = [s, j];
      }
      if (at < 0) return undefined;
      out.push(at);
      const own = Float64Array.from({ length: closing }, (_, k) => left[k * n + at]!);
      for (let j = 0; j < n; j++) {
        let s = 0;
        for (let k = 0; k < closing; k++) s += left[k * n + j]! * own[k]!;
        for (let k = 0; k < closing; k++) left[k * n + j] = left[k * n + j]! - (s / most) * own[k]!;
      }
    }
    return out;
  }

  /**
   * Works out J and how it changes; the machine is put in the middle, and Φ worked out there.
   * @returns false where loops close nowhere in the cell, by what they can come to there at most
   */
  private look(centre: Point, half: Point): boolean {
    // it was the last that was looked at
    if (this.middle === centre && this.half === half) return true;
    const { tree, rows, sums, rowOf, nth, entries } = this,
      { bounds, carried, order } = tree,
      { G } = bounds;
    if (this.middle !== centre) this.stand(centre);
    this.half = this.here = undefined;
    order.forEach((a, k) => (rows.far[a] = half[k]!));
    tree.whole(half);
    bounds.fit();
    if (bounds.phi.row.some((r, e) => nth[r]! >= 0 && (bounds.phi.lo[e]! > 0 || bounds.phi.hi[e]! < 0))) return false;
    bounds.look([]);
    this.jumps = bounds.jumps;
    sums.forEach((s) => s.clear());
    for (let e = 0; e < rowOf.length; e++) sums[rowOf[e]!]!.force(G.column[e]!, G.lo[e]!, G.hi[e]!);
    // what a row pushes with where its multiplier is −1
    nth.forEach((k, r) => {
      if (k < 0) return;
      nth.forEach((other, row) => {
        if (other >= 0) bounds.lo[bounds.multiplierOf(row)] = bounds.hi[bounds.multiplierOf(row)] = row === r ? -1 : 0;
      });
      bounds.bending([]);
      sums[k]!.slopes(bounds.K, entries, carried);
    });
    tree.whole(tree.still);
    bounds.look([]);
    this.into(rows);
    this.half = half;
    return true;
  }
  /** J in the bounds that stand. */
  private into({ J }: Rows): void {
    const { tree, rowOf, n } = this,
      { bounds, carried } = tree,
      { G } = bounds,
      { moves, has, screws } = carried;
    J.mid.fill(0);
    J.rad.fill(0);
    for (let e = 0; e < rowOf.length; e++) {
      const [k, i] = [rowOf[e]!, G.column[e]!],
        [x, r] = [0.5 * (G.lo[e]! + G.hi[e]!), 0.5 * (G.hi[e]! - G.lo[e]!) * (1 + FEW) + FEW * Math.abs(G.lo[e]!)];
      for (let a = 0; a < n; a++) {
        if (!has[Math.floor(i / 6) * screws + a]) continue;
        const u = entryOf(i, a, screws);
        put(J, k * n + a, x, r, moves.mid[u]!, moves.rad[u]!);
      }
    }
  }
  private stand(centre: Point): void {
    const { tree, m, t, nth, phi } = this;
    tree.put(centre);
    m.system.residual(t);
    nth.forEach((k, r) => {
      if (k < 0) return;
      phi.mid[k] = m.system.phi[r]!;
      phi.rad[k] = tree.rounding;
    });
    this.middle = centre;
  }

  /** Bounds of Φ and p within half of some to both sides of coordinates, and of how they change. */
  about(centre: Point, half: Point): Pushed {
    const { tree, rows, phi, n } = this,
      { order, totals } = tree,
      closes = this.look(centre, half);
    // Φ has no zero here
    if (!closes)
      return {
        push: centre.map((_, k) => (k === 0 ? { lo: 1, hi: 1 } : UNKNOWN)),
        slope: order.map(() => order.map(() => UNKNOWN)),
        jumps: true,
      };
    const { J, H, far } = rows,
      follow = this.followers() ?? [],
      leading = Array.from({ length: n }, (_, a) => a).filter((a) => !follow.includes(a)),
      fits = [...phi.mid.keys()],
      changes = fits.map((k) => order.map((a) => between(ranged(J, H[k]!, far, k, a, n), 0))),
      closed = Closed.of(rows, leading),
      known = (push: readonly Between[], slope: readonly (readonly Between[])[], more: { jumps: boolean; why?: string }): Pushed => ({
        // cells in which loops cannot close have been left out before
        push: [...fits.map(() => UNKNOWN), ...push],
        slope: [...changes, ...slope],
        ...more,
      }),
      unknown = (why?: string) =>
        known(
          leading.map(() => UNKNOWN),
          leading.map(() => order.map(() => UNKNOWN)),
          { jumps: true, ...(why === undefined ? {} : { why }) },
        );
    if (!closed) return unknown(OTHERWISE);
    // in the middle, and how that changes
    tree.sums(tree.still, false);
    const Q = { mid: totals.push.mid.slice(), rad: totals.push.rad.slice() },
      jumps = tree.sums(half, true) || this.jumps,
      told = closed.pushes(Q, totals.slope);
    if (!told) return unknown(OTHERWISE);
    // all is told by how it changes, which says nothing of a jump
    if (jumps) return unknown();
    this.here = [...fits.map((k) => between(phi, k)), ...told.here];
    return known(
      told.push,
      told.slope.map((x) => order.map((a) => between(x, a))),
      { jumps: false },
    );
  }
  /** The same in the middle of the cell that was looked about last. */
  at(): readonly Between[] | undefined {
    return this.here;
  }
}

/** An entry of J over the whole of a cell. */
function ranged(J: Around, H: Around, far: Float64Array, k: number, a: number, n: number): Around {
  let r = J.rad[k * n + a]!;
  for (let m = 0; m < n; m++) r += far[m]! * (Math.abs(H.mid[a * n + m]!) + H.rad[a * n + m]!);
  return { mid: J.mid.slice(k * n + a, k * n + a + 1), rad: Float64Array.of(r * (1 + n * FEW)) };
}
