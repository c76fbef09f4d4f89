/** Moving points and bodies by hand: coordinates that are plain numbers follow, those that are formulas stay. */
import { Euler, Matrix4, Quaternion, Vector3 } from 'three';
import { type LiveValue, type Model, type RawElement, kindOf } from '@vim-pivot/core/page';
import { isLiteral, pathOf, rawAt, textOf } from './elements';

type Live = ReadonlyMap<string, LiveValue>;
const AXES = [0, 1, 2] as const;

/** The coordinates of a point, m, and which of them are formulas. */
export function coordinatesOf(model: Model, live: Live, name: string): { at: [number, number, number]; held: [boolean, boolean, boolean]; body: string } | undefined {
  const index = model.points.findIndex((p) => p.name === name);
  const e = model.points[index];
  if (!e) return undefined;
  const part = (k: number) => rawAt('points', e, { field: 'at', part: k }).value;
  const value = (k: number) => live.get(pathOf('points', index, { field: 'at', part: k }))?.value ?? (typeof part(k) === 'number' ? (part(k) as number) : 0);
  const held = (k: number) => typeof part(k) === 'string' && !isLiteral(textOf(part(k)));
  return { at: [value(0), value(1), value(2)], held: [held(0), held(1), held(2)], body: typeof e.body === 'string' && e.body !== '' ? e.body : model.ground };
}

const shortestTo = (along: Vector3): Quaternion => new Quaternion().setFromUnitVectors(new Vector3(1, 0, 0), along.clone().normalize());

/** Where points and bodies stand as drawn, in the ground; points may hang on bodies and bodies on points. */
export function drawnLayout(model: Model, live: Live): { point(name: string): Vector3; turn(body: string): Quaternion } {
  const points = new Map<string, Vector3>(), turns = new Map<string, Quaternion>();
  const busy = new Set<string>();
  function point(name: string): Vector3 {
    const known = points.get(name);
    if (known) return known.clone();
    const c = coordinatesOf(model, live, name);
    if (!c || busy.has(`p${name}`)) return new Vector3();
    busy.add(`p${name}`);
    const at = new Vector3(...c.at);
    if (c.body !== model.ground) at.applyQuaternion(turn(c.body)).add(origin(c.body));
    busy.delete(`p${name}`);
    points.set(name, at);
    return at.clone();
  }
  const origin = (body: string): Vector3 => {
    const b = model.bodies.find((x) => x.name === body);
    return typeof b?.origin === 'string' && b.origin !== '' ? point(b.origin) : new Vector3();
  };
  function turn(body: string): Quaternion {
    const known = turns.get(body);
    if (known) return known.clone();
    const index = model.bodies.findIndex((x) => x.name === body), b = model.bodies[index];
    if (!b || busy.has(`b${body}`)) return new Quaternion();
    busy.add(`b${body}`);
    const angle = (k: number) => live.get(pathOf('bodies', index, { field: 'rotation', part: k }))?.value ?? (Array.isArray(b.rotation) && typeof b.rotation[k] === 'number' ? (b.rotation[k] as number) : 0);
    const q = new Quaternion().setFromEuler(new Euler(angle(0), angle(1), angle(2), 'ZYX'));
    if (typeof b.aim === 'string' && b.aim !== '') q.premultiply(shortestTo(point(b.aim).sub(origin(body))));
    busy.delete(`b${body}`);
    turns.set(body, q);
    return q.clone();
  }
  return { point, turn };
}

/** A length as it is written into the model. */
const written = (metres: number): string | number => {
  const mm = Number((metres * 1000).toFixed(4));
  return mm === 0 ? 0 : `${mm} mm`;
};

/** Writes coordinates (m, in the axes the point is given in); formulas are left alone. */
export function writePoint(m: Model, name: string, to: readonly number[], held: readonly boolean[]): void {
  const e = m.points.find((p) => p.name === name);
  if (!e) return;
  const before = rawAt('points', e, { field: 'at' }).value;
  const now = Array.isArray(before) ? [...(before as (number | string)[])] : [0, 0, 0];
  e.at = AXES.map((k) => (held[k] ? now[k]! : written(to[k]!)));
}

/** Points given in the ground on which a body's place and shapes hang: they go where the body goes. */
export function pointsOf(model: Model, body: string): string[] {
  const own = model.bodies.find((b) => b.name === body);
  if (!own) return [];
  const named = new Set<string>();
  const take = (e: RawElement, family: 'bodies' | 'shapes') => {
    for (const [key, f] of Object.entries(kindOf(family, e)?.fields ?? {})) {
      if ((f.type !== 'ref' && f.type !== 'refs') || f.family !== 'points') continue;
      for (const n of [e[key]].flat()) if (typeof n === 'string') named.add(n);
    }
  };
  take(own, 'bodies');
  for (const s of model.shapes) if (s.body === body) take(s, 'shapes');
  return [...named].filter((n) => {
    const home = model.points.find((p) => p.name === n)?.body;
    return home === undefined || home === '' || home === model.ground;
  });
}

