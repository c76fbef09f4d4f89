/**
 * The only freedom of a machine followed all the way, with what pushes the machine along it: by small steps both ways until it comes round, locks or has gone
 * far. Where the push changes sign, or comes so near to zero that it might between two steps, the steps are made smaller.
 */
import type { Mechanism } from '../system/mechanism';
import { SmallMotions } from './small-motions';
import { extent, freeBasis, freedomCount, massTimes, move } from './reduced';

/** Steps, in parts of the machine's size or rad; how far at most; and into how many a step is parted, how often. */
const STEP = 0.02;
export const FARTHEST = 20;
const PARTS = 8;
const DEPTH = 3;
/** Part of what a parabola through three places comes to next to zero that is looked at more closely. */
const NEAR = 0.3;

/** That in words. */
export const FAR = `up to ${FARTHEST} rad, or times the size of the machine, each way`;

interface Place {
  readonly y: Float64Array;
  /** Where it goes on to: a motion that goes so far as one step. */
  readonly way: Float64Array;
  /** Push along it; 0 where it is no more than rounding. */
  readonly push: number;
}

export interface Along {
  /** States next to which the push vanishes. */
  readonly near: Float64Array[];
  /** How far it was followed, in words; and whether it came round. */
  readonly how: string;
  readonly round: boolean;
}

/** @param start a state on the constraints, at rest */
export function along(m: Mechanism, t: number, start: Float64Array): Along {
  const { system } = m,
    { K } = system;
  K.load(start);
  K.rest();
  const of: Asked = { m, t, noise: new SmallMotions(m).at(t).noise },
    here = at(of, undefined);
  if (!here) return { near: [], how: 'at this posture, where it cannot move', round: false };
  const forward = follow(of, here, here),
    back = forward.end === 'round' ? undefined : follow(of, { ...here, way: here.way.map((x) => -x), push: -here.push }, here),
    ways = [forward, ...(back ? [back] : [])],
    ends = ways.map((w) => w.end),
    how = ends.includes('round')
      ? 'on the whole way round'
      : ends.every((e) => e === 'locked')
        ? 'from one end of its way to the other'
        : FAR;
  return { near: ways.flatMap((w) => w.near), how, round: ends.includes('round') };
}

/** Of which machine, at what time, and what accelerations are rounding there. */
interface Asked {
  readonly m: Mechanism;
  readonly t: number;
  readonly noise: number;
}

/** The place in K; undefined where it cannot move. @param before the way it comes */
function at({ m, t, noise }: Asked, before: Float64Array | undefined): Place | undefined {
  const { system } = m,
    { K } = system;
  system.linearise();
  if (freedomCount(system) !== 1) return undefined;
  const way = freeBasis(system, 1)[0]!,
    far = extent(system, way, m.size),
    sense = before && dot(way, before) < 0 ? -1 : 1;
  if (!(far > 0)) return undefined;
  for (let i = 0; i < way.length; i++) way[i] = (sense * STEP * way[i]!) / far;
  system.accelerate(t);
  const push = new Float64Array(way.length),
    y = new Float64Array(system.size);
  massTimes(system, system.acceleration, push);
  K.store(y);
  const along = dot(push, way),
    mass = new Float64Array(way.length);
  massTimes(system, way, mass);
  return { y, way, push: Math.abs(along) <= noise * Math.sqrt(dot(mass, way)) ? 0 : along };
}

const dot = (a: Float64Array, b: Float64Array): number => a.reduce((s, x, i) => s + x * b[i]!, 0);

/** So far along from a place. @returns the place there */
function go(of: Asked, from: Place, part: number): Place | undefined {
  const { m, t } = of;
  m.system.K.load(from.y);
  m.system.linearise();
  return move(m, from.way, part, t) < 1e-8 ? at(of, from.way) : undefined;
}

