/**
 * What gauges read at an instant, as expressions: in the code of a machine and by itself the same number. A new kind of gauge fails here until it has an
 * example, and is tested by having one.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, build } from '../src';
import type { Kinematics } from '../src/equations/kinematics';
import { kindsOf } from '../src/model/kinds';
import { shownUnit } from '../src/quantity/units';
import { COMPILER } from '../src/system/compiler';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const COMPONENTS = ['magnitude', 'x', 'y', 'z'];
const SEEN = { seenFrom: 'Two', axes: 'One' };

/** Of every kind: what of it a formula takes in as an expression, what it asks for, and what cannot be had at an instant. */
const EXAMPLES: Readonly<Record<string, { stated?: readonly object[]; asked?: readonly object[]; refused?: readonly object[] }>> = {
  joint: {
    stated: [{ joint: 'Pin' }, { joint: 'Pin', of: 'rate' }, { joint: 'Slide' }, { joint: 'Slide', of: 'rate' }],
    asked: [{ joint: 'Track' }],
    refused: [{ joint: 'Pin', of: 'acceleration' }],
  },
  distance: { stated: ['distance', 'rate'].map((of) => ({ bodies: ['One', 'Two'], at: ['P', 'Q'], of })) },
  angle: { stated: [{ bodies: ['One', 'Two'], first: [1, 2, 0], second: [0, 1, -1] }] },
  point: {
    stated: ['position', 'velocity'].flatMap((of) =>
      COMPONENTS.flatMap((component) => [
        { body: 'One', at: 'P', of, component },
        { body: 'One', at: 'P', of, component, ...SEEN },
      ]),
    ),
    refused: [{ body: 'One', at: 'P', of: 'acceleration' }],
  },
  body: {
    stated: COMPONENTS.flatMap((component) => [
      { body: 'One', component },
      { body: 'One', component, ...SEEN },
    ]),
    asked: [{ body: 'One', of: 'angle' }],
    refused: [{ body: 'One', of: 'acceleration' }],
  },
  formula: {
    stated: [{ value: '{Turn} * sin(t / (1 s)) + 2 * {Turn}' }, { value: '3 m + {Turn} * 1 m' }],
    asked: [{ value: '{Turned} + 1' }],
    refused: [{ value: '{Turn}', then: 'derivative' }],
  },
  momentum: { asked: [{ body: 'One' }] },
  energy: { refused: [{}] },
  gap: { asked: [] },
  load: { refused: [] },
  contact: { refused: [] },
  'load-force': { refused: [] },
  'load-energy': { refused: [] },
  reaction: { refused: [{ joint: 'Pin' }] },
  drive: { refused: [] },
  coupling: { refused: [] },
};

/** Two bodies, the first of them pushed as a gauge says. */
const machine = (gauge: object, unit?: string): Model =>
  model('Values', {
    points: e([
      { name: 'O', at: [0, 0, 0] },
      { name: 'P', body: 'One', at: [0.4, 0.1, -0.2] },
      { name: 'Q', body: 'Two', at: [-0.3, 0.2, 0.1] },
      { name: 'T1', at: [-2, 0, 0] },
      { name: 'T2', at: [0, 1, 0] },
      { name: 'T3', at: [2, 0, 1] },
    ]),
    bodies: e([
      { name: 'One', mass: 2, inertia: [1, 2, 2.5] },
      { name: 'Two', mass: 3, inertia: [2, 1, 2.5] },
    ]),
    joints: e([
      { name: 'Pin', kind: 'revolute', bodies: ['Ground', 'One'], at: ['O'], axis: [1, 2, 2] },
      { name: 'Slide', kind: 'prismatic', bodies: ['One', 'Two'], at: ['P', 'Q'], axis: [2, -1, 2] },
      ...(JSON.stringify(gauge).includes('Track')
        ? [{ name: 'Track', kind: 'point-on-curve', bodies: ['Ground', 'Two'], at: ['Q'], through: ['T1', 'T2', 'T3'] }]
        : []),
    ]),
    gauges: e([
      { name: 'Turn', kind: 'joint', joint: 'Pin' },
      { name: 'Turned', kind: 'body', body: 'One', of: 'angle' },
      { name: 'G', ...gauge },
    ]),
    loads: e(
      unit === undefined
        ? []
        : [
            {
              name: 'Push',
              kind: 'force',
              body: 'One',
              at: 'P',
              direction: [1, 2, 3],
              magnitude: `7 N * {G} / (1 ${unit || 'm/m'}) + 2 N`,
            },
          ],
    ),
  });
