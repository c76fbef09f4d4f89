/** Kits and their instances, rows, rings, paths and mirrors. */
import { describe, expect, it } from 'vitest';
import {
  type Model,
  type RawElement,
  Refusal,
  build,
  check,
  complete,
  contentOf,
  independent,
  kitContent,
  kitOf,
  rename,
  runModel,
  writeModel,
} from '../src';
import { chords, fittingChord } from '../src/geometry/chords';
import { Circle, Spline } from '../src/geometry/curve';
import { norm, sub, type Vec3 } from '../src/geometry/vector';
import { expand } from '../src/model/expand';
import { checkModel, readModel } from '../src/model/file';
import { model } from './models';
import gateFile from '../../examples/sorting-gate.pivot.json';

const gate = complete(gateFile as object);
const errors = (m: Model) =>
  build(m)
    .diagnoses.filter((d) => d.severity === 'error')
    .map((d) => d.message);
const kit = (name: string, content: object): RawElement => ({ name, content: kitContent(name, content) }) as unknown as RawElement;
const { loads, ...still } = gate;
const gravity = loads.filter((l) => l.kind === 'gravity');
/** The whole gate as a kit; gravity stays outside. */
const asKit = kit('Gate', { ...still, loads: loads.filter((l) => l.kind !== 'gravity'), scripts: undefined });
const machine = (instances: object[], more: object = {}): Model =>
  complete({
    format: gate.format,
    version: 1,
    name: 'test',
    ground: gate.ground,
    run: gate.run,
    kits: [asKit],
    instances,
    loads: gravity,
    ...more,
  });
const GAUGES = ['Pusher travel', 'Crank angle', 'Crank torque', 'Rocker pin load', 'Push rod load'];
const agree = (a: Float64Array, b: Float64Array) => {
  const size = Math.max(...Array.from(a, Math.abs));
  expect(a.length).toBe(b.length);
  a.forEach((x, i) => expect(Math.abs(x - b[i]!)).toBeLessThan(2e-5 * size));
};

