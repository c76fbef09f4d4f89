/**
 * Closed outlines of straight lines and arcs in a plane, and exact integrals over what they enclose: by Green's theorem every area integral
 * of a polynomial is one along the outline; on lines and on short pieces of arcs Gauss quadrature gives it to rounding.
 */
import { cos, sin } from '../quantity/elementary';

export type Vec2 = readonly [number, number];

export type Piece =
  | { type: 'line'; from: Vec2; to: Vec2 }
  /** Counter-clockwise for `to` > `from`, rad. */
  | { type: 'arc'; centre: Vec2; radius: number; from: number; to: number };

export type Outline = readonly Piece[];

/** Gauss-Legendre nodes and weights of order 8 on −1…1 (Abramowitz & Stegun, table 25.4). */
const NODES: readonly (readonly [number, number])[] = [
  [0.1834346424956498, 0.362683783378362],
  [0.525532409916329, 0.3137066458778873],
  [0.7966664774136267, 0.2223810344533745],
  [0.9602898564975363, 0.1012285362903763],
].flatMap(
  ([x, w]) =>
    [
      [-x!, w!],
      [x!, w!],
    ] as const,
);

/** Longest piece of an arc that is integrated at once, rad: order 8 is then exact to rounding. */
const PIECE = 0.4;

/** ∮ f(x, y) dy along the outline. */
export function alongOutline(outline: Outline, f: (x: number, y: number) => number): number {
  let sum = 0;
  for (const p of outline) {
    if (p.type === 'line') {
      const dx = p.to[0] - p.from[0],
        dy = p.to[1] - p.from[1];
      for (const [u, w] of NODES) sum += 0.5 * w * f(p.from[0] + 0.5 * (1 + u) * dx, p.from[1] + 0.5 * (1 + u) * dy) * dy;
    } else {
      const n = Math.max(1, Math.ceil(Math.abs(p.to - p.from) / PIECE)),
        half = (p.to - p.from) / (2 * n);
      for (let k = 0; k < n; k++) {
        for (const [u, w] of NODES) {
          const a = p.from + half * (2 * k + 1 + u),
            c = p.radius * cos(a);
          sum += w * half * f(p.centre[0] + c, p.centre[1] + p.radius * sin(a)) * c;
        }
      }
    }
  }
  return sum;
}

/** ∫∫ xᵃ yᵇ over what is enclosed; negative for a clockwise outline. */
export const moment = (outline: Outline, a: number, b: number): number =>
  alongOutline(outline, (x, y) => (power(x, a + 1) / (a + 1)) * power(y, b));
const power = (x: number, n: number): number => {
  let p = 1;
  for (let i = 0; i < n; i++) p *= x;
  return p;
};

/** A closed line through corners. */
export const polygon = (corners: readonly Vec2[]): Outline =>
  corners.map((from, k) => ({ type: 'line', from, to: corners[(k + 1) % corners.length]! }));
/** A full circle, counter-clockwise. */
export const circle = (centre: Vec2, radius: number): Outline => [{ type: 'arc', centre, radius, from: 0, to: TURN }];
export const TURN = 6.283185307179586;

/** The same the other way round. */
export const reversed = (o: Outline): Outline =>
  [...o].reverse().map((p) => (p.type === 'line' ? { ...p, from: p.to, to: p.from } : { ...p, from: p.to, to: p.from }));

/** A corner of an outline for drawing, with its outward normal; a sharp corner is two of them at one place. */
export interface Rim {
  at: Vec2;
  normal: Vec2;
}

/** Corners along a counter-clockwise outline. @param round facets of a full turn */
export function rimOf(outline: Outline, round: number): Rim[] {
  const rim: Rim[] = [];
  const push = (r: Rim) => {
    const last = rim.at(-1);
    if (last && near(last.at, r.at) && last.normal[0] * r.normal[0] + last.normal[1] * r.normal[1] > 1 - 1e-9) return;
    rim.push(r);
  };
  for (const p of outline) {
    if (p.type === 'line') {
      const dx = p.to[0] - p.from[0],
        dy = p.to[1] - p.from[1],
        l = Math.sqrt(dx * dx + dy * dy);
      if (l === 0) continue;
      const normal: Vec2 = [dy / l, -dx / l];
      push({ at: p.from, normal });
      push({ at: p.to, normal });
    } else {
      const n = Math.max(1, Math.ceil((round * Math.abs(p.to - p.from)) / TURN - 1e-9)),
        sense = p.to > p.from ? 1 : -1;
      for (let k = 0; k <= n; k++) {
        const a = p.from + ((p.to - p.from) * k) / n,
          c = cos(a),
          s = sin(a);
        push({ at: [p.centre[0] + p.radius * c, p.centre[1] + p.radius * s], normal: [sense * c, sense * s] });
      }
    }
  }
  const [first, last] = [rim[0], rim.at(-1)];
  if (
    rim.length > 2 &&
    first &&
    last &&
    near(first.at, last.at) &&
    first.normal[0] * last.normal[0] + first.normal[1] * last.normal[1] > 1 - 1e-9
  )
    rim.pop();
  return rim;
}

/** Two corners at one place, but for rounding. */
export const near = (a: Vec2, b: Vec2): boolean =>
  Math.abs(a[0] - b[0]) + Math.abs(a[1] - b[1]) < 1e-12 * (1 + Math.abs(a[0]) + Math.abs(a[1]));
