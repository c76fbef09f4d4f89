/** Each element on the smallest machine that shows it, against a hand calculation. */
import { describe, expect, it } from 'vitest';
import { type RawElement, Readings, runModel, snapshotChannel } from '../src';
import { doublePendulum, model } from './models';

type Elements = Parameters<typeof model>[1];
const run = (parts: Elements) => runModel(model('Bench', parts));
const e = (list: object[]) => list as RawElement[];
const block = { name: 'Block', mass: 2, inertia: [0.02, 0.03, 0.04] };
const gravity = e([{ name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -10] }]);

describe('joints', () => {
  it('a fixed joint carries the weight and its moment', () => {
    const r = run({
      run: { until: 0.1, every: 0.05 },
      points: e([{ name: 'Wall' }, { name: 'Tip', at: [0.5, 0, 0] }]),
      bodies: e([{ ...block, origin: 'Tip' }]),
      joints: e([{ name: 'Weld', kind: 'fixed', bodies: ['Ground', 'Block'], at: ['Wall'] }]),
      loads: gravity,
      gauges: e([
        { name: 'Fz', kind: 'reaction', joint: 'Weld', component: 'z' },
        { name: 'My', kind: 'reaction', joint: 'Weld', of: 'moment', component: 'y' },
        { name: 'F', kind: 'reaction', joint: 'Weld' },
      ]),
    });
    expect(r.gauge('Fz')[1]).toBeCloseTo(20, 9);
    expect(r.gauge('F')[1]).toBeCloseTo(20, 9);
    // weight 20 N at 0.5 m turns the block about +y; the wall holds against it
    expect(r.gauge('My')[1]).toBeCloseTo(-10, 9);
    expect(r.end.diagnoses.map((d) => d.code)).toContain('run-still');
  });

  it('a cylindrical joint slides under gravity and keeps its spin', () => {
    const r = run({
      run: { until: 1, every: 0.1 },
      points: e([{ name: 'Post' }]),
      bodies: e([{ ...block, spin: [0, 0, 3] }]),
      joints: e([{ name: 'Bush', kind: 'cylindrical', bodies: ['Ground', 'Block'], at: ['Post'], axis: [0, 0, 1] }]),
      loads: gravity,
      gauges: e([
        { name: 'Travel', kind: 'joint', joint: 'Bush', freedom: 'translation' },
        { name: 'Turn', kind: 'joint', joint: 'Bush' },
        { name: 'Pull', kind: 'joint', joint: 'Bush', freedom: 'translation', of: 'acceleration' },
      ]),
    });
    expect(r.gauge('Travel').at(-1)).toBeCloseTo(-5, 7);
    expect(r.gauge('Turn').at(-1)).toBeCloseTo(3, 7);
    expect(r.gauge('Pull').at(-1)).toBeCloseTo(-10, 9);
  });
});

describe('drives', () => {
  const slide = (drive: object, gauges: object[] = []) =>
    run({
      run: { until: 1, every: 0.05 },
      points: e([{ name: 'Wall' }]),
      bodies: e([block]),
      joints: e([{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['Wall'], axis: [1, 0, 0] }]),
      drives: e([{ name: 'Push', joint: 'Slide', ...drive }]),
      gauges: e([
        { name: 'x', kind: 'joint', joint: 'Slide' },
        { name: 'v', kind: 'joint', joint: 'Slide', of: 'rate' },
        { name: 'a', kind: 'joint', joint: 'Slide', of: 'acceleration' },
        { name: 'F', kind: 'drive', drive: 'Push' },
        { name: 'P', kind: 'drive', drive: 'Push', of: 'power' },
        ...gauges,
      ]),
    });

  it.each([
    ['position', '0.2 m * sin(3 rad/s*t)', (t: number) => [0.2 * Math.sin(3 * t), 0.6 * Math.cos(3 * t), -1.8 * Math.sin(3 * t)]],
    ['speed', '0.6 m/s * cos(3 rad/s*t)', (t: number) => [0.2 * Math.sin(3 * t), 0.6 * Math.cos(3 * t), -1.8 * Math.sin(3 * t)]],
    [
      'acceleration',
      '2 m/s^2 * cos(3 rad/s*t)',
      (t: number) => [(2 / 9) * (1 - Math.cos(3 * t)), (2 / 3) * Math.sin(3 * t), 2 * Math.cos(3 * t)],
    ],
  ] as const)('by %s follow the formula and need the force mass times acceleration', (prescribes, value, exact) => {
    const r = slide({ prescribes, value });
    r.time.forEach((t, i) => {
      const [x, v, a] = exact(t) as [number, number, number];
      expect(r.gauge('x')[i]).toBeCloseTo(x, 7);
      expect(r.gauge('v')[i]).toBeCloseTo(v, 7);
      expect(r.gauge('a')[i]).toBeCloseTo(a, 7);
      expect(r.gauge('F')[i]).toBeCloseTo(2 * a, 6);
      expect(r.gauge('P')[i]).toBeCloseTo(2 * a * v, 6);
    });
  });

  it('an acceleration that jumps is followed exactly on both sides', () => {
    const r = slide({ prescribes: 'acceleration', value: '1 m/s^2 * (1 - 2*step(0.5 s, t))' });
    expect(r.gauge('v')[10]).toBeCloseTo(0.5, 10);
    expect(r.gauge('v').at(-1)).toBeCloseTo(0, 10);
    expect(r.gauge('x').at(-1)).toBeCloseTo(0.25, 10);
  });
});

