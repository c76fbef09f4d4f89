/**
 * Signed distance from closed outlines of lines and arcs in a plane, negative inside, with the direction in which it grows. Sides are told by the piece
 * that is nearest; where a corner is, by the sum of the normals that meet there (Bærentzen and Aanæs, IEEE TVCG 11, 2005).
 */
import { TWO_PI, atan2, cos, sin } from '../../quantity/elementary';
import { type Outline, type Piece, type Vec2, near } from '../outline';
import { opposes } from './distance-field';

/** Numbers to a piece: of a line both ends, direction and length; of an arc centre, radius, sense, where it begins and how far it goes. */
const PER = 7;
/** Of each corner: where it is, and its normal. */
const CORNER = 4;
/** Corners whose normals differ by less are none, as cosine. */
const SMOOTH = 1 - 1e-9;
/** Pieces, or corners, that are looked at together. */
const TOGETHER = 4;
/** Distance from an axis of revolution that is none, m. */
const ON_AXIS = 1e-12;

/** A sharp corner that sticks out, with the outward normals of the pieces before and after it. */
export interface Corner {
  readonly at: Vec2;
  readonly normals: readonly [Vec2, Vec2];
}

/** Where a piece begins and where it ends. */
export const endsOf = (p: Piece): readonly [Vec2, Vec2] => (p.type === 'line' ? [p.from, p.to] : [onArc(p, p.from), onArc(p, p.to)]);
const endOf = (p: Piece): Vec2 => (p.type === 'line' ? p.to : onArc(p, p.to));
const onArc = ({ centre, radius }: Extract<Piece, { type: 'arc' }>, a: number): Vec2 => [
  centre[0] + radius * cos(a),
  centre[1] + radius * sin(a),
];
/** Outward normal where a piece begins or ends: what it encloses lies to its left. */
function normalOf(p: Piece, end: boolean): Vec2 {
  if (p.type === 'line') {
    const x = p.to[0] - p.from[0],
      y = p.to[1] - p.from[1],
      l = Math.sqrt(x * x + y * y);
    return [y / l, -x / l];
  }
  const a = end ? p.to : p.from,
    sense = p.to > p.from ? 1 : -1;
  return [sense * cos(a), sense * sin(a)];
}
const isPiece = (p: Piece): boolean => (p.type === 'line' ? !near(p.from, p.to) : p.radius > 0 && p.to !== p.from);

/** Pieces that are a surface. @param axis pieces along x = 0 are none: it is an axis of revolution */
const bounds = (p: Piece, axis: boolean): boolean =>
  isPiece(p) && !(axis && p.type === 'line' && Math.abs(p.from[0]) < ON_AXIS && Math.abs(p.to[0]) < ON_AXIS);

/** Corners between pieces that follow one another, with the direction between their normals; and whether they stick out. */
function cornersOf(outline: Outline, axis: boolean, open = false): (Corner & { readonly mean: Vec2; readonly out: boolean })[] {
  const pieces = outline.filter(isPiece);
  return pieces.flatMap((p, i) => {
    if (open && i === pieces.length - 1) return [];
    const next = pieces[(i + 1) % pieces.length]!,
      [here, there] = [bounds(p, axis), bounds(next, axis)];
    if (!here && !there) return [];
    const a = normalOf(here ? p : next, here),
      // beyond an axis is the mirror image
      b: Vec2 = here && there ? normalOf(next, false) : [-a[0], a[1]],
      [x, y] = [a[0] + b[0], a[1] + b[1]],
      length = Math.sqrt(x * x + y * y) || 1,
      out = here && there ? a[0] * b[1] - a[1] * b[0] > 0 : a[0] > 0;
    return [{ at: endOf(p), normals: [a, b], mean: [x / length, y / length], out }];
  });
}

/** Pieces that follow one another; of a first one that only leads to them no more is theirs than the corner where it ends. */
export interface Chain {
  readonly pieces: Outline;
  readonly led: boolean;
  /** Its last piece leads to its first. */
  readonly closed?: true;
}

/**
 * Outlines in chains without a corner that goes in: what is round may touch each of them, and several at once. All of an outline where it has no such corner;
 * where it has one alone, one of its walls and the rest.
 */
export function chainsOf(outlines: readonly Outline[], axis = false): Chain[] {
  return outlines.flatMap((o) => {
    const pieces = o.filter(isPiece),
      ends = pieces.map((p, i) => {
        const next = pieces[(i + 1) % pieces.length]!;
        if (!bounds(p, axis) || !bounds(next, axis)) return 'axis';
        const [a, b] = [normalOf(p, true), normalOf(next, false)];
        return a[0] * b[1] - a[1] * b[0] < 0 && a[0] * b[0] + a[1] * b[1] < SMOOTH ? 'in' : 'on';
      }),
      first = ends.findIndex((e) => e !== 'on');
    if (first < 0) return [{ pieces, led: false, closed: true }];
    const chains: Piece[][] = [[]];
    for (let k = 1; k <= pieces.length; k++) {
      const i = (first + k) % pieces.length;
      if (bounds(pieces[i]!, axis)) chains.at(-1)!.push(pieces[i]!);
      if (ends[i] !== 'on') chains.push([]);
    }
    const some = chains.filter((c) => c.length > 0);
    return some.length === 1 && ends.includes('in')
      ? [
          { pieces: some[0]!.slice(0, 1), led: false },
          { pieces: some[0]!, led: true },
        ]
      : some.map((c) => ({ pieces: c, led: false }));
  });
}

