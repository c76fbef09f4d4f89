/** Bodies without inertia about one, two or all axes: right wherever no free direction is left without inertia, refused by name only there. */
import { describe, expect, it } from 'vitest';
import { type FinishedRun, type Model, type RawElement, Readings, bodyLoads, check, runModel, snapshotChannel } from '../src';
import { sliderCrank, model } from './models';

const e = (list: object[]) => list as RawElement[];
const g = 9.81;
const gravity = e([{ name: 'Gravity', kind: 'gravity', acceleration: [0, -g, 0] }]);

/** Point masses on strings of no weight, one below the other, in the x-y plane: lengths 1 m, from angles against the vertical. */
const pendulums = (angles: readonly number[], masses: readonly number[], until = '1 s'): Model => {
  const at = angles.map((_, i) => [
    angles.slice(0, i + 1).reduce((s, a) => s + Math.sin(a), 0),
    -angles.slice(0, i + 1).reduce((s, a) => s + Math.cos(a), 0),
    0,
  ]);
  return model('Pendulums', {
    run: { until, every: '10 ms', accuracy: 1e-9 },
    points: e([{ name: 'P0' }, ...at.map((p, i) => ({ name: `P${i + 1}`, at: p }))]),
    bodies: e(masses.map((mass, i) => ({ name: `Bob ${i + 1}`, origin: `P${i + 1}`, mass, inertia: [0, 0, 0] }))),
    joints: e(
      masses.map((_, i) => ({
        name: `Pin ${i + 1}`,
        kind: 'revolute',
        bodies: [i ? `Bob ${i}` : 'Ground', `Bob ${i + 1}`],
        at: [`P${i}`],
      })),
    ),
    loads: gravity,
    gauges: e([
      ...masses.map((_, i) => ({ name: `angle ${i + 1}`, kind: 'joint', joint: `Pin ${i + 1}` })),
      ...masses.map((_, i) => ({ name: `alpha ${i + 1}`, kind: 'joint', joint: `Pin ${i + 1}`, of: 'acceleration' })),
      { name: 'energy', kind: 'energy', of: 'closing' },
      { name: 'pull', kind: 'reaction', joint: 'Pin 1' },
    ]),
  });
};

describe('pendulums of point masses', () => {
  it('one swings as θ̈ = −g/l sin θ, and pulls at its pin with m (g cos θ + l θ̇²)', () => {
    const run = runModel(pendulums([1], [2]));
    expect(run.end.status).toBe('done');
    const angle = run.gauge('angle 1');
    run.gauge('alpha 1').forEach((a, i) => {
      const theta = 1 + angle[i]!;
      expect(a).toBeCloseTo(-g * Math.sin(theta), 7);
      expect(run.gauge('pull')[i]).toBeCloseTo(2 * (g * Math.cos(theta) + 2 * g * (Math.cos(theta) - Math.cos(1))), 6);
    });
    run.gauge('energy').forEach((x) => expect(Math.abs(x)).toBeLessThan(1e-7));
  });

  it('two start as the textbook says, and keep their energy', () => {
    const [a, b] = [0.6, 1.1],
      [m1, m2] = [1.5, 0.7],
      d = a - b;
    const run = runModel(pendulums([a, b], [m1, m2]));
    const denominator = 2 * m1 + m2 - m2 * Math.cos(2 * d);
    // at rest: the terms of the speeds vanish
    const first = (-g * (2 * m1 + m2) * Math.sin(a) - m2 * g * Math.sin(a - 2 * b)) / denominator,
      second = (2 * Math.sin(d) * g * (m1 + m2) * Math.cos(a)) / denominator;
    expect(run.gauge('alpha 1')[0]).toBeCloseTo(first, 9);
    expect(run.gauge('alpha 1')[0]! + run.gauge('alpha 2')[0]!).toBeCloseTo(second, 9);
    run.gauge('energy').forEach((x) => expect(Math.abs(x)).toBeLessThan(1e-6));
    expect(Math.max(...run.gauge('angle 2').map(Math.abs))).toBeGreaterThan(0.5);
  });
});

/** A slider-crank that runs down freely, its rod with an inertia of so many kg m² about all axes. */
const crank = (inertia: number, middle = 0.4): Model => {
  const m = sliderCrank();
  return {
    ...m,
    run: { until: '0.3 s', every: '5 ms', accuracy: 1e-10 },
    drives: [],
    starts: e([{ name: 'Spin', joint: 'Bearing', speed: 30 }]),
    bodies: m.bodies.map((b) =>
      b.name === 'Rod' ? { ...b, inertia: [inertia, inertia, inertia], centre: [middle * 0.2, 0, 0] } : b,
    ) as RawElement[],
  };
};
const course = (m: Model, name = 'x') => {
  const run = runModel(m);
  expect(run.end.status).toBe('done');
  return [...run.gauge(name)];
};