describe('an instance of a kit', () => {
  const alone = runModel(gate, { until: 1, every: 0.01 });
  it.each([
    ['in place', { kind: 'single' }],
    ['put elsewhere and turned about the vertical', { kind: 'single', at: [1, '-300 mm', 0.2], rotation: [0, 0, '40 deg'] }],
  ])('%s does what the machine did', (_where, how) => {
    const m = machine([{ name: 'Left', kit: 'Gate', ...how }]);
    expect(errors(m)).toEqual([]);
    const run = runModel(m, { until: 1, every: 0.01 });
    for (const g of GAUGES) agree(alone.gauge(g), run.gauge(`Left/${g}`));
  });
  it('mirrored, with the mirror in any plane through the vertical, takes the same torque and carries the same loads', () => {
    const m = machine([
      { name: 'Left', kit: 'Gate', kind: 'single', rotation: [0, 0, 0.3] },
      { name: 'Right', kind: 'mirror', of: ['Left'], at: [2, 1, 0], normal: [1, 0.4, 0] },
    ]);
    expect(errors(m)).toEqual([]);
    const run = runModel(m, { until: 1, every: 0.01 });
    for (const g of GAUGES) agree(alone.gauge(g), run.gauge(`Right/Left/${g}`));
  });
  it('bodies of the machine itself are mirrored with what ties them, and follow a change', () => {
    const m = {
      ...gate,
      instances: [{ name: 'Right', kind: 'mirror', bodies: gate.bodies.map((b) => b.name), at: [0, 1, 0], normal: [0, 1, 0] }],
    } as Model;
    expect(errors(m)).toEqual([]);
    const longer = { ...m, parameters: m.parameters.map((p) => (p.name === 'arm' ? { ...p, value: '66 mm' } : p)) };
    for (const x of [m, longer]) {
      const run = runModel(x, { until: 0.5, every: 0.01 });
      for (const g of GAUGES) agree(run.gauge(g), run.gauge(`Right/${g}`));
    }
  });
  it('what hangs on a body that both sides share hangs at the mirrored place of it', () => {
    // an arm on a carrier that is drawn elsewhere, turned; the mirror is the plane x = 0.2 of the ground
    const m = checkModel({
      format: 'vim-pivot-model',
      version: 1,
      name: 'Carrier',
      points: [
        { name: 'Home', at: [1, 0.5, 0] },
        { name: 'Root', body: 'Carrier', at: [0.3, 0.1, 0.2] },
        { name: 'Tip', body: 'Arm', at: [0.4, 0.05, 0] },
      ],
      bodies: [
        { name: 'Carrier', origin: 'Home', rotation: [0.3, -0.2, 0.7], mass: 5, inertia: [1, 1, 1] },
        { name: 'Arm', origin: 'Root', rotation: [0.1, 0.2, 0.3], mass: 1, centre: [0.2, 0.01, 0], inertia: [0.1, 0.1, 0.1] },
      ],
      joints: [{ name: 'Hinge', kind: 'revolute', bodies: ['Carrier', 'Arm'], at: ['Root'], axis: [0, 0, 1] }],
      loads: [{ name: 'Gravity', kind: 'gravity' }],
      instances: [{ name: 'Other', kind: 'mirror', bodies: ['Arm'], shared: ['Carrier'], at: [0.2, 0, 0], normal: [1, 0, 0] }],
    });
    expect(errors(m)).toEqual([]);
    const { layout, joints, bodies } = build(m).mechanism!,
      mirrored = ([x, y, z]: Vec3): Vec3 => [0.4 - x, y, z];
    for (const p of ['Root', 'Tip']) layout.point(`Other/${p}`).forEach((x, k) => expect(x).toBeCloseTo(mirrored(layout.point(p))[k]!, 12));
    // the joint's place in the carrier is that point, as drawn
    const [one, other] = ['Hinge', 'Other/Hinge'].map((n) => joints.find((j) => j.name === n)!.sides),
      carrier = bodies.find((b) => b.name === 'Carrier')!;
    expect([one!.a, other!.a]).toEqual([bodies.indexOf(carrier), bodies.indexOf(carrier)]);
    const ground = (s: Vec3): Vec3 =>
      [0, 1, 2].map(
        (k) =>
          carrier.origin[k as 0]! +
          [0, 1, 2].reduce((sum, j) => sum + carrier.turn[(3 * k + j) as 0]! * (s[j as 0] + carrier.centre[j as 0]), 0),
      ) as unknown as Vec3;
    ground(other!.sa).forEach((x, k) => expect(x).toBeCloseTo(mirrored(ground(one!.sa))[k]!, 12));
    // made independent, it stays where it stands
    const free = independent(m, 'Other');
    expect(errors(free)).toEqual([]);
    expect(free.instances).toEqual([]);
    const own = build(free).mechanism!;
    for (const p of ['Other/Root', 'Other/Tip']) own.layout.point(p).forEach((x, k) => expect(x).toBeCloseTo(layout.point(p)[k]!, 10));
    own.joints.find((j) => j.name === 'Other/Hinge')!.sides.sa.forEach((x, k) => expect(x).toBeCloseTo(other!.sa[k]!, 10));
    const fixed = { ...m, joints: m.joints.map((j) => ({ ...j, axisIn: 'Carrier' })) } as Model;
    expect(errors(fixed).join()).toContain('is given in the axes of Carrier, which is not mirrored');
  });
  it('a mirror of a mirror is the original again', () => {
    const m = machine([
      { name: 'A', kit: 'Gate', kind: 'single', rotation: [0.2, 0, 0] },
      { name: 'C', kind: 'mirror', of: ['B'], normal: [0.3, 1, 0.2] },
      { name: 'B', kind: 'mirror', of: ['A'], normal: [0.3, 1, 0.2] },
    ]);
    expect(errors(m)).toEqual([]);
    const { bodies } = build(m).mechanism!;
    for (const b of bodies.filter((x) => x.name.startsWith('A/'))) {
      const twice = bodies.find((x) => x.name === `C/B/${b.name}`)!;
      expect(norm(sub(b.origin, twice.origin))).toBeLessThan(1e-14);
      b.turn.forEach((x, i) => expect(Math.abs(x - twice.turn[i]!)).toBeLessThan(1e-14));
      b.inertia.forEach((x, i) => expect(Math.abs(x - twice.inertia[i]!)).toBeLessThan(1e-12));
    }
  });
  it('has values of its own, which are formulas of the machine', () => {
    const m = machine(
      [
        { name: 'Left', kit: 'Gate', kind: 'single', values: 'arm = throw * 2' },
        { name: 'Plain', kit: 'Gate', kind: 'single' },
      ],
      { parameters: [{ name: 'throw', value: '33 mm' }] },
    );
    expect(errors(m)).toEqual([]);
    const changed = { ...gate, parameters: gate.parameters.map((p) => (p.name === 'arm' ? { ...p, value: '66 mm' } : p)) };
    const [own, both] = [runModel(changed, { until: 0.5, every: 0.01 }), runModel(m, { until: 0.5, every: 0.01 })];
    agree(own.gauge('Pusher travel'), both.gauge('Left/Pusher travel'));
    agree(runModel(gate, { until: 0.5, every: 0.01 }).gauge('Pusher travel'), both.gauge('Plain/Pusher travel'));
  });
  it('gives its parameters to formulas outside, and its elements to references', () => {
    const m = machine([{ name: 'Left gate', kit: 'Gate', kind: 'single' }], {
      parameters: [{ name: 'twice', value: '2 * Left_gate.arm' }],
      gauges: [{ name: 'Angle', kind: 'joint', joint: 'Left gate/Motor pin' }],
    });
    expect(errors(m)).toEqual([]);
    expect(build(m).resolution.live.get('$.parameters[0].value')!.value).toBeCloseTo(
      2 * build(gate).resolution.live.get(`$.parameters[${gate.parameters.findIndex((p) => p.name === 'arm')}].value`)!.value,
      12,
    );
    const named = rename(m, 'instances', 'Left gate', 'L2');
    expect(errors(named)).toEqual([]);
    expect(named.parameters[0]!.value).toBe('2 * L2.arm');
    expect(named.gauges[0]!.joint).toBe('L2/Motor pin');
  });
});

