/** Couplings against the equations of their one freedom, over many turns. */
import { describe, expect, it } from 'vitest';
import { type RawElement, check, runModel } from '../src';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
type Parts = Parameters<typeof model>[1];
const rotor = (name: string, I: number, more: object = {}) => ({ name, mass: 1, inertia: [1, 1, I], ...more });
const bearing = (name: string, body: string, at = 'Axle', other = 'Ground') => ({
  name,
  kind: 'revolute',
  bodies: [other, body],
  at: [at],
});
const angle = (name: string, joint: string) => ({ name, kind: 'joint', joint });
const run = (parts: Parts) => runModel(model('Couplings', { run: { until: '4 s', every: '20 ms' }, ...parts }));

describe('coupler', () => {
  const belt = (couplings: object[], loads: object[] = []): Parts => ({
    points: e([{ name: 'Axle' }, { name: 'Far axle', at: [0.4, 0, 0] }]),
    bodies: e([rotor('Small', 0.02), rotor('Large', 0.3, { origin: 'Far axle' })]),
    joints: e([bearing('Small bearing', 'Small'), bearing('Large bearing', 'Large', 'Far axle')]),
    couplings: e(couplings),
    loads: e(loads),
    gauges: e([angle('small', 'Small bearing'), angle('large', 'Large bearing'), { name: 'energy', kind: 'energy' }]),
  });
  const ratio = { name: 'Belt', first: 'Small bearing', second: 'Large bearing', ratio: -2.5 };

  it('as a belt keeps its ratio over many turns and adds the inertias by its square', () => {
    const r = run(belt([ratio], [{ name: 'Motor', kind: 'torque', body: 'Large', magnitude: '6 N*m' }]));
    const alpha = 6 / (0.3 + 2.5 * 2.5 * 0.02);
    r.gauge('large').forEach((q, i) => expect(Math.abs(q - 0.5 * alpha * r.time[i]! ** 2)).toBeLessThan(1e-5 * q + 1e-9));
    r.gauge('small').forEach((q, i) => expect(q).toBeCloseTo(-2.5 * r.gauge('large')[i]!, 7));
    expect(r.gauge('large').at(-1)! / (2 * Math.PI)).toBeGreaterThan(15);
  });

  it('takes one freedom, and a second one like it is named as redundant', () => {
    expect(check(model('One', belt([ratio]))).mobility).toMatchObject({ joints: 1, redundant: 0 });
    const twice = check(model('Twice', belt([ratio, { ...ratio, name: 'Second belt' }])));
    expect(twice.mobility).toMatchObject({ joints: 1, redundant: 1 });
    expect(twice.diagnoses.find((d) => d.code === 'joint-redundant')?.element).toMatchObject({ family: 'couplings' });
    expect(check(model('Locked', belt([ratio, { ...ratio, name: 'Second belt', ratio: 3 }]))).mobility).toMatchObject({ joints: 0 });
  });

  it('of three wheels all round with a drive: one is redundant, which is told without a loop of joints', () => {
    const wheels = ['A', 'B', 'C'],
      report = check(
        model('Round', {
          points: e(wheels.map((n, i) => ({ name: `${n} axle`, at: [i, 0, 0] }))),
          bodies: e(wheels.map((n) => rotor(n, 1, { origin: `${n} axle` }))),
          joints: e(wheels.map((n) => bearing(`${n} pin`, n, `${n} axle`))),
          couplings: e(['AB', 'BC', 'AC'].map((name) => ({ name, first: `${name[0]} pin`, second: `${name[1]} pin`, ratio: 1 }))),
          drives: e([{ name: 'Motor', joint: 'A pin', prescribes: 'speed', value: '1 rad/s' }]),
        }),
      );
    expect(report.mobility).toMatchObject({ joints: 1, free: 0, redundant: 1 });
    expect(report.mobility!.details).toEqual([expect.stringMatching(/^[ABC]+ holds a relation, which others hold already\.$/)]);
  });
  it('is checked for dimension and refuses to couple a freedom with itself', () => {
    const codes = (c: object) =>
      check(model('Bad', belt([{ ...ratio, ...c }])))
        .diagnoses.filter((d) => d.severity === 'error')
        .map((d) => d.code);
    expect(codes({ ratio: '20 mm' })).toEqual(['formula-dimension']);
    expect(codes({ second: 'Small bearing' })).toEqual(['coupling-one-joint']);
    expect(codes({ second: 'Nowhere' })).toContain('reference-missing');
  });

  it('as rack and pinion lets a falling rack spin the pinion', () => {
    const r = run({
      points: e([{ name: 'Axle' }, { name: 'Rail', at: [0.02, 0, 0] }]),
      bodies: e([rotor('Pinion', 0.001), { name: 'Rack', origin: 'Rail', mass: 3, inertia: [1, 1, 1] }]),
      joints: e([
        bearing('Bearing', 'Pinion'),
        { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Rack'], at: ['Rail'], axis: [0, 1, 0] },
      ]),
      couplings: e([{ name: 'Mesh', first: 'Slide', second: 'Bearing', ratio: '20 mm/rad' }]),
      loads: e([{ name: 'Gravity', kind: 'gravity', acceleration: [0, -10, 0] }]),
      gauges: e([angle('turn', 'Bearing'), angle('travel', 'Slide')]),
    });
    const a = (-3 * 10) / (3 + 0.001 / 0.02 ** 2);
    expect(r.gauge('travel').at(-1)! / (0.5 * a * 16)).toBeCloseTo(1, 6);
    r.gauge('travel').forEach((s, i) => expect(s).toBeCloseTo(0.02 * r.gauge('turn')[i]!, 8));
  });

  it('as a differential shares the torque equally between unlike wheels', () => {
    const r = run({
      points: e([{ name: 'Axle' }]),
      bodies: e([rotor('Cage', 0.1), rotor('Left', 0.5), rotor('Right', 0.2)]),
      joints: e([bearing('Cage bearing', 'Cage'), bearing('Left bearing', 'Left'), bearing('Right bearing', 'Right')]),
      couplings: e([
        { name: 'Differential', first: 'Cage bearing', second: 'Left bearing', ratio: 0.5, third: 'Right bearing', thirdRatio: 0.5 },
      ]),
      loads: e([{ name: 'Engine', kind: 'torque', body: 'Cage', magnitude: '4 N*m' }]),
      gauges: e([angle('cage', 'Cage bearing'), angle('left', 'Left bearing'), angle('right', 'Right bearing')]),
    });
    // each wheel gets half of what the cage's own inertia leaves of the torque
    const half = 2 / (1 + 0.1 * 0.25 * (1 / 0.5 + 1 / 0.2));
    expect(r.gauge('left').at(-1)! / ((0.5 * half * 16) / 0.5)).toBeCloseTo(1, 6);
    expect(r.gauge('right').at(-1)! / ((0.5 * half * 16) / 0.2)).toBeCloseTo(1, 6);
    r.gauge('cage').forEach((q, i) => expect(q).toBeCloseTo((r.gauge('left')[i]! + r.gauge('right')[i]!) / 2, 7));
  });

  it('tells what it gives to each joint, as torque or over a pitch radius as force', () => {
    const r = run({
      points: e([{ name: 'Axle' }]),
      bodies: e([rotor('Small', 0.1), rotor('Large', 0.8)]),
      joints: e([bearing('Small bearing', 'Small'), bearing('Large bearing', 'Large')]),
      couplings: e([{ name: 'Belt', first: 'Small bearing', second: 'Large bearing', ratio: 3 }]),
      loads: e([{ name: 'Motor', kind: 'torque', body: 'Small', magnitude: '5 N*m' }]),
      gauges: e([
        ...['first', 'second'].map((on) => ({ name: on, kind: 'coupling', coupling: 'Belt', on })),
        { name: 'belt', kind: 'coupling', coupling: 'Belt', radius: '50 mm' },
        ...['Small', 'Large'].map((b) => ({ name: `a ${b}`, kind: 'joint', joint: `${b} bearing`, of: 'acceleration' })),
      ]),
    });
    // Euler's equation of each rotor by itself
    r.gauge('first').forEach((t, k) => expect(5 + t).toBeCloseTo(0.1 * r.gauge('a Small')[k]!, 9));
    r.gauge('second').forEach((t, k) => expect(t).toBeCloseTo(0.8 * r.gauge('a Large')[k]!, 9));
    r.gauge('belt').forEach((f, k) => expect(f * 0.05).toBeCloseTo(r.gauge('first')[k]!, 9));
    const third = check(
      model('x', {
        points: e([{ name: 'Axle' }]),
        bodies: e([rotor('Small', 0.1), rotor('Large', 0.8)]),
        joints: e([bearing('Small bearing', 'Small'), bearing('Large bearing', 'Large')]),
        couplings: e([{ name: 'Belt', first: 'Small bearing', second: 'Large bearing', ratio: 3 }]),
        gauges: e([{ name: 'g', kind: 'coupling', coupling: 'Belt', on: 'third' }]),
      }),
    );
    expect(third.diagnoses.map((d) => d.code)).toContain('gauge-part');
  });

  it('twice makes a planetary gear with the ratio of Willis, its drive feeling every inertia', () => {
    const [zs, zp] = [20, 16],
      zr = zs + 2 * zp;
    const r = run({
      points: e([{ name: 'Axle' }, { name: 'Planet pin', at: [0.1, 0, 0] }]),
      bodies: e([rotor('Sun', 0.01), rotor('Carrier', 0.05), rotor('Planet', 0.004, { origin: 'Planet pin', mass: 0.6 })]),
      joints: e([
        bearing('Sun bearing', 'Sun'),
        bearing('Carrier bearing', 'Carrier'),
        bearing('Planet bearing', 'Planet', 'Planet pin', 'Carrier'),
      ]),
      couplings: e([
        {
          name: 'Sun mesh',
          first: 'Planet bearing',
          second: 'Sun bearing',
          ratio: -zs / zp,
          third: 'Carrier bearing',
          thirdRatio: zs / zp,
        },
        { name: 'Ring mesh', first: 'Planet bearing', second: 'Carrier bearing', ratio: -zr / zp },
      ]),
      drives: e([{ name: 'Motor', joint: 'Sun bearing', prescribes: 'speed', value: '600 rpm * smoothstep(0 s, 1 s, t)' }]),
      gauges: e([
        angle('sun', 'Sun bearing'),
        angle('carrier', 'Carrier bearing'),
        { name: 'torque', kind: 'drive', drive: 'Motor' },
        { name: 'a', kind: 'joint', joint: 'Sun bearing', of: 'acceleration' },
      ]),
    });
    const i = zs / (zs + zr);
    r.gauge('carrier').forEach((q, k) => expect(q).toBeCloseTo(i * r.gauge('sun')[k]!, 6));
    expect(r.gauge('sun').at(-1)! / (2 * Math.PI)).toBeGreaterThan(30);
    const planetSpin = i - (zr / zp) * i; // absolute, per turn of the sun
    const inertia = 0.01 + (0.05 + 0.6 * 0.01) * i * i + 0.004 * planetSpin ** 2;
    r.gauge('torque').forEach((t, k) => expect(Math.abs(t - inertia * r.gauge('a')[k]!)).toBeLessThan(1e-6 * inertia * 100));
  });
});