const pushed = (kind: string, example: object) => {
  const gauge = { kind, ...example },
    { dim } = build(machine(gauge)).mechanism!.channel('G');
  return build(machine(gauge, shownUnit(dim)));
};

const number = fc.integer({ min: -1000, max: 1000 }).map((x) => x / 1000);
const state = fc.record({ q: fc.array(number, { minLength: 12, maxLength: 12 }), u: fc.array(number, { minLength: 12, maxLength: 12 }) });
function take(K: Kinematics, { q, u }: { q: readonly number[]; u: readonly number[] }): void {
  const y = new Float64Array(K.whole.size);
  [0, 1].forEach((b) => y.set([...q.slice(6 * b, 6 * b + 3), 1.5, ...q.slice(6 * b + 3, 6 * b + 6)], 7 * b));
  y.set(u, 14);
  // turns that were counted
  y.fill(13.1, K.whole.further);
  K.loadWhole(y);
}

describe.each(kindsOf('gauges').map((k) => [k.kind] as const))('%s', (kind) => {
  const { stated = [], asked = [], refused = [] } = EXAMPLES[kind] ?? {};
  it('has an example', () => expect(EXAMPLES[kind]).toBeDefined());
  it.each(stated.map((x) => [JSON.stringify(x), x] as const))('%s: the same in the code of a machine', (_, example) => {
    const { mechanism } = pushed(kind, example),
      { system } = mechanism!,
      y = new Float64Array(system.size),
      rates = (s: Parameters<typeof take>[1]) => {
        const dy = new Float64Array(system.size);
        take(system.K, s);
        system.K.store(y);
        system.evaluate(0.7, y, dy);
        return dy;
      };
    const states = fc.sample(state, 30),
      one = states.map(rates),
      same = (other: readonly Float64Array[]) =>
        one.forEach((dy, i) => {
          const size = Math.max(...dy.map(Math.abs));
          dy.forEach((x, k) => expect(Math.abs(x - other[i]![k]!)).toBeLessThanOrEqual(1e-9 * size));
        });
    system.compile(COMPILER, 0);
    same(states.map(rates));
    expect(system.compiled).toBe(false);
    system.compile(COMPILER);
    same(states.map(rates));
    expect(system.alone).toBe(true);
    // and it is felt
    const still = build(machine({ kind, ...example })).mechanism!.system,
      free = states.map((s) => {
        take(still.K, s);
        still.accelerate(0.7);
        return still.acceleration.slice();
      });
    states.forEach((s, i) => {
      take(system.K, s);
      system.accelerate(0.7);
      expect(system.acceleration.some((x, k) => Math.abs(x - free[i]![k]!) > 1e-6)).toBe(true);
    });
  });
  it.each(asked.map((x) => [JSON.stringify(x), x] as const))('%s: asked for', (_, example) => {
    const { system } = pushed(kind, example).mechanism!;
    system.compile(COMPILER);
    take(system.K, fc.sample(state, 1)[0]!);
    system.accelerate(0);
    expect([system.compiled, system.alone]).toEqual([true, false]);
  });
  it.each(refused.map((x) => [JSON.stringify(x), x] as const))('%s: not at an instant', (_, example) => {
    expect(pushed(kind, example).mechanism).toBeUndefined();
  });
});