/** A pendulum of length 1 m fastened to a mount. */
const arm = kit('Arm', {
  parameters: [{ name: 'long', value: '1 m' }],
  points: [{ name: 'Top' }, { name: 'End', at: ['long', 0, 0] }],
  bodies: [
    { name: 'Root', kind: 'mount' },
    { name: 'Bar', origin: 'Top', aim: 'End', mass: 2, inertia: [0.01, 0.2, 0.2], centre: ['long', 0, 0] },
  ],
  joints: [{ name: 'Pin', kind: 'revolute', bodies: ['Root', 'Bar'], at: ['Top'], axis: [0, 1, 0] }],
});
const arms = (instances: object[], more: object = {}): Model =>
  complete({
    format: gate.format,
    version: 1,
    name: 'test',
    ground: 'Ground',
    run: gate.run,
    kits: [arm],
    instances,
    loads: gravity,
    ...more,
  });

describe('mounts and nesting', () => {
  it('a mount stands for the body named for it, and for the ground otherwise', () => {
    const m = arms([
      { name: 'A', kit: 'Arm', kind: 'single' },
      { name: 'B', kit: 'Arm', kind: 'single', at: ['A.long', 0, 0], on: 'Root = A/Bar' },
    ]);
    expect(errors(m)).toEqual([]);
    const { joints } = build(m).mechanism!;
    expect(joints.map((j) => j.bodies)).toEqual([
      ['Ground', 'A/Bar'],
      ['A/Bar', 'B/Bar'],
    ]);
    expect(check(m).mobility!.free).toBe(2);
  });
  it('a kit of kits moves like its parts', () => {
    const pair = kit('Pair', {
      parameters: [{ name: 'reach', value: '2 m' }],
      bodies: [{ name: 'Wall', kind: 'mount' }],
      instances: [
        { name: 'One', kit: 'Arm', kind: 'single', values: 'long = reach / 2', on: 'Root = Wall' },
        { name: 'Two', kit: 'Arm', kind: 'single', at: ['One.long', 0, 0], on: 'Root = One/Bar' },
      ],
    });
    const m = arms([{ name: 'X', kit: 'Pair', kind: 'single', rotation: [0, 0, '90 deg'], values: 'reach = 3 m' }], { kits: [arm, pair] });
    expect(errors(m)).toEqual([]);
    const { bodies, layout } = build(m).mechanism!;
    expect(bodies.map((b) => b.name)).toEqual(['X/One/Bar', 'X/Two/Bar']);
    expect(layout.point('X/Two/End').map((x) => Math.round(x * 1e9) / 1e9)).toEqual([0, 2.5, 0]);
    expect(check(m).mobility!.free).toBe(2);
  });
  it('a kit that is open stands on the ground with its mounts, and its instances on them', () => {
    const pair = kitContent('Pair', {
      bodies: [{ name: 'Wall', kind: 'mount' }],
      instances: [{ name: 'One', kit: 'Arm', kind: 'single', on: 'Root = Wall' }],
    });
    const open = { ...pair, kits: [arm] };
    expect(errors(open)).toEqual([]);
    expect(build(open).mechanism!.joints[0]!.bodies).toEqual(['Ground', 'One/Bar']);
  });
  it.each([['Crank'], ['Crank', 'Coupler'], ['Rocker'], ['Yoke', 'Push rod'], ['Pusher']])(
    'a kit of %s %s opens without an error, and says which mounts float',
    (...names) => {
      const m = kitOf(
        gate,
        names.map((name) => ({ family: 'bodies' as const, name })),
        'Part',
        build(gate).mechanism!.layout.point,
      );
      const content = contentOf(m.kits[0]!),
        said = check({ ...content, kits: m.kits }).diagnoses;
      expect(said.filter((d) => d.severity === 'error').map((d) => d.message)).toEqual([]);
      const mounts = content.bodies.filter((b) => b.kind === 'mount').length,
        onGround = content.joints.some((j) => (j.bodies as string[]).includes(content.ground));
      expect(said.filter((d) => d.code === 'mount-floats')).toHaveLength(mounts - (onGround ? 0 : 1));
      // in the machine nothing floats
      expect(check(m).diagnoses.some((d) => d.code === 'mount-floats')).toBe(false);
    },
  );
  it.each<[string, object[], object, string]>([
    [
      'contains itself',
      [{ name: 'X', kit: 'Self', kind: 'single' }],
      { kits: [kit('Self', { instances: [{ name: 'In', kit: 'Self', kind: 'single' }] })] },
      'kit-circle',
    ],
    [
      'brings too much',
      [{ name: 'X', kit: 'A', kind: 'row', count: 9000 }],
      { kits: [kit('A', { instances: [{ name: 'In', kit: 'Arm', kind: 'row', count: 9000 }] }), arm] },
      'kit-size',
    ],
    ['has no such parameter', [{ name: 'X', kit: 'Arm', kind: 'single', values: 'length = 2 m' }], {}, 'kit-value'],
    ['has no such mount', [{ name: 'X', kit: 'Arm', kind: 'single', on: 'Foot = Ground' }], {}, 'kit-mount'],
    ['has values that are no values', [{ name: 'X', kit: 'Arm', kind: 'single', values: 'long' }], {}, 'assigned'],
    ['has half a member', [{ name: 'X', kit: 'Arm', kind: 'row', count: 2.5 }], {}, 'kit-count'],
    ['mirrors nothing', [{ name: 'X', kind: 'mirror' }], {}, 'mirror-empty'],
    [
      'mirrors itself',
      [
        { name: 'X', kind: 'mirror', of: ['Y'] },
        { name: 'Y', kind: 'mirror', of: ['X'] },
      ],
      {},
      'mirror-circle',
    ],
    ['is of no kit', [{ name: 'X', kind: 'single', kit: 'Leg' }], {}, 'reference-missing'],
  ])('one that %s is refused by name', (_what, instances, more, code) => {
    expect(
      build(arms(instances, more))
        .diagnoses.filter((d) => d.severity === 'error')
        .map((d) => [d.code, d.element?.family]),
    ).toContainEqual([code, 'instances']);
  });
});

