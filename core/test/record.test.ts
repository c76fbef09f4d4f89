/** A reading is a function of the record alone: whatever switches during a run belongs to it, and where the run ended does not matter. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type FinishedRun,
  type Model,
  type RawElement,
  Readings,
  bodyLoads,
  layoutOfWidth,
  offsets,
  recordLayout,
  runModel,
  snapshotChannel,
  startFrom,
} from '../src';
import { readModel } from '../src/model/file';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];

/** A block pushed down a slope: it slides, and sticks in the end. */
const slope = (degrees = 20, mu = [0.55, 0.45], speed = 2, until = '4 s'): Model =>
  model('Slope', {
    run: { until, every: '0.1 s' },
    points: e([{ name: 'O' }]),
    bodies: e([{ name: 'Block', mass: 3, inertia: [0.03, 0.03, 0.03] }]),
    joints: e([
      {
        name: 'Slide',
        kind: 'prismatic',
        bodies: ['Ground', 'Block'],
        at: ['O'],
        axis: [`cos(${degrees} deg)`, 0, `-sin(${degrees} deg)`],
      },
    ]),
    ...{ starts: e([{ name: 'Push', joint: 'Slide', position: 0, speed }]) },
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -9.81] },
      { name: 'Rub', kind: 'joint-friction', joint: 'Slide', static: mu[0], sliding: mu[1] },
    ]),
    gauges: e([
      { name: 'v', kind: 'joint', joint: 'Slide', of: 'rate' },
      { name: 'Own', kind: 'load', load: 'Rub' },
      { name: 'Size', kind: 'load-force', load: 'Rub', body: 'Block' },
      { name: 'Load of the slide, along', kind: 'reaction', joint: 'Slide', axes: 'joint', component: 'z' },
      { name: 'Load of the slide', kind: 'reaction', joint: 'Slide' },
    ]),
  });

describe('the force of friction', () => {
  const run = runModel(slope()),
    g = (name: string) => [...run.gauge(name)],
    weight = 3 * 9.81,
    a = (20 * Math.PI) / 180;
  it('is the sliding one while it slides and what holds while it sticks, and part of the load of its slide', () => {
    const slides = g('v').map((v) => v > 1e-6);
    expect(slides.filter(Boolean).length).toBeGreaterThan(20);
    expect(slides.at(-1)).toBe(false);
    slides.forEach((moving, i) => {
      const expected = moving ? 0.45 * weight * Math.cos(a) : weight * Math.sin(a);
      expect(g('Own')[i]).toBeCloseTo(-expected, 9);
      expect(g('Size')[i]).toBeCloseTo(expected, 9);
      expect(g('Load of the slide, along')[i]).toBeCloseTo(-expected, 9);
      expect(g('Load of the slide')[i]).toBeCloseTo(Math.hypot(expected, weight * Math.cos(a)), 9);
    });
  });
  it('balances the block in its free-body diagram at every record', () => {
    let looked = 0;
    new Readings(run.mechanism, run.layout).read(
      [
        snapshotChannel((s) => {
          const { loads, rest } = bodyLoads(run.mechanism, 'Block', s);
          expect(rest.force).toBeLessThan(1e-9);
          expect(Math.hypot(...loads.find((l) => l.from === 'Rub')!.force)).toBeGreaterThan(9);
          looked++;
        }),
      ],
      run.chunks,
    );
    expect(looked).toBe(41);
  });
});

/**
 * Machines in which something switches: frictions, a drive and a joint that let go, stops, feet on curves, a cam; and no formula of time after the
 * first instant.
 */
