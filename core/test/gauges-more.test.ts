/** Gauges of issue six: each against what others or the laws of motion say; and the loads on every body of every example sum to zero. */
import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { Readings, bodyLoads, check, complete, runModel, snapshotChannel, type Model } from '../src';
import { readModel } from '../src/model/file';
import gateFile from '../../examples/sorting-gate.pivot.json';

const gate = complete(gateFile as object);
const withGauges = (gauges: object[], m: Model = gate): Model => ({ ...m, gauges: [...m.gauges, ...gauges] as Model['gauges'] });
const near = (a: ArrayLike<number>, b: ArrayLike<number>, tol: number) => {
  const size = Math.max(1e-12, ...Array.from(a, Math.abs));
  expect(Math.max(...Array.from(a, (x, i) => Math.abs(x - b[i]!)))).toBeLessThan(tol * size);
};

describe('more gauges', () => {
  const run = runModel(
    withGauges([
      { name: 'w', kind: 'body', body: 'Crank', component: 'y' },
      { name: 'a', kind: 'body', body: 'Crank', of: 'acceleration', component: 'y' },
      { name: 'wr', kind: 'body', body: 'Coupler', seenFrom: 'Crank', component: 'y' },
      { name: 'ar', kind: 'body', body: 'Coupler', of: 'acceleration', seenFrom: 'Crank', component: 'y' },
      { name: 'wc', kind: 'body', body: 'Coupler', component: 'y' },
      { name: 'ac', kind: 'body', body: 'Coupler', of: 'acceleration', component: 'y' },
      { name: 'rate', kind: 'joint', joint: 'Motor pin', of: 'rate' },
      { name: 'bar', kind: 'distance', bodies: ['Crank', 'Rocker'], at: ['Crank pin', 'Rocker head'] },
      { name: 'gap', kind: 'distance', bodies: ['Frame', 'Pusher'], at: ['Motor axis', 'Rail start'] },
      { name: 'closing', kind: 'distance', bodies: ['Frame', 'Pusher'], at: ['Motor axis', 'Rail start'], of: 'rate' },
      { name: 'lean', kind: 'angle', bodies: ['Frame', 'Crank'], first: [1, 0, 0], second: [1, 0, 0] },
      { name: 'weight', kind: 'load-force', load: 'Gravity', body: 'Rocker', component: 'z' },
      { name: 'p', kind: 'momentum', component: 'x' },
      { name: 'px', kind: 'momentum', body: 'Pusher', component: 'x' },
      { name: 'power', kind: 'formula', value: '{Crank torque} * {rate}' },
      { name: 'drive power', kind: 'drive', drive: 'Motor', of: 'power' },
      { name: 'speed', kind: 'formula', value: '{gap}', then: 'derivative' },
      { name: 'work', kind: 'formula', value: '{drive power}', then: 'integral' },
      { name: 'booked', kind: 'drive', drive: 'Motor', of: 'work' },
      { name: 'smooth', kind: 'formula', value: '2*{w} + arm/(1 s * 1 m)', then: 'mean', window: '10 ms' },
    ]),
    { until: 1, every: 0.001 },
  );
  const read = new Map<string, Float64Array>();
  const g = (name: string): Float64Array => {
    if (!read.has(name)) read.set(name, Float64Array.from(run.gauge(name)));
    return read.get(name)!;
  };
  it('turning of a body is that of its joint; relative turning is the difference', () => {
    near(g('w').map(Math.abs), g('rate').map(Math.abs), 1e-9);
    near(
      g('wr'),
      g('wc').map((x, i) => x - g('w')[i]!),
      1e-12,
    );
    near(
      g('ar'),
      g('ac').map((x, i) => x - g('a')[i]!),
      1e-9,
    );
  });
  it('distance keeps along a rigid link, and its rate is its derivative', () => {
    near(
      g('bar'),
      g('bar').map(() => g('bar')[0]!),
      1e-8,
    );
    near(g('closing').slice(2, -2), g('speed').slice(2, -2), 1e-3);
  });
  it('angle, weight and momentum', () => {
    const angle = g('Crank angle');
    near(
      g('lean').map(Math.cos),
      angle.map((x) => Math.cos(x - angle[0]!)),
      1e-6,
    );
    const rocker = run.mechanism.bodies.find((b) => b.name === 'Rocker')!;
    near(
      g('weight'),
      g('weight').map(() => -9.80665 * rocker.mass),
      1e-12,
    );
    expect(Math.max(...g('p').map(Math.abs))).toBeGreaterThan(Math.max(...g('px').map(Math.abs)) / 2);
  });
  it('a formula of gauges: power is torque times speed, its integral the work booked', () => {
    near(
      g('drive power'),
      g('power').map((x, i) => x * Math.sign(g('power')[500]! * g('drive power')[500]!) + 0 * i),
      1e-9,
    );
    near(g('booked'), g('work'), 1e-4);
  });
  it('gauges that define each other, derive twice, or name none, are left out by name', () => {
    const said = (gauges: object[]) =>
      check(withGauges(gauges))
        .diagnoses.filter((d) => d.severity === 'warning')
        .map((d) => d.code);
    expect(
      said([
        { name: 'A', kind: 'formula', value: '{B} + 1 N*m' },
        { name: 'B', kind: 'formula', value: '{A} * 2' },
      ]),
    ).toContain('gauge-circle');
    expect(said([{ name: 'A', kind: 'formula', value: '{A}' }])).toContain('gauge-circle');
    expect(
      said([
        { name: 'A', kind: 'formula', value: '{Crank torque}', then: 'derivative' },
        { name: 'B', kind: 'formula', value: '{A}' },
      ]),
    ).toContain('gauge-series');
    expect(said([{ name: 'A', kind: 'formula', value: '{Nothing}' }]).length).toBeGreaterThan(0);
    expect(said([{ name: 'A', kind: 'formula', value: '{Crank torque} + {Crank angle}' }])).toContain('formula-dimension');
    expect(said([{ name: 'A', kind: 'joint', joint: 'Gone' }])).toContain('reference-missing');
  });
});

