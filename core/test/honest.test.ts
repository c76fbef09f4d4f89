/** No number that is none, no alarm about rounding, nothing asked for and left undone without a word. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Diagnosis,
  type Model,
  Pace,
  type RawElement,
  Refusal,
  assemble,
  build,
  check,
  complete,
  holdUp,
  recordLayout,
  runModel,
} from '../src';
import { equilibria, equilibrium, modes } from '../src/analyses';
import { writeCsv } from '../src/formats/csv';
import { ANALYSIS_NAMES } from '../src';
import { model, sliderCrank } from './models';

const e = (list: object[]) => list as RawElement[];
const cube = { name: 'Block', mass: 3, inertia: [0.03, 0.03, 0.03] };
const codes = (list: readonly Diagnosis[]) => list.map((d) => d.code);
/** Runs a model, or what it is refused for. */
function outcome(m: Model, options: object = {}) {
  try {
    return runModel(m, options);
  } catch (x) {
    if (!(x instanceof Refusal)) throw x;
    return x;
  }
}

describe('not a number', () => {
  const hostile = fc.oneof(
    fc.constantFrom(1.7e308, -1e300, 1e200, 1e41, 1e-300, 1e-160, 9007199254740992),
    fc.double({ noNaN: true, noDefaultInfinity: true }),
  );
  it('is never recorded nor read, in any analysis, whatever one number of a machine is changed to', () => {
    const places = [
      (m: Model, x: number) => ({ ...m, joints: m.joints.map((j) => (j.name === 'Crank joint' ? { ...j, axis: [0, x, 1] } : j)) }),
      (m: Model, x: number) => ({ ...m, points: m.points.map((p) => (p.name === 'Rod end' ? { ...p, at: [0.2, 0, x] } : p)) }),
      (m: Model, x: number) => ({ ...m, bodies: m.bodies.map((b) => (b.name === 'Rod' ? { ...b, mass: Math.abs(x) } : b)) }),
      (m: Model, x: number) => ({
        ...m,
        loads: [
          ...m.loads,
          ...e([{ name: 'S', kind: 'spring', bodies: ['Ground', 'Slider'], at: ['Axle', 'Slide pin'], stiffness: Math.abs(x) }]),
        ],
      }),
      (m: Model, x: number) => ({ ...m, drives: m.drives.map((d) => ({ ...d, value: x })) }),
    ];
    fc.assert(
      fc.property(fc.constantFrom(...places), hostile, fc.constantFrom(...ANALYSIS_NAMES), (change, x, analysis) => {
        const ran = outcome(change(sliderCrank(), x) as Model, { analysis, until: 0.02, every: 0.01, signal: { cancelled: false } });
        if (ran instanceof Refusal) {
          expect(ran.diagnoses.every((d) => d.message.length > 10)).toBe(true);
          return;
        }
        for (const c of ran.chunks) expect(c.every(Number.isFinite)).toBe(true);
        expect(ran.end.statistics.records).toBe(ran.time.length);
        if (ran.time.length === 0) expect(ran.end.status).toBe('failed');
      }),
      { numRuns: 60 },
    );
  });
  it('a value beyond what can be computed with is refused where it stands', () => {
    const m = sliderCrank(),
      axis = { ...m, joints: m.joints.map((j) => (j.name === 'Wrist' ? { ...j, axis: [0, -1e300, 0] } : j)) } as Model;
    expect(check(axis).diagnoses[0]).toMatchObject({
      code: 'value-extreme',
      severity: 'error',
      element: { family: 'joints', name: 'Wrist' },
      path: ['joints', 2, 'axis', 1],
    });
    const parameter = { ...m, parameters: e([{ name: 'arm', value: '1e300 m' }]) } as Model;
    expect(codes(check(parameter).diagnoses)).toContain('value-extreme');
    const table = {
      ...m,
      tables: e([
        {
          name: 'lift',
          data: [
            [0, 0],
            [1, 1e300],
          ],
        },
      ]),
    } as Model;
    expect(check(table).diagnoses[0]).toMatchObject({ severity: 'error', element: { family: 'tables', name: 'lift' } });
  });
  it('a force that is none at the start fails the run with its name, and records nothing', () => {
    const m = model('x', {
      run: { until: 1 },
      points: e([{ name: 'O' }]),
      bodies: e([cube]),
      loads: e([{ name: 'Push', kind: 'force', body: 'Block', at: 'O', magnitude: '1 N / (t / 1 s)' }]),
    });
    const ran = outcome(m);
    const said = ran instanceof Refusal ? ran.diagnoses : ran.end.diagnoses;
    expect(said.some((d) => d.severity === 'error' && d.element?.name === 'Push')).toBe(true);
    if (!(ran instanceof Refusal)) expect(ran.chunks).toEqual([]);
  });
  it('does not stand in a file: a gauge without a value leaves its cell empty', () => {
    const csv = writeCsv(Float64Array.of(0, 1, 2), [{ name: 'g', dim: [0, 0, 0, 0, 0, 0], values: Float64Array.of(NaN, 2, Infinity) }]);
    expect(csv).toBe('Time [s],g\n0,\n1,2\n2,\n');
  });
  it('lengths out of all proportion end in words in statics too', () => {
    const wing = complete(JSON.parse(readFileSync('examples/wing-fold.pivot.json', 'utf8')) as object);
    for (const [kit, point] of [
      [1, 9],
      [1, 3],
    ] as const) {
      const copy = structuredClone(wing) as unknown as { kits: { content: { points: { at: unknown[] }[] } }[] };
      copy.kits[kit]!.content.points[point]!.at[0] = 9007199254740992;
      for (const analysis of ANALYSIS_NAMES) {
        const ran = outcome(copy as unknown as Model, { analysis, until: 0.1, every: 0.1 });
        expect(ran instanceof Refusal ? ran.diagnoses.length > 0 : ran.chunks.every((c) => c.every(Number.isFinite)), analysis).toBe(true);
      }
    }
  });
});