describe('a rod without inertia in a loop', () => {
  // where its centre lies on one pin, only the other pin keeps it from turning
  it.each([0.4, 0, 1])('is the limit of small inertias (centre at %d of its length)', (middle) => {
    const none = course(crank(0, middle)),
      small = course(crank(2e-4, middle)),
      smaller = course(crank(1e-4, middle));
    const far = Math.max(...small.map((x, i) => Math.abs(x - none[i]!)));
    expect(far).toBeGreaterThan(1e-6);
    // the difference is linear in the inertia
    none.forEach((x, i) => expect(Math.abs(2 * smaller[i]! - small[i]! - x)).toBeLessThan(0.02 * far));
  });
  it('carries its loads: every body is in balance', () => {
    const run = runModel(crank(0));
    for (const body of ['Crank', 'Rod', 'Slider'])
      new Readings(run.mechanism, run.layout).read(
        [
          snapshotChannel((s) => {
            const { rest } = bodyLoads(run.mechanism, body, s);
            expect(rest.force).toBeLessThan(1e-9);
            expect(rest.moment).toBeLessThan(1e-9);
          }),
        ],
        run.chunks,
      );
  });
  it('takes no more steps for an inertia next to nothing than for one that is ordinary', () => {
    const steps = (inertia: number) =>
      runModel({ ...crank(inertia), run: { until: '1 s', every: '10 ms', accuracy: 1e-6 } }).end.statistics;
    const usual = steps(1e-3);
    for (const inertia of [1e-9, 1e-11, 1e-14, 0]) {
      const { steps: n, rejected } = steps(inertia);
      expect(n + rejected).toBeLessThan(1.5 * (usual.steps + usual.rejected));
    }
  });
});

describe('a linkage with bodies out of all proportion', () => {
  const steps = (mass: number, inertia: number, which: (name: string) => boolean) => {
    const m = sliderCrank();
    const bodies = m.bodies.map((b) =>
      which(b.name) ? { ...b, mass: mass * (b.mass as number), inertia: (b.inertia as number[]).map((x) => inertia * x) } : b,
    );
    const { status, statistics } = runModel({ ...m, bodies } as Model).end;
    expect(status).toBe('done');
    return statistics.steps + statistics.rejected;
  };
  const usual = steps(1, 1, () => true);
  it.each([
    ['all of a milligram', 1e-6, 1e-6, () => true],
    ['all of a milligram, with less inertia still', 1e-6, 1e-12, () => true],
    ['the rod of a milligram', 1e-6, 1e-6, (name: string) => name === 'Rod'],
    ['the rod of a milligram, with less inertia still', 1e-6, 1e-9, (name: string) => name === 'Rod'],
    ['the slider of a microgram', 1e-9, 1e-9, (name: string) => name === 'Slider'],
    ['the slider without inertia', 1, 0, (name: string) => name === 'Slider'],
  ] as const)('%s: no more steps', (_, mass, inertia, which) => expect(steps(mass, inertia, which)).toBeLessThan(1.2 * usual));
});

/** A rod on a joint of the ground with a bob at its end: its turning about itself is free on a ball, and held by a universal joint. */
const rod = (inertia: readonly number[], joint: 'spherical' | 'universal'): Model =>
  model('Rod', {
    run: { until: '0.5 s', every: '10 ms' },
    points: e([{ name: 'A' }, { name: 'B', at: [1, 0, 0] }, { name: 'M', at: [0.5, 0, 0] }]),
    bodies: e([
      { name: 'Rod', origin: 'M', mass: 1, inertia },
      { name: 'Bob', origin: 'B', mass: 2, inertia: [0.1, 0.1, 0.1], velocity: [0, 0, 1] },
    ]),
    joints: e([
      {
        name: 'Foot',
        kind: joint,
        bodies: ['Ground', 'Rod'],
        at: ['A'],
        ...(joint === 'universal' ? { axis: [0, 1, 0], cross: [0, 0, 1] } : {}),
      },
      { name: 'Head', kind: 'spherical', bodies: ['Rod', 'Bob'], at: ['B'] },
    ]),
    loads: gravity,
    gauges: e([
      { name: 'motion', kind: 'energy', of: 'kinetic' },
      { name: 'open', kind: 'energy', of: 'closing' },
    ]),
  });
const errors = (m: Model) => check(m).diagnoses.filter((d) => d.severity === 'error');