/** Sharp corners that stick out. */
export const sharpCorners = (outline: Outline, axis = false): Corner[] =>
  cornersOf(outline, axis).filter(({ normals: [a, b], out }) => out && a[0] * b[0] + a[1] * b[1] < SMOOTH);

/** A circle, m. */
interface Circle {
  readonly at: Vec2;
  readonly radius: number;
}
const roundPiece = (p: Piece): Circle =>
  p.type === 'arc'
    ? { at: p.centre, radius: p.radius }
    : {
        at: [(p.from[0] + p.to[0]) / 2, (p.from[1] + p.to[1]) / 2],
        radius: Math.sqrt(square(p.to[0] - p.from[0]) + square(p.to[1] - p.from[1])) / 2,
      };
const square = (x: number): number => x * x;

/** Things that follow one another, some together in a circle: none of them is nearer than that. */
class Circles {
  readonly count: number;
  private readonly circles: Float64Array;
  constructor(private readonly list: readonly Circle[]) {
    this.count = Math.ceil(list.length / TOGETHER);
    this.circles = new Float64Array(3 * this.count);
    for (let g = 0; g < this.count; g++) {
      const own = list.slice(this.begins(g), this.begins(g + 1)),
        [x, y] = [0, 1].map((k) => own.reduce((sum, c) => sum + c.at[k as 0], 0) / own.length) as [number, number],
        reach = own.reduce((most, { at, radius }) => Math.max(most, Math.sqrt(square(at[0] - x) + square(at[1] - y)) + radius), 0);
      this.circles.set([x, y, reach], 3 * g);
    }
  }
  /** How far any of them is from the origin, at most, m. */
  get reach(): number {
    return this.list.reduce((most, { at: [x, y], radius }) => Math.max(most, Math.sqrt(x * x + y * y) + radius), 0);
  }
  begins(g: number): number {
    return Math.min(this.list.length, TOGETHER * g);
  }
  /** How far a point is out of one, m: negative within it. */
  from(g: number, x: number, y: number): number {
    const { circles } = this,
      dx = x - circles[3 * g]!,
      dy = y - circles[3 * g + 1]!;
    return Math.sqrt(dx * dx + dy * dy) - circles[3 * g + 2]!;
  }
  /** That which a point is least far out of. */
  nearest(x: number, y: number): number {
    let least = Infinity,
      nearest = 0;
    for (let g = 0; g < this.count; g++) {
      const d = this.from(g, x, y);
      if (d >= least) continue;
      least = d;
      nearest = g;
    }
    return nearest;
  }
}

export class OutlineField {
  /** Outward direction at the last `at`. */
  nx = 0;
  ny = 0;
  /** The piece that was nearest then; −1 where a corner was. */
  nearest = -1;
  private readonly arc: Uint8Array;
  private readonly piece: Float64Array;
  private readonly corners: Float64Array;
  /** Pieces that follow one another, and corners, in circles. */
  private readonly of: Circles;
  private readonly corner: Circles;
  /** How far the nearest of those looked at is. */
  private best = Infinity;
  private signed = Infinity;

  /** @param axis pieces along x = 0 are no surface @param chain where they are not closed, beyond their ends is nothing */
  constructor(outlines: readonly Outline[], axis = false, chain?: Pick<Chain, 'led' | 'closed'>) {
    const list = outlines
      .flat()
      .slice(chain?.led ? 1 : 0)
      .filter((p) => bounds(p, axis));
    this.arc = Uint8Array.from(list, (p) => (p.type === 'arc' ? 1 : 0));
    this.piece = Float64Array.from(
      list.flatMap((p) => {
        if (p.type === 'arc') return [...p.centre, p.radius, p.to > p.from ? 1 : -1, Math.min(p.from, p.to), Math.abs(p.to - p.from), 0];
        const x = p.to[0] - p.from[0],
          y = p.to[1] - p.from[1],
          l = Math.sqrt(x * x + y * y);
        return [...p.from, x / l, y / l, l, 0, 0];
      }),
    );
    const corners = outlines.flatMap((o) => cornersOf(o, axis, chain !== undefined && !chain.closed));
    this.corners = Float64Array.from(corners.flatMap(({ at, mean }) => [...at, ...mean]));
    this.of = new Circles(list.map(roundPiece));
    this.corner = new Circles(corners.map(({ at }) => ({ at, radius: 0 })));
  }

