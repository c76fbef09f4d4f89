/** Stiffness from next to nothing to beyond all measure, without damping: modes, statics, linear systems and runs are right, or end in words. */
import { describe, expect, it } from 'vitest';
import { type Mechanism, type Model, type RawElement, Refusal, assemble, build, runModel } from '../src';
import { equilibrium, linearSystem, modes, poles } from '../src/analyses';
import { model } from './models';
import { SLENDER, slender } from './slender';

const e = (list: object[]) => list as RawElement[];
const [m1, m2] = [2, 0.5];
/** Two blocks in a row, each on a spring. */
const pair = (k1: number, k2: number): Model =>
  model('Pair', {
    run: { until: 0.5, every: 0.05 },
    points: e([{ name: 'O' }, { name: 'P', at: [1, 0, 0] }]),
    bodies: e([
      { name: 'One', mass: m1, inertia: [1, 1, 1] },
      { name: 'Two', origin: 'P', mass: m2, inertia: [1, 1, 1] },
    ]),
    joints: e([
      { name: 'S1', kind: 'prismatic', bodies: ['Ground', 'One'], at: ['O'], axis: [0, 0, 1] },
      { name: 'S2', kind: 'prismatic', bodies: ['One', 'Two'], at: ['P'], axis: [0, 0, 1] },
    ]),
    loads: e([
      { name: 'K1', kind: 'joint-spring', joint: 'S1', stiffness: k1 },
      { name: 'K2', kind: 'joint-spring', joint: 'S2', stiffness: k2 },
      { name: 'Weight', kind: 'gravity', acceleration: [0, 0, -9.81] },
      { name: 'Push', kind: 'force', body: 'Two', at: 'P', direction: [0, 0, 1], magnitude: 0 },
    ]),
    gauges: e([{ name: 'x', kind: 'joint', joint: 'S1' }]),
  });
function standing(of: Model): Mechanism {
  const { mechanism } = build(of);
  mechanism!.system.K.load(assemble(mechanism!).y);
  return mechanism!;
}
/** ω of both, the slower first: of λ² − (a + b + c) λ + a c. */
function rates(k1: number, k2: number): [number, number] {
  const [a, b, c] = [k1 / m1, k2 / m1, k2 / m2],
    trace = a + b + c,
    fast = 0.5 * (trace + Math.sqrt(trace * trace - 4 * a * c));
  return [Math.sqrt((a * c) / fast), Math.sqrt(fast)];
}
const SIZES = [-6, -2, 0, 4, 8, 12, 16, 20].map((x) => 10 ** x);

describe.each(SIZES.map((k) => [k] as const))('springs of %d N/m', (k) => {
  it.each([
    ['both', k, k],
    ['the first, the other of 100 N/m', k, 100],
    ['the second, the first of 100 N/m', 100, k],
  ])('%s: frequencies and poles', (_, k1, k2) => {
    const [slow, fast] = rates(k1, k2),
      m = standing(pair(k1, k2));
    try {
      equilibrium(m);
    } catch (error) {
      // so soft that it sags out of the world
      expect(error).toBeInstanceOf(Refusal);
      expect(Math.min(k1, k2)).toBeLessThan(1);
      return;
    }
    const found = modes(m).modes.map((x) => 2 * Math.PI * x.frequency);
    expect(found).toHaveLength(2);
    // digits of the slower are lost beside the faster
    const lost = 1e-15 * (fast / slow) ** 2;
    expect(Math.abs(found[1]! / fast - 1)).toBeLessThan(1e-10);
    if (lost < 0.1) expect(Math.abs(found[0]! / slow - 1)).toBeLessThan(1e-10 + lost);
    const p = poles(linearSystem(m, 0, ['Push'], ['x'])).map((r) => Math.abs(r.im));
    expect(Math.abs(Math.max(...p) / fast - 1)).toBeLessThan(1e-9);
  });
  it('sags as both say, or it is told that it falls out of the world', () => {
    const m = standing(pair(k, k)),
      sag = ((m1 + m2) * 9.81) / k;
    try {
      equilibrium(m);
      expect(-m.system.K.r[2]! / sag).toBeCloseTo(1, k > 1e12 ? 2 : 8);
    } catch (error) {
      expect((error as Refusal).diagnoses[0]!.code).toBe('statics-none');
      expect(k).toBeLessThan(1);
    }
  });
  it.each(['auto', 'implicit'] as const)('%s steps come to the end, or say what holds them up', (method) => {
    const { end } = runModel(pair(100, k), { method, accuracy: 1e-4 });
    if (end.status !== 'done') {
      expect(end.diagnoses.some((d) => d.severity === 'error' && d.message.length > 10)).toBe(true);
      expect(k).toBeGreaterThan(1e12);
    }
  });
});

describe('beams of any stiffness', () => {
  it.each([
    ['ordinary', {}, false],
    ['hardly any stretching', { EA: 1e11 }, false],
    ['beyond all measure', { EA: 1e20 }, true],
    ['with next to no mass', { mass: 1e-9 }, false],
  ] as const)('%s: modes and statics are right, or it is told that digits are lost', (_, over, lost) => {
    const b = { ...SLENDER, gravity: 1e-3, ...over },
      m = standing(slender(b)),
      known = (1.875104068711961 ** 2 * Math.sqrt(b.EI / b.mass)) / (2 * Math.PI * b.length ** 2),
      found = modes(m),
      told = found.diagnoses.some((d) => d.code === 'modes-rounded');
    expect(told).toBe(lost);
    if (!told) expect(Math.abs(found.modes[0]!.frequency / known - 1)).toBeLessThan(1e-5);
    const sag = (b.mass * b.gravity * b.length ** 4) / (8 * b.EI);
    try {
      equilibrium(m);
      expect(Math.abs(-m.system.K.r[11]! / sag - 1)).toBeLessThan(1e-4);
    } catch (error) {
      expect((error as Refusal).diagnoses[0]!.code).toBe('statics-rounded');
      expect(lost).toBe(true);
    }
  });
});