describe('a direction without inertia', () => {
  it('that is free is refused by the name of its body; held, it is not', () => {
    expect(errors(rod([0, 0.1, 0.1], 'spherical'))).toMatchObject([{ code: 'inertia-zero', element: { family: 'bodies', name: 'Rod' } }]);
    expect(errors(rod([0, 0, 0], 'spherical'))).toMatchObject([{ code: 'inertia-zero', element: { name: 'Rod' } }]);
    expect(errors(rod([0.01, 0.1, 0.1], 'spherical'))).toEqual([]);
    for (const inertia of [
      [0, 0.1, 0.1],
      [0, 0, 0],
    ]) {
      const run = runModel(rod(inertia, 'universal'));
      expect(run.end.status).toBe('done');
      expect(Math.max(...run.gauge('motion'))).toBeGreaterThan(5);
      run.gauge('open').forEach((x) => expect(Math.abs(x)).toBeLessThan(1e-5));
    }
  });
  it('about one, two or all axes is no matter where all moves in a plane', () => {
    const planar = (inertia: readonly number[]) => {
      const m = sliderCrank();
      return course({ ...m, bodies: m.bodies.map((b) => (b.name === 'Rod' ? { ...b, inertia } : b)) as RawElement[] });
    };
    const all = planar([1e-4, 3e-3, 3e-3]);
    for (const inertia of [
      [0, 3e-3, 3e-3],
      [0, 0, 3e-3],
    ])
      planar(inertia).forEach((x, i) => expect(x).toBeCloseTo(all[i]!, 9));
  });
  it('of a lone body is refused; a negative one is another matter', () => {
    const lone = (inertia: readonly number[], joints: object[] = []) =>
      model('Lone', { points: e([{ name: 'O' }]), bodies: e([{ name: 'Ball', mass: 1, inertia }]), joints: e(joints) });
    expect(errors(lone([0, 0, 0]))).toMatchObject([{ code: 'inertia-zero', element: { name: 'Ball' } }]);
    expect(errors(lone([0, 0, 0], [{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Ball'], at: ['O'], axis: [1, 0, 0] }]))).toEqual([]);
    expect(errors(lone([-1, 1, 1]))).toMatchObject([{ code: 'inertia-negative', element: { name: 'Ball' } }]);
  });
  it('that becomes free during a run ends it there, by name', () => {
    const m = pendulums([1], [2]);
    const run: FinishedRun = runModel({
      ...m,
      joints: e([{ ...m.joints[0]!, while: '0.5 - t / (1 s)' }]),
    });
    expect(run.end.status).toBe('failed');
    expect(run.end.t).toBeCloseTo(0.5, 6);
    expect(run.end.diagnoses).toContainEqual(
      expect.objectContaining({ code: 'inertia-zero', element: { family: 'bodies', name: 'Bob 1' } }) as unknown,
    );
  });
  it('is a note where only a mass was typed', () => {
    const m = pendulums([1], [2]),
      bob = { ...m.bodies[0]! };
    delete bob.inertia;
    expect(check({ ...m, bodies: [bob] }).diagnoses.map((d) => d.code)).toContain('point-mass');
  });
});

describe('what counts as light', () => {
  /** Two small pendulums far apart; the second may be without inertia. */
  const apart = (distance: number, inertia: readonly number[]) =>
    check(
      model('Far apart', {
        points: e([
          { name: 'A' },
          { name: 'B', at: [distance, 0, 0] },
          { name: 'A end', at: [0.1, 0, 0] },
          { name: 'B end', at: [distance + 0.1, 0, 0] },
        ]),
        bodies: e([
          { name: 'One', origin: 'A end', mass: 1, inertia: [1e-3, 1e-3, 1e-3] },
          { name: 'Two', origin: 'B end', mass: 1, inertia },
        ]),
        joints: e([
          { name: 'Pin A', kind: 'revolute', bodies: ['Ground', 'One'], at: ['A'] },
          { name: 'Pin B', kind: 'revolute', bodies: ['Ground', 'Two'], at: ['B'] },
        ]),
        loads: gravity,
      }),
    ).built.mechanism!.system.ldlt.plan.light;
  it('is a body beside the others, whatever the length of the machine', () => {
    expect(apart(1, [1e-3, 1e-3, 1e-3])).toEqual([]);
    expect(apart(5000, [1e-3, 1e-3, 1e-3])).toEqual([]);
    expect(apart(1, [0, 0, 0])).toEqual([1]);
    expect(apart(5000, [1e-12, 1e-12, 1e-12])).toEqual([1]);
  });
});
