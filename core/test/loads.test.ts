/** Torques, drag, joint springs and bushings against closed forms and conservation laws. */
import { describe, expect, it } from 'vitest';
import { type FinishedRun, type RawElement, build, runModel } from '../src';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const run = (parts: Parameters<typeof model>[1]) => runModel(model('Bench', parts));

/** Linear momentum and angular momentum about the ground origin at every recorded time. */
function momenta({ mechanism, time, state, layout: { bodies: n } }: FinishedRun): number[][] {
  return Array.from(time, (_, i) => {
    const s = state(i);
    const total = [0, 0, 0, 0, 0, 0];
    mechanism.bodies.forEach((b, j) => {
      const [x, y, z, q0, q1, q2, q3] = s.subarray(7 * j, 7 * j + 7) as unknown as [number, number, number, number, number, number, number];
      const [vx, vy, vz, wx, wy, wz] = s.subarray(7 * n + 6 * j, 7 * n + 6 * j + 6) as unknown as [
        number,
        number,
        number,
        number,
        number,
        number,
      ];
      const I = b.inertia;
      const h = [I[0] * wx + I[1] * wy + I[2] * wz, I[3] * wx + I[4] * wy + I[5] * wz, I[6] * wx + I[7] * wy + I[8] * wz] as const;
      const A = [
        [1 - 2 * (q2 * q2 + q3 * q3), 2 * (q1 * q2 - q0 * q3), 2 * (q1 * q3 + q0 * q2)],
        [2 * (q1 * q2 + q0 * q3), 1 - 2 * (q1 * q1 + q3 * q3), 2 * (q2 * q3 - q0 * q1)],
        [2 * (q1 * q3 - q0 * q2), 2 * (q2 * q3 + q0 * q1), 1 - 2 * (q1 * q1 + q2 * q2)],
      ];
      const orbit = [y * vz - z * vy, z * vx - x * vz, x * vy - y * vx];
      [vx, vy, vz].forEach((v, k) => (total[k]! += b.mass * v));
      orbit.forEach((o, k) => (total[3 + k]! += b.mass * o + A[k]![0]! * h[0] + A[k]![1]! * h[1] + A[k]![2]! * h[2]));
    });
    return total;
  });
}

function conserved(r: FinishedRun, tolerance: number) {
  const all = momenta(r);
  const size = Math.max(...all.flat().map(Math.abs));
  for (const m of all) m.forEach((x, k) => expect(Math.abs(x - all[0]![k]!) / size).toBeLessThan(tolerance));
}

const twoBodies = e([
  { name: 'Left', mass: 2, inertia: [0.02, 0.03, 0.04], spin: [2, -1, 3], velocity: [0.1, 0, 0] },
  { name: 'Right', origin: 'There', mass: 1, inertia: [0.03, 0.02, 0.025], spin: [-1, 2, -4], rotation: ['30 deg', '-50 deg', '70 deg'] },
]);
const there = e([
  { name: 'Here', at: [0.1, 0, 0.05] },
  { name: 'There', at: [0.3, 0.1, 0] },
]);

describe('torque', () => {
  it('turns a body by torque over inertia and its reaction turns the other', () => {
    const r = run({
      run: { until: 1, every: 0.1, accuracy: 1e-7 },
      points: there,
      bodies: twoBodies,
      loads: e([
        {
          name: 'Motor',
          kind: 'torque',
          body: 'Right',
          reaction: 'Left',
          direction: [1, 2, 3],
          follows: 'body',
          magnitude: '0.2 N*m * sin(5 rad/s*t)',
        },
      ]),
    });
    conserved(r, 1e-7);
    const pin = run({
      run: { until: 1, every: 1 },
      points: e([{ name: 'Pin' }]),
      bodies: e([{ name: 'Rotor', mass: 1, inertia: [1, 1, 0.5] }]),
      joints: e([{ name: 'Bearing', kind: 'revolute', bodies: ['Ground', 'Rotor'], at: ['Pin'] }]),
      loads: e([{ name: 'Motor', kind: 'torque', body: 'Rotor', magnitude: '2 N*m' }]),
      gauges: e([{ name: 'angle', kind: 'joint', joint: 'Bearing' }]),
    });
    expect(pin.gauge('angle').at(-1)).toBeCloseTo(2, 7);
  });
});

