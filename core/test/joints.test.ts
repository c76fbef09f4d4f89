/** Every kind of joint: what it leaves free, that it does no work, and the published behaviour of those that have one. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type RawElement, check, kindsOf, runModel } from '../src';
import { oneJoint } from './every-joint';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const DEG = Math.PI / 180;

const direction = fc
  .tuple(
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
  )
  .filter((v) => Math.hypot(...v) > 0.3);

describe.each(
  kindsOf('joints')
    .map((k) => k.kind)
    .filter((k) => k !== 'cam'),
)('%s', (kind) => {
  const declared = kindsOf('joints').find((k) => k.kind === kind) as unknown as { leaves: number; holds: string[] };

  it('leaves the freedoms it says, holds each of the others once, in words', () => {
    fc.assert(
      fc.property(direction, (axis) => {
        const { mobility, diagnoses } = check(oneJoint(kind, axis));
        expect(diagnoses.filter((d) => d.severity === 'error')).toEqual([]);
        expect(mobility!.joints).toBe(declared.leaves);
        expect(mobility!.redundant).toBe(0);
      }),
      { numRuns: 20 },
    );
    expect(declared.holds.length).toBe(6 - declared.leaves);
  });

  it('does no work', () => {
    fc.assert(
      fc.property(direction, (axis) => {
        const run = runModel(oneJoint(kind, axis));
        const energy = run.gauge('Energy');
        const size = Math.max(1e-3, ...run.gauge('Kinetic'));
        for (const x of energy) expect(Math.abs(x - energy[0]!) / size).toBeLessThan(1e-6);
      }),
      { numRuns: 4 },
    );
  });
});

describe('a course of lines and arcs', () => {
  it('carries a bead: it keeps its energy, and its way is the length of lines and quarter circles', () => {
    const P = (name: string, ...at: number[]) => ({ name, at });
    const run = runModel(
      model('Bead', {
        run: { until: 1.2, every: 0.01, accuracy: 1e-7 },
        points: e([P('A', 0, 0, 1), P('B', 0, 0, 0), P('C', 1, 0, 0), P('D', 1, 0, 2)]),
        bodies: e([{ name: 'Bead', origin: 'A', mass: 1, inertia: [1, 1, 1] }]),
        joints: e([
          {
            name: 'Way',
            kind: 'point-on-curve',
            bodies: ['Ground', 'Bead'],
            at: ['A'],
            through: ['A', 'B', 'C', 'D'],
            course: 'rounded',
            corner: '300 mm',
          },
        ]),
        loads: e([{ name: 'Gravity', kind: 'gravity' }]),
        gauges: e([
          { name: 'way', kind: 'joint', joint: 'Way' },
          { name: 'height', kind: 'point', body: 'Bead', at: 'A', component: 'z' },
          { name: 'energy', kind: 'energy', of: 'total' },
        ]),
      }),
    );
    const [way, height, energy] = [run.gauge('way'), run.gauge('height'), run.gauge('energy')],
      last = way.length - 1;
    // down, round a quarter circle, along, round another and up again: where it is, it is as far as lines and arcs say
    const up = Math.abs(way[last]! - way[0]!) - (0.7 + 0.15 * Math.PI + 0.4 + 0.15 * Math.PI);
    expect(up).toBeGreaterThan(0);
    expect(height[last]!).toBeCloseTo(0.3 + up, 5);
    expect(Math.max(...energy) - Math.min(...energy)).toBeLessThan(1e-4);
  });
});

describe('point-on-curve', () => {
  it.each([
    [0, 1, 1],
    [0, -1, 1],
    [1, 0, 1],
    [-1, 0, -1],
    [1, 1, 0],
  ])('keeps its energy where the curve has no preferred normal: plane square to %d, %d, %d', (...axis) => {
    const run = runModel(oneJoint('point-on-curve', axis));
    const energy = run.gauge('Energy'),
      size = Math.max(1e-3, ...run.gauge('Kinetic'));
    for (const x of energy) expect(Math.abs(x - energy[0]!) / size).toBeLessThan(1e-6);
    expect(run.end.statistics.steps).toBeLessThan(1000);
  });
});

describe('cam', () => {
  /** The follower kept in the cam's plane, as it must be. */
  const kept = (axis: readonly number[]) => {
    const m = oneJoint('cam', axis);
    return {
      ...m,
      joints: [...m.joints, { name: 'Plane', kind: 'planar', bodies: ['Ground', 'Rotor'], at: ['Roller'], axis } as unknown as RawElement],
    };
  };
  it('takes one of the three freedoms of a plane', () => {
    fc.assert(
      fc.property(direction, (axis) => {
        expect(check(kept(axis)).mobility).toMatchObject({ joints: 2, redundant: 0 });
      }),
      { numRuns: 10 },
    );
  });
  it('does no work', () => {
    fc.assert(
      fc.property(direction, (axis) => {
        const run = runModel(kept(axis));
        const energy = run.gauge('Energy'),
          size = Math.max(1e-3, ...run.gauge('Kinetic'));
        for (const x of energy) expect(Math.abs(x - energy[0]!) / size).toBeLessThan(1e-6);
      }),
      { numRuns: 4 },
    );
  });
});