describe('loads', () => {
  it('a force that follows its body turns with it; one fixed in the ground does not', () => {
    const spin = (follows: string) =>
      run({
        run: { until: 1, every: 1 },
        points: e([{ name: 'Middle' }]),
        bodies: e([{ ...block, spin: [0, 0, Math.PI] }]),
        loads: e([{ name: 'Jet', kind: 'force', body: 'Block', at: 'Middle', direction: [3, 0, 0], follows, magnitude: '4 N' }]),
        gauges: e([
          { name: 'vx', kind: 'point', body: 'Block', at: 'Middle', of: 'velocity', component: 'x' },
          { name: 'vy', kind: 'point', body: 'Block', at: 'Middle', of: 'velocity', component: 'y' },
        ]),
      });
    expect(spin('ground').gauge('vx').at(-1)).toBeCloseTo(2, 7);
    // turning half a turn in a second: v = F/m ∫ (cos πt, sin πt) dt
    const follow = spin('body');
    expect(follow.gauge('vx').at(-1)).toBeCloseTo(0, 7);
    expect(follow.gauge('vy').at(-1)).toBeCloseTo((2 * 2) / Math.PI, 7);
  });

  it('a force off the centre turns the body: torque is arm times force', () => {
    const r = run({
      run: { until: 0.01, every: 0.01 },
      points: e([{ name: 'Corner', at: [0, 0.3, 0] }, { name: 'Middle' }]),
      bodies: e([block]),
      joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Block'], at: ['Middle'], axis: [0, 0, 1] }]),
      loads: e([{ name: 'Push', kind: 'force', body: 'Block', at: 'Corner', direction: [1, 0, 0], magnitude: '4 N' }]),
      gauges: e([
        { name: 'Spin', kind: 'joint', joint: 'Pin', of: 'acceleration' },
        { name: 'Fx', kind: 'reaction', joint: 'Pin', component: 'x' },
      ]),
    });
    expect(r.gauge('Spin')[0]).toBeCloseTo((-0.3 * 4) / 0.04, 9);
    expect(r.gauge('Fx')[0]).toBeCloseTo(-4, 9);
  });
});

