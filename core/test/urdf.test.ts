/** URDF out and in again: the same machine, posture and motion; what cannot be said in it is refused in words. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Model, Refusal, assemble, build, runModel } from '../src';
import { readUrdf, writeUrdf } from '../src/formats/urdf';
import { fromRollPitchYaw, toRollPitchYaw } from '../src/geometry/vector';
import { chainOf } from './chain';
import { sliderCrank } from './models';

const mechanism = (m: Model) => {
  const built = build(m).mechanism!;
  built.system.K.load(assemble(built).y);
  return built;
};
const words = (act: () => unknown) => {
  try {
    act();
  } catch (e) {
    if (e instanceof Refusal) return e.message;
    throw e;
  }
  return 'read';
};

describe('angles of a rotation', () => {
  it('give the rotation back, at a pitch of a quarter turn too', () => {
    const angle = fc.double({ min: -3.1, max: 3.1, noNaN: true });
    fc.assert(
      fc.property(angle, fc.oneof(angle, fc.constantFrom(Math.PI / 2, -Math.PI / 2)), angle, (r, p, y) => {
        const m = fromRollPitchYaw([r, p, y]);
        fromRollPitchYaw(toRollPitchYaw(m)).forEach((x, k) => expect(x).toBeCloseTo(m[k]!, 7));
      }),
    );
  });
});

describe('an open chain', () => {
  it('written and read moves as before', () => {
    const m = chainOf(4);
    const before = mechanism(m);
    const written = writeUrdf(before),
      { model, left } = readUrdf(written.text);
    expect(left).toEqual([]);
    expect(written.left.every((d) => d.code === 'urdf-left-out')).toBe(true);
    const after = mechanism(model);
    for (const [i, b] of before.bodies.entries()) {
      const j = after.bodies.findIndex((x) => x.name === b.name);
      expect(after.bodies[j]!.mass).toBeCloseTo(b.mass, 10);
      for (let k = 0; k < 3; k++) expect(after.system.K.r[3 * j + k]).toBeCloseTo(before.system.K.r[3 * i + k]!, 9);
    }
    const energy = [{ name: 'kinetic', kind: 'energy', of: 'kinetic' }];
    const gravity = m.loads.filter((l) => l.kind === 'gravity');
    const a = runModel({ ...m, gauges: energy }, { until: 0.3, every: 0.01 }),
      b = runModel({ ...model, loads: gravity, gauges: energy }, { until: 0.3, every: 0.01 });
    const size = Math.max(...a.gauge('kinetic'), 1e-9);
    a.gauge('kinetic').forEach((x, i) => expect(Math.abs(x - b.gauge('kinetic')[i]!)).toBeLessThan(2e-5 * size));
  });
});

describe('a file by hand', () => {
  const robot = (inside: string) => `<robot name="Arm"><link name="base"/>${inside}</robot>`;
  const arm =
    '<link name="arm"><inertial><origin xyz="0 0 -0.5"/><mass value="2"/><inertia ixx="0.1" ixy="0" ixz="0" iyy="0.1" iyz="0" izz="0.01"/></inertial><visual><origin xyz="0 0 -0.5"/><geometry><cylinder radius="0.03" length="1"/></geometry></visual><visual><geometry><mesh filename="x.stl"/></geometry></visual></link>';
  it('gives bodies, joints, shapes and damping, and says what it leaves out', () => {
    const { model, left } = readUrdf(
      robot(
        `${arm}<joint name="shoulder" type="revolute"><parent link="base"/><child link="arm"/><origin xyz="0 0 1" rpy="0 0 1.5707963267948966"/><axis xyz="1 0 0"/><limit lower="-1" upper="1"/><dynamics damping="0.3"/></joint>`,
      ),
    );
    expect(model.bodies[0]).toMatchObject({ name: 'arm', mass: 2, centre: [0, 0, -0.5] });
    expect(model.shapes.map((s) => s.kind)).toEqual(['cylinder']);
    expect(model.loads.find((l) => l.kind === 'joint-spring')).toMatchObject({ joint: 'shoulder', damping: '0.3 N*m*s/rad' });
    expect(left.map((d) => d.message).join(' ')).toMatch(/mesh.*limit of travel stands as a stop/);
    expect(model.loads.find((l) => l.kind === 'joint-stop')).toMatchObject({ joint: 'shoulder', lower: '-1 rad', upper: '1 rad' });
    expect(build(model).diagnoses.filter((d) => d.severity === 'error')).toEqual([]);
  });
  const two = (joints: string) =>
    robot(
      `<link name="a"><inertial><origin xyz="0.2 0 0"/><mass value="1"/><inertia ixx="0.01" ixy="0" ixz="0" iyy="0.01" iyz="0" izz="0.01"/></inertial></link><link name="b"><inertial><origin xyz="0.2 0 0"/><mass value="1"/><inertia ixx="0.01" ixy="0" ixz="0" iyy="0.01" iyz="0" izz="0.01"/></inertial></link>${joints}`,
    );
  const joint = (name: string, parent: string, child: string, more: string, type = 'revolute') =>
    `<joint name="${name}" type="${type}"><parent link="${parent}"/><child link="${child}"/><origin xyz="${parent === 'base' ? '0 0 0' : '0.4 0 0'}"/><axis xyz="0 1 0"/>${more}</joint>`;
  const gripper = two(
    joint('lead', 'base', 'a', '<limit lower="-0.5" upper="0.3" effort="40"/><dynamics damping="0.02" friction="0.1"/>') +
      joint('finger', 'a', 'b', '<mimic joint="lead" multiplier="-2"/>', 'continuous'),
  );
  it('a joint falls to its limit and comes to rest there; another follows it', () => {
    const { model } = readUrdf(gripper),
      gauges = ['lead', 'finger'].map((j) => ({ name: j, kind: 'joint', joint: j }));
    expect(build(model).diagnoses.filter((d) => d.severity === 'error')).toEqual([]);
    const run = runModel({ ...model, gauges }, { until: 3, every: 0.01 }),
      lead = run.gauge('lead'),
      finger = run.gauge('finger');
    expect(run.end.status).toBe('done');
    // positive turns about y lower the bars
    expect(lead.at(-1)).toBeGreaterThan(0.3);
    expect(lead.at(-1)).toBeLessThan(0.305);
    // it goes in no deeper than the weight's work can press the stop: 9.81 N × (0.2 m + 0.4 m) × sin 0.33 = k δ²/2, k = 40 N·m / 0.01 rad
    expect(Math.max(...lead)).toBeLessThan(0.3 + Math.sqrt((2 * 9.80665 * 0.6 * Math.sin(0.33)) / 4000));
    lead.forEach((x, i) => expect(finger[i]).toBeCloseTo(-2 * x, 6));
  });
  it('limits, damping, friction and what a joint follows come back as they were, also from another posture', () => {
    const first = readUrdf(gripper).model,
      kinds = ['joint-stop', 'joint-friction', 'joint-spring'];
    const turned: Model = { ...first, starts: [{ name: 'Bent', joint: 'lead', position: '0.1 rad' }] as never };
    const written = writeUrdf(mechanism(turned)),
      back = readUrdf(written.text).model;
    expect(written.left).toEqual([]);
    for (const kind of kinds)
      expect(back.loads.filter((l) => l.kind === kind).length).toBe(first.loads.filter((l) => l.kind === kind).length);
    const stop = back.loads.find((l) => l.kind === 'joint-stop')!;
    expect([stop.lower, stop.upper].map((x) => parseFloat(x as string))).toEqual([expect.closeTo(-0.6, 6), expect.closeTo(0.2, 6)]);
    expect(back.loads.find((l) => l.kind === 'joint-friction')).toMatchObject({ preload: '0.1 N*m' });
    expect(back.couplings[0]).toMatchObject({ first: 'finger', second: 'lead', ratio: -2 });
  });
  it('what the format has no words for is told by name', () => {
    const m = readUrdf(gripper).model;
    m.loads.push({ name: 'Wind', kind: 'force', body: 'b', at: 'b frame', direction: [0, 0, 1], magnitude: '1 N' } as never);
    expect(writeUrdf(mechanism(m)).left.map((d) => d.element?.name)).toEqual(['Wind']);
  });
  it.each<[string, string, RegExp]>([
    [
      'a joint that follows nothing',
      robot(`${arm}${joint('s', 'base', 'arm', '<mimic joint="ghost"/>')}`),
      /follows a joint that is not there/,
    ],
    ['no XML', 'hello <', /no robot|no XML/],
    ['entities of its own', '<!DOCTYPE r [<!ENTITY a "x">]><robot/>', /entities/],
    ['a joint to nowhere', robot('<joint name="j" type="fixed"><parent link="base"/><child link="ghost"/></joint>'), /not there/],
    ['two roots', robot('<link name="other"/>'), /2 roots/],
    [
      'a circle',
      '<robot><link name="a"/><link name="b"/><joint name="i" type="fixed"><parent link="a"/><child link="b"/></joint><joint name="j" type="fixed"><parent link="b"/><child link="a"/></joint></robot>',
      /circle/,
    ],
    [
      'words for numbers',
      robot(`${arm}<joint name="s" type="fixed"><parent link="base"/><child link="arm"/><origin xyz="a b c"/></joint>`),
      /needs 3 numbers/,
    ],
    [
      'a type that is none',
      robot(`${arm}<joint name="s" type="magic"><parent link="base"/><child link="arm"/></joint>`),
      /of the type “magic”/,
    ],
  ])('with %s is refused in words', (_what, source, reason) => expect(words(() => readUrdf(source))).toMatch(reason));
  it('loops cannot be written, and the joint that closes one is named', () =>
    expect(words(() => writeUrdf(mechanism(sliderCrank())))).toMatch(/closes a loop|no joint like/));
});
