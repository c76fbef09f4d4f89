/** Singular, contradictory, incomplete or absurd models end in a diagnosis in words, and the process lives on. */
import { describe, expect, it } from 'vitest';
import { type Diagnosis, type Model, type RawElement, Refusal, check, runModel } from '../src';
import { model, sliderCrank } from './models';

const e = (list: object[]) => list as RawElement[];
const cube = { name: 'Block', mass: 1, inertia: [0.01, 0.01, 0.01] };
const slide = { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] };
const O = { name: 'O' };

/** What the model is refused for, or what its run ends with. */
function outcome(m: Model): Diagnosis[] {
  try {
    const { end } = runModel(m);
    return end.diagnoses;
  } catch (x) {
    if (!(x instanceof Refusal)) throw x;
    return [...x.diagnoses];
  }
}

const cases: [what: string, m: () => Model, code: string, at?: string][] = [
  ['a body without mass', () => model('x', { points: e([O]), bodies: e([{ name: 'Block' }]), joints: e([slide]) }), 'mass-zero', 'Block'],
  [
    'a body with mass and no inertia, free to turn',
    () => model('x', { points: e([O]), bodies: e([{ name: 'Block', mass: 1 }]), joints: e([{ ...slide, kind: 'cylindrical' }]) }),
    'inertia-zero',
    'Block',
  ],
  [
    'two drives on one freedom',
    () =>
      model('x', {
        points: e([O]),
        bodies: e([cube]),
        joints: e([slide]),
        drives: e([
          { name: 'A', joint: 'Slide', value: 1 },
          { name: 'B', joint: 'Slide', value: 2 },
        ]),
      }),
    'drive-fight',
  ],
  [
    'an axis of no length',
    () => model('x', { points: e([O]), bodies: e([cube]), joints: e([{ ...slide, axis: [0, 0, 0] }]) }),
    'direction-zero',
    'Slide',
  ],
  [
    'a spring with both ends at one place',
    () =>
      model('x', {
        points: e([O, { name: 'P' }]),
        bodies: e([cube]),
        joints: e([slide]),
        loads: e([{ name: 'S', kind: 'spring', bodies: ['Ground', 'Block'], at: ['O', 'P'] }]),
      }),
    'spring-no-length',
    'S',
  ],
  [
    'a curve with two points at one place',
    () =>
      model('x', {
        points: e([O, { name: 'P', at: [1, 0, 0] }, { name: 'Q', at: [1, 0, 0] }]),
        bodies: e([cube]),
        joints: e([{ name: 'Way', kind: 'point-on-curve', bodies: ['Ground', 'Block'], at: ['O'], through: ['O', 'P', 'Q'] }]),
      }),
    'curve-points',
    'Way',
  ],
  [
    'a table that does not increase',
    () =>
      model('x', {
        tables: e([
          {
            name: 'lift',
            data: [
              [0, 0],
              [2, 1],
              [1, 2],
            ],
          },
        ]),
        points: e([O]),
      }),
    'table',
    'lift',
  ],
  [
    'a table that repeats but does not close',
    () =>
      model('x', {
        tables: e([
          {
            name: 'lift',
            data: [
              [0, 0],
              [1, 1],
            ],
            beyond: 'repeat',
          },
        ]),
        points: e([O]),
      }),
    'table',
    'lift',
  ],
  [
    'a formula dividing by zero at t = 2 s',
    () =>
      model('x', {
        run: { until: 3 },
        points: e([O]),
        bodies: e([cube]),
        joints: e([slide]),
        loads: e([{ name: 'Push', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: '1 N*s / (2 s - t)' }]),
      }),
    'solver',
    undefined,
  ],
  [
    'a driven speed dividing by zero at t = 2 s',
    () =>
      model('x', {
        run: { until: 3 },
        points: e([O]),
        bodies: e([cube]),
        joints: e([slide]),
        drives: e([{ name: 'M', joint: 'Slide', value: '1 m / (2 s - t)' }]),
      }),
    'solver',
    undefined,
  ],
  [
    'bars too short to meet',
    () => {
      const m = sliderCrank();
      return { ...m, points: m.points.map((p) => (p.name === 'Slide pin' ? { ...p, at: [0, 1, 0] } : p)) };
    },
    'assembly-open',
  ],
  [
    'a start speed against a drive',
    () => {
      const m = sliderCrank();
      return { ...m, starts: e([{ name: 'Push', joint: 'Slide', speed: 5 }]) };
    },
    'start-impossible',
    'Push',
  ],
  [
    'a drive past a dead centre',
    () => {
      const m = sliderCrank();
      return {
        ...m,
        bodies: m.bodies.map((b) => (b.name === 'Crank' ? { ...b, rotation: [0, 0, 1] } : b)),
        drives: e([{ name: 'Pull', joint: 'Slide', value: '-1 m/s' }]),
        gauges: [],
      };
    },
    'solver-locked',
  ],
  [
    'a gauge in a load that only the solution gives',
    () => {
      const m = sliderCrank();
      return { ...m, loads: e([{ name: 'F', kind: 'force', body: 'Slider', at: 'Slide pin', magnitude: '{Torque} / (1 m)' }]) };
    },
    'formula-gauge',
    'F',
  ],
  [
    'gears of three bodies in two',
    () => {
      const m = sliderCrank();
      return { ...m, couplings: e([{ name: 'Mesh', kind: 'gear-pair', joints: ['Bearing', 'Slide'], teeth: 10, otherTeeth: 20 }]) };
    },
    'gear-bearing',
    'Mesh',
  ],
  [
    'friction that jams by itself',
    () => {
      const m = sliderCrank();
      return {
        ...m,
        loads: e([
          ...m.loads,
          { name: 'Rub', kind: 'joint-friction', joint: 'Slide', static: 6, sliding: 6 },
          { name: 'Work', kind: 'force', body: 'Slider', at: 'Slide pin', direction: [1, 0, 0], magnitude: 5000 },
        ]),
      };
    },
    'friction-jam',
  ],
  [
    'an asymmetric stiffness field',
    () =>
      model('x', {
        points: e([O]),
        bodies: e([cube]),
        loads: e([
          {
            name: 'F',
            kind: 'field',
            bodies: ['Ground', 'Block'],
            at: ['O'],
            stiffness: [
              [1, 2, 0, 0, 0, 0],
              [0, 1, 0, 0, 0, 0],
              [0, 0, 1, 0, 0, 0],
              [0, 0, 0, 1, 0, 0],
              [0, 0, 0, 0, 1, 0],
              [0, 0, 0, 0, 0, 1],
            ],
          },
        ]),
      }),
    'field-asymmetric',
    'F',
  ],
];

