/** Machines of solids that touch, and what is seen of them. */
import { expect } from 'vitest';
import { type Model, type RawElement, runModel } from '../src';
import { model } from './models';

export const G = 9.81;
export const TURN = 2 * Math.PI;

/** Bodies that are one shape of steel each, their middles at places in m. */
export function solids(
  list: Readonly<
    Record<string, { at: readonly [number, number, number]; shape: object; velocity?: readonly number[]; spin?: readonly number[] }>
  >,
  fixed: readonly object[] = [],
): { points: RawElement[]; bodies: RawElement[]; shapes: RawElement[]; materials: RawElement[] } {
  const names = Object.keys(list);
  return {
    materials: [{ name: 'Steel', density: '7800 kg/m^3' }],
    points: [
      { name: 'Origin', at: [0, 0, 0] },
      ...names.flatMap((name) => [
        { name: `${name} at`, at: list[name]!.at },
        { name: `${name} middle`, body: name, at: [0, 0, 0] },
      ]),
    ] as unknown as RawElement[],
    bodies: names.map((name) => {
      const { velocity, spin } = list[name]!;
      return { name, origin: `${name} at`, material: 'Steel', ...(velocity ? { velocity } : {}), ...(spin ? { spin } : {}) };
    }) as unknown as RawElement[],
    shapes: [
      ...names.map((name) => ({ name: `${name} shape`, body: name, centre: `${name} middle`, ...list[name]!.shape })),
      ...fixed.map((shape, i) => ({ name: `Fixed ${i + 1}`, body: 'Ground', ...shape })),
    ] as unknown as RawElement[],
  };
}
export const BALL = { kind: 'sphere', radius: '50 mm' };
export const MASS = 7800 * (4 / 3) * Math.PI * 0.05 ** 3;
/** A slab of which the upper face is at z = 0. */
export const FLOOR = (extra: object = {}) => ({
  kind: 'box',
  centre: 'Slab middle',
  length: '200 m',
  depth: '20 m',
  height: '100 mm',
  ...extra,
});
export const SLAB = { name: 'Slab middle', at: [0, 0, '-50 mm'] } as unknown as RawElement;

export const weight = (x: number, z: number): RawElement =>
  ({ name: 'Gravity', kind: 'gravity', acceleration: [x, 0, z] }) as unknown as RawElement;
export const touching = (first: readonly string[], second: readonly string[], laws: object): RawElement =>
  ({ name: 'Contact', kind: 'contact', first, second, ...laws }) as unknown as RawElement;
/** Gauges of a body’s middle: x, y, z, vx, vy, vz, wx, wy, wz after its name. */
export const seen = (...names: readonly string[]): RawElement[] =>
  names.flatMap((body) =>
    ['x', 'y', 'z'].flatMap((component) => [
      { name: `${body} ${component}`, kind: 'point', body, at: `${body} middle`, component },
      { name: `${body} v${component}`, kind: 'point', body, at: `${body} middle`, of: 'velocity', component },
      { name: `${body} w${component}`, kind: 'body', body, of: 'velocity', component },
    ]),
  ) as unknown as RawElement[];
export const READ = [
  { name: 'Press', kind: 'load', load: 'Contact' },
  { name: 'Depth', kind: 'load', load: 'Contact', of: 'deflection' },
  { name: 'Closing', kind: 'energy', of: 'closing' },
] as RawElement[];
export type Given = ReturnType<typeof solids>;
export const machine = (
  given: Given,
  loads: readonly RawElement[],
  names: readonly string[],
  run: object,
  more: readonly RawElement[] = [],
): Model =>
  model('Touching', {
    ...given,
    points: [...given.points, SLAB],
    loads: [...loads],
    gauges: [...seen(...names), ...READ, ...more],
    run: { every: '1 ms', accuracy: 1e-8, ...run },
  });
export function done(m: Model) {
  const r = runModel(m);
  expect(r.end.status, JSON.stringify(r.end.diagnoses)).toBe('done');
  return {
    steps: r.end.statistics.steps,
    last: (gauge: string) => r.gauge(gauge).at(-1)!,
    gauge: (name: string) => r.gauge(name),
    happenings: r.end.happenings,
  };
}
