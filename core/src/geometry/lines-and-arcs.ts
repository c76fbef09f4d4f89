/** Courses of straight lines and circular arcs that go over into one another: corners rounded with given radii, and a belt laid round wheels. */
import { refuse } from '../diagnosis';
import { TWO_PI, acos, asin, atan2, cos, sin, tan } from '../quantity/elementary';
import type { Curve } from './curve';
import { type Vec3, add, cross, dot, norm, scale, sub, unit } from './vector';

/** A straight line from `at` along x; or an arc round `at`, from `at` + radius·x towards y. */
interface Piece {
  at: Vec3;
  x: Vec3;
  y: Vec3;
  /** 0 for a straight line, m. */
  radius: number;
  length: number;
}

/** A course of pieces by its length: the parameter is the way along it, m. An open one goes on straight beyond its ends. */
export class LinesAndArcs implements Curve {
  readonly end: number;
  readonly c = new Float64Array(3);
  readonly c1 = new Float64Array(3);
  readonly c2 = new Float64Array(3);
  private readonly starts: Float64Array;
  private piece = 0;

  constructor(
    private readonly pieces: readonly Piece[],
    readonly closed: boolean,
  ) {
    this.starts = new Float64Array(pieces.length + 1);
    pieces.forEach((p, i) => (this.starts[i + 1] = this.starts[i]! + p.length));
    this.end = this.starts[pieces.length]!;
  }

  at(u: number): void {
    const { c, c1, c2, closed, end, starts } = this;
    let s = closed ? u - Math.floor(u / end) * end : u;
    const beyond = closed ? 0 : s < 0 ? s : s > end ? s - end : 0;
    s -= beyond;
    const i = this.find(s),
      { at, x, y, radius } = this.pieces[i]!,
      along = s - starts[i]!;
    if (radius === 0)
      for (let k = 0; k < 3; k++) {
        c[k] = at[k as 0] + along * x[k as 0];
        c1[k] = x[k as 0];
        c2[k] = 0;
      }
    else {
      const q = along / radius,
        co = cos(q),
        si = sin(q);
      for (let k = 0; k < 3; k++) {
        c[k] = at[k as 0] + radius * (co * x[k as 0] + si * y[k as 0]);
        c1[k] = co * y[k as 0] - si * x[k as 0];
        c2[k] = beyond === 0 ? -(co * x[k as 0] + si * y[k as 0]) / radius : 0;
      }
    }
    if (beyond !== 0) for (let k = 0; k < 3; k++) c[k] = c[k]! + beyond * c1[k]!;
  }

  lengthTo(u: number): number {
    return u;
  }

  private find(s: number): number {
    const { starts, pieces } = this;
    if (s >= starts[this.piece]! && s <= starts[this.piece + 1]!) return this.piece;
    let lo = 0,
      hi = pieces.length - 1;
    while (lo < hi) {
      const mid = (lo + hi + 1) >> 1;
      if (starts[mid]! <= s) lo = mid;
      else hi = mid - 1;
    }
    return (this.piece = lo);
  }
}

const line = (from: Vec3, to: Vec3): Piece[] => {
  const way = sub(to, from),
    length = norm(way);
  return length > 1e-12 ? [{ at: from, x: scale(way, 1 / length), y: [0, 0, 0], radius: 0, length }] : [];
};
const mm = (x: number): string => `${Number((1000 * x).toPrecision(4))} mm`;

/**
 * Straight from point to point, each corner rounded.
 * @param radii of the corners at the points, m; those at the ends of an open course do not count
 * @param names of the points, for what is said of them
 * @throws Refusal where a corner has no radius, or its arc no room
 */