const switching = (): [string, Model][] => {
  const pendulum = {
    run: { until: '2 s', every: '0.05 s' },
    points: e([{ name: 'O' }, { name: 'Tip', body: 'Arm', at: [0.4, 0, 0] }]),
    bodies: e([{ name: 'Arm', mass: 1, centre: [0.2, 0, 0], inertia: [0.002, 0.02, 0.02] }]),
    joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'], axis: [0, 1, 0] }]),
  };
  const reads = e([
    { name: 'angle', kind: 'joint', joint: 'Pin' },
    { name: 'load', kind: 'reaction', joint: 'Pin' },
    { name: 'moment', kind: 'reaction', joint: 'Pin', of: 'moment', component: 'y' },
  ]);
  return [
    ['a block that sticks', slope()],
    [
      'a pin that rubs',
      model('Rub', {
        ...pendulum,
        loads: e([
          { name: 'Gravity', kind: 'gravity' },
          { name: 'Rub', kind: 'joint-friction', joint: 'Pin', static: 0.3, sliding: 0.25, radius: 0.04 },
        ]),
        gauges: [...reads, ...e([{ name: 'rub', kind: 'load', load: 'Rub' }])],
      }),
    ],
    [
      'stops',
      model('Stops', {
        ...pendulum,
        loads: e([
          { name: 'Gravity', kind: 'gravity' },
          { name: 'End', kind: 'joint-stop', joint: 'Pin', upper: '40 deg', stiffness: '400 N*m/rad', damping: '2 N*m*s/rad' },
        ]),
        gauges: [...reads, ...e([{ name: 'stop', kind: 'load', load: 'End' }])],
      }),
    ],
    [
      'a drive that lets go',
      model('Drive', {
        ...pendulum,
        loads: e([{ name: 'Gravity', kind: 'gravity' }]),
        drives: e([{ name: 'Motor', joint: 'Pin', prescribes: 'speed', value: '1 rad/s', while: '(0.5 rad - {angle})/(1 rad)' }]),
        gauges: [...reads, ...e([{ name: 'torque', kind: 'drive', drive: 'Motor' }])],
      }),
    ],
    [
      'a joint that lets go',
      model('Joint', {
        ...pendulum,
        joints: e([{ ...pendulum.joints[0]!, while: '({height} + 0.3 m)/(1 m)' }]),
        loads: e([{ name: 'Gravity', kind: 'gravity' }]),
        gauges: e([
          { name: 'height', kind: 'point', body: 'Arm', at: 'Tip', component: 'z' },
          { name: 'load', kind: 'reaction', joint: 'Pin' },
        ]),
      }),
    ],
    [
      'a bead on a loop',
      model('Loop', {
        run: { until: '2 s', every: '0.05 s' },
        points: e([
          { name: 'A', at: [1, 0, 0] },
          { name: 'B', at: [0, 0, 0.6] },
          { name: 'C', at: [-1, 0, 0] },
          { name: 'D', at: [0, 0, -0.6] },
        ]),
        bodies: e([{ name: 'Bead', origin: 'A', mass: 1, inertia: [0.01, 0.01, 0.01] }]),
        joints: e([
          { name: 'Way', kind: 'point-on-curve', bodies: ['Ground', 'Bead'], at: ['A'], through: ['A', 'B', 'C', 'D'], closed: 'closed' },
        ]),
        ...{ starts: e([{ name: 'Push', joint: 'Way', speed: 6 }]) },
        loads: e([{ name: 'Gravity', kind: 'gravity' }]),
        gauges: e([
          { name: 'way', kind: 'joint', joint: 'Way' },
          { name: 'load', kind: 'reaction', joint: 'Way' },
        ]),
      }),
    ],
    [
      'slot cam',
      {
        ...readModel(readFileSync('examples/slot-cam.pivot.json', 'utf8')),
        run: { until: '1 s', every: '0.05 s', accuracy: 1e-5 },
      } as Model,
    ],
  ];
};

const rowsOf = (run: FinishedRun): Float64Array[] => {
  const { width } = run.layout;
  return run.chunks.flatMap((c) => Array.from({ length: c.length / width }, (_, i) => c.subarray(i * width, (i + 1) * width)));
};

