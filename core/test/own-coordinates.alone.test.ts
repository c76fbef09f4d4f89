/**
 * Bodies told by coordinates of their own: a kind of body is added here, with its law alone. Solver, records, projection, analyses and gauges are those of
 * all bodies; what they give is compared with the same machine of rigid bodies and joints.
 */
import { describe, expect, it } from 'vitest';
import { type FinishedRun, type Model, type RawElement, Readings, assemble, build, check, runModel } from '../src';
import { equilibrium, modes } from '../src/analyses';
import type { BodyKind } from '../src/elements/declarations';
import { body } from '../src/elements/basics';
import { bodyLaw } from '../src/equations/coordinates/body-law';
import { velocity } from '../src/equations/stated/body';
import { dot, plus, toGround } from '../src/expressions/vectors';
import { quantity, vector } from '../src/model/fields';
import { register } from '../src/model/kinds';
import { D } from '../src/quantity/dimension';
import { type BodyLoad, bodyLoads, snapshotChannel } from '../src/on-demand';
import { offsets } from '../src/results/record';
import { model, sliderCrank } from './models';

const e = (list: object[]) => list as RawElement[];

/** Turns about ground z through a place: one coordinate, the angle. */
const onAxle = bodyLaw({
  name: 'on an axle',
  coordinates: [{ does: 'turning', length: false }],
  numbers: { axle: 'vector', arm: 'vector', turn: 'vector', cosine: 'number' },
  posture(g, [q], { axle, arm, turn, cosine }) {
    const half = g.multiply(g.constant(0.5), q!),
      [c, s, C, S] = [g.apply('cos', half), g.apply('sin', half), g.apply('cos', q!), g.apply('sin', q!)];
    const [x, y, z] = turn;
    return {
      r: plus(g, axle, [
        g.subtract(g.multiply(C, arm[0]), g.multiply(S, arm[1])),
        g.add(g.multiply(S, arm[0]), g.multiply(C, arm[1])),
        arm[2],
      ]),
      // (c, 0, 0, s) times the turn as drawn
      turn: [
        g.subtract(g.multiply(c, cosine), g.multiply(s, z)),
        g.subtract(g.multiply(c, x), g.multiply(s, y)),
        g.add(g.multiply(c, y), g.multiply(s, x)),
        g.add(g.multiply(c, z), g.multiply(s, cosine)),
      ],
    };
  },
});
const flywheel: BodyKind = {
  family: 'bodies',
  kind: 'test-flywheel',
  label: 'Flywheel',
  help: 'Turns about ground z.',
  fields: {
    ...body.fields,
    axle: vector(D.length, 'Axle', 'Where it turns.', { default: [0, 0, 0] }),
    turning: quantity(D.angularSpeed, 'Turning', 'At the start.', { default: 0 }),
  },
  coordinates(v, { centre, turn: [w, ...turn] }) {
    const axle = v['axle'] as readonly number[];
    return { law: onAxle, values: [...axle, ...centre.map((x, k) => x - axle[k]!), ...turn, w], speeds: [v['turning'] as number] };
  },
};

/** A rigid body with a point mass on a spring along its x axis. */
const carrying = bodyLaw({
  name: 'carries a mass on a spring',
  coordinates: [{ does: 'sliding within', length: true }],
  numbers: { mass: 'number', at: 'vector', stiffness: 'number', fall: 'vector' },
  kinetic(g, b, [q], [s], { mass, at }) {
    const v = plus(g, velocity(g, b, plus(g, at, [q!, g.zero, g.zero])), toGround(g, b.A, [s!, g.zero, g.zero]));
    return g.multiply(g.multiply(g.constant(0.5), mass), dot(g, v, v));
  },
  potential(g, b, [q], { mass, at, stiffness, fall }) {
    const place = plus(g, b.r, toGround(g, b.A, plus(g, at, [q!, g.zero, g.zero])));
    return g.subtract(g.multiply(g.multiply(g.constant(0.5), stiffness), g.square(q!)), g.multiply(mass, dot(g, fall, place)));
  },
});
const STIFF = 400,
  CARRIED = 0.3;