/**
 * Moves a body as drawn by a rigid motion: the ground points it hangs on go along, its axes turn.
 * @returns what stays behind, in words; undefined when all of it goes
 */
export function moveBody(m: Model, live: Live, body: string, motion: Matrix4, base: Model): string | undefined {
  const at = base.bodies.findIndex((b) => b.name === body);
  const own = base.bodies[at], target = m.bodies.find((b) => b.name === body);
  if (!own || !target) return undefined;
  const stays: string[] = [];
  for (const n of pointsOf(base, body)) {
    const known = coordinatesOf(base, live, n)!;
    const to = new Vector3(...known.at).applyMatrix4(motion).toArray();
    writePoint(m, n, to, known.held);
    if (AXES.some((k) => known.held[k] && Math.abs(to[k]! - known.at[k]) > 1e-6)) stays.push(`${n} (a formula)`);
  }
  const turn = new Quaternion().setFromRotationMatrix(motion);
  if (typeof own.origin !== 'string' || own.origin === '') {
    if (motion.elements[12] !== 0 || motion.elements[13] !== 0 || motion.elements[14] !== 0) {
      // its axes stood at the ground origin: they get a point of their own
      const name = `${body} origin`;
      if (!m.points.some((p) => p.name === name)) m.points.push({ name });
      writePoint(m, name, [motion.elements[12]!, motion.elements[13]!, motion.elements[14]!], [false, false, false]);
      target.origin = name;
    }
  }
  if (2 * Math.acos(Math.min(1, Math.abs(turn.w))) > 1e-6) {
    const formula = AXES.some((k) => {
      const raw = rawAt('bodies', own, { field: 'rotation', part: k }).value;
      return typeof raw === 'string' && !isLiteral(raw);
    });
    if (formula) stays.push('its rotation (a formula)');
    else {
      const before = drawnLayout(base, live);
      let now = turn.clone().multiply(before.turn(body));
      const origin = typeof own.origin === 'string' ? own.origin : undefined;
      // a point it aims at that hangs on another body stays where it is
      const goes = new Set(pointsOf(base, body));
      const moved = (n: string) => (goes.has(n) ? before.point(n).applyMatrix4(motion) : before.point(n));
      if (typeof own.aim === 'string' && own.aim !== '' && origin) now = shortestTo(moved(own.aim).sub(moved(origin))).invert().multiply(now);
      const e = new Euler().setFromQuaternion(now, 'ZYX');
      const degrees = [e.x, e.y, e.z].map((a) => {
        const d = Number(((a * 180) / Math.PI).toFixed(6));
        return d === 0 ? 0 : `${d} deg`;
      });
      target.rotation = degrees.every((d) => d === 0) ? undefined : degrees;
    }
  }
  return stays.length > 0 ? stays.join(', ') : undefined;
}

/** What a moved point came to rest on. */
export interface Snap {
  at: [number, number, number];
  /** In words, such as “x of C”. */
  onto: string[];
}

/**
 * Draws coordinates that come near those of another point onto them, and the rest onto a grid.
 * @param reach how near is near, m
 * @param free axes along which it moves
 */
export function snapped(p: readonly number[], others: readonly { name: string; at: readonly number[] }[], step: number, reach: number, free: readonly boolean[]): Snap {
  const onto: string[] = [];
  const near = others.find((o) => AXES.every((k) => Math.abs(o.at[k]! - p[k]!) < reach || !free[k]) && AXES.some((k) => free[k]));
  if (near) return { at: AXES.map((k) => (free[k] ? near.at[k]! : p[k]!)) as Snap['at'], onto: [near.name] };
  const at = AXES.map((k) => {
    if (!free[k]) return p[k]!;
    if (Math.abs(p[k]!) < reach / 2) return 0;
    const o = others.filter((x) => Math.abs(x.at[k]! - p[k]!) < reach).sort((a, b) => Math.abs(a.at[k]! - p[k]!) - Math.abs(b.at[k]! - p[k]!))[0];
    if (o) {
      onto.push(`${'xyz'[k]} of ${o.name}`);
      return o.at[k]!;
    }
    return Math.round(p[k]! / step) * step;
  });
  return { at: at as Snap['at'], onto };
}
