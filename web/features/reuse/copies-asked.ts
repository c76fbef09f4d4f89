/** What is typed for copies, and what it means: motions of a copy each, or the fields of an instance that keeps them linked. */
import { type RawElement, readUnit } from '@vim-pivot/core/page';
import type { Motion } from '@/state/adding/reuse';

export type Way = 'row' | 'ring' | 'mirror';
export const AXES = ['x', 'y', 'z'] as const;

/** As typed. */
export interface Asked {
  way: Way;
  count: string;
  step: readonly string[];
  about: readonly string[];
  angle: string;
  /** Index of the axis of a ring, or square to a mirror. */
  axis: 0 | 1 | 2;
  /** Where the mirror crosses that axis. */
  at: string;
}
export const FIRST: Asked = {
  way: 'row',
  count: '1',
  step: ['200 mm', '0 mm', '0 mm'],
  about: ['0 mm', '0 mm', '0 mm'],
  angle: '60 deg',
  axis: 2,
  at: '0 mm',
};

const MOST = 200;
export const countOf = ({ count }: Asked): number => Math.min(MOST, Math.max(1, Math.round(Number(count)) || 1));

/** In SI; undefined where something that counts cannot be read. */
export interface Meant {
  step: [number, number, number];
  about: [number, number, number];
  angle: number;
  at: number;
}
export function meant({ way, step, about, angle, at }: Asked): Meant | undefined {
  const lengths = (list: readonly string[]) => list.map((x) => read(x, 'mm')) as [number, number, number];
  const m = { step: lengths(step), about: lengths(about), angle: read(angle, 'deg')!, at: read(at, 'mm')! };
  const counting: readonly (number | undefined)[] = { row: m.step, ring: [...m.about, m.angle], mirror: [m.at] }[way];
  return counting.includes(undefined) ? undefined : m;
}

const unitAlong = (axis: number): [number, number, number] => AXES.map((_a, k) => (k === axis ? 1 : 0)) as [number, number, number];

/** The motion of each copy. */
export function motionsOf(asked: Asked, { step, about, angle, at }: Meant): Motion[] {
  const { way, axis } = asked;
  if (way === 'mirror') return [{ type: 'mirror', axis, at }];
  return Array.from({ length: countOf(asked) }, (_, i): Motion =>
    way === 'row'
      ? { type: 'shift', by: step.map((x) => x * (i + 1)) as [number, number, number] }
      : { type: 'turn', about, axis: unitAlong(axis), angle: angle * (i + 1) },
  );
}

/** An instance in the place of a single one: a row or a ring of as many copies and the original. */
export function linked(asked: Asked, { step, about, angle }: Meant, single: RawElement): RawElement {
  const count = countOf(asked) + 1;
  if (asked.way === 'row') return { ...single, kind: 'row', count, step };
  return { ...single, kind: 'ring', count, axis: unitAlong(asked.axis), angle, ...(about.some((x) => x !== 0) ? { about } : {}) };
}

/** A number with its unit as SI; the unit may be left out. */
function read(text: string, unit: string): number | undefined {
  const m = /^\s*([-−+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*([^\s\d].*)?$/i.exec(text);
  const factor = m && readUnit(m[2]?.trim() || unit);
  const base = readUnit(unit)!;
  return factor && factor.dim.every((x, i) => x === base.dim[i]) ? Number(m[1]!.replace('−', '-')) * factor.factor : undefined;
}