describe('drag', () => {
  const fall = (fields: object) =>
    run({
      run: { until: 6, every: 0.1 },
      points: e([{ name: 'Middle' }]),
      bodies: e([{ name: 'Fruit', mass: 0.2, inertia: [1e-4, 1e-4, 1e-4] }]),
      loads: e([
        { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -10] },
        { name: 'Air', kind: 'drag', body: 'Fruit', at: 'Middle', ...fields },
      ]),
      gauges: e([{ name: 'v', kind: 'point', body: 'Fruit', at: 'Middle', of: 'velocity', component: 'z' }]),
    });
  it('in proportion to speed fades as an exponential', () => {
    const r = fall({ linear: '0.5 N*s/m' });
    r.gauge('v').forEach((v, i) => expect(v).toBeCloseTo(-4 * (1 - Math.exp(-2.5 * r.time[i]!)), 6));
  });
  it('with the square of speed follows the hyperbolic tangent', () => {
    const r = fall({ quadratic: '0.02 N*s^2/m^2' });
    const end = Math.sqrt((0.2 * 10) / 0.02);
    r.gauge('v').forEach((v, i) => expect(v).toBeCloseTo(-end * Math.tanh((10 * r.time[i]!) / end), 5));
  });
});

describe('joint spring', () => {
  it('on a pin is a torsional oscillator, also over many turns', () => {
    const k = 0.8,
      I = 0.2,
      w0 = 60;
    const r = run({
      run: { until: '8 s', every: '10 ms', accuracy: 1e-6 },
      points: e([{ name: 'Pin' }]),
      bodies: e([{ name: 'Rotor', mass: 1, inertia: [1, 1, I], spin: [0, 0, w0] }]),
      joints: e([{ name: 'Bearing', kind: 'revolute', bodies: ['Ground', 'Rotor'], at: ['Pin'] }]),
      loads: e([{ name: 'Mainspring', kind: 'joint-spring', joint: 'Bearing', stiffness: k, rest: 0.5 }]),
      gauges: e([
        { name: 'angle', kind: 'joint', joint: 'Bearing' },
        { name: 'energy', kind: 'energy' },
      ]),
    });
    const w = Math.sqrt(k / I),
      angle = r.gauge('angle');
    angle.forEach((q, i) =>
      expect(Math.abs(q - (0.5 - 0.5 * Math.cos(w * r.time[i]!) + (w0 / w) * Math.sin(w * r.time[i]!)))).toBeLessThan(30 * 1e-6),
    );
    expect(Math.max(...angle) / (2 * Math.PI)).toBeGreaterThan(4);
    const energy = r.gauge('energy');
    for (const x of energy) expect(Math.abs(x / energy[0]! - 1)).toBeLessThan(1e-6);
  });

  it('on a slide with damping and preload settles where the forces balance', () => {
    const r = run({
      run: { until: '5 s', every: '1 s' },
      points: e([{ name: 'Wall' }]),
      bodies: e([{ name: 'Block', mass: 2, inertia: [1, 1, 1] }]),
      joints: e([{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['Wall'], axis: [0, 0, 1] }]),
      loads: e([
        { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -10] },
        {
          name: 'Spring',
          kind: 'joint-spring',
          joint: 'Slide',
          stiffness: '500 N/m',
          damping: '40 N*s/m',
          rest: '10 mm',
          preload: '-30 N',
        },
      ]),
      gauges: e([{ name: 'z', kind: 'joint', joint: 'Slide' }]),
    });
    expect(r.gauge('z').at(-1)).toBeCloseTo(0.01 + (30 - 20) / 500, 6);
  });
});