describe('alarms', () => {
  const arm = model('Balanced arm', {
    points: e([{ name: 'O' }, { name: 'A', body: 'Arm', at: [0.5, 0, 0] }, { name: 'Head', at: [0, 0, 0.5] }]),
    bodies: e([{ name: 'Arm', mass: 2, centre: [0.25, 0, 0], inertia: [0.01, 0.05, 0.05] }]),
    joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'], axis: [0, 1, 0] }]),
    // k r h = m g c: balanced at every angle
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -10] },
      { name: 'Spring', kind: 'spring', bodies: ['Ground', 'Arm'], at: ['Head', 'A'], stiffness: 20, free: 0 },
    ]),
  });
  it('say nothing of energy of a machine at rest, and that it stands in equilibrium', () => {
    const { end } = runModel(arm);
    expect(codes(end.diagnoses)).toEqual(['run-still']);
    expect(end.diagnoses[0]).toMatchObject({ severity: 'note', message: 'Nothing moved: the machine stands in equilibrium.' });
  });
  it('say nothing of a part that friction stopped far from where it was drawn, and name one that flies off', () => {
    const thrown = (mu: number) =>
      model('Slide', {
        run: { until: '4 s', every: '0.1 s' },
        points: e([{ name: 'O' }]),
        bodies: e([cube]),
        joints: e([{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
        ...{ starts: e([{ name: 'Push', joint: 'Slide', speed: 2 }]) },
        loads: e([
          { name: 'Gravity', kind: 'gravity' },
          { name: 'Rub', kind: 'joint-friction', joint: 'Slide', static: mu, sliding: mu },
        ]),
      });
    expect(codes(runModel(thrown(0.3)).end.diagnoses)).toEqual([]);
    expect(runModel(thrown(0)).end.diagnoses).toMatchObject([{ code: 'body-away', element: { name: 'Block' } }]);
  });
});

describe('what was asked for', () => {
  const chain = (n: number): Model =>
    model('Chain', {
      run: { until: '0.02 s', every: '0.01 s' },
      points: e([{ name: 'P0' }, ...Array.from({ length: n }, (_, i) => ({ name: `P${i + 1}`, body: `B${i}`, at: [0.1, 0, 0] }))]),
      bodies: e(
        Array.from({ length: n }, (_, i) => ({
          name: `B${i}`,
          origin: `P${i}`,
          mass: 1,
          centre: [0.05, 0, 0],
          inertia: [0.001, 0.001, 0.001],
        })),
      ),
      joints: e(
        Array.from({ length: n }, (_, i) => ({
          name: `J${i}`,
          kind: 'revolute',
          bodies: [i === 0 ? 'Ground' : `B${i - 1}`, `B${i}`],
          at: [`P${i}`],
          axis: [0, 1, 0],
        })),
      ),
      loads: e([{ name: 'Gravity', kind: 'gravity' }]),
    });
  it('implicit steps are made, of machines of any size', () => {
    for (const [n, planar] of [
      [3, 'auto'],
      [60, 'off'],
      [120, 'auto'],
    ] as const) {
      const { statistics, diagnoses } = runModel(chain(n), { method: 'implicit', planar }).end;
      expect(statistics.implicit).toBe(statistics.steps);
      expect(codes(diagnoses)).not.toContain('method-explicit');
    }
  });
});

describe('a run that takes too long', () => {
  it('is told once, when it could not end within ten minutes, and by what it is held up', () => {
    let now = 0;
    const pace = new Pace(10, now),
      told: unknown[] = [];
    for (let i = 1; i <= 200; i++) told.push(pace.look(i * 1e-4, (now += 0.1)));
    const found = told.filter(Boolean) as { left: number; step: number }[];
    expect(found).toHaveLength(1);
    expect(found[0]!.left).toBeCloseTo(10 / 1e-3, -2);
    expect(found[0]!.step).toBeCloseTo(1e-4, 9);
    const quick = new Pace(10, 0);
    expect(Array.from({ length: 200 }, (_, i) => quick.look(i * 0.01, i * 0.1)).filter(Boolean)).toEqual([]);
  });
  it('names the spring, its stiffness and its period; a body that spins; and leaves the state as it was', () => {
    const m = model('Stiff', {
      points: e([{ name: 'O' }, { name: 'P', at: [1, 0, 0] }]),
      bodies: e([
        { ...cube, mass: 2 },
        { name: 'Wheel', origin: 'P', mass: 1, inertia: [1, 1, 1], spin: [0, 0, '5000 rad/s'] },
      ]),
      loads: e([
        { name: 'Soft', kind: 'spring', bodies: ['Ground', 'Wheel'], at: ['O', 'P'], stiffness: 10 },
        { name: 'Hard', kind: 'spring', bodies: ['Ground', 'Block'], at: ['P', 'O'], stiffness: '8 N/um' },
      ]),
    });
    const built = build(m).mechanism!,
      { system } = built;
    system.K.load(assemble(built).y);
    const before = new Float64Array(system.size),
      after = new Float64Array(system.size);
    system.K.store(before);
    const spin = holdUp(built, 0, { left: 7200, step: 1e-5 });
    system.K.store(after);
    expect([...after]).toEqual([...before]);
    expect(spin).toMatchObject({ code: 'run-slow', element: { family: 'bodies', name: 'Wheel' } });
    system.K.w.fill(0);
    const hard = holdUp(built, 0, { left: 7200, step: 1e-5 });
    expect(hard).toMatchObject({ element: { family: 'loads', name: 'Hard' } });
    // sqrt(8e6 / 2) = 2000 rad/s
    expect(hard.message).toContain('2 hours');
    expect(hard.message).toMatch(/8e6 N\/m|8.00e6 N\/m/);
    expect(hard.message).toMatch(/once in 0.0031 s/);
    expect(hard.message.length).toBeLessThan(300);
  });
});

describe('statics with friction', () => {
  const slope = (mu: number, more: object[] = []): Model =>
    model('Slope', {
      run: { until: '1 s', every: '0.1 s', analysis: 'static' },
      points: e([{ name: 'O' }, { name: 'Top', at: [-1, 0, 0.36] }]),
      bodies: e([cube]),
      joints: e([{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: ['cos(20 deg)', 0, '-sin(20 deg)'] }]),
      loads: e([
        { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -9.81] },
        { name: 'Rub', kind: 'joint-friction', joint: 'Slide', static: mu, sliding: 0.8 * mu },
        ...more,
      ]),
      gauges: e([
        { name: 'F', kind: 'load', load: 'Rub' },
        { name: 'x', kind: 'joint', joint: 'Slide' },
      ]),
    });
  it('a block that friction holds on a slope stands, and the friction is what holds it', () => {
    const run = runModel(slope(0.55));
    expect(run.end.status).toBe('done');
    expect(run.gauge('F')[0]).toBeCloseTo(-3 * 9.81 * Math.sin((20 * Math.PI) / 180), 9);
    expect(run.end.diagnoses).toMatchObject([{ code: 'statics-held', element: { name: 'Rub' } }]);
  });
  it('just below the tangent of the angle it does not, and the refusal says that friction was left out', () => {
    const tan = Math.tan((20 * Math.PI) / 180);
    expect(runModel(slope(tan * 1.0001)).end.status).toBe('done');
    const ran = outcome(slope(tan * 0.9999)),
      said = ran instanceof Refusal ? ran.diagnoses : ran.end.diagnoses;
    expect(said[0]).toMatchObject({ severity: 'error', code: 'statics-none' });
    expect(said[0]!.why).toContain('left out: Rub');
  });
  it('with a spring behind it, it gives way to the equilibrium without friction, which is told', () => {
    const run = runModel(slope(0.2, [{ name: 'Spring', kind: 'joint-spring', joint: 'Slide', stiffness: '200 N/m' }]));
    expect(run.gauge('x')[0]).toBeCloseTo((3 * 9.81 * Math.sin((20 * Math.PI) / 180)) / 200, 8);
    expect(run.gauge('F')[0]).toBeCloseTo(0, 9);
    expect(codes(run.end.diagnoses)).toEqual(['statics-slipped']);
  });
  it('equilibria and modes take part in it', () => {
    const m = build(slope(0.55)).mechanism!;
    expect(equilibria(m, 0, 2).list[0]).toMatchObject({ held: ['Rub'], slipped: [] });
    m.system.K.load(assemble(m).y);
    equilibrium(m);
    expect(codes(modes(m).diagnoses)).toEqual(['modes-none']);
    expect(recordLayout(m).memory).toBeGreaterThan(0);
  });
});