describe('rows, rings and paths', () => {
  it('a row of arms, each on the one before, is a chain; its number may be a formula', () => {
    const m = arms([{ name: 'Chain', kit: 'Arm', kind: 'row', count: 'n + 1', step: [1, 0, 0], joined: 'spherical' }], {
      parameters: [{ name: 'n', value: 3 }],
      kits: [kit('Arm', { points: [{ name: 'Top' }], bodies: [{ name: 'Bar', origin: 'Top', mass: 1, inertia: [0.1, 0.1, 0.1] }] })],
    });
    expect(errors(m)).toEqual([]);
    expect(build(m).mechanism!.joints.map((j) => j.bodies)).toEqual([
      ['Chain 1/Bar', 'Chain 2/Bar'],
      ['Chain 2/Bar', 'Chain 3/Bar'],
      ['Chain 3/Bar', 'Chain 4/Bar'],
    ]);
  });
  it('members of a ring stand evenly round its axis, whatever the axis', () => {
    const m = arms([{ name: 'R', kit: 'Arm', kind: 'ring', count: 7, axis: [1, 2, -1], at: [1, 0, 0], about: [0.2, 0.1, 0] }]);
    const { layout } = build(m).mechanism!;
    const ends = Array.from({ length: 7 }, (_, i) => layout.point(`R ${i + 1}/End`));
    const side = norm(sub(ends[1]!, ends[0]!));
    ends.forEach((e, i) => expect(norm(sub(ends[(i + 1) % 7]!, e))).toBeCloseTo(side, 13));
  });
  it('chords of a circle are those of the polygon', () => {
    const circle = new Circle([0, 0, 0], [1, 0, 0], [0, 1, 0], 0.3);
    for (const n of [3, 5, 36]) expect(fittingChord(circle, n)).toBeCloseTo(2 * 0.3 * Math.sin(Math.PI / n), 12);
  });
  it('every chord along a curve is as long as asked, and ends where the curve ends', () => {
    const wave = new Spline(
      [
        [0, 0, 0],
        [1, 0.4, 0],
        [2, -0.3, 0.2],
        [3, 0, 0],
      ],
      false,
    );
    const chord = fittingChord(wave, 11),
      places = chords(wave, chord, 11);
    expect(places).toHaveLength(12);
    for (let i = 1; i < 12; i++) expect(norm(sub(places[i]!, places[i - 1]!))).toBeCloseTo(chord, 12);
    expect(norm(sub(places[11]!, [3, 0, 0] as Vec3))).toBeLessThan(1e-9);
  });
  const corners = [
    [0, 0, 0],
    [0.4, 0.05, 0],
    [0.5, 0.3, 0],
    [0.1, 0.35, 0],
  ].map((at, i) => ({ name: `P${i + 1}`, at }));
  const slats = (more: object) =>
    arms(
      [
        {
          name: 'Slats',
          kit: 'Slat',
          kind: 'path',
          count: 12,
          through: corners.map((p) => p.name),
          ends: 'closed',
          joined: 'revolute',
          ...more,
        },
      ],
      {
        points: corners,
        kits: [kit('Slat', { points: [{ name: 'A' }], bodies: [{ name: 'Link', origin: 'A', mass: 1, inertia: [0.1, 0.1, 0.1] }] })],
      },
    );
  it('a closed path of evenly spaced slats closes, each square to its chord', () => {
    const m = slats({});
    expect(errors(m)).toEqual([]);
    const { bodies, joints } = build(m).mechanism!;
    expect(joints).toHaveLength(12);
    const chord = norm(sub(bodies[1]!.origin, bodies[0]!.origin));
    bodies.forEach((b, i) => {
      const along = sub(bodies[(i + 1) % 12]!.origin, b.origin);
      expect(norm(along)).toBeCloseTo(chord, 9);
      expect(along[0] * b.turn[0] + along[1] * b.turn[3]).toBeCloseTo(chord, 9);
      expect(b.turn[8]).toBeCloseTo(1, 14);
    });
    // a closed chain of n links in the plane keeps n − 3 freedoms, and moves as a whole in six ways
    expect(check(m).mobility!.free).toBe(15);
  });
  it('a chain round two wheels closes, each link outwards and at the radius of its wheel', () => {
    const chain = slats({
      count: 24,
      through: [corners[0]!.name, corners[1]!.name],
      course: 'wheels',
      corner: '100 mm',
      normal: [0, 0, 1],
      ends: 'open',
    });
    expect(errors(chain)).toEqual([]);
    const { bodies, joints } = build(chain).mechanism!;
    expect(joints).toHaveLength(24);
    // neighbours are equally far apart all round
    const gap = norm(sub(bodies[1]!.origin, bodies[0]!.origin));
    bodies.forEach((b, i) => expect(norm(sub(bodies[(i + 1) % 24]!.origin, b.origin))).toBeCloseTo(gap, 8));
    // none is within a wheel, and −y of each points away from the belt's inside
    const centres = [corners[0]!, corners[1]!].map((c) => c.at as unknown as Vec3),
      middle = centres[0]!.map((x, k) => (x + centres[1]![k as 0]) / 2);
    for (const b of bodies) {
      for (const c of centres) expect(norm(sub(b.origin, c))).toBeGreaterThan(0.1 - 1e-9);
      expect(b.origin.reduce((sum, x, k) => sum - (x - middle[k]!) * b.turn[3 * k + 1]!, 0)).toBeGreaterThan(0);
    }
  });
  it('a chord that does not close the path is refused with the one that does', () => {
    const said = build(slats({ spacing: 'chord', chord: '110 mm' })).diagnoses.find(
      (d) => d.code === 'path-gap' || d.code === 'path-short',
    )!;
    expect(said.message + said.remedy).toMatch(/mm/);
    const even = build(slats({})).mechanism!.bodies;
    const fits = slats({ spacing: 'chord', chord: norm(sub(even[1]!.origin, even[0]!.origin)) });
    expect(errors(fits)).toEqual([]);
    expect(build(slats({ spacing: 'chord', chord: '300 mm' })).diagnoses.some((d) => d.code === 'path-short')).toBe(true);
  });
});