const carrier: BodyKind = {
  family: 'bodies',
  kind: 'test-carrier',
  label: 'Carrier',
  help: 'Carries a mass on a spring.',
  fields: body.fields,
  coordinates: () => ({ law: carrying, speeds: [0], values: [CARRIED, 0.1, 0.02, -0.03, STIFF, 0, -9.81, 0] }),
};
register([flywheel, carrier]);

const worst = (a: FinishedRun, b: FinishedRun, gauge: string): number => {
  const x = a.gauge(gauge),
    y = b.gauge(gauge),
    size = Math.max(...x.map(Math.abs), 1e-9);
  return Math.max(...x.map((v, i) => Math.abs(v - y[i]!))) / size;
};

/** The free slider-crank, its crank on a pin; and the same with a crank that is told by its angle. */
export const withPin = (): Model => {
  const m = sliderCrank();
  return {
    ...m,
    drives: [],
    starts: e([{ name: 'There', joint: 'Slide', position: '229 mm' }]),
    bodies: m.bodies.map((b) => (b.name === 'Crank' ? { ...b, rotation: [0, 0, '50 deg'], spin: [0, 0, '30 rad/s'] } : b)) as RawElement[],
    gauges: [
      ...m.gauges.filter((x) => !/Torque|Power|Angle|Bearing/.test(x.name)),
      ...e([
        { name: 'Closing', kind: 'energy', of: 'closing' },
        { name: 'Kinetic', kind: 'energy', of: 'kinetic' },
        { name: 'Pin', kind: 'point', body: 'Crank', at: 'Crank pin', of: 'acceleration', component: 'y' },
        { name: 'Spin', kind: 'body', body: 'Crank', component: 'z' },
      ]),
    ],
  };
};
export const byAngle = (m: Model = withPin()): Model => ({
  ...m,
  bodies: m.bodies.map((b) =>
    b.name === 'Crank' ? { ...b, kind: 'test-flywheel', spin: undefined, turning: '30 rad/s' } : b,
  ) as RawElement[],
  joints: m.joints.filter((j) => j.name !== 'Bearing'),
});

