/**
 * Joint coordinates that close no loop, looked at everywhere with proof: their range is parted into cells until in each the pushes are known not to vanish
 * together, or it lies within the bounds of an equilibrium in which there is no other (branch and bound with an interval Newton test; Kearfott, Rigorous Global
 * Search, 1996, ch. 1 and 4).
 */
import { inverse, Matrix } from 'ml-matrix';
import { TWO_PI } from '../../quantity/elementary';
import type { Mechanism } from '../../system/mechanism';
import { notBounded } from '../../system/tangent/equation-bounds';
import type { Reach } from '../ways';
import { type Between, sign } from './around';
import { add, exactly, multiply, subtract, sum } from './intervals';
import { type Pushed, Tree } from './tree';
import { LONG, UNTOLD, Unproved, WORK } from './why';

/** Half of a cell at first, of one from which on an equilibrium is looked for, and at least: rad, or parts of the machine's size. */
const FIRST = 0.8;
const LOOKED = 0.15;
const SMALLEST = 1e-3;
/** In halves of a cell, how far from its centre an equilibrium may be expected to be looked for. */
const NEARBY = 2;
/** Half of the bounds of an equilibrium at first, and at least. */
const LARGEST = 0.8;
const LEAST = 1e-5;
/** Cells, and postures from which an equilibrium is looked for, at most. */
const MOST = 8000;
const FINDS = 300;
/** Cells after which it is told how far it has come. */
const OFTEN = 20;
/** By how much cells overlap. */
const OVERLAP = 1 + 1e-6;

type Point = readonly number[];
interface Cell {
  readonly centre: Point;
  readonly half: Point;
}

/**
 * @param shapes motions in which one coordinate moves by 1 and no other, in the posture in K, which is on the constraints and at rest
 * @param find looks for an equilibrium next to the posture in K @param found those found so far
 * @yields how far it has come, from 0 to 1 @returns why it is not proved that there are no others than those found; undefined where it is
 */
export function* provedField(
  m: Mechanism,
  t: number,
  reaches: readonly Reach[],
  shapes: readonly Float64Array[],
  found: readonly { readonly y: Float64Array }[],
  find: () => void,
): Generator<number, string | undefined, void> {
  const why = notBounded(m.system, true);
  if (why !== undefined) return why;
  try {
    return yield* new Cells(m, t, reaches, shapes).search(found, find);
  } catch (e) {
    if (e instanceof Unproved) return e.message;
    throw e;
  }
}

class Cells {
  private readonly tree: Tree;
  private readonly scale: Point;
  /** Equilibria that are known to be there, each with bounds in which it is the only one. */
  private readonly zones: Cell[] = [];
  private zoned = 0;

  constructor(
    private readonly m: Mechanism,
    t: number,
    private readonly reaches: readonly Reach[],
    shapes: readonly Float64Array[],
  ) {
    const freedoms = reaches.map((r) => r.freedom);
    this.tree = new Tree(m, t, freedoms, shapes);
    this.scale = freedoms.map((f) => (f.type === 'rotation' ? 1 : m.size));
  }

  *search(found: readonly { readonly y: Float64Array }[], find: () => void): Generator<number, string | undefined, void> {
    const { reaches, scale, tree } = this,
      parts = reaches.map(({ far }, k) => Math.ceil(far / (FIRST * scale[k]!))),
      half = reaches.map(({ far }, k) => far / parts[k]!);
    let open: Cell[] = [{ centre: reaches.map(() => 0), half }];
    reaches.forEach(({ far }, k) => {
      open = open.flatMap(({ centre }) =>
        Array.from({ length: parts[k]! }, (_, i) => ({ centre: centre.map((x, j) => (j === k ? (2 * i + 1) * half[k]! - far : x)), half })),
      );
    });
    // the part of the whole that is done
    const size = (c: Cell) => c.half.reduce((s, h, k) => (s * h) / reaches[k]!.far, 1);
    for (let count = 0, done = 0, finds = 0; open.length > 0; count++) {
      if (count % OFTEN === 0) yield done;
      if (count > MOST || finds > FINDS || tree.work > WORK) return LONG;
      if (!this.marked(found)) return UNTOLD;
      const cell = open.pop()!;
      const look = this.inZone(cell) ? 'empty' : this.look(cell);
      if (look === 'empty') {
        done += size(cell);
        continue;
      }
      const wide = cell.half.map((h, k) => h / scale[k]!),
        k = wide.indexOf(Math.max(...wide));
      if (wide[k]! < LOOKED && look === 'likely') {
        tree.put(cell.centre);
        find();
        finds++;
      }
      if (wide[k]! < SMALLEST) return UNTOLD;
      for (const side of [-0.5, 0.5])
        open.push({
          centre: cell.centre.map((x, j) => (j === k ? x + side * cell.half[k]! : x)),
          half: cell.half.map((h, j) => (j === k ? 0.5 * h : h)),
        });
    }
    return undefined;
  }