describe('making a kit of what is there, and back', () => {
  const whole = gate.bodies.map((b) => ({ family: 'bodies' as const, name: b.name }));
  const place = build(gate).mechanism!.layout.point;
  const alone = runModel(gate, { until: 0.5, every: 0.01 });
  it('the machine goes on as before, driven by its parameters', () => {
    const m = kitOf(gate, whole, 'Drive train', place);
    expect(errors(m)).toEqual([]);
    expect(m.bodies).toEqual([]);
    const run = runModel(m, { until: 0.5, every: 0.01 });
    for (const g of GAUGES) agree(alone.gauge(g), run.gauge(m.gauges.some((x) => x.name === g) ? g : `Drive train/${g}`));
    const longer = (x: Model) =>
      runModel(
        { ...x, parameters: x.parameters.map((p) => (p.name === 'arm' ? { ...p, value: '66 mm' } : p)) },
        { until: 0.5, every: 0.01 },
      );
    agree(longer(gate).gauge('Pusher travel'), longer(m).gauge('Drive train/Pusher travel'));
  });
  it('a part hangs on the rest by mounts', () => {
    const m = kitOf(gate, [{ family: 'bodies', name: 'Rocker' }], 'Middle', place);
    expect(errors(m)).toEqual([]);
    expect(m.instances[0]!.on).toContain(' = ');
    const run = runModel(m, { until: 0.5, every: 0.01 });
    for (const g of GAUGES) agree(alone.gauge(g), run.gauge(m.gauges.some((x) => x.name === g) ? g : `Middle/${g}`));
  });
  it.each([
    ['in place', { kind: 'single' }],
    ['put elsewhere and turned', { kind: 'single', at: [1, 0.2, 0], rotation: [0, 0, 0.7] }],
  ])('an instance %s is made independent and moves the same', (_how, how) => {
    const m = machine([
      { name: 'Left', kit: 'Gate', ...how },
      { name: 'Right', kind: 'mirror', of: ['Left'], normal: [1, 0, 0], at: [3, 0, 0] },
    ]);
    const free = independent(m, 'Left');
    expect(errors(free)).toEqual([]);
    expect(free.instances.map((i) => i.name)).toEqual(['Right']);
    expect(free.bodies.map((b) => b.name)).toContain('Left/Crank');
    expect(readModel(writeModel(free)).bodies).toHaveLength(gate.bodies.length);
    const run = runModel(free, { until: 0.5, every: 0.01 });
    for (const g of GAUGES) {
      agree(alone.gauge(g), run.gauge(`Left/${g}`));
      agree(alone.gauge(g), run.gauge(`Right/Left/${g}`));
    }
  });
  it('what used the parameters of an instance goes on with those it leaves behind', () => {
    const m = machine(
      [
        { name: 'Left', kit: 'Gate', kind: 'single' },
        { name: 'Other', kit: 'Gate', kind: 'single', values: 'arm = Left.arm' },
      ],
      { parameters: [{ name: 'twice', value: '2 * Left.arm' }] },
    );
    const free = independent(m, 'Left');
    expect(errors(free)).toEqual([]);
    expect(free.instances[0]!.values).toBe('arm = Left_arm');
    expect(free.parameters[0]!.value).toBe('2 * Left_arm');
  });
  it('nothing that moves, or a name that is taken, is refused', () => {
    expect(() => kitOf(gate, [], 'X', place)).toThrow(/bodies/);
    expect(() => kitOf(machine([]), whole, 'Gate', place)).toThrow(/already/);
  });
});

