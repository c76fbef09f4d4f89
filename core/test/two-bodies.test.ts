/** Every load between two bodies: equal and opposite, and its power is what its stored energy loses, at random postures and motions. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type RawElement, build } from '../src';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const K6 = Array.from({ length: 6 }, (_, i) =>
  Array.from({ length: 6 }, (_x, j) => (i === j ? (i < 3 ? 900 : 20) : i + j === 1 ? 150 : 0)),
);

/** Loads without damping, so that all their power is stored energy. */
const LOADS: readonly [string, object][] = [
  ['spring', { kind: 'spring', bodies: ['One', 'Two'], at: ['A', 'B'], stiffness: 400, preload: 15 }],
  ['spring by a table', { kind: 'spring', bodies: ['One', 'Two'], at: ['A', 'B'], curve: 'hard' }],
  [
    'bushing',
    {
      kind: 'bushing',
      bodies: ['One', 'Two'],
      at: ['A', 'B'],
      axis: [1, 2, 3],
      stiffness: [300, 500, 900],
      torsion: [5, 8, 13],
      preload: [1, 2, 3],
    },
  ],
  ['field', { kind: 'field', bodies: ['One', 'Two'], at: ['A', 'B'], stiffness: K6 }],
  ['beam', { kind: 'beam', bodies: ['One', 'Two'], at: ['A', 'B'], axial: 5000, bendingY: 12, bendingZ: 20, torsion: 6 }],
  ['cable', { kind: 'cable', bodies: ['One', 'Two', 'One'], at: ['A', 'B', 'C'], stiffness: 700, free: 0.01 }],
];

const mechanism = (load: object) => {
  const { mechanism: m, diagnoses } = build(
    model('Pair', {
      tables: e([
        {
          name: 'hard',
          from: 'm',
          to: 'N',
          data: [
            [-2, -900],
            [-1, -200],
            [0, 0],
            [1, 200],
            [2, 900],
          ],
          between: 'akima',
          beyond: 'extend',
        },
      ]),
      points: e([{ name: 'A' }, { name: 'B', at: [0.6, 0.2, -0.1] }, { name: 'C', at: [0.1, 0.3, 0.2] }]),
      bodies: e([
        { name: 'One', mass: 2, centre: [0.05, -0.1, 0.02], inertia: [0.03, 0.04, 0.05] },
        { name: 'Two', origin: 'B', mass: 1, centre: [0, 0.1, 0.03], inertia: [0.02, 0.01, 0.025] },
      ]),
      loads: e([{ name: 'Load', ...load }]),
    }),
  );
  if (!m) throw new Error(JSON.stringify(diagnoses));
  return m;
};
const unit = fc.double({ min: -1, max: 1, noNaN: true });
const state = fc.array(unit, { minLength: 26, maxLength: 26 }).filter((s) => [3, 10].every((q) => Math.hypot(...s.slice(q, q + 4)) > 0.2));

describe.each(LOADS)('%s', (_name, load) => {
  const m = mechanism(load);
  const { K } = m.system;
  const { force } = m.assembly.forces[0]!;
  const y = new Float64Array(m.system.size),
    F = new Float64Array(18);
  const put = (s: readonly number[]) => {
    y.set(s);
    // not folded over itself: within about a right angle of the drawn posture, some way apart
    for (const q of [3, 10]) y[q] = 1.5 + Math.abs(y[q]!);
    y[7] = y[7]! + 2;
    K.load(y);
    F.fill(0);
    force.apply(K, 0, F);
  };

  it('acts with equal and opposite forces and moments', () => {
    fc.assert(
      fc.property(state, (s) => {
        put(s);
        const total = [0, 0, 0, 0, 0, 0];
        let size = 0;
        for (let i = 0; i < 2; i++) {
          const [fx, fy, fz] = [F[6 * i]!, F[6 * i + 1]!, F[6 * i + 2]!],
            [x, yy, z] = [K.r[3 * i]!, K.r[3 * i + 1]!, K.r[3 * i + 2]!];
          const own = [0, 1, 2].map((k) => [0, 1, 2].reduce((t, c) => t + K.A[9 * i + 3 * k + c]! * F[6 * i + 3 + c]!, 0));
          const moment = [yy * fz - z * fy, z * fx - x * fz, x * fy - yy * fx].map((v, k) => v + own[k]!);
          [fx, fy, fz, ...moment].forEach((v, k) => (total[k] = total[k]! + v));
          size = Math.max(size, ...[fx, fy, fz, ...moment].map(Math.abs));
        }
        for (const t of total) expect(Math.abs(t)).toBeLessThan(1e-10 * (size + 1));
      }),
      { numRuns: 100 },
    );
  });

  it('gives the power its energy loses', () => {
    fc.assert(
      fc.property(state, (s) => {
        put(s);
        let power = 0,
          size = 1;
        const step = new Float64Array(12);
        for (let i = 0; i < 2; i++)
          for (let k = 0; k < 3; k++) {
            step[6 * i + k] = K.v[3 * i + k]!;
            step[6 * i + 3 + k] = K.w[3 * i + k]!;
            const parts = [F[6 * i + k]! * K.v[3 * i + k]!, F[6 * i + 3 + k]! * K.w[3 * i + k]!];
            power += parts[0]! + parts[1]!;
            size += Math.abs(parts[0]!) + Math.abs(parts[1]!);
          }
        const h = 1e-4;
        const energy = (x: number) => {
          K.load(y);
          K.displace(step, x);
          return force.energy!(K, 0);
        };
        const rate = (8 * (energy(h) - energy(-h)) - (energy(2 * h) - energy(-2 * h))) / (12 * h);
        expect(Math.abs(power + rate)).toBeLessThan(2e-6 * size);
      }),
      { numRuns: 100 },
    );
  });
});
