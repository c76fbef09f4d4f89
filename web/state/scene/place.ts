/** Moving points and bodies by hand: coordinates that are plain numbers follow, those that are formulas stay. */
import { type Matrix4, Vector3 } from 'three';
import {
  IDENTITY,
  cross,
  fromColumns,
  unit,
  type Layout,
  type Mat3,
  type Vec3,
  add,
  apply,
  layOut,
  mul,
  shortestTurn,
  sub,
  toRollPitchYaw,
  transpose,
} from '@vim-pivot/core/drawn';
import { type LiveValue, type Model, type RawElement, kindOf } from '@vim-pivot/core/page';
import { isLiteral, rawAt, siAt, textOf } from '../document/elements';

type Live = ReadonlyMap<string, LiveValue>;
const AXES = [0, 1, 2] as const;

/** The coordinates of a point, m, and which of them are formulas. */
export function coordinatesOf(
  model: Model,
  live: Live,
  name: string,
): { at: [number, number, number]; held: [boolean, boolean, boolean]; body: string } | undefined {
  const index = model.points.findIndex((p) => p.name === name);
  const e = model.points[index];
  if (!e) return undefined;
  const part = (k: number) => rawAt('points', e, { field: 'at', part: k }).value;
  const value = (k: number) => siAt('points', index, e, { field: 'at', part: k }, live);
  const held = (k: number) => typeof part(k) === 'string' && !isLiteral(textOf(part(k)));
  return {
    at: [value(0), value(1), value(2)],
    held: [held(0), held(1), held(2)],
    body: typeof e.body === 'string' && e.body !== '' ? e.body : model.ground,
  };
}

/** Where points and bodies stand as drawn: the engine's own layout, on the values the page knows. @throws Refusal when they hang on each other in a circle */
export function drawnLayout(model: Model, live: Live): Layout {
  const values = (family: 'points' | 'bodies', e: RawElement, index: number): Record<string, unknown> => {
    const part = (field: string) => AXES.map((k) => siAt(family, index, e, { field, part: k }, live));
    const name = (field: string) => (typeof e[field] === 'string' && e[field] !== '' ? e[field] : undefined);
    return family === 'points'
      ? { body: name('body'), at: part('at') }
      : { origin: name('origin'), aim: name('aim'), rotation: part('rotation') };
  };
  const placed = (family: 'points' | 'bodies') =>
    model[family].map((e, index) => ({ name: e.name, index, values: values(family, e, index) }));
  return layOut({ model, elements: { points: placed('points'), bodies: placed('bodies') } });
}

/** The rotation field of a body that is to stand turned so, given the direction in which it is aimed. */
export function rotationFor(turn: Mat3, along: Vec3 | undefined): (number | string)[] | undefined {
  const own = along ? mul(transpose(shortestTurn([1, 0, 0], along)), turn) : turn;
  const degrees = toRollPitchYaw(own).map((a) => {
    const d = Number(((a * 180) / Math.PI).toFixed(9)) + 0;
    return d === 0 ? 0 : `${d} deg`;
  });
  return degrees.every((d) => d === 0) ? undefined : degrees;
}

/** The rotation of a flat body whose x axis runs along a direction and whose y axis points against a normal. */
export function turnAlong(along: Vec3, normal: Vec3): (number | string)[] | undefined {
  const x = unit(along),
    y: Vec3 = [-normal[0], -normal[1], -normal[2]];
  return rotationFor(fromColumns(x, y, cross(x, y)), undefined);
}

/** Rotation and shift of a rigid motion. */
export const partsOf = (m: Matrix4): { turn: Mat3; shift: Vec3 } => {
  const e = m.elements;
  return { turn: [e[0], e[4], e[8], e[1], e[5], e[9], e[2], e[6], e[10]], shift: [e[12], e[13], e[14]] };
};

/** A length as it is written into the model. */
export const written = (metres: number): string | number => {
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
  const own = base.bodies[at],
    target = m.bodies.find((b) => b.name === body);
  if (!own || !target) return undefined;
  const stays: string[] = [];
  for (const n of pointsOf(base, body)) {
    const known = coordinatesOf(base, live, n)!;
    const to = new Vector3(...known.at).applyMatrix4(motion).toArray();
    writePoint(m, n, to, known.held);
    if (AXES.some((k) => known.held[k] && Math.abs(to[k]! - known.at[k]) > 1e-6)) stays.push(`${n} (a formula)`);
  }
  const { turn, shift } = partsOf(motion);
  if (typeof own.origin !== 'string' || own.origin === '') {
    if (shift.some((x) => x !== 0)) {
      // its axes stood at the ground origin: they get a point of their own
      const name = `${body} origin`;
      if (!m.points.some((p) => p.name === name)) m.points.push({ name });
      writePoint(m, name, shift, [false, false, false]);
      target.origin = name;
    }
  }
  if (turn.some((x, i) => Math.abs(x - IDENTITY[i]!) > 1e-7)) {
    const formula = AXES.some((k) => {
      const raw = rawAt('bodies', own, { field: 'rotation', part: k }).value;
      return typeof raw === 'string' && !isLiteral(raw);
    });
    if (formula) stays.push('its rotation (a formula)');
    else {
      const before = drawnLayout(base, live);
      // a point it aims at that hangs on another body stays where it is
      const goes = new Set(pointsOf(base, body));
      const moved = (n: string): Vec3 => (goes.has(n) ? add(shift, apply(turn, before.point(n))) : before.point(n));
      const aimed =
        typeof own.aim === 'string' && own.aim !== '' && typeof own.origin === 'string'
          ? sub(moved(own.aim), moved(own.origin))
          : undefined;
      target.rotation = rotationFor(mul(turn, before.body(body).turn), aimed);
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
export function snapped(
  p: readonly number[],
  others: readonly { name: string; at: readonly number[] }[],
  step: number,
  reach: number,
  free: readonly boolean[],
): Snap {
  const onto: string[] = [];
  const near = others.find((o) => AXES.every((k) => Math.abs(o.at[k]! - p[k]!) < reach || !free[k]) && AXES.some((k) => free[k]));
  if (near) return { at: AXES.map((k) => (free[k] ? near.at[k]! : p[k]!)) as Snap['at'], onto: [near.name] };
  const at = AXES.map((k) => {
    if (!free[k]) return p[k]!;
    if (Math.abs(p[k]!) < reach / 2) return 0;
    const o = others
      .filter((x) => Math.abs(x.at[k]! - p[k]!) < reach)
      .sort((a, b) => Math.abs(a.at[k]! - p[k]!) - Math.abs(b.at[k]! - p[k]!))[0];
    if (o) {
      onto.push(`${'xyz'[k]} of ${o.name}`);
      return o.at[k]!;
    }
    return Math.round(p[k]! / step) * step;
  });
  return { at: at as Snap['at'], onto };
}