describe('the file', () => {
  it('kits and instances come back as they were, and bodies are written as before', () => {
    const m = arms([{ name: 'X', kit: 'Arm', kind: 'single', values: 'long = 2 m', on: 'Root = Ground' }]);
    const text = writeModel(m);
    expect(readModel(text).kits).toEqual(checkModel(m).kits);
    expect(writeModel(readModel(text))).toBe(text);
    expect(text).not.toContain('"kind": "body"');
    expect(errors(readModel(text))).toEqual([]);
  });
  it('kits within kits without end, and lists within lists, are refused in words', () => {
    const head = '{"format":"vim-pivot-model","version":1,"name":"x",',
      inside = (n: number) => `${head}${'"kits":[{"name":"K","content":{'.repeat(n)}"points":[{"name":"P"}]${'}}]'.repeat(n)}}`;
    expect(() => readModel(inside(10))).toThrow(/has no field “kits”/);
    for (const n of [30, 3000]) expect(() => readModel(inside(n))).toThrow(/nests its content too deep/);
    for (const field of ['"name":', '"points":', '"kits":', '"run":'])
      expect(() => readModel(`{"format":"vim-pivot-model","version":1,${field}${'['.repeat(50_000)}${']'.repeat(50_000)}}`)).toThrow(
        Refusal,
      );
  });
  it('a fault within a kit is refused with its place', () => {
    const text = writeModel(arms([])).replace('"mass": 2', '"mas": 2');
    expect(() => readModel(text)).toThrow(/mas/);
  });
});

