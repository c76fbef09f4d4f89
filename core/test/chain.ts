import type { RawElement } from '../src';
import { model } from './models';

/** An open chain of bars on pins, hanging from the ground. */
export function chainOf(n: number) {
  const list = (k: object[]) => k as RawElement[];
  const bars = Array.from({ length: n }, (_, i) => i);
  return model(`${n} bars`, {
    run: { until: 1, every: 0.1 },
    points: list([{ name: 'Hook' }, ...bars.map((i) => ({ name: `P${i}`, body: `B${i}`, at: [0.2, 0, 0] }))]),
    bodies: list(
      bars.map((i) => ({
        name: `B${i}`,
        origin: i === 0 ? 'Hook' : `P${i - 1}`,
        mass: 0.5,
        centre: [0.1, 0, 0],
        inertia: [1e-3, 2e-3, 2e-3],
      })),
    ),
    joints: list(
      bars.map((i) => ({
        name: `J${i}`,
        kind: 'revolute',
        bodies: [i === 0 ? 'Ground' : `B${i - 1}`, `B${i}`],
        at: [i === 0 ? 'Hook' : `P${i - 1}`],
        axis: i % 2 ? [0, 1, 0] : [0, 0, 1],
      })),
    ),
    loads: list([{ name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] }]),
  });
}