describe.each(switching())('%s', (_name, m) => {
  const run = runModel(m),
    channels = run.mechanism.gauges.map((g) => run.mechanism.channel(g)).filter((c) => !c.after);
  const rows = rowsOf(run),
    read = (readings: Readings, which: readonly number[]) => which.map((i) => readings.read(channels, [rows[i]!]).map((v) => v[0]!));
  const order = rows.map((_, i) => i),
    straight = read(new Readings(run.mechanism, run.layout), order);
  it('reads the same forwards, backwards, in any order, and after another run of the same machine', () => {
    expect(run.end.status).toBe('done');
    expect(read(new Readings(run.mechanism, run.layout), [...order].reverse()).reverse()).toEqual(straight);
    fc.assert(
      fc.property(fc.shuffledSubarray(order, { minLength: 3 }), (some) => {
        expect(read(new Readings(run.mechanism, run.layout), some)).toEqual(some.map((i) => straight[i]));
      }),
      { numRuns: 10 },
    );
    const other = runModel({ ...m, run: { ...m.run, until: '0.37 s' } });
    expect(other.end.status).toBe('done');
    expect(read(new Readings(run.mechanism, run.layout), order)).toEqual(straight);
    // another mechanism of the same model has never been run
    const fresh = runModel({ ...m, run: { ...m.run, until: '0.01 s' } }).mechanism;
    const own = fresh.gauges.map((g) => fresh.channel(g)).filter((c) => !c.after);
    order.forEach((i) => new Readings(fresh, run.layout).read(own, [rows[i]!]).forEach((v, k) => expect(v[0]).toBe(straight[i]![k])));
  });
});

describe('a run begun anew at a record', () => {
  // formulas of time would begin anew as well: machines without them
  it.each(switching().filter(([name]) => name !== 'slot cam' && name !== 'a drive that lets go'))(
    '%s: every gauge of an instant is what the record gives',
    (_name, m) => {
      const run = runModel(m),
        rows = rowsOf(run),
        { layout } = run,
        readings = new Readings(run.mechanism, run.layout);
      const names = run.mechanism.gauges,
        channels = names.map((g) => run.mechanism.channel(g)),
        size = names.map((g) => Math.max(1e-9, ...[...run.gauge(g)].map(Math.abs)));
      for (let i = 0; i < rows.length; i += 3) {
        const told = readings.read(channels, [rows[i]!]).map((v) => v[0]!);
        const again = runModel(m, { until: 1e-6, every: 1e-6, start: startFrom(layout, rows[i]!) });
        names.forEach((g, k) => {
          const now = again.gauge(g)[0]!,
            turns = /angle/.test(g) ? Math.round((now - told[k]!) / (2 * Math.PI)) * 2 * Math.PI : 0;
          expect(Math.abs(now - turns - told[k]!), `${g} at record ${i}`).toBeLessThan(1e-6 * size[k]!);
        });
      }
    },
  );
});

describe('runs of earlier versions, which recorded accelerations and multipliers as well', () => {
  it.each(switching())('%s: every gauge reads the same', (_name, m) => {
    const run = runModel(m),
      { mechanism } = run,
      now = recordLayout(mechanism),
      { bodies, rows: constraints } = now;
    const solutions: Float64Array[] = [];
    new Readings(mechanism, run.layout).read(
      [{ ...snapshotChannel((s) => solutions.push(Float64Array.of(...s.acceleration, ...s.multipliers))), loads: undefined as never }],
      run.chunks,
    );
    const { angles } = offsets(run.layout),
      state = (i: number) => run.state(i).subarray(0, mechanism.system.K.whole.size),
      kept = rowsOf(run).map((r, i) => Float64Array.of(r[0]!, ...state(i), ...solutions[i]!, ...r.subarray(angles)));
    const before = layoutOfWidth(mechanism, kept[0]!.length)!;
    expect(before.width).toBe(now.width + 6 * bodies + constraints);
    const channels = mechanism.gauges.map((g) => mechanism.channel(g)),
      told = new Readings(mechanism, before).read(channels, kept),
      expected = new Readings(mechanism, run.layout).read(channels, run.chunks);
    told.forEach((list, k) => {
      const size = Math.max(...expected[k]!.map(Math.abs));
      list.forEach((x, i) => expect(Math.abs(x - expected[k]![i]!)).toBeLessThanOrEqual(1e-11 * size));
    });
    kept.forEach((r, i) => expect([...startFrom(before, r)]).toEqual([...startFrom(run.layout, rowsOf(run)[i]!)]));
  });
  it('a record of another width is of another machine', () => {
    const { mechanism } = runModel(slope());
    expect(layoutOfWidth(mechanism, recordLayout(mechanism).width)).toEqual(recordLayout(mechanism));
    expect(layoutOfWidth(mechanism, recordLayout(mechanism).width + 1)).toBeUndefined();
  });
});
