/**
 * All places within a range of coordinates at which pushes vanish together: the range is parted into cells until in each they are known not to do so, or it
 * lies within the bounds of an equilibrium in which there is no other (branch and bound with an interval Newton test; Kearfott, Rigorous Global Search, 1996,
 * ch. 1 and 4).
 */
import { inverse, Matrix } from 'ml-matrix';
import type { Kinematics } from '../../equations/kinematics';
import { type Between, sign } from './around';
import { add, exactly, multiply, subtract, sum } from './intervals';
import { LONG, UNTOLD } from './why';

/** Half of a cell from which on an equilibrium is looked for, and at least, in scales of the coordinates. */
const LOOKED = 0.15;
const SMALLEST = 1e-5;
/** In halves of a cell, how far from its centre an equilibrium may be expected to be looked for. */
const NEARBY = 1.5;
/** Half of the bounds of an equilibrium at first, and at least. */
const LARGEST = 0.8;
const LEAST = 1e-5;
/** Postures from which an equilibrium is looked for, at most. */
const FINDS = 3000;
/** Cells after which it is looked whether it goes on much too slowly, and how many times too slow that is. */
const EARLY = 4000;
const FAR = 20;
/** Halvings after which what was not known of a cell says nothing about its parts. */
const RECENT = 12;
/** Cells after which it is told how far it has come. */
const OFTEN = 20;
/** By how much cells overlap. */
export const OVERLAP = 1 + 1e-9;

export type Point = readonly number[];
export interface Cell {
  readonly centre: Point;
  readonly half: Point;
}
export interface Pushed {
  /** What pushes along each coordinate. */
  readonly push: readonly Between[];
  /** How each of these changes with each. */
  readonly slope: readonly (readonly Between[])[];
  readonly jumps: boolean;
  /** Why nothing is known of some of them. */
  readonly why?: string;
}
/** Coordinates by which a machine is looked at. */
export interface Coordinates {
  /** What counts as far along each. */
  readonly scale: Point;
  /** Cells at most. */
  readonly most: number;
  /** Whether more was worked out than should be. */
  readonly isLong: boolean;
  /** What of a cell is left where something else must vanish as well; undefined where nothing is. */
  within?(cell: Cell): Cell | undefined;
  /** Pushes so far to each side of a place. */
  about(centre: Point, half: Point): Pushed;
  /** Pushes at a place that was looked about last; undefined where nothing is known. */
  at(centre: Point): readonly Between[] | undefined;
  /** Brings the machine to a place. */
  put(centre: Point): void;
  /** The place of the posture in K. */
  of(): Point;
  /** How far apart two places are along each. */
  apart(a: Point, b: Point): Point;
}
interface Open {
  readonly cell: Cell;
  readonly part: number;
  readonly why: string | undefined;
  readonly since: number;
}
interface Equilibria {
  /** Those found so far. */
  readonly found: readonly { readonly y: Float64Array }[];
  /** Looks for one next to the posture in K. */
  readonly find: () => void;
}

export class Cells {
  /** Equilibria that are known to be there, each with bounds in which it is the only one. */
  private readonly zones: Cell[] = [];
  private zoned = 0;
  /** Why nothing is known of the cell at hand. */
  private why: string | undefined;

  constructor(
    private readonly by: Coordinates,
    private readonly K: Kinematics,
    private readonly equilibria: Equilibria,
  ) {}

