/** Bodies that their joints hold in a plane are computed in that plane: found by itself, the same motion, the same loads, and switchable. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type FinishedRun, type Model, type RawElement, assemble, build, runModel } from '../src';
import { readModel } from '../src/model/file';
import { leaveOut } from '../src/solve/leave-out';
import { COMPILER } from '../src/system/compiler';
import { foldOf } from '../src/system/folding';
import type { System } from '../src/system/system';
import { fourBars, squeezer, rubbing } from './benchmarks';
import { doublePendulum, model, sliderCrank } from './models';

const e = (list: object[]) => list as RawElement[];
const example = (name: string): Model => readModel(readFileSync(`examples/${name}.pivot.json`, 'utf8'));

/** What each body can do: three velocities in the axes of the ground, three spins in its own. */
function movesOf(m: Model): Record<string, string> {
  const mechanism = build(m).mechanism!;
  assemble(mechanism);
  const { system } = mechanism;
  const fold = foldOf(
    system,
    system.groups.filter((g) => g.family === 'joints'),
    mechanism.size,
  );
  return Object.fromEntries(
    mechanism.bodies.map(({ name }, i) => [name, fold ? fold.moves.subarray(6 * i, 6 * i + 6).join('') : '111111']),
  );
}

/** Two bodies on a joint of a kind, the first turning about z on the ground. */
const pair = (kind: string, more: object = {}, axis: readonly number[] = [0, 0, 1]): Model =>
  model('Pair', {
    points: e([{ name: 'O' }, { name: 'P', at: [1, 0, 0] }, { name: 'Q', at: [2, 0, 0.3] }]),
    bodies: e([
      { name: 'First', origin: 'P', mass: 1, inertia: [0.1, 0.2, 0.25] },
      { name: 'Second', origin: 'Q', mass: 1, inertia: [0.1, 0.2, 0.25] },
    ]),
    joints: e([
      { name: 'Pin', kind: 'revolute', bodies: ['Ground', 'First'], at: ['O'] },
      {
        name: 'Between',
        kind,
        bodies: ['First', 'Second'],
        at: kind === 'distance' ? ['P', 'Q'] : ['P'],
        ...(axis.length > 0 ? { axis } : {}),
        ...more,
      },
    ]),
  });

describe('what joints allow a body', () => {
  it.each([
    ['revolute', '110001'],
    ['cylindrical', '111001'],
    ['screw', '111001'],
    ['prismatic', '111001'],
    ['planar', '110001'],
    ['parallel-axes', '111001'],
  ])('%s about the same axis', (kind, moves) => {
    expect(movesOf(pair(kind, kind === 'screw' ? { lead: '5 mm' } : {}))).toEqual({ First: '110001', Second: moves });
  });
  it.each([
    ['spherical', []],
    ['universal', [0, 0, 1]],
    ['point-on-line', [1, 0, 0]],
    ['constant-velocity', [0, 0, 1]],
    ['distance', []],
  ])('%s leaves everything possible', (kind, axis) => {
    expect(movesOf(pair(kind, kind === 'universal' ? { cross: [1, 0, 0] } : {}, axis)).Second).toBe('111111');
  });
  it('a pin across the first, or askew, leaves everything possible', () => {
    expect(movesOf(pair('revolute', {}, [1, 0, 0])).Second).toBe('111111');
    expect(movesOf(pair('revolute', {}, [0, 0.1, 1])).Second).toBe('111111');
  });
  it('a weld passes on what the first can do', () => {
    expect(movesOf(pair('fixed', {}, []))).toEqual({ First: '110001', Second: '110001' });
  });
  it('a slide in the plane stays in the plane, and on the ground it only slides', () => {
    expect(movesOf(pair('prismatic', {}, [1, 0, 0])).Second).toBe('110001');
    expect(movesOf(sliderCrank())).toEqual({ Crank: '110001', Rod: '110001', Slider: '100000' });
  });
  it('is found from the far side of a loop as well', () => {
    // the rod hangs on the slider by a ball, and on the crank by a pin
    const m = sliderCrank();
    const joints = m.joints.map((j) => (j.name === 'Crank joint' ? { ...j, kind: 'spherical' } : j));
    expect(movesOf({ ...m, joints })).toEqual({ Crank: '110001', Rod: '110001', Slider: '100000' });
  });
  it('a machine in space has nothing left out', () => {
    expect(movesOf(doublePendulum())).toEqual({ Upper: '111111', Lower: '111111' });
  });
});

