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
    fc.assert(fc.property(angle, fc.oneof(angle, fc.constantFrom(Math.PI / 2, -Math.PI / 2)), angle, (r, p, y) => {
      const m = fromRollPitchYaw([r, p, y]);
      fromRollPitchYaw(toRollPitchYaw(m)).forEach((x, k) => expect(x).toBeCloseTo(m[k]!, 7));
    }));
  });
});

describe('an open chain', () => {
  it('written and read moves as before', () => {
    const m = chainOf(4);
    const before = mechanism(m);
    const { model, left } = readUrdf(writeUrdf(before));
    expect(left).toEqual([]);
    const after = mechanism(model);
    for (const [i, b] of before.bodies.entries()) {
      const j = after.bodies.findIndex((x) => x.name === b.name);
      expect(after.bodies[j]!.mass).toBeCloseTo(b.mass, 10);
      for (let k = 0; k < 3; k++) expect(after.system.K.r[3 * j + k]).toBeCloseTo(before.system.K.r[3 * i + k]!, 9);
    }
    const energy = [{ name: 'kinetic', kind: 'energy', of: 'kinetic' }];
    const gravity = m.loads.filter((l) => l.kind === 'gravity');
    const a = runModel({ ...m, gauges: energy }, { until: 0.3, every: 0.01 }), b = runModel({ ...model, loads: gravity, gauges: energy }, { until: 0.3, every: 0.01 });
    const size = Math.max(...a.gauge('kinetic'), 1e-9);
    a.gauge('kinetic').forEach((x, i) => expect(Math.abs(x - b.gauge('kinetic')[i]!)).toBeLessThan(2e-5 * size));
  });
});

describe('a file by hand', () => {
  const robot = (inside: string) => `<robot name="Arm"><link name="base"/>${inside}</robot>`;
  const arm = '<link name="arm"><inertial><origin xyz="0 0 -0.5"/><mass value="2"/><inertia ixx="0.1" ixy="0" ixz="0" iyy="0.1" iyz="0" izz="0.01"/></inertial><visual><origin xyz="0 0 -0.5"/><geometry><cylinder radius="0.03" length="1"/></geometry></visual><visual><geometry><mesh filename="x.stl"/></geometry></visual></link>';
  it('gives bodies, joints, shapes and damping, and says what it leaves out', () => {
    const { model, left } = readUrdf(robot(`${arm}<joint name="shoulder" type="revolute"><parent link="base"/><child link="arm"/><origin xyz="0 0 1" rpy="0 0 1.5707963267948966"/><axis xyz="1 0 0"/><limit lower="-1" upper="1"/><dynamics damping="0.3"/></joint>`));
    expect(model.bodies[0]).toMatchObject({ name: 'arm', mass: 2, centre: [0, 0, -0.5] });
    expect(model.shapes.map((s) => s.kind)).toEqual(['cylinder']);
    expect(model.loads.find((l) => l.kind === 'joint-spring')).toMatchObject({ joint: 'shoulder', damping: '0.3 N*m*s/rad' });
    expect(left.map((d) => d.message).join(' ')).toMatch(/mesh.*limit/);
    expect(build(model).diagnoses.filter((d) => d.severity === 'error')).toEqual([]);
  });
  it.each<[string, string, RegExp]>([
    ['no XML', 'hello <', /no robot|no XML/],
    ['entities of its own', '<!DOCTYPE r [<!ENTITY a "x">]><robot/>', /entities/],
    ['a joint to nowhere', robot('<joint name="j" type="fixed"><parent link="base"/><child link="ghost"/></joint>'), /not there/],
    ['two roots', robot('<link name="other"/>'), /2 roots/],
    ['a circle', '<robot><link name="a"/><link name="b"/><joint name="i" type="fixed"><parent link="a"/><child link="b"/></joint><joint name="j" type="fixed"><parent link="b"/><child link="a"/></joint></robot>', /circle/],
    ['words for numbers', robot(`${arm}<joint name="s" type="fixed"><parent link="base"/><child link="arm"/><origin xyz="a b c"/></joint>`), /needs 3 numbers/],
    ['a type that is none', robot(`${arm}<joint name="s" type="magic"><parent link="base"/><child link="arm"/></joint>`), /of the type “magic”/],
  ])('with %s is refused in words', (_what, source, reason) => expect(words(() => readUrdf(source))).toMatch(reason));
  it('loops cannot be written, and the joint that closes one is named', () => expect(words(() => writeUrdf(mechanism(sliderCrank())))).toMatch(/closes a loop|no joint like/));
});
