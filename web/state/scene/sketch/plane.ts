/** The sheet that is drawn on: a plane of the ground with its own two directions. */
import { type Vec3, add, cross, dot, norm, scale, sub, unit } from '@vim-pivot/core/drawn';
import type { AxisName } from '../view';

/** A place on the sheet, m: across and up. */
export type Spot = readonly [number, number];

export interface SketchPlane {
  /** Where the sheet has its zero, m. */
  origin: Vec3;
  across: Vec3;
  up: Vec3;
  /** Towards whoever draws: angles count as seen from there. */
  normal: Vec3;
  /** The ground stands along the line through zero. */
  level: boolean;
}

export type StandardView = 'front' | 'top' | 'side';
const ACROSS: Record<StandardView, readonly [Vec3, Vec3]> = {
  front: [
    [1, 0, 0],
    [0, 0, 1],
  ],
  top: [
    [1, 0, 0],
    [0, 1, 0],
  ],
  side: [
    [0, 1, 0],
    [0, 0, 1],
  ],
};
/** A direction given with z up, for another axis up. */
const stood = (up: AxisName, [x, y, z]: Vec3): Vec3 => (up === 'z' ? [x, y, z] : up === 'y' ? [x, z, -y] : [z, x, y]);

/** The sheet of a standard view. @param depth towards the one who draws, m */
export function planeOf(view: StandardView, up: AxisName, depth = 0): SketchPlane {
  const [across, upward] = ACROSS[view].map((v) => stood(up, v)) as [Vec3, Vec3];
  const normal = cross(across, upward);
  return { origin: scale(normal, depth), across, up: upward, normal, level: true };
}

/** The sheet on a face. @param at a place on it, m @param normal out of the face */
export function planeOn(at: Vec3, normal: Vec3, upAxis: AxisName): SketchPlane {
  const n = unit(normal),
    upward = stood(upAxis, [0, 0, 1]);
  const rest = sub(upward, scale(n, dot(upward, n)));
  const up = norm(rest) > 1e-6 ? unit(rest) : stood(upAxis, [0, 1, 0]);
  return { origin: scale(n, dot(at, n)), across: cross(up, n), up, normal: n, level: false };
}

export const onSheet = (p: SketchPlane, at: Vec3): Spot => [dot(sub(at, p.origin), p.across), dot(sub(at, p.origin), p.up)];
export const inSpace = (p: SketchPlane, [u, v]: Spot): Vec3 => add(p.origin, add(scale(p.across, u), scale(p.up, v)));
/** How far a place lies before the sheet, m. */
export const before = (p: SketchPlane, at: Vec3): number => dot(sub(at, p.origin), p.normal);

/** The depth before the sheet at which most of these places lie, m. */
export function depthOf(plane: SketchPlane, places: readonly Vec3[]): number {
  const counts = new Map<number, number>();
  for (const p of places) {
    const d = Math.round(before(plane, p) * 1e6) / 1e6;
    counts.set(d, (counts.get(d) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1] || Math.abs(a[0]) - Math.abs(b[0]))[0]?.[0] ?? 0;
}

export const away = (a: Spot, b: Spot): number => Math.hypot(b[0] - a[0], b[1] - a[1]);

/** The nearest place to p on the stretch from a to b, and how far along it that is, 0 to 1. */
export function nearestOn(p: Spot, a: Spot, b: Spot): { at: Spot; along: number } {
  const d = [b[0] - a[0], b[1] - a[1]] as const,
    l2 = d[0] ** 2 + d[1] ** 2;
  const along = l2 === 0 ? 0 : Math.min(1, Math.max(0, ((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / l2));
  return { at: [a[0] + along * d[0], a[1] + along * d[1]], along };
}

/**
 * Where two bars of given lengths from fixed ends meet (a dyad: two circles), on the side of where they meet now.
 * @returns undefined when they do not reach each other, or only just
 */
export function meeting(a: Spot, ra: number, b: Spot, rb: number, now: Spot): Spot | undefined {
  const d = away(a, b);
  if (d < 1e-12 || d > ra + rb || d < Math.abs(ra - rb)) return undefined;
  const x = (d * d + ra * ra - rb * rb) / (2 * d),
    h = Math.sqrt(Math.max(0, ra * ra - x * x));
  const e = [(b[0] - a[0]) / d, (b[1] - a[1]) / d] as const;
  const side = Math.sign(e[0] * (now[1] - a[1]) - e[1] * (now[0] - a[0])) || 1;
  return [a[0] + x * e[0] - side * h * e[1], a[1] + x * e[1] + side * h * e[0]];
}