  /**
   * @param cells those that are looked through
   * @yields how far it has come, from 0 to 1 @returns why it is not proved that there are no others than those found; undefined where it is
   */
  *search(cells: readonly Cell[]): Generator<number, string | undefined, void> {
    const { by, equilibria } = this,
      { scale } = by,
      /** Each with the part that it is of the whole, and why nothing was known of those it comes from, and how long ago. */
      open: Open[] = cells.map((cell) => ({ cell, part: 1 / cells.length, why: undefined, since: 0 }));
    for (let count = 0, done = 0, finds = 0; open.length > 0; count++) {
      if (count % OFTEN === 0) yield done;
      const hopeless = count > EARLY && count > FAR * by.most * done;
      if (count > by.most || hopeless || finds > FINDS || by.isLong) return LONG;
      if (!this.marked()) return UNTOLD;
      const { cell: all, part, ...before } = open.pop()!,
        cell = this.inZone(all) ? undefined : by.within ? by.within(all) : all,
        look = cell ? this.look(cell) : 'empty';
      if (!cell || look === 'empty') {
        done += part;
        continue;
      }
      const wide = cell.half.map((h, k) => h / scale[k]!),
        k = wide.indexOf(Math.max(...wide));
      if (wide[k]! < LOOKED && look === 'likely') {
        by.put(cell.centre);
        equilibria.find();
        finds++;
      }
      const now = this.why !== undefined ? { why: this.why, since: 0 } : { why: before.why, since: before.since + 1 };
      if (wide[k]! < SMALLEST) return (now.since < RECENT ? now.why : undefined) ?? UNTOLD;
      open.push(...halves(cell, k).map((half) => ({ cell: half, part: 0.5 * part, ...now })));
    }
    return undefined;
  }

  /** Whether the pushes vanish together nowhere in a cell; else whether, as they go on from its centre, they do so there or not far away. */
  private look({ centre, half }: Cell): 'empty' | 'likely' | 'unsure' {
    const about = this.by.about(centre, half);
    this.why = about.why;
    if (about.push.some((p) => sign(p) !== 0)) return 'empty';
    const here = this.by.at(centre);
    if (!here) return 'unsure';
    const A = middle(about),
      { p } = times(A, here, about),
      likely = A && p.every((x, k) => Math.abs(x.lo) < NEARBY * half[k]!);
    if (!about.jumps)
      for (const B of [A, undefined]) {
        const { p: from, by } = times(B, here, about);
        if (from.some((x, i) => sign(half.reduce((s, h, j) => add(s, multiply(by[i]![j]!, { lo: -h, hi: h })), x)) !== 0)) return 'empty';
      }
    return likely ? 'likely' : 'unsure';
  }
  /** Of equilibria that were found: bounds in which each is the only one. @returns whether there are */
  private marked(): boolean {
    const { by, K, equilibria } = this;
    for (; this.zoned < equilibria.found.length; this.zoned++) {
      K.load(equilibria.found[this.zoned]!.y);
      const centre = by.of();
      let zone: Cell | undefined;
      for (let h = LARGEST; !zone && h > LEAST; h *= 0.7) {
        const cell = { centre, half: by.scale.map((s) => h * s) };
        if (this.isSingle(cell)) zone = cell;
      }
      if (!zone) return false;
      this.zones.push(zone);
    }
    return true;
  }
  /** Whether there is an equilibrium within a cell, and no other: Krawczyk’s operator maps it into itself. */
  private isSingle({ centre, half }: Cell): boolean {
    const about = this.by.about(centre, half),
      A = middle(about),
      here = A && !about.jumps ? this.by.at(centre) : undefined;
    if (!here) return false;
    const { p, by } = times(A, here, about);
    return half.every((h, i) => {
      const rest = half.map((x, j) => multiply(subtract(exactly(i === j ? 1 : 0), by[i]![j]!), { lo: -x, hi: x })),
        { lo, hi } = subtract(sum(rest), p[i]!);
      return lo > -h && hi < h;
    });
  }
  private inZone({ centre, half }: Cell): boolean {
    return this.zones.some((z) => this.by.apart(centre, z.centre).every((off, k) => off + half[k]! < z.half[k]!));
  }
}

const halves = ({ centre, half }: Cell, k: number): Cell[] =>
  [-0.5, 0.5].map((side) => ({
    centre: centre.map((x, j) => (j === k ? x + side * half[k]! : x)),
    half: half.map((h, j) => OVERLAP * (j === k ? 0.5 * h : h)),
  }));

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