/** Two shafts meeting at a bend, joined by a kind of joint; the first turns at constant speed. */
function bentShafts(kind: string, bend: number, extra: object) {
  const out = [Math.cos(bend), Math.sin(bend), 0];
  return runModel(
    model('Bent shafts', {
      run: { until: '2 s', every: '5 ms' },
      points: e([{ name: 'Bend' }]),
      bodies: e([
        { name: 'Input', mass: 1, inertia: [0.01, 0.01, 0.01] },
        { name: 'Output', mass: 1, inertia: [0.01, 0.01, 0.01] },
      ]),
      joints: e([
        { name: 'Front bearing', kind: 'revolute', bodies: ['Ground', 'Input'], at: ['Bend'], axis: [1, 0, 0] },
        { name: 'Rear bearing', kind: 'revolute', bodies: ['Ground', 'Output'], at: ['Bend'], axis: out },
        { name: 'Coupling', kind, bodies: ['Input', 'Output'], at: ['Bend'], ...extra },
      ]),
      drives: e([{ name: 'Motor', joint: 'Front bearing', prescribes: 'speed', value: '1 rev/(1 s)' }]),
      gauges: e([
        { name: 'in', kind: 'joint', joint: 'Front bearing' },
        { name: 'out', kind: 'joint', joint: 'Rear bearing' },
        { name: 'in speed', kind: 'joint', joint: 'Front bearing', of: 'rate' },
        { name: 'out speed', kind: 'joint', joint: 'Rear bearing', of: 'rate' },
      ]),
    }),
  );
}

describe('shafts at a bend', () => {
  it('a universal joint has the speed ratio cos β / (1 − sin² β cos² θ)', () => {
    const bend = 35 * DEG;
    // the input's arm lies in the plane of the shafts at the start, the output's arm square to that plane
    const run = bentShafts('universal', bend, { axis: [0, 1, 0], cross: [0, 0, 1] });
    run.gauge('out speed').forEach((w, i) => {
      const angle = run.gauge('in')[i]!;
      const ratio = Math.cos(bend) / (1 - (Math.sin(bend) * Math.cos(angle)) ** 2);
      expect(w / run.gauge('in speed')[i]!).toBeCloseTo(ratio, 7);
    });
    expect(run.gauge('out').at(-1)! / run.gauge('in').at(-1)!).toBeCloseTo(1, 7);
  });

  it('a constant-velocity joint turns both shafts alike at every angle', () => {
    const run = bentShafts('constant-velocity', 35 * DEG, { axis: [1, 0, 0], cross: [Math.cos(35 * DEG), Math.sin(35 * DEG), 0] });
    run.gauge('out speed').forEach((w, i) => expect(w / run.gauge('in speed')[i]!).toBeCloseTo(1, 7));
  });

  it('two universal joints with their arms alike cancel between parallel shafts', () => {
    const run = runModel(
      model('Double Cardan shaft', {
        run: { until: '1 s', every: '5 ms' },
        points: e([{ name: 'Front' }, { name: 'Rear', at: [0.3, 0.2, 0] }]),
        bodies: e(
          ['Input', 'Middle', 'Output'].map((name) => ({
            name,
            mass: 1,
            inertia: [0.01, 0.01, 0.01],
            ...(name === 'Output' ? { origin: 'Rear' } : {}),
          })),
        ),
        joints: e([
          { name: 'Front bearing', kind: 'revolute', bodies: ['Ground', 'Input'], at: ['Front'], axis: [1, 0, 0] },
          { name: 'Rear bearing', kind: 'revolute', bodies: ['Ground', 'Output'], at: ['Rear'], axis: [1, 0, 0] },
          { name: 'Front cross', kind: 'universal', bodies: ['Input', 'Middle'], at: ['Front'], axis: [0, 1, 0], cross: [0, 0, 1] },
          { name: 'Rear cross', kind: 'universal', bodies: ['Output', 'Middle'], at: ['Rear'], axis: [0, 1, 0], cross: [0, 0, 1] },
        ]),
        drives: e([{ name: 'Motor', joint: 'Front bearing', prescribes: 'speed', value: '2 rev/(1 s)' }]),
        gauges: e([
          { name: 'in', kind: 'joint', joint: 'Front bearing', of: 'rate' },
          { name: 'out', kind: 'joint', joint: 'Rear bearing', of: 'rate' },
        ]),
      }),
    );
    run.gauge('out').forEach((w, i) => expect(w / run.gauge('in')[i]!).toBeCloseTo(1, 7));
  });
});

