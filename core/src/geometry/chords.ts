/** Equal chords along a curve: each next place lies on the curve at a given straight distance from the one before. */
import type { Curve } from './curve';
import { type Vec3, norm, sub } from './vector';

const placeAt = (curve: Curve, u: number): Vec3 => {
  curve.at(u);
  return [curve.c[0]!, curve.c[1]!, curve.c[2]!];
};
/** Length of a whole curve, m. */
export const pathLength = (curve: Curve): number => curve.lengthTo(curve.end);

/** The next parameter after u at which f, negative at first, becomes zero: small steps forward, then bisection. */
function firstAfter(u: number, most: number, f: (u: number) => number, step: number): number | undefined {
  let lo = u,
    hi = u;
  do {
    lo = hi;
    if (lo >= most) return undefined;
    hi = Math.min(most, hi + step);
  } while (f(hi) < 0);
  for (let i = 0; i < 80 && hi - lo > 1e-16 * most; i++) {
    const mid = (lo + hi) / 2;
    if (f(mid) < 0) lo = mid;
    else hi = mid;
  }
  return hi;
}

/**
 * Places from the start of the curve, count + 1 where they have room; a closed curve is followed at most once round and a little more.
 * @param by whether `distance` (m) is the straight distance, or the length along the curve
 */
export function chords(curve: Curve, distance: number, count: number, by: 'chord' | 'length' = 'chord'): Vec3[] {
  const out = [placeAt(curve, 0)];
  const most = curve.closed ? 1.05 * curve.end : curve.end * (1 + 1e-9);
  const pace = curve.end / Math.max(pathLength(curve), 1e-300);
  let u = 0;
  while (out.length <= count) {
    const from = out.at(-1)!,
      s = by === 'length' ? curve.lengthTo(u) : 0;
    const next = firstAfter(
      u,
      most,
      by === 'length' ? (w) => curve.lengthTo(w) - s - distance : (w) => norm(sub(placeAt(curve, w), from)) - distance,
      (distance * pace) / 8,
    );
    if (next === undefined) break;
    out.push(placeAt(curve, next));
    u = next;
  }
  return out;
}

/** How far along the curve (in its parameter) so many chords reach; beyond its end by the missing rest. */
function reach(curve: Curve, chord: number, count: number): number {
  const pace = curve.end / pathLength(curve),
    most = 1.05 * curve.end;
  let u = 0;
  for (let i = 0; i < count; i++) {
    const from = placeAt(curve, u);
    const next = firstAfter(u, most, (w) => norm(sub(placeAt(curve, w), from)) - chord, (chord * pace) / 8);
    if (next === undefined) return curve.end + (count - i) * chord * pace;
    u = next;
  }
  return u;
}

/** The chord of which so many go from end to end, or just round a closed curve, m. */
export function fittingChord(curve: Curve, count: number): number {
  let hi = pathLength(curve) / count;
  if (count === 1 && !curve.closed) return norm(sub(placeAt(curve, curve.end), placeAt(curve, 0)));
  let lo = hi / 4;
  while (reach(curve, lo, count) > curve.end) lo /= 2;
  hi *= 1 + 1e-9;
  for (let i = 0; i < 100 && hi - lo > 1e-15 * hi; i++) {
    const mid = (lo + hi) / 2;
    if (reach(curve, mid, count) < curve.end) lo = mid;
    else hi = mid;
  }
  return lo;
}