describe('refused or ended in words', () => {
  it.each(cases)('%s', (_what, m, code, at) => {
    const found = outcome(m());
    const d = found.find((x) => x.code.startsWith(code));
    expect(found.map((x) => `${x.code}: ${x.message}`).join('; '), 'diagnoses').toContain(code);
    if (at) expect(d!.element?.name).toBe(at);
    expect(d!.message.length).toBeGreaterThan(10);
    for (const x of found) expect(x.message).not.toMatch(/NaN|undefined|\[object/);
  });
});

describe('absurd but lawful', () => {
  it('a stiffness of 1e20 is solved by the implicit method, or ended in words', () => {
    const m = model('x', {
      run: { until: 0.1, every: 0.01 },
      points: e([O]),
      bodies: e([cube]),
      joints: e([slide]),
      loads: e([
        { name: 'K', kind: 'joint-spring', joint: 'Slide', stiffness: 1e20, damping: 1e12 },
        { name: 'F', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: '1 N * sin(10 rad/s*t)' },
      ]),
      gauges: e([{ name: 'x', kind: 'joint', joint: 'Slide' }]),
    });
    const r = runModel(m);
    if (r.end.status === 'done') expect(Math.abs(r.gauge('x').at(-1)!)).toBeLessThan(1e-10);
    else expect(r.end.diagnoses[0]!.message.length).toBeGreaterThan(10);
    for (const x of r.gauge('x')) expect(Number.isFinite(x)).toBe(true);
  });

  it('10,000 loose bodies are checked and named', () => {
    const m = model('x', { points: e([O]), bodies: e(Array.from({ length: 10_000 }, (_, i) => ({ ...cube, name: `Block ${i}` }))) });
    const { diagnoses, mobility } = check(m);
    expect(mobility!.joints).toBe(60_000);
    expect(diagnoses.filter((d) => d.code === 'body-loose').length).toBe(10_000);
  });

  it('a stiff bushing switches to the implicit method by itself', () => {
    const m = model('x', {
      run: { until: 2, every: 0.01 },
      points: e([O]),
      bodies: e([cube]),
      joints: e([slide]),
      loads: e([
        { name: 'K', kind: 'joint-spring', joint: 'Slide', stiffness: 1e5, damping: 1e6 },
        { name: 'F', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: '1000 N * sin(5 rad/s*t)' },
      ]),
    });
    const { end } = runModel(m);
    expect(end.status).toBe('done');
    expect(end.statistics.implicit).toBeGreaterThan(0);
    expect(end.statistics.steps).toBeLessThan(2000);
  });
});