describe('readings', () => {
  const r = runModel(
    {
      ...doublePendulum('1 s'),
      gauges: e([
        ...['position', 'velocity', 'acceleration'].flatMap((of) =>
          ['x', 'y', 'z'].map((component) => ({
            name: `own ${of} ${component}`,
            kind: 'point',
            body: 'Lower',
            at: 'Toe',
            of,
            component,
            seenFrom: 'Lower',
          })),
        ),
        ...['x', 'y', 'z'].flatMap((component) => [
          { name: `p${component}`, kind: 'point', body: 'Lower', at: 'Toe', component },
          { name: `v${component}`, kind: 'point', body: 'Lower', at: 'Toe', of: 'velocity', component },
          { name: `a${component}`, kind: 'point', body: 'Lower', at: 'Toe', of: 'acceleration', component },
          { name: `rp${component}`, kind: 'point', body: 'Lower', at: 'Toe', component, seenFrom: 'Upper' },
          { name: `rv${component}`, kind: 'point', body: 'Lower', at: 'Toe', of: 'velocity', component, seenFrom: 'Upper' },
          { name: `ra${component}`, kind: 'point', body: 'Lower', at: 'Toe', of: 'acceleration', component, seenFrom: 'Upper' },
        ]),
        { name: 'speed', kind: 'point', body: 'Lower', at: 'Toe', of: 'velocity' },
        ...['x', 'y', 'z'].map((component) => ({
          name: `along ${component}`,
          kind: 'point',
          body: 'Lower',
          at: 'Toe',
          of: 'velocity',
          component,
          axes: 'Lower',
        })),
        { name: 'stretch', kind: 'point', body: 'Lower', at: 'Knee', of: 'velocity', component: 'x', axes: 'Lower' },
        ...['x', 'y', 'z'].map((component) => ({ name: `hip ${component}`, kind: 'reaction', joint: 'Hip', component })),
      ]),
    },
    { accuracy: 1e-8, every: 0.002 },
  ); // fine enough that differences of recorded values are sharp
  const h = 0.002;

  it('a point seen from its own body stands still', () => {
    for (const component of ['x', 'y', 'z']) {
      const p = r.gauge(`own position ${component}`);
      for (let i = 0; i < p.length; i++) {
        expect(p[i]).toBeCloseTo(p[0]!, 9);
        expect(r.gauge(`own velocity ${component}`)[i]).toBeCloseTo(0, 9);
        expect(r.gauge(`own acceleration ${component}`)[i]).toBeCloseTo(0, 7);
      }
    }
    expect(r.gauge('own position x')[0]).toBeCloseTo(0.3, 9);
  });

  it.each(['', 'r'])(
    'velocity and acceleration are the derivatives of position, seen from the ground and from a turning body (%s)',
    (seen) => {
      for (const component of ['x', 'y', 'z']) {
        const [p, v, a] = ['p', 'v', 'a'].map((k) => r.gauge(`${seen}${k}${component}`)) as [Float64Array, Float64Array, Float64Array];
        for (let i = 3; i < p.length - 3; i++) {
          const slope = (f: Float64Array) =>
            (-f[i - 3]! + 9 * f[i - 2]! - 45 * f[i - 1]! + 45 * f[i + 1]! - 9 * f[i + 2]! + f[i + 3]!) / (60 * h);
          expect(v[i]).toBeCloseTo(slope(p), 5);
          expect(a[i]).toBeCloseTo(slope(v), 3);
        }
      }
    },
  );

  it('the ground velocity in a body’s axes has the same length, and along a rigid bar both ends move alike', () => {
    r.gauge('speed').forEach((s, i) => expect(Math.hypot(...['x', 'y', 'z'].map((k) => r.gauge(`along ${k}`)[i]!))).toBeCloseTo(s, 12));
    r.gauge('stretch').forEach((v, i) => expect(r.gauge('along x')[i]).toBeCloseTo(v, 8));
    expect(Math.abs(r.gauge('along x')[20]! - r.gauge('vx')[20]!)).toBeGreaterThan(0.01);
  });

  it('the magnitude is that of the components', () => {
    r.gauge('speed').forEach((s, i) => expect(s).toBeCloseTo(Math.hypot(r.gauge('vx')[i]!, r.gauge('vy')[i]!, r.gauge('vz')[i]!), 12));
  });

  it('the hip load is the rate of change of momentum less the weight', () => {
    const { mechanism, chunks, layout } = r;
    const readings = new Readings(mechanism, layout),
      acceleration: Float64Array[] = [];
    readings.read([snapshotChannel((s) => acceleration.push(s.acceleration.slice()))], chunks);
    acceleration.forEach((a, i) => {
      ['x', 'y', 'z'].forEach((component, k) => {
        const rate = mechanism.bodies.reduce((s, b, j) => s + b.mass * a[6 * j + k]!, 0);
        const weight = k === 2 ? -9.80665 * mechanism.bodies.reduce((s, b) => s + b.mass, 0) : 0;
        expect(r.gauge(`hip ${component}`)[i]).toBeCloseTo(rate - weight, 6);
      });
    });
  });

  it('constraints hold at every recorded time', () => {
    const readings = new Readings(r.mechanism, r.layout);
    const { width } = r.layout;
    for (const c of r.chunks)
      for (let p = 0; p < c.length; p += width) {
        const { position, velocity } = readings.residuals(c.subarray(p, p + width));
        expect(position).toBeLessThan(1e-8);
        expect(velocity).toBeLessThan(1e-7);
      }
  });
});
