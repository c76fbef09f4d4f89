/** The motion at the start: what is typed is kept, what is not follows the joints, and what contradicts them is told. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, assemble, build, check, runModel } from '../src';
import { type Vec3, add, cross, norm, scale, sub } from '../src/geometry/vector';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const number = fc.double({ min: -5, max: 5, noNaN: true });
const vec = fc.tuple(number, number, number);

const top = (body: object): Model =>
  model('Top', {
    points: e([{ name: 'O' }]),
    bodies: e([{ name: 'Top', mass: 15, centre: [0, 1, 0], inertia: [0.234375, 0.46875, 0.234375], ...body }]),
    joints: e([{ name: 'Ball', kind: 'spherical', bodies: ['Ground', 'Top'], at: ['O'] }]),
    loads: e([{ name: 'Gravity', kind: 'gravity' }]),
  });
const start = (m: Model) => {
  const mechanism = build(m).mechanism!;
  mechanism.system.K.load(assemble(mechanism).y);
  const { v, w } = mechanism.system.K;
  return {
    v: (i: number): Vec3 => [v[3 * i]!, v[3 * i + 1]!, v[3 * i + 2]!],
    w: (i: number): Vec3 => [w[3 * i]!, w[3 * i + 1]!, w[3 * i + 2]!],
  };
};
const warned = (m: Model) => check(m).diagnoses.filter((d) => d.code === 'start-contradicted');

describe('what is typed for a body on a pivot', () => {
  it('a spin alone is kept, and the centre moves with it (random spins, 1e-9)', () => {
    fc.assert(
      fc.property(vec, (spin) => {
        const s = start(top({ spin }));
        expect(norm(sub(s.w(0), spin))).toBeLessThan(1e-9 * (1 + norm(spin)));
        expect(norm(sub(s.v(0), cross(spin, [0, 1, 0])))).toBeLessThan(1e-9 * (1 + norm(spin)));
        expect(warned(top({ spin }))).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });
  it('a velocity alone is kept where the pivot allows it', () => {
    const s = start(top({ velocity: ['1 m/s', 0, '-2 m/s'] }));
    expect(norm(sub(s.v(0), [1, 0, -2]))).toBeLessThan(1e-9);
    expect(norm(sub(cross(s.w(0), [0, 1, 0]), [1, 0, -2]))).toBeLessThan(1e-9);
  });
  it('a velocity the pivot does not allow is told, by how much', () => {
    const [found, ...more] = warned(top({ velocity: ['1 m/s', '3 m/s', 0] }));
    expect(more).toEqual([]);
    expect(found).toMatchObject({ severity: 'warning', element: { family: 'bodies', name: 'Top' }, path: ['bodies', 0, 'velocity'] });
    expect(found!.message).toContain(', 3 m/s away');
  });
  it('a spin and a velocity that contradict each other are both told; a zero that is typed counts', () => {
    expect(
      warned(top({ spin: [0, 0, '2 rad/s'], velocity: [0, 0, 0] }))
        .map((d) => d.path!.at(-1))
        .sort(),
    ).toEqual(['spin', 'velocity']);
    expect(warned(top({ spin: [0, 0, '2 rad/s'], velocity: ['-2 m/s', 0, 0] }))).toEqual([]);
  });
});

describe('a chain', () => {
  const chain = (spins: readonly (Vec3 | undefined)[]): Model =>
    model('Chain', {
      points: e([{ name: 'P0' }, ...spins.map((_, i) => ({ name: `P${i + 1}`, body: `B${i}`, at: [0, 0.5, 0] }))]),
      bodies: e(
        spins.map((spin, i) => ({
          name: `B${i}`,
          origin: `P${i}`,
          mass: 1 + i,
          centre: [0, 0.2, 0],
          inertia: [0.01, 0.004, 0.01],
          ...(spin ? { spin } : {}),
        })),
      ),
      joints: e(
        spins.map((_, i) => ({ name: `J${i}`, kind: 'spherical', bodies: [i === 0 ? 'Ground' : `B${i - 1}`, `B${i}`], at: [`P${i}`] })),
      ),
    });
  it('of ball joints keeps every spin that is typed, whichever bodies have one, and closes its joints', () => {
    fc.assert(
      fc.property(fc.array(fc.option(vec, { nil: undefined }), { minLength: 2, maxLength: 5 }), (spins) => {
        const m = chain(spins),
          s = start(m);
        let pin: Vec3 = [0, 0, 0];
        spins.forEach((spin, i) => {
          if (spin) expect(norm(sub(s.w(i), spin))).toBeLessThan(1e-8 * (1 + norm(spin)));
          expect(norm(sub(s.v(i), add(pin, cross(s.w(i), [0, 0.2, 0]))))).toBeLessThan(1e-8);
          pin = add(pin, cross(s.w(i), [0, 0.5, 0]));
        });
        expect(warned(m)).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });
  it('with nothing typed stands still, and with a drive follows it', () => {
    expect(norm(start(chain([undefined, undefined])).v(1))).toBe(0);
    const driven = {
      ...chain([undefined, undefined]),
      drives: e([]),
      joints: e([
        { name: 'J0', kind: 'revolute', bodies: ['Ground', 'B0'], at: ['P0'] },
        { name: 'J1', kind: 'fixed', bodies: ['B0', 'B1'], at: ['P1'] },
      ]),
    };
    const s = start({ ...driven, drives: e([{ name: 'M', joint: 'J0', prescribes: 'speed', value: '3 rad/s' }]) });
    expect(norm(sub(s.w(1), [0, 0, 3]))).toBeLessThan(1e-9);
    expect(norm(sub(s.v(1), scale([-1, 0, 0], 3 * 0.7)))).toBeLessThan(1e-9);
  });
  it('the top of a textbook spins at the rate that is typed', () => {
    const run = runModel(
      { ...top({ spin: [0, 150, -4.61538] }), gauges: e([{ name: 'spin', kind: 'body', body: 'Top', component: 'y', axes: 'Top' }]) },
      { until: 0.5, every: 0.01 },
    );
    for (const x of run.gauge('spin')) expect(x).toBeCloseTo(150, 4);
  });
});