describe('a body of one coordinate', () => {
  it.each(['explicit', 'implicit'] as const)('moves, and loads its joints, as one on a pin: %s steps', (method) => {
    const options = { accuracy: 1e-8, method },
      [pin, angle] = [runModel(withPin(), { ...options, planar: 'off' }), runModel(byAngle(), options)];
    for (const gauge of ['x', 'v', 'a', 'Pin', 'Spin', 'Kinetic', 'Crank joint x', 'Crank joint y', 'Slide y'])
      expect(worst(pin, angle, gauge), gauge).toBeLessThan(1e-6);
    const [before, now] = [pin, angle].map((r) => Math.max(...r.gauge('Closing').map(Math.abs)));
    expect(now!).toBeLessThan(2 * before! + 1e-9);
  });
  it('has two numbers in a state that steps are made with, and is told in records like all bodies, and by these two', () => {
    const { system } = build(byAngle()).mechanism!,
      { K } = system;
    expect(K.layout.size).toBe(2 + 2 * 13 + K.extra);
    expect(K.whole.size).toBe(2 + 3 * 13 + K.extra);
    expect(system.velocities).toBe(1 + 2 * 6);
    const run = runModel(byAngle(), { until: 0.1 }),
      at = offsets(run.layout).state,
      again = runModel(byAngle(), { until: 0.05, start: run.state(50) });
    // the same from there on, and its record says where it is
    expect(again.gauge('x').at(-1)).toBeCloseTo(run.gauge('x').at(-1)!, 7);
    expect(run.chunks[0]!.subarray(at, at + 7).some((x) => Math.abs(x) > 0.01)).toBe(true);
  });
  it('has the freedoms, the equilibria and the modes of one on a pin', () => {
    const hung = (m: Model): Model => ({
      ...m,
      loads: [
        ...m.loads,
        ...e([
          { name: 'Spring', kind: 'spring', at: ['Slide pin', 'Axle'], bodies: ['Slider', 'Ground'], stiffness: '3 kN/m', free: '180 mm' },
        ]),
      ],
    });
    const found = [hung(withPin()), byAngle(hung(withPin()))].map((m) => {
      const report = check(m),
        mechanism = report.built.mechanism!;
      expect(report.diagnoses.filter((d) => d.severity === 'error')).toEqual([]);
      mechanism.system.K.load(assemble(mechanism).y);
      const stands = equilibrium(mechanism);
      return {
        free: report.mobility!.free,
        energy: stands.energy,
        modes: modes(mechanism).modes.map((x) => x.frequency),
        motions: report.mobility!.motions,
      };
    });
    expect(found[1]!.motions).toEqual(['Crank turning']);
    expect(found[1]!.free).toBe(1);
    expect(found[1]!.energy).toBeCloseTo(found[0]!.energy, 8);
    expect(found[1]!.modes).toHaveLength(1);
    expect(found[1]!.modes[0]! / found[0]!.modes[0]!).toBeCloseTo(1, 6);
  });
  it('is carried on its way as a pin carries it', () => {
    const carried = [withPin(), byAngle()].map((m) => {
      const run = runModel(m, { until: 0.05, accuracy: 1e-8, planar: 'off' });
      let found: BodyLoad | undefined;
      const channel = snapshotChannel((s) => {
        found = bodyLoads(run.mechanism, 'Crank', s).loads.find((l) => l.from === 'Bearing' || l.from === 'its way');
      });
      new Readings(run.mechanism, run.layout).read([channel], [run.chunks.at(-1)!.slice(-run.layout.width)]);
      return found!;
    });
    const [pin, way] = carried;
    expect(Math.hypot(...pin!.force)).toBeGreaterThan(10);
    for (const k of [0, 1]) expect(way!.force[k]! / Math.hypot(...pin!.force)).toBeCloseTo(pin!.force[k]! / Math.hypot(...pin!.force), 6);
    // about the axle nothing turns it
    expect(way!.moment[2]! + way!.at[0]! * way!.force[1]! - way!.at[1]! * way!.force[0]!).toBeCloseTo(0, 8);
  });
  it('follows a drive on a joint it is part of, with the same load', () => {
    // the crank drives; the slider is pushed along its way instead
    const driven = (m: Model): Model => ({
      ...m,
      starts: [],
      drives: e([{ name: 'Push', joint: 'Slide', prescribes: 'position', value: '229 mm + 12 mm * sin(20 rad/s * t)' }]),
      gauges: [...m.gauges, ...e([{ name: 'Force', kind: 'drive', drive: 'Push' }])],
    });
    const [pin, angle] = [
      runModel(driven(withPin()), { planar: 'off', accuracy: 1e-8 }),
      runModel(byAngle(driven(withPin())), { accuracy: 1e-8 }),
    ];
    for (const gauge of ['x', 'Force', 'Crank joint x', 'Spin']) expect(worst(pin, angle, gauge), gauge).toBeLessThan(1e-6);
  });
});