export function rounded(points: readonly Vec3[], radii: readonly number[], closed: boolean, names: readonly string[]): LinesAndArcs {
  const n = points.length,
    at = (i: number) => points[(i + n) % n]!;
  /** What an arc takes of the lines before and after its corner. */
  const cut = points.map((p, i) => {
    if (!closed && (i === 0 || i === n - 1)) return { taken: 0, turn: 0, before: p, after: p };
    const a = unit(sub(p, at(i - 1))),
      b = unit(sub(at(i + 1), p)),
      turn = acos(Math.max(-1, Math.min(1, dot(a, b)))),
      radius = radii[i]!;
    if (turn < 1e-9) return { taken: 0, turn: 0, before: p, after: p };
    if (turn > 3.1415)
      refuse({
        code: 'curve-corner',
        message: `At “${names[i]!}” the course turns back on itself.`,
        remedy: 'Put a further point beside it, so that the corner can be rounded.',
      });
    if (!(radius > 0))
      refuse({
        code: 'curve-corner',
        message: `The corner at “${names[i]!}” has no radius, so the course has no direction there.`,
        remedy: 'Give it a radius.',
      });
    const taken = radius * tan(turn / 2);
    return { taken, turn, before: sub(p, scale(a, taken)), after: add(p, scale(b, taken)) };
  });
  const last = closed ? n : n - 1,
    pieces: Piece[] = [];
  for (let i = 0; i < last; i++) {
    const k = (i + 1) % n,
      room = norm(sub(at(i + 1), points[i]!));
    if (cut[i]!.taken + cut[k]!.taken > room + 1e-9) {
      refuse({
        code: 'curve-corner',
        message: `Between “${names[i]!}” and “${names[k]!}” there are ${mm(room)}, and their corners take ${mm(cut[i]!.taken + cut[k]!.taken)}.`,
        remedy: 'Take smaller radii, or move the points apart.',
      });
    }
    pieces.push(...line(cut[i]!.after, cut[k]!.before));
    if (cut[k]!.turn === 0) continue;
    const a = unit(sub(at(i + 1), points[i]!)),
      b = unit(sub(at(i + 2), at(i + 1))),
      inward = unit(sub(b, scale(a, dot(a, b)))),
      radius = radii[k]!;
    pieces.push({ at: add(cut[k]!.before, scale(inward, radius)), x: scale(inward, -1), y: a, radius, length: radius * cut[k]!.turn });
  }
  return new LinesAndArcs(pieces, closed);
}

/**
 * A belt round wheels in the order of their centres, counter-clockwise about the axis as long as radii are positive; a wheel with a negative radius
 * lies outside the belt.
 * @param radii of the wheels, m
 * @param axis common direction of the wheels' axes
 * @throws Refusal where two wheels are within one another, or the centres are not in one plane
 */
export function roundWheels(centres: readonly Vec3[], radii: readonly number[], axis: Vec3, names: readonly string[]): LinesAndArcs {
  const n = centres.length,
    a = unit(axis),
    pieces: Piece[] = [];
  const apart = centres.findIndex((c) => Math.abs(dot(sub(c, centres[0]!), a)) > 1e-6);
  if (apart >= 0)
    refuse({
      code: 'belt-plane',
      message: `“${names[apart]!}” is not in one plane with “${names[0]!}” across the axis of the wheels.`,
      remedy: 'Choose the direction of the axis, or move the point.',
    });
  const none = radii.findIndex((r) => !(Math.abs(r) > 0));
  if (none >= 0) refuse({ code: 'belt-radius', message: `The wheel at “${names[none]!}” has no radius.` });
  /** Direction of each straight run and its ends, by the tangents of two circles. */
  const runs = centres.map((c, i) => {
    const k = (i + 1) % n,
      way = sub(centres[k]!, c),
      d = norm(way),
      s = (radii[i]! - radii[k]!) / d;
    if (!(d > 0) || Math.abs(s) >= 1)
      refuse({
        code: 'belt-tangent',
        message: `No belt goes from the wheel at “${names[i]!}” to that at “${names[k]!}”: one is within the other.`,
        remedy: 'Move them apart, or take smaller radii.',
      });
    const u = scale(way, 1 / d),
      w = cross(a, u),
      turn = asin(s),
      e = add(scale(u, cos(turn)), scale(w, sin(turn))),
      left = cross(a, e);
    return { e, left, from: sub(c, scale(left, radii[i]!)), to: sub(centres[k]!, scale(left, radii[k]!)) };
  });
  runs.forEach((run, i) => {
    const k = (i + 1) % n,
      next = runs[k]!,
      r = radii[k]!;
    pieces.push(...line(run.from, run.to));
    // how far it lies round the wheel: to the left round those within, to the right round those without
    const turn = atan2(dot(cross(run.e, next.e), a), dot(run.e, next.e)),
      wrap = r > 0 ? (turn < -1e-12 ? turn + TWO_PI : Math.max(0, turn)) : turn > 1e-12 ? turn - TWO_PI : Math.min(0, turn);
    if (wrap !== 0)
      pieces.push({ at: centres[k]!, x: scale(run.left, r > 0 ? -1 : 1), y: run.e, radius: Math.abs(r), length: Math.abs(r * wrap) });
  });
  return new LinesAndArcs(pieces, true);
}