const machines: [string, Model][] = [
  ['slider-crank', sliderCrank()],
  ['squeezer', squeezer()],
  ['coupled four-bars', { ...fourBars(3), run: { ...fourBars(3).run, until: '1 s', every: '20 ms' } }],
  ...['sorting-gate', 'shaker-head', 'hoist-hook', 'wing-fold', 'slot-cam'].map((name): [string, Model] => [
    name,
    // the shaker comes to rest in an unstable balance, in which every last digit grows
    { ...example(name), run: { ...example(name).run, every: '10 ms', ...(name === 'shaker-head' ? { until: '2 s' } : {}) } },
  ]),
];
const rubs: [string, Model][] = [
  ['coupled four-bars that rub', rubbing({ ...fourBars(3), run: { ...fourBars(3).run, until: '0.6 s', every: '20 ms' } }, {}, 9)],
  [
    'a gate that rubs and sticks',
    rubbing({ ...example('sorting-gate'), run: { ...example('sorting-gate').run, until: '2 s', every: '10 ms' } }),
  ],
];
const worst = (one: FinishedRun, other: FinishedRun, gauge: string): number => {
  const [a, b] = [one.gauge(gauge), other.gauge(gauge)];
  const size = Math.max(...a.map(Math.abs), 1e-6);
  return Math.max(...a.map((x, i) => Math.abs(x - b[i]!) / size));
};

describe.each([...machines, ...rubs])('%s', (_name, m) => {
  it('moves as in space, and its gauges read the same, those of loads across the plane too', () => {
    const auto = runModel(m),
      space = runModel(m, { planar: 'off' });
    expect([auto.end.status, auto.end.t]).toEqual([space.end.status, space.end.t]);
    expect(auto.end.diagnoses).toEqual(space.end.diagnoses);
    expect(space.end.statistics.folded ?? 0).toBe(0);
    // two runs at 1e-6; loads follow from second derivatives
    for (const gauge of auto.mechanism.gauges) expect(worst(auto, space, gauge), gauge).toBeLessThan(1e-4);
  });
});

describe.each(machines)('%s, compiled kind by kind', (_name, m) => {
  it('moves as compiled as a whole: accelerations, multipliers, residuals at any posture and motion in its plane', () => {
    const both = [undefined, 0].map((most) => {
      const mechanism = build(m).mechanism!,
        { system } = mechanism;
      assemble(mechanism);
      leaveOut(mechanism);
      system.interpret();
      system.compile(COMPILER, most);
      return system;
    });
    const [whole, kinds] = both as [System, System],
      y = new Float64Array(whole.size);
    whole.K.store(y);
    let seed = 1;
    const random = () => ((seed = (seed * 16807) % 2147483647) / 2147483647) * 2 - 1;
    for (let i = 0; i < 12; i++) {
      const { motions } = whole.K.layout,
        state = y.map((x, k) => (k < motions ? x + 2e-4 * random() : k < whole.K.layout.further ? random() : x)),
        of = both.map((s) => {
          const dy = new Float64Array(s.size);
          s.evaluate(0.1, state, dy);
          const { redundant } = s.ldlt,
            multipliers = s.multipliers.map((x, r) => (redundant[r] ? 0 : x));
          const out = [...dy, ...s.acceleration, ...multipliers];
          return { out, redundant: [...redundant], tightest: s.ldlt.tightest, phi: s.residual(0.1), rate: s.velocityResidual(0.1) };
        });
      const [a, b] = of as [(typeof of)[0], (typeof of)[0]],
        size = Math.max(...a.out.map(Math.abs));
      expect([whole.compiled, kinds.compiled, kinds.byKinds]).toEqual([true, false, true]);
      expect(b.redundant).toEqual(a.redundant);
      expect(b.tightest).toBeCloseTo(a.tightest, 12);
      a.out.forEach((x, k) => expect(Math.abs(x - b.out[k]!)).toBeLessThanOrEqual(1e-10 * size));
      expect(b.phi).toBeCloseTo(a.phi, 12);
      expect(Math.abs(b.rate - a.rate)).toBeLessThan(1e-12 * (1 + a.rate));
    }
  });
});