describe('screw', () => {
  const screw = (drive: object, loads: object[] = []) =>
    runModel(
      model('Screw', {
        run: { until: '2 s', every: '10 ms' },
        points: e([{ name: 'Nut' }]),
        bodies: e([{ name: 'Spindle', mass: 2, inertia: [0.01, 0.01, 0.004] }]),
        joints: e([{ name: 'Thread', kind: 'screw', bodies: ['Ground', 'Spindle'], at: ['Nut'], axis: [0, 0, 1], lead: '5 mm' }]),
        ...drive,
        loads: e(loads),
        gauges: e([
          { name: 'Turn', kind: 'joint', joint: 'Thread' },
          { name: 'Travel', kind: 'joint', joint: 'Thread', freedom: 'translation' },
        ]),
      }),
    );

  it('travels by its lead at every turn, over many turns', () => {
    const run = screw({ drives: e([{ name: 'Motor', joint: 'Thread', prescribes: 'speed', value: '600 rpm' }]) });
    expect(run.gauge('Turn').at(-1)! / (2 * Math.PI)).toBeCloseTo(20, 8);
    run.gauge('Travel').forEach((s, i) => expect(s).toBeCloseTo((0.005 * run.gauge('Turn')[i]!) / (2 * Math.PI), 10));
  });

  it('runs down under its weight as the closed form of its one freedom', () => {
    const run = screw({}, [{ name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -10] }]);
    const p = 0.005 / (2 * Math.PI);
    const spin = (-2 * 10 * p) / (0.004 + 2 * p * p);
    expect(run.gauge('Turn').at(-1)!).toBeCloseTo(0.5 * spin * 4, 6);
  });
});

describe('distance', () => {
  it('as the rod of a slider-crank gives the slider of the closed form', () => {
    const r = 0.05,
      l = 0.2;
    const run = runModel(
      model('Rod', {
        run: { until: '0.4 s', every: '1 ms', accuracy: 1e-8 },
        points: e([{ name: 'Axle' }, { name: 'Crank pin', at: [r, 0, 0] }, { name: 'Slider pin', at: [r + l, 0, 0] }]),
        bodies: e([
          { name: 'Crank', mass: 1, inertia: [1e-3, 1e-3, 1e-3] },
          { name: 'Slider', origin: 'Slider pin', mass: 1, inertia: [1e-3, 1e-3, 1e-3] },
        ]),
        joints: e([
          { name: 'Bearing', kind: 'revolute', bodies: ['Ground', 'Crank'], at: ['Axle'] },
          { name: 'Rod', kind: 'distance', bodies: ['Crank', 'Slider'], at: ['Crank pin', 'Slider pin'] },
          { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Slider'], at: ['Axle', 'Slider pin'], axis: [1, 0, 0] },
        ]),
        drives: e([{ name: 'Motor', joint: 'Bearing', prescribes: 'speed', value: '300 rpm' }]),
        gauges: e([
          { name: 'x', kind: 'joint', joint: 'Slide' },
          { name: 'q', kind: 'joint', joint: 'Bearing' },
        ]),
      }),
    );
    run.gauge('x').forEach((x, i) => {
      const q = run.gauge('q')[i]!;
      expect(x).toBeCloseTo(r * Math.cos(q) + Math.sqrt(l * l - (r * Math.sin(q)) ** 2), 9);
    });
  });

  it('a rod between coincident points is refused by name', () => {
    const m = oneJoint('distance', [0, 0, 1], { at: ['Here', 'Here'] });
    const found = check(m).diagnoses.find((d) => d.code === 'distance-zero');
    expect(found?.element?.name).toBe('Joint');
  });
});
