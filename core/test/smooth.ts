/** Smooth spatial machines without a closed form: what a coarse run says of them is compared with what a very exact one says. */
import type { Model, RawElement } from '../src';
import { bricard } from './benchmarks';
import { doublePendulum, model } from './models';

const e = (list: object[]) => list as RawElement[];
const DOWN = { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -9.81] };

/** A top let go with its axis aslant: fast spin, slow precession, quick nutation. */
export const fastTop = (): Model =>
  model('Fast top', {
    run: { until: '2 s', every: '10 ms' },
    points: e([{ name: 'Tip' }]),
    bodies: e([
      { name: 'Top', mass: 0.5, centre: [0, 0, 0.06], rotation: ['25 deg', 0, 0], inertia: [6e-4, 6e-4, 8e-4], spin: [0, 0, '200 rad/s'] },
    ]),
    joints: e([{ name: 'Tip joint', kind: 'spherical', bodies: ['Ground', 'Top'], at: ['Tip'] }]),
    loads: e([DOWN]),
  });

/** Spatial four-bars (a crank, a coupler on a ball and a universal joint, a rocker), each hung on the rocker of the one before. */
export const coupledLoops = (n = 3): Model => {
  const loops = Array.from({ length: n }, (_, i) => i),
    of = <T>(f: (i: number) => T[]) => loops.flatMap(f);
  const base = (i: number) => (i === 0 ? 'Ground' : `Rocker ${i - 1}`);
  return model('Coupled loops', {
    run: { until: '2 s', every: '10 ms' },
    points: e(
      of((i) => [
        { name: `A${i}`, at: [0.5 * i, 0, 0] },
        { name: `B${i}`, at: [0.5 * i, 0.05, 0.15] },
        { name: `C${i}`, at: [0.5 * i + 0.35, -0.1, 0.25] },
        { name: `D${i}`, at: [0.5 * i + 0.4, 0, 0] },
      ]),
    ),
    bodies: e(
      of((i) => [
        { name: `Crank ${i}`, origin: `A${i}`, mass: 0.6, centre: [0, 0.025, 0.075], inertia: [2e-3, 2e-3, 4e-4] },
        { name: `Coupler ${i}`, origin: `B${i}`, mass: 0.8, centre: [0.175, -0.075, 0.05], inertia: [1e-3, 9e-3, 9e-3] },
        { name: `Rocker ${i}`, origin: `D${i}`, mass: 1, centre: [0.02, -0.05, 0.12], inertia: [6e-3, 6e-3, 1e-3] },
      ]),
    ),
    joints: e(
      of((i) => [
        { name: `Crank pin ${i}`, kind: 'revolute', bodies: [base(i), `Crank ${i}`], at: [`A${i}`], axis: [1, 0, 0.2] },
        { name: `Ball ${i}`, kind: 'spherical', bodies: [`Crank ${i}`, `Coupler ${i}`], at: [`B${i}`] },
        { name: `Cross ${i}`, kind: 'spherical', bodies: [`Coupler ${i}`, `Rocker ${i}`], at: [`C${i}`] },
        { name: `Rocker pin ${i}`, kind: 'revolute', bodies: [base(i), `Rocker ${i}`], at: [`D${i}`], axis: [0, 1, 0] },
      ]),
    ),
    loads: e([
      DOWN,
      ...of((i) => [
        { name: `Spring ${i}`, kind: 'spring', bodies: [`Crank ${i}`, `Rocker ${i}`], at: [`B${i}`, `D${i}`], stiffness: 60, damping: 0 },
      ]),
    ]),
  });
};

const short = (m: Model, until: string): Model => ({ ...m, run: { ...m.run, until } });
/** None of them was used to set the tolerance of a step. */
export const SMOOTH: readonly (readonly [string, () => Model])[] = [
  ['a fast top', fastTop],
  ['an over-constrained loop', () => short(bricard(), '4 s')],
  ['coupled spatial loops', coupledLoops],
  ['a spatial double pendulum', () => short(doublePendulum(), '2 s')],
];
