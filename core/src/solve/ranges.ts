/** How far a freedom goes: from a posture both ways until it turns back (a dead centre), locks, meets a stop, or comes round again. */
import { refuse } from '../diagnosis';
import type { Freedom } from '../equations/freedom';
import { TWO_PI } from '../quantity/elementary';
import type { Mechanism } from '../system/mechanism';
import { assemble, frictionless } from './assemble';
import { combine, extent, freeBasis, freedomCount, move } from './reduced';

export type End = 'dead centre' | 'locked' | 'stop' | 'comes round' | 'endless';

export interface RangeEnd {
  /** Coordinate there, rad or m. */
  at: number;
  end: End;
  /** What ends it: the joint that takes the motion over at a dead centre, the joint that cannot close, the stop. */
  binds?: { family: string; name: string };
  /** Positions of all bodies there, seven numbers each. */
  posture: Float64Array;
}

export interface Range {
  start: number;
  lower: RangeEnd;
  upper: RangeEnd;
}

const PARTS = 120;

/** @throws Refusal when the freedom does not move at all */
export function range(m: Mechanism, joint: string, freedom: Freedom): Range {
  const { system } = m;
  const { y } = assemble(m);
  frictionless(m);
  system.K.load(y);
  const start = freedom.value(system.K);
  const upper = follow(m, joint, freedom, y, 1),
    lower = follow(m, joint, freedom, y, -1);
  return { start, lower, upper };
}

/** From a posture one way until something ends it. */
function follow(m: Mechanism, joint: string, freedom: Freedom, y: Float64Array, sense: 1 | -1): RangeEnd {
  const { system } = m;
  const { K } = system;
  K.load(y);
  K.rest();
  const turns = freedom.type === 'rotation';
  const step = new Float64Array(system.motions),
    way = new Float64Array(system.motions);
  let unwound = freedom.value(K),
    last = unwound;
  const begin = unwound,
    reach = turns ? TWO_PI : 20 * m.size;
  const posture = () => {
    const p = new Float64Array(K.whole.size);
    K.storeWhole(p);
    return p.slice(0, K.whole.motions);
  };
  const kept = new Float64Array(system.size);
  let h = 1 / PARTS;
  let first = true;
  for (let i = 0; i < 40 * PARTS; i++) {
    const d = freedomCount(system);
    if (d === 0) {
      if (first) refuse({ ...fixed(joint), message: `“${joint}” cannot move: no freedom is left.`, remedy: 'Switch the drives off.' });
      return { at: unwound, end: 'locked', posture: posture() };
    }
    const N = freeBasis(system, d);
    const c = ratesAlong(m, freedom, N);
    const size = Math.sqrt(c.reduce((s, x) => s + x * x, 0));
    if (first && !(size > 1e-9))
      refuse({ ...fixed(joint), message: `“${joint}” cannot move at this posture.`, why: 'It is at a dead centre, or held.' });
    // with one freedom go on along it, even through a dead centre; with more, where the coordinate changes
    combine(N, d === 1 ? [1] : c.map((x) => x / size), step);
    const along = first ? (d === 1 ? Math.sign(c[0]!) : 1) * sense : Math.sign(inner(step, way)) || 1;
    if (d > 1 && !first && along < 0) return dead(m, unwound, step, joint, posture());
    for (let k = 0; k < step.length; k++) step[k] = along * step[k]!;
    const rate = (d === 1 ? along * c[0]! : along * size) * sense;
    if (!first && rate < 0) {
      // it has passed its extreme: the last step is halved until the rate vanishes
      if (h < 1e-9) return dead(m, unwound, step, joint, posture());
      K.load(kept);
      system.linearise();
      h *= 0.5;
      unwound = last;
      const again = freeBasis(system, freedomCount(system));
      combine(again, d === 1 ? [1] : again.map(() => 0), step);
      const s = Math.sign(inner(step, way)) || 1;
      for (let k = 0; k < step.length; k++) step[k] = s * step[k]!;
    } else {
      K.store(kept);
      last = unwound;
      way.set(step);
    }
    const before = freedom.value(K);
    if (move(m, step, (h * 3) / Math.max(extent(system, step, m.size), 1e-300), 0) > 1e-7) {
      K.load(kept);
      h *= 0.5;
      if (h < 1e-9) return { at: last, end: 'locked', posture: posture() };
      continue;
    }
    system.linearise();
    let change = freedom.value(K) - before;
    if (turns) change -= TWO_PI * Math.round(change / TWO_PI);
    unwound += change;
    first = false;
    for (const f of m.assembly.forces) {
      if (f.force.beyond?.(K)) return { at: unwound, end: 'stop', binds: { family: 'loads', name: f.name }, posture: posture() };
    }
    if (Math.abs(unwound - begin) >= reach)
      return { at: begin + sense * reach, end: turns ? 'comes round' : 'endless', posture: posture() };
  }
  return { at: unwound, end: 'endless', posture: posture() };
}

const fixed = (joint: string) => ({ code: 'range-none', element: { family: 'joints', name: joint } });

/** How fast the coordinate changes along each free motion. */
function ratesAlong({ system }: Mechanism, freedom: Freedom, N: readonly Float64Array[]): number[] {
  const row = freedom.row(system.K);
  const { a, b } = freedom.equation;
  return N.map((n) => {
    let s = 0;
    for (let k = 0; k < 6; k++)
      s += (a < system.bodies ? row[k]! * n[6 * a + k]! : 0) + (b < system.bodies ? row[6 + k]! * n[6 * b + k]! : 0);
    return s;
  });
}

const inner = (a: Float64Array, b: Float64Array): number => {
  let s = 0;
  for (let i = 0; i < a.length; i++) s += a[i]! * b[i]!;
  return s;
};

/** At a dead centre the joint that turns most while this one stands still takes the motion over. */
function dead(m: Mechanism, at: number, step: Float64Array, joint: string, posture: Float64Array): RangeEnd {
  const { system } = m;
  let best: string | undefined,
    most = 0;
  for (const j of m.joints)
    for (const [type, f] of j.freedoms) {
      if (j.name === joint) continue;
      const row = f.row(system.K),
        { a, b } = f.equation;
      let s = 0;
      for (let k = 0; k < 6; k++)
        s += (a < system.bodies ? row[k]! * step[6 * a + k]! : 0) + (b < system.bodies ? row[6 + k]! * step[6 * b + k]! : 0);
      const size = Math.abs(s) / (type === 'rotation' ? 1 : m.size);
      if (size > most) {
        most = size;
        best = j.name;
      }
    }
  return { at, end: 'dead centre', posture, ...(best ? { binds: { family: 'joints', name: best } } : {}) };
}