  /** Whether the pushes vanish together nowhere in a cell; else whether, as they go on from its centre, they do so there or not far away. */
  private look({ centre, half }: Cell): 'empty' | 'likely' | 'unsure' {
    const far = half.map((h) => OVERLAP * h),
      about = this.tree.about(centre, far);
    if (about.push.some((p) => sign(p) !== 0)) return 'empty';
    const here = this.tree.at(centre),
      A = middle(about),
      { p } = times(A, here, about),
      likely = A && p.every((x, k) => Math.abs(x.lo) < NEARBY * far[k]!);
    if (!about.jumps)
      for (const B of [A, undefined]) {
        const { p: from, by } = times(B, here, about);
        if (from.some((x, i) => sign(far.reduce((s, h, j) => add(s, multiply(by[i]![j]!, { lo: -h, hi: h })), x)) !== 0)) return 'empty';
      }
    return likely ? 'likely' : 'unsure';
  }
  /** Of equilibria that were found: bounds in which each is the only one. @returns whether there are */
  private marked(found: readonly { readonly y: Float64Array }[]): boolean {
    const { K } = this.m.system;
    for (; this.zoned < found.length; this.zoned++) {
      K.load(found[this.zoned]!.y);
      const centre = this.tree.of();
      let zone: Cell | undefined;
      for (let h = LARGEST; !zone && h > LEAST; h *= 0.7) {
        const cell = { centre, half: this.scale.map((s) => h * s) };
        if (this.isSingle(cell)) zone = cell;
      }
      if (!zone) return false;
      this.zones.push(zone);
    }
    return true;
  }
  /** Whether there is an equilibrium within a cell, and no other: Krawczyk’s operator maps it into itself. */
  private isSingle({ centre, half }: Cell): boolean {
    const about = this.tree.about(centre, half),
      A = middle(about);
    if (about.jumps || !A) return false;
    const { p, by } = times(A, this.tree.at(centre), about);
    return half.every((h, i) => {
      const rest = half.map((x, j) => multiply(subtract(exactly(i === j ? 1 : 0), by[i]![j]!), { lo: -x, hi: x })),
        { lo, hi } = subtract(sum(rest), p[i]!);
      return lo > -h && hi < h;
    });
  }
  private apart(a: Point, b: Point): number[] {
    return a.map((x, k) => {
      const off = x - b[k]!;
      return Math.abs(this.reaches[k]!.round ? off - TWO_PI * Math.round(off / TWO_PI) : off);
    });
  }
  private inZone({ centre, half }: Cell): boolean {
    return this.zones.some((z) => this.apart(centre, z.centre).every((off, k) => off + OVERLAP * half[k]! < z.half[k]!));
  }
}

/** The inverse of how pushes change, in the middle of its bounds; undefined where there is none. */
function middle({ slope }: Pushed): number[][] | undefined {
  const of = new Matrix(slope.map((row) => row.map(({ lo, hi }) => 0.5 * (lo + hi))));
  if (!of.to1DArray().every(Number.isFinite)) return undefined;
  try {
    const out = inverse(of).to2DArray();
    return out.every((row) => row.every(Number.isFinite)) ? out : undefined;
  } catch {
    return undefined; // singular
  }
}
/** A p and A ∂p; left out: p and ∂p themselves. */
function times(
  A: number[][] | undefined,
  p: readonly Between[],
  { slope }: Pushed,
): { p: readonly Between[]; by: readonly (readonly Between[])[] } {
  if (!A) return { p, by: slope };
  const row = (i: number, of: (k: number) => Between) => sum(A[i]!.map((a, k) => multiply(exactly(a), of(k))));
  return { p: p.map((_, i) => row(i, (k) => p[k]!)), by: slope.map((_, i) => slope.map((_x, j) => row(i, (k) => slope[k]![j]!))) };
}