  /** How far any of it is from the origin, at most, m. */
  get reach(): number {
    return this.of.reach;
  }
  /** How far a corner in it, or on its border, is from the nearest straight piece that it may press on, m; −∞ for none. @param edges see `under` */
  under(x: number, y: number, edges: Float64Array, tiny: number): number {
    const { arc, piece } = this;
    let best = -Infinity;
    for (let i = 0; i < arc.length; i++) {
      const p = PER * i,
        dx = x - piece[p]!,
        dy = y - piece[p + 1]!,
        ux = piece[p + 2]!,
        uy = piece[p + 3]!,
        along = dx * ux + dy * uy,
        d = dx * uy - dy * ux;
      if (arc[i] === 1 || along < -tiny || along > piece[p + 4]! + tiny || d > tiny || d <= best || !opposes(edges, uy, -ux, 0)) continue;
      best = d;
      this.nearest = i;
      this.nx = uy;
      this.ny = -ux;
    }
    return best;
  }
  /** Whether no piece is an arc. */
  get straight(): boolean {
    return !this.arc.includes(1);
  }
  /** Whether the piece that was nearest is an arc. */
  get isArc(): boolean {
    return this.nearest >= 0 && this.arc[this.nearest] === 1;
  }
  /** @returns the distance of a point, m: negative inside */
  at(x: number, y: number): number {
    const { of, corner } = this;
    this.best = this.signed = Infinity;
    // those that may be nearest first: then most others are known to be farther
    const first = of.nearest(x, y);
    for (let g = -1; g < of.count; g++) {
      const i = g < 0 ? first : g;
      if (g !== first && of.from(i, x, y) < this.best) this.pieces(x, y, of.begins(i), of.begins(i + 1));
    }
    // the square is compared: of most corners no root is needed
    let square = this.best * this.best,
      found = -1;
    for (let g = 0; g < corner.count; g++) {
      if (corner.from(g, x, y) >= this.best) continue;
      for (let c = CORNER * corner.begins(g), end = CORNER * corner.begins(g + 1); c < end; c += CORNER) {
        const dx = x - this.corners[c]!,
          dy = y - this.corners[c + 1]!,
          d = dx * dx + dy * dy;
        if (d >= square) continue;
        square = d;
        found = c;
      }
    }
    return found < 0 ? this.signed : this.beyond(x, y, found);
  }
  /** From some of the pieces, where one is nearer than those before. */
  private pieces(x: number, y: number, from: number, to: number): void {
    const { arc, piece } = this;
    for (let i = from; i < to; i++) {
      const p = PER * i,
        dx = x - piece[p]!,
        dy = y - piece[p + 1]!;
      if (arc[i] === 0) {
        const ux = piece[p + 2]!,
          uy = piece[p + 3]!,
          along = dx * ux + dy * uy;
        if (along < 0 || along > piece[p + 4]!) continue;
        const d = dx * uy - dy * ux;
        if (Math.abs(d) >= this.best) continue;
        this.nearer(i, d, uy, -ux);
      } else {
        const radius = piece[p + 2]!,
          sense = piece[p + 3]!,
          far = Math.sqrt(dx * dx + dy * dy),
          d = sense * (far - radius);
        if (Math.abs(d) >= this.best || !this.within(p, dx, dy)) continue;
        // from the middle of an arc every direction leads to it
        const a = far > 0 ? 0 : piece[p + 4]! + piece[p + 5]! / 2;
        this.nearer(i, d, sense * (far > 0 ? dx / far : cos(a)), sense * (far > 0 ? dy / far : sin(a)));
      }
    }
  }
  private nearer(i: number, d: number, nx: number, ny: number): void {
    this.best = Math.abs(d);
    this.signed = d;
    this.nearest = i;
    this.nx = nx;
    this.ny = ny;
  }
  /** From a corner. */
  private beyond(x: number, y: number, c: number): number {
    const { corners } = this,
      dx = x - corners[c]!,
      dy = y - corners[c + 1]!,
      d = Math.sqrt(dx * dx + dy * dy),
      out = dx * corners[c + 2]! + dy * corners[c + 3]! >= 0;
    this.nearest = -1;
    this.nx = d > 0 ? (out ? dx : -dx) / d : corners[c + 2]!;
    this.ny = d > 0 ? (out ? dy : -dy) / d : corners[c + 3]!;
    return out ? d : -d;
  }

  /** Whether a direction from its centre leads to an arc. */
  private within(p: number, dx: number, dy: number): boolean {
    const { piece } = this,
      reach = piece[p + 5]!;
    if (reach >= TWO_PI || (dx === 0 && dy === 0)) return true;
    const a = atan2(dy, dx) - piece[p + 4]!;
    return a - TWO_PI * Math.floor(a / TWO_PI) <= reach;
  }
}
