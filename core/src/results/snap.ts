/** Places in time to which a cursor snaps. */
import { type Series, crossings, extrema } from './scores';

export type SnapKind = 'peak' | 'zero' | 'event' | 'limit';
export interface SnapPlace {
  at: number;
  kind: SnapKind;
}

/** Peaks and zero crossings of a course, with times of events (contacts begin, something sticks or lets go) and of limits that are passed. */
export function snapPlaces(s: Series, events: readonly number[], limits: readonly number[]): SnapPlace[] {
  return [
    ...extrema(s).map((e): SnapPlace => ({ at: e.at, kind: 'peak' })),
    ...crossings(s, 0).map((c): SnapPlace => ({ at: c.t, kind: 'zero' })),
    ...events.map((at): SnapPlace => ({ at, kind: 'event' })),
    ...limits.map((at): SnapPlace => ({ at, kind: 'limit' })),
  ].sort((a, b) => a.at - b.at);
}

/** The nearest place within reach of a time, s; undefined if there is none. */
export function snapTo(places: readonly SnapPlace[], t: number, reach: number): SnapPlace | undefined {
  let best: SnapPlace | undefined;
  for (const p of places) if (Math.abs(p.at - t) <= reach && (!best || Math.abs(p.at - t) < Math.abs(best.at - t))) best = p;
  return best;
}

/** The next place of a kind after a time, or the last before it. */
export function nextPlace(places: readonly SnapPlace[], kind: SnapKind, t: number, forward: boolean): SnapPlace | undefined {
  const own = places.filter((p) => p.kind === kind && (forward ? p.at > t + 1e-9 : p.at < t - 1e-9));
  return forward ? own[0] : own.at(-1);
}