describe('what is left out', () => {
  const count = (m: Model) => runModel(m, { until: 0.02 }).end.statistics.folded ?? 0;
  it('is counted', () => {
    expect(count(sliderCrank())).toBe(3);
    expect(count(example('sorting-gate'))).toBe(6);
    expect(count(doublePendulum())).toBe(0);
  });
  it('is the planar part of a machine that moves in space otherwise', () => {
    const m = sliderCrank();
    const hung: Model = {
      ...m,
      points: [...m.points, ...e([{ name: 'Hook', body: 'Slider', at: [0, 0, 0.1] }])],
      bodies: [...m.bodies, ...e([{ name: 'Bob', origin: 'Hook', centre: [0.02, -0.1, 0.03], mass: 0.3, inertia: [1e-4, 1e-4, 1e-4] }])],
      joints: [...m.joints, ...e([{ name: 'Eye', kind: 'spherical', bodies: ['Slider', 'Bob'], at: ['Hook'] }])],
      gauges: [
        ...m.gauges,
        ...e([
          { name: 'eye', kind: 'reaction', joint: 'Eye', component: 'z' },
          { name: 'side', kind: 'reaction', joint: 'Slide', component: 'z' },
        ]),
      ],
    };
    const auto = runModel(hung),
      space = runModel(hung, { planar: 'off' });
    expect(auto.end.statistics.folded).toBe(3);
    expect(Math.max(...auto.gauge('side').map(Math.abs))).toBeGreaterThan(0.1);
    for (const gauge of auto.mechanism.gauges) expect(worst(auto, space, gauge), gauge).toBeLessThan(1e-5);
  });
  it('is nothing where something asks what joints carry across the plane, or a joint may let go', () => {
    const m = sliderCrank();
    expect(
      count({ ...m, loads: [...m.loads, ...e([{ name: 'Rub', kind: 'joint-friction', joint: 'Slide', static: 0.1, sliding: 0.1 }])] }),
    ).toBe(0);
    expect(count({ ...m, limits: e([{ name: 'Pin load', gauge: 'Bearing x', high: '1 MN', then: 'stop' }]) })).toBe(0);
    const loose = m.joints.map((j) => (['Crank joint', 'Wrist'].includes(j.name) ? { ...j, while: '1 - step(1 s, t)' } : j));
    expect(runModel({ ...m, joints: loose }, { until: 0.02 }).end.statistics.folded).toBe(2);
  });
  it('is nothing where the settings say so, and no less accurate with loads across the plane', () => {
    const m = sliderCrank();
    const pushed: Model = {
      ...m,
      loads: [...m.loads, ...e([{ name: 'Side', kind: 'force', body: 'Rod', at: 'Slide pin', direction: [0, 0, 1], magnitude: '200 N' }])],
      gauges: [...m.gauges, ...e([{ name: 'across', kind: 'reaction', joint: 'Slide', component: 'z' }])],
    };
    expect(runModel({ ...m, run: { ...m.run, planar: 'off' } }).end.statistics.folded ?? 0).toBe(0);
    const auto = runModel(pushed),
      bare = runModel(m);
    expect(auto.end.statistics.folded).toBe(3);
    expect(worst(bare, auto, 'x')).toBeLessThan(1e-9);
    expect(worst(auto, runModel(pushed, { planar: 'off' }), 'across')).toBeLessThan(1e-6);
    expect(Math.max(...auto.gauge('across').map(Math.abs))).toBeGreaterThan(10);
  });
});

it.each([0.05, 0.1, 0.2, 0.3, 0.7])(
  'two carriages on one track, held %d m apart: what assembly leaves of a turn is none, explicit and implicit',
  (apart) => {
    // brought onto their joints they are turned by some 1e-14 rad, which as a row of its own would be told from nothing by rounding alone
    const of = model('Carriages', {
      run: { until: 0.3, every: 0.05, accuracy: 1e-8 },
      points: e([{ name: 'O' }, { name: 'P', at: [-0.7, 0.5, 0] }]),
      bodies: e(['Front', 'Rear'].map((name) => ({ name, mass: 1, inertia: [0.2, 0.15, 0.3] }))),
      joints: e([
        { name: 'Track', kind: 'prismatic', bodies: ['Ground', 'Front'], at: ['O'], axis: [1, 0, 0] },
        { name: 'Between', kind: 'prismatic', bodies: ['Rear', 'Front'], at: ['P'], axis: [1, 0, 0] },
      ]),
      loads: e([{ name: 'Gravity', kind: 'gravity', acceleration: [2, 0, 0] }]),
      drives: e([{ name: 'Rod', joint: 'Between', prescribes: 'position', value: `${apart} m` }]),
      gauges: e([
        { name: 'place', kind: 'joint', joint: 'Track' },
        { name: 'apart', kind: 'joint', joint: 'Between' },
        { name: 'rod', kind: 'drive', drive: 'Rod' },
      ]),
    });
    for (const method of ['explicit', 'implicit'] as const) {
      const run = runModel(of, { method });
      expect(run.end).toMatchObject({ status: 'done', statistics: { folded: 2 } });
      const [first] = run.gauge('place');
      expect(run.gauge('place').at(-1)! - first!).toBeCloseTo(0.3 * 0.3, 8);
      expect(run.gauge('apart').at(-1)).toBeCloseTo(apart, 9);
      for (const x of run.gauge('rod')) expect(Math.abs(x)).toBeLessThan(1e-7);
    }
  },
);