/** A bar that swings in space on a ball, a mass sliding in it on a spring: the mass as a body of its own, and as a coordinate of the bar. */
export const bar = (carried: boolean, joint: 'spherical' | 'revolute' = 'spherical'): Model =>
  model('Carrier', {
    run: { until: '1 s', every: '5 ms', accuracy: 1e-9 },
    points: e([
      { name: 'Hook' },
      { name: 'Seat', body: 'Bar', at: [0.25, 0.02, -0.03] },
      { name: 'Middle', body: 'Bar', at: [0.15, 0, 0] },
    ]),
    bodies: e([
      {
        name: 'Bar',
        kind: carried ? 'test-carrier' : 'body',
        mass: 1.1,
        centre: [0.15, 0, 0],
        inertia: [0.002, 0.02, 0.021],
        spin: joint === 'spherical' ? ['2 rad/s', '3 rad/s', '-1 rad/s'] : undefined,
      },
      ...(carried ? [] : [{ name: 'Bob', origin: 'Seat', mass: CARRIED, inertia: [1e-9, 1e-9, 1e-9] }]),
    ]),
    joints: e([
      { name: 'Ball', kind: joint, bodies: ['Ground', 'Bar'], at: ['Hook'] },
      ...(carried ? [] : [{ name: 'Way', kind: 'prismatic', bodies: ['Bar', 'Bob'], at: ['Seat'], axis: [1, 0, 0] }]),
    ]),
    starts: e(carried ? [] : [{ name: 'Still', joint: 'Way', speed: 0 }]),
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: [0, '-9.81 m/s^2', 0] },
      ...(carried ? [] : [{ name: 'Spring', kind: 'joint-spring', joint: 'Way', stiffness: `${STIFF} N/m` }]),
    ]),
    gauges: e([
      { name: 'y', kind: 'point', body: 'Bar', at: 'Middle', component: 'y' },
      { name: 'az', kind: 'point', body: 'Bar', at: 'Middle', of: 'acceleration', component: 'z' },
      { name: 'Load x', kind: 'reaction', joint: 'Ball', component: 'x' },
      { name: 'Load y', kind: 'reaction', joint: 'Ball', component: 'y' },
      { name: 'Kinetic', kind: 'energy', of: 'kinetic' },
      { name: 'Closing', kind: 'energy', of: 'closing' },
    ]),
  });

describe('a body of seven velocities, with a mass matrix that is neither constant nor diagonal', () => {
  it('moves as the two bodies of which it is made', () => {
    const [two, one] = [runModel(bar(false)), runModel(bar(true))];
    for (const gauge of ['y', 'az', 'Load x', 'Load y', 'Kinetic']) expect(worst(two, one, gauge), gauge).toBeLessThan(1e-5);
    expect(Math.max(...one.gauge('Closing').map(Math.abs))).toBeLessThan(1e-7);
    expect(one.mechanism.system.velocities).toBe(7);
  });
  it('has the freedoms and the modes of the two', () => {
    const found = [bar(false, 'revolute'), bar(true, 'revolute')].map((m) => {
      const report = check(m),
        mechanism = report.built.mechanism!;
      mechanism.system.K.load(assemble(mechanism).y);
      equilibrium(mechanism);
      return { free: report.mobility!.free, modes: modes(mechanism).modes.map((x) => x.frequency) };
    });
    expect(found[1]!.free).toBe(found[0]!.free);
    expect(found[1]!.modes).toHaveLength(found[0]!.modes.length);
    found[1]!.modes.forEach((f, i) => expect(f).toBeCloseTo(found[0]!.modes[i]!, 4));
  });
});

it('compiled as a whole or equation by equation, the accelerations are the same', async () => {
  const { COMPILER } = await import('../src/system/compiler');
  for (const m of [byAngle(), bar(true)]) {
    const of = (whole: boolean) => {
      const mechanism = build(m).mechanism!,
        { system } = mechanism;
      system.K.load(assemble(mechanism).y);
      if (whole) system.compile(COMPILER);
      system.accelerate(0);
      expect(system.compiled).toBe(whole);
      return Array.from(system.solution);
    };
    const [one, all] = [of(false), of(true)],
      size = Math.max(...one.map(Math.abs));
    one.forEach((x, i) => expect(Math.abs(x - all[i]!)).toBeLessThan(1e-11 * size));
  }
});
