/** Joint coordinates looked at everywhere with proof: cell by cell (`cells.ts`), along the screws that the joints leave (`tree.ts`). */
import { TWO_PI } from '../../quantity/elementary';
import type { Mechanism } from '../../system/mechanism';
import { notBounded } from '../../system/tangent/equation-bounds';
import type { Reach } from '../ways';
import { type Cell, Cells, type Coordinates, OVERLAP, type Point } from './cells';
import { Tree } from './tree';
import { Unproved, WORK } from './why';

/** Half of a cell at first, rad, or parts of the machine's size. */
const FIRST = 0.8;
/** Cells at most. */
const MOST = 8000;

/** Why nothing can be proved where what is thrown says so. */
export function unproved(e: unknown): string {
  if (e instanceof Unproved) return e.message;
  throw e;
}
/**
 * Of joints that close no loop.
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
  const why = notBounded(m.system, () => false);
  if (why !== undefined) return why;
  try {
    const tree = new Tree(
        m,
        t,
        reaches.map((r) => r.freedom),
        shapes,
      ),
      field = new Field(m, reaches, tree, { about: (centre, half) => tree.about(centre, half), at: (centre) => tree.at(centre) });
    return yield* new Cells(field, m.system.K, { found, find }).search(field.whole());
  } catch (e) {
    return unproved(e);
  }
}

/** What joint coordinates are looked at by. */
type Looked = Pick<Coordinates, 'about' | 'at'> & { within?(cell: Cell): Cell | undefined };

/** Joint coordinates of a machine, or of one whose loops are open. */
export class Field implements Coordinates {
  readonly scale: Point;
  readonly most: number;
  readonly within?: Looked['within'];

  /** @param by what must vanish together @param more by how many times more may be worked out than where that is pushes alone */
  constructor(
    m: Mechanism,
    private readonly reaches: readonly Reach[],
    private readonly tree: Tree,
    private readonly by: Looked,
    private readonly more = 1,
  ) {
    this.most = MOST * more;
    if (by.within) this.within = (cell) => by.within!(cell);
    this.scale = reaches.map((r) => (r.freedom.type === 'rotation' ? 1 : m.size));
  }
  /** All that is looked at, in cells. */
  whole(): Cell[] {
    const { reaches, scale } = this,
      parts = reaches.map(({ far }, k) => Math.ceil(far / (FIRST * scale[k]!))),
      step = reaches.map(({ far }, k) => far / parts[k]!),
      half = step.map((h) => OVERLAP * h);
    let open: Cell[] = [{ centre: reaches.map(() => 0), half }];
    reaches.forEach(({ far }, k) => {
      open = open.flatMap(({ centre }) =>
        Array.from({ length: parts[k]! }, (_, i) => ({ centre: centre.map((x, j) => (j === k ? (2 * i + 1) * step[k]! - far : x)), half })),
      );
    });
    return open;
  }

  get isLong(): boolean {
    return this.tree.work > this.more * WORK;
  }
  about(centre: Point, half: Point) {
    return this.by.about(centre, half);
  }
  at(centre: Point) {
    return this.by.at(centre);
  }
  put(centre: Point): void {
    this.tree.put(centre);
  }
  of(): Point {
    return this.tree.of();
  }
  apart(a: Point, b: Point): Point {
    return a.map((x, k) => {
      const off = x - b[k]!;
      return Math.abs(this.reaches[k]!.round ? off - TWO_PI * Math.round(off / TWO_PI) : off);
    });
  }
}