function follow(of: Asked, from: Place, home: Place): { near: Float64Array[]; end: 'round' | 'locked' | 'far' } {
  const near: Float64Array[] = [];
  let before: Place | undefined,
    here = from;
  for (let k = 0; k < FARTHEST / STEP; k++) {
    const next = go(of, here, 1);
    if (!next) {
      // the last part of the way, in smaller and smaller steps
      between(of, undefined, here, undefined, near, 0);
      return { near, end: 'locked' };
    }
    between(of, before, here, next, near, 0);
    before = here;
    here = next;
    if (k > 10 && apart(of.m, next.y, home.y) < 1.1 * STEP && dot(next.way, home.way) * dot(from.way, home.way) > 0) {
      between(of, before, here, undefined, near, 0);
      return { near, end: 'round' };
    }
  }
  return { near, end: 'far' };
}

/** How far two states are from each other, in parts of the machine's size or rad. */
function apart(m: Mechanism, a: Float64Array, b: Float64Array): number {
  const { layout } = m.system.K;
  let most = 0;
  // a spring that is wound up knows how often
  for (const c of m.counters)
    for (let k = 0; k < c.states; k++) most = Math.max(most, Math.abs(a[layout.further + c.first + k]! - b[layout.further + c.first + k]!));
  for (let i = 0; i < layout.bodies; i++) {
    const p = layout.posture[i]!,
      q = layout.turn[i]!;
    for (let k = 0; k < 3; k++) most = Math.max(most, Math.abs(a[p + k]! - b[p + k]!) / m.size);
    let s = 0;
    for (let k = 0; k < 4; k++) s += a[q + k]! * b[q + k]!;
    most = Math.max(most, 2 * Math.sqrt(Math.max(0, 2 * (1 - Math.abs(s)))));
  }
  return most;
}

/** Looks for zeros of the push between two places. @param before a place before them */
function between(of: Asked, before: Place | undefined, a: Place, b: Place | undefined, near: Float64Array[], depth: number): void {
  // where nothing pushes from place to place it is neutral
  if (a.push === 0 && b && b.push !== 0) near.push(a.y);
  if (!b) {
    if (depth >= DEPTH) return;
    let last: Place | undefined,
      here = a;
    for (let k = 1; k < PARTS; k++) {
      const next = go(of, a, k / PARTS);
      if (!next) return;
      between(of, last, here, next, near, depth + 1);
      last = here;
      here = next;
    }
    return;
  }
  if (a.push * b.push < 0) {
    let [lo, hi, low] = [0, 1, a.push];
    let found: Place = a;
    for (let k = 0; k < 40; k++) {
      const mid = go(of, a, 0.5 * (lo + hi));
      if (!mid) break;
      found = mid;
      if (mid.push * low > 0) [lo, low] = [0.5 * (lo + hi), mid.push];
      else hi = 0.5 * (lo + hi);
    }
    near.push(found.y);
    return;
  }
  if (depth >= DEPTH || !before || a.push === 0 || b.push === 0) return;
  // a parabola through three places that comes near to zero beside them
  const bend = before.push - 2 * a.push + b.push,
    slope = 0.5 * (b.push - before.push),
    least = bend === 0 ? Math.abs(a.push) : Math.abs(a.push - (slope * slope) / (2 * bend)),
    where = bend === 0 ? Infinity : -slope / bend;
  if (!(Math.abs(where) <= 1.5 && least < NEAR * Math.max(Math.abs(a.push), Math.abs(b.push)))) return;
  let last: Place | undefined = before,
    here = a,
    smallest = a;
  for (let k = 1; k <= PARTS; k++) {
    const next = k === PARTS ? b : go(of, a, k / PARTS);
    if (!next) return;
    if (Math.abs(next.push) < Math.abs(smallest.push)) smallest = next;
    between(of, last, here, next, near, depth + 1);
    last = here;
    here = next;
  }
  // where it touches zero without passing it
  if (depth === DEPTH - 1) near.push(smallest.y);
}