describe('what hangs on a mirrored original', () => {
  const doubled = (more: object = {}): Model =>
    model('Pair', {
      points: [
        { name: 'O', at: [0, 0.2, 0] },
        { name: 'Tip', body: 'Arm', at: [0.3, 0, 0] },
      ] as RawElement[],
      bodies: [{ name: 'Arm', origin: 'O', mass: 1, centre: [0.15, 0, 0], inertia: [0.01, 0.01, 0.01] }] as RawElement[],
      joints: [{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'], axis: [0, 1, 0] }] as RawElement[],
      loads: [
        { name: 'Gravity', kind: 'gravity' },
        { name: 'Spring', kind: 'joint-spring', joint: 'Pin', stiffness: '20 N*m/rad', ...more },
      ] as RawElement[],
      gauges: [{ name: 'Effort', kind: 'load', load: 'Spring' }] as RawElement[],
      ...{ instances: [{ name: 'Other', kind: 'mirror', bodies: ['Arm'], normal: [0, 1, 0] }] as RawElement[] },
    });
  it('stands in the image too, unless it is kept to this side, with all that hangs on it', () => {
    expect(expand(doubled()).model.loads.map((l) => l.name)).toEqual(['Gravity', 'Spring', 'Other/Spring']);
    const alone = expand(doubled({ mirrored: false })).model;
    expect(alone.loads.map((l) => l.name)).toEqual(['Gravity', 'Spring']);
    expect(alone.gauges.map((l) => l.name)).toEqual(['Effort']);
    expect(alone.joints.map((l) => l.name)).toEqual(['Pin', 'Other/Pin']);
  });
  it('and the run says so: the image without the spring falls freely', () => {
    const reads = [
      { name: 'here', kind: 'joint', joint: 'Pin' },
      { name: 'there', kind: 'joint', joint: 'Other/Pin' },
    ] as RawElement[];
    const [both, one] = [{}, { mirrored: false }].map((x) => runModel({ ...doubled(x), gauges: reads }, { until: 0.2, every: 0.1 }));
    expect(both!.gauge('there').at(-1)).toBeCloseTo(both!.gauge('here').at(-1)!, 9);
    expect(Math.abs(one!.gauge('there').at(-1)!)).toBeGreaterThan(1.5 * Math.abs(one!.gauge('here').at(-1)!));
  });
  it('is kept in the file', () => {
    expect(readModel(writeModel(doubled({ mirrored: false }))).loads[1]!.mirrored).toBe(false);
    expect(writeModel(doubled({ mirrored: true }))).not.toContain('"mirrored"');
  });
});
