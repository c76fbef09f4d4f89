/** Machines of many sorts, and random states of them. */
import { readFileSync, readdirSync } from 'node:fs';
import type { Model } from '../src';
import { readModel } from '../src/model/file';
import type { System } from '../src/system/system';
import { bricard, fourBars, gears, rubbing, squeezer } from './benchmarks';
import { chainOf } from './chain';

const EXAMPLES = readdirSync('examples').filter((f) => f.endsWith('.pivot.json'));
/** Along the axes of the ground, both ways. */
export const ALONG = [
  [1, 0, 0],
  [-1, 0, 0],
  [0, 1, 0],
  [0, -1, 0],
  [0, 0, 1],
  [0, 0, -1],
] as const;

export const MACHINES: readonly [string, () => Model][] = [
  ...EXAMPLES.map((f): [string, () => Model] => [f, () => readModel(readFileSync(`examples/${f}`, 'utf8'))]),
  ['four-bar loops that are coupled', () => fourBars(5)],
  ['a squeezer', squeezer],
  ['a Bricard loop', bricard],
  ['a chain', () => chainOf(12)],
  ['four-bar loops without inertia', () => pointMasses(fourBars(3))],
  [
    'a gate that rubs',
    () => rubbing(readModel(readFileSync('examples/sorting-gate.pivot.json', 'utf8')), { collar: '3 mm', length: '1 m' }),
  ],
  ['gears', gears],
  ['gears that rub', () => rubbing(gears(), { collar: '3 mm', length: '1 m' }, 3)],
  ['a Bricard loop that rubs', () => rubbing(bricard(), { collar: '3 mm', length: '1 m' }, 6)],
];

/** The machine with every second body a point mass, and every third one without inertia about two axes. */
export const pointMasses = (m: Model): Model => ({
  ...m,
  bodies: m.bodies.map((b, i) => (i % 2 === 0 ? { ...b, inertia: [0, 0, 0] } : i % 3 === 0 ? { ...b, inertia: [0, 0, 1e-2] } : b)),
});

/** Numbers between −1 and 1 that look random (mulberry32). */
export const random = (seed: number) => () => {
  seed = (seed + 0x6d2b79f5) | 0;
  let x = Math.imul(seed ^ (seed >>> 15), 1 | seed);
  x = (x + Math.imul(x ^ (x >>> 7), 61 | x)) ^ x;
  return ((x ^ (x >>> 14)) >>> 0) / 2 ** 31 - 1;
};

/** The machine moved off its posture a little and set in motion, as the seed says. */
export function disturb(system: System, y: Float64Array, next: () => number): void {
  const { K, bodies } = system,
    step = Float64Array.from({ length: 6 * bodies }, () => 0.02 * next());
  K.load(y);
  K.displace(step, 1);
  for (let k = 0; k < 3 * bodies; k++) {
    K.v[k] = next();
    K.w[k] = 3 * next();
  }
  // what rubs slips now
  for (const f of system.forces) f.begin?.(K, 0);
}