describe('a limit that stops the run', () => {
  const free = runModel(gate, { until: 2, every: 0.001 }),
    travel = free.gauge('Pusher travel'),
    level = 0.5 * Math.max(...travel);
  /** Passed upwards first, between two records. */
  const first = travel.findIndex((x, i) => free.time[i]! > 0.2 && x > level);
  const limited = (more: object, extra: Partial<Model> = {}): Model =>
    ({
      ...gate,
      ...extra,
      limits: [{ name: 'Reach', gauge: 'Pusher travel', high: `${level} m`, then: 'stop', from: 0.2, ...more }],
    }) as Model;
  it('ends it where it is passed, says which, records that instant, and leaves the motion as it was up to there', () => {
    const run = runModel(limited({}), { until: 2, every: 0.001 });
    expect(run.end.status).toBe('stopped');
    const [said, ...others] = run.end.diagnoses;
    expect(others).toEqual([]);
    expect(said).toMatchObject({ code: 'limit-stop', element: { family: 'limits', name: 'Reach' }, time: run.end.t });
    expect(run.end.t).toBeGreaterThan(free.time[first - 1]!);
    expect(run.end.t).toBeLessThanOrEqual(free.time[first]!);
    expect(run.time.at(-1)).toBe(run.end.t);
    expect(run.gauge('Pusher travel').at(-1)! / level).toBeCloseTo(1, 9);
    near(run.gauge('Pusher travel').slice(0, first), travel.slice(0, first), 1e-9);
    expect(runModel(limited({ then: 'tell' }), { until: 2, every: 0.01 }).end.status).toBe('done');
  });
  it('however coarsely it is recorded', () => {
    const fine = runModel(limited({}), { until: 2, every: 0.001 }).end.t;
    for (const every of [0.0003, 0.05, 0.7, 5]) expect(runModel(limited({}), { until: 2, every }).end.t).toBeCloseTo(fine, 6);
  });
  it('may watch a load, a formula of gauges, the size, a span or an instant', () => {
    const torque = free.gauge('Crank torque'),
      top = 0.8 * Math.max(...[...torque].map(Math.abs));
    const at = free.time[[...torque].findIndex((x) => Math.abs(x) > top)]!;
    const load = runModel(limited({ gauge: 'Crank torque', high: `${top} N*m`, of: 'size', from: undefined }), { until: 2, every: 0.001 });
    expect(Math.abs(load.end.t - at)).toBeLessThan(0.002);
    const formula = runModel(
      limited(
        { gauge: 'Twice', high: `${2 * level} m` },
        { gauges: [...gate.gauges, { name: 'Twice', kind: 'formula', value: '2*{Pusher travel}' }] as Model['gauges'] },
      ),
      { until: 2, every: 0.001 },
    );
    expect(formula.end.t).toBeCloseTo(runModel(limited({}), { until: 2, every: 0.001 }).end.t, 6);
    const instant = runModel(limited({ from: undefined, at: '0.7123 s', high: '-100 m' }), { until: 2, every: 0.01 });
    expect(instant.end).toMatchObject({ status: 'stopped', t: 0.7123 });
    const never = runModel(limited({ from: '0.2 s', to: '0.21 s', high: '1 km' }), { until: 1, every: 0.01 });
    expect(never.end.status).toBe('done');
  });
  it('stops what instances bring, and runs of postures, at the located time', () => {
    const wing = readModel(readFileSync('examples/wing-fold.pivot.json', 'utf8'));
    const whole = runModel(wing, { until: 6, every: 0.01 }),
      height = whole.gauge('Right/Left/Tip height'),
      half = (height[0]! + height.at(-1)!) / 2;
    const limits = [{ name: 'Headroom', gauge: 'Right/Left/Tip height', high: `${half} m`, then: 'stop' }] as Model['limits'];
    const at = whole.time[[...height].findIndex((x) => x > half)]!;
    for (const analysis of ['dynamic', 'kinematic'] as const) {
      const run = runModel({ ...wing, limits }, { until: 6, every: 0.05, analysis });
      expect(run.end.status, analysis).toBe('stopped');
      expect(Math.abs(run.end.t - at), analysis).toBeLessThan(0.011);
      expect(run.gauge('Right/Left/Tip height').at(-1)! / half, analysis).toBeCloseTo(1, 6);
    }
  });
  it('that is passed at the start ends it there; one that cannot be read refuses the run', () => {
    expect(runModel(limited({ from: undefined, high: '-1 km' }), { until: 2, every: 0.001 }).end).toMatchObject({
      status: 'stopped',
      t: 0,
    });
    expect(() => runModel(limited({ gauge: 'Gone' }), { until: 2 })).toThrow();
    expect(() =>
      runModel(
        limited(
          { gauge: 'Slow' },
          { gauges: [...gate.gauges, { name: 'Slow', kind: 'formula', value: '{Pusher travel}', then: 'low-pass' }] as Model['gauges'] },
        ),
        { until: 2 },
      ),
    ).toThrow(/whole run/);
  });
});