describe('bushing', () => {
  const bushing = {
    name: 'Mount',
    kind: 'bushing',
    bodies: ['Left', 'Right'],
    at: ['Here', 'There'],
    axis: [1, 1, 2],
    stiffness: [300, 500, 800],
    torsion: [3, 5, 8],
  };

  it('between two tumbling bodies keeps energy, momentum and angular momentum, whatever the rotation', () => {
    const r = run({
      run: { until: 3, every: 0.02, accuracy: 1e-7 },
      points: there,
      bodies: twoBodies,
      loads: e([{ ...bushing, preload: [4, -2, 1] }]),
      gauges: e([
        { name: 'energy', kind: 'energy' },
        { name: 'kinetic', kind: 'energy', of: 'kinetic' },
      ]),
    });
    conserved(r, 1e-6);
    const energy = r.gauge('energy'),
      size = Math.max(...r.gauge('kinetic'));
    for (const x of energy) expect(Math.abs(x - energy[0]!) / size).toBeLessThan(1e-6);
    // and the potential energy is really exchanged
    expect(size / Math.min(...r.gauge('kinetic'))).toBeGreaterThan(1.5);
  });

  it('with damping loses energy and never gains any, and still keeps the momenta', () => {
    const r = run({
      run: { until: 3, every: 0.02, accuracy: 1e-7 },
      points: there,
      bodies: twoBodies,
      loads: e([{ ...bushing, damping: [5, 2, 8], torsionDamping: [0.1, 0.05, 0.2] }]),
      gauges: e([{ name: 'energy', kind: 'energy' }]),
    });
    conserved(r, 1e-6);
    const energy = r.gauge('energy');
    for (let i = 1; i < energy.length; i++) expect(energy[i]!).toBeLessThanOrEqual(energy[i - 1]! + 1e-7);
    expect(energy.at(-1)!).toBeLessThan(0.8 * energy[0]!);
  });

  const held = (loads: object[], fields: object) =>
    run({
      run: { until: '20 s', every: '1 s' },
      points: e([{ name: 'Foot' }]),
      bodies: e([{ name: 'Machine', mass: 2, inertia: [0.1, 0.1, 0.1] }]),
      loads: e([
        {
          name: 'Mount',
          kind: 'bushing',
          bodies: ['Ground', 'Machine'],
          at: ['Foot'],
          damping: [30, 30, 30],
          torsionDamping: [1, 1, 1],
          ...fields,
        },
        ...loads,
      ]),
      gauges: e([
        { name: 'x', kind: 'point', body: 'Machine', at: 'Foot', component: 'x' },
        { name: 'z', kind: 'point', body: 'Machine', at: 'Foot', component: 'z' },
      ]),
    });

  it('sags by weight over stiffness, each direction by its own', () => {
    const r = held([{ name: 'Gravity', kind: 'gravity', acceleration: [3, 0, -10] }], {
      stiffness: [1000, 2000, 4000],
      torsion: [10, 10, 10],
    });
    expect(r.gauge('x').at(-1)).toBeCloseTo(6 / 1000, 7);
    expect(r.gauge('z').at(-1)).toBeCloseTo(-20 / 4000, 7);
  });

  it('turned by a torque through 120° gives torque = stiffness × angle', () => {
    const angle = (2 * Math.PI) / 3;
    const r = held([{ name: 'Wrench', kind: 'torque', body: 'Machine', direction: [0, 1, 0], magnitude: 2 * angle }], {
      stiffness: [1000, 1000, 1000],
      torsion: [1, 2, 3],
    });
    const last = r.state(r.time.length - 1);
    // half the angle from the quaternion
    expect(2 * Math.atan2(Math.abs(last[5]!), Math.abs(last[3]!))).toBeCloseTo(angle, 6);
  });
});

describe('springs in joints are drawn', () => {
  const outlineOf = (joint: object, spring: object) => {
    const { mechanism } = build(
      model('Bench', {
        points: e([{ name: 'Here' }]),
        bodies: e([{ name: 'Flap', mass: 1, inertia: [1, 1, 1] }]),
        joints: e([{ name: 'J', bodies: ['Ground', 'Flap'], at: ['Here'], axis: [0, 1, 0], ...joint }]),
        loads: e([{ name: 'Spring', kind: 'joint-spring', joint: 'J', ...spring }]),
      }),
    );
    return mechanism!.outlines.find((o) => o.load === 'Spring')!.outline;
  };
  it('about the axis of a pin, along that of a slide; a damper alone is not', () => {
    expect(outlineOf({ kind: 'revolute' }, { stiffness: '2 N*m/rad' })).toMatchObject({ type: 'wound', turns: true, axis: [0, 1, 0] });
    expect(outlineOf({ kind: 'prismatic' }, { preload: '2 N' })).toMatchObject({ type: 'wound', turns: false, axis: [0, 1, 0] });
    expect(outlineOf({ kind: 'revolute' }, { damping: '2 N*m*s/rad' }).type).toBe('none');
  });
});