describe('loads on a body', () => {
  const files = readdirSync('examples').filter((f) => f.endsWith('.pivot.json'));
  it.each(files)('%s: with its inertia they sum to zero, on every body and at every instant looked at, 1e-8', (file) => {
    const model = readModel(readFileSync(`examples/${file}`, 'utf8'));
    const run = runModel(model, { until: 0.6, every: 0.1 });
    const readings = new Readings(run.mechanism, run.layout);
    let looked = 0;
    readings.read(
      [
        snapshotChannel((s) => {
          for (const b of run.mechanism.bodies) {
            const { rest, loads } = bodyLoads(run.mechanism, b.name, s);
            expect(rest.force).toBeLessThan(1e-8);
            expect(rest.moment).toBeLessThan(1e-8);
            expect(loads.at(-1)!.kind).toBe('inertia');
            looked++;
          }
        }),
      ],
      run.chunks,
    );
    expect(looked).toBeGreaterThan(0);
  });
  it('joint by joint they are the loads the gauges tell', () => {
    const run = runModel(gate, { until: 0.4, every: 0.1 });
    const told = run.gauge('Rocker pin load'),
      { mechanism } = run;
    let k = 0;
    new Readings(mechanism, run.layout).read(
      [
        snapshotChannel((s) => {
          const pin = bodyLoads(mechanism, 'Rocker', s).loads.find((l) => l.from === 'Rocker pin')!;
          expect(Math.hypot(...pin.force) / told[k]!).toBeCloseTo(1, 9);
          k++;
        }),
      ],
      run.chunks,
    );
    expect(() => bodyLoads(mechanism, 'Nobody', {} as never)).toThrow(/no usable body/);
  });
});
