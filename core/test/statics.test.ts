/** Statics of machines whose drives are asked to move: they stand where they are asked to be, and nothing of it is inertia. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, Readings, assemble, build, recordLayout, runModel } from '../src';
import { equilibrium } from '../src/analyses';
import { COMPILER } from '../src/system/compiler';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const [mass, rider, k, g, slope] = [2, 1, 50, 9.81, 0.3];

/** A carriage that is driven up a slope, with a rider on a spring; with `turned`, beside it an arm that is driven between two frames. */
const carriage = (drive: object, turned: object = {}): Model =>
  model('Carriage', {
    run: { until: 1, every: 0.25 },
    points: e([{ name: 'O' }]),
    bodies: e([
      { name: 'Carriage', mass, inertia: [1, 1, 1] },
      { name: 'Rider', mass: rider, inertia: [1, 1, 1] },
      { name: 'Arm', mass: 1, centre: [0.1, 0, 0], inertia: [1, 1, 1] },
    ]),
    joints: e([
      { name: 'Slope', kind: 'prismatic', bodies: ['Ground', 'Carriage'], at: ['O'], axis: [Math.cos(slope), Math.sin(slope), 0] },
      { name: 'On it', kind: 'prismatic', bodies: ['Carriage', 'Rider'], at: ['O'], axis: [Math.cos(slope), Math.sin(slope), 0] },
      { name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Arm'], at: ['O'] },
    ]),
    loads: e([
      { name: 'Gravity', kind: 'gravity', acceleration: [0, -g, 0] },
      { name: 'Spring', kind: 'joint-spring', joint: 'On it', stiffness: k, damping: 3 },
    ]),
    drives: e([
      { name: 'Winch', joint: 'Slope', ...drive },
      { name: 'Turner', on: 'frames', bodies: ['Ground', 'Arm'], at: ['O'], along: 'about-z', prescribes: 'position', value: 0, ...turned },
    ]),
    gauges: e([
      { name: 'effort', kind: 'drive', drive: 'Winch' },
      { name: 'torque', kind: 'drive', drive: 'Turner' },
      { name: 'place', kind: 'joint', joint: 'Slope' },
      { name: 'sag', kind: 'joint', joint: 'On it' },
      { name: 'angle', kind: 'joint', joint: 'Pin' },
    ]),
  });
const DRIVES = [
  ['position', '1 m/s^2*t^2'],
  ['speed', '2 m/s^2*t'],
  ['acceleration', '2 m/s^2'],
] as const;

describe.each(DRIVES)('a winch of which %s is %s', (prescribes, value) => {
  const of = carriage({ prescribes, value }, { value: '0.5 rad/s^2*t^2' }),
    pull = (mass + rider) * g * Math.sin(slope),
    sag = (-rider * g * Math.sin(slope)) / k;
  it('is found where it has come to at every time of a quasi-static run, and carries weight alone', () => {
    const run = runModel(of, { analysis: 'quasi-static' });
    expect(run.end.status).toBe('done');
    expect(run.time).toHaveLength(5);
    run.time.forEach((t, i) => {
      expect(run.gauge('place')[i]).toBeCloseTo(t * t, 9);
      expect(run.gauge('sag')[i]).toBeCloseTo(sag, 9);
      expect(run.gauge('effort')[i]).toBeCloseTo(pull, 8);
      expect(run.gauge('angle')[i]).toBeCloseTo(0.5 * t * t, 9);
      expect(run.gauge('torque')[i]).toBeCloseTo(0.1 * g * Math.cos(0.5 * t * t), 8);
    });
  });
  it('has a static equilibrium, whatever it is about to do', () => {
    const { mechanism: m } = build(of);
    assemble(m!);
    equilibrium(m!);
    const run = runModel(of, { analysis: 'static' });
    expect(run.gauge('effort')[0]).toBeCloseTo(pull, 8);
    expect(run.gauge('sag')[0]).toBeCloseTo(sag, 9);
  });
  it('moves again in a run that is made in the same machine afterwards, and in what is read of one', () => {
    const dynamic = runModel(of, { accuracy: 1e-9 }),
      m = dynamic.mechanism,
      before = dynamic.gauge('effort').slice();
    assemble(m);
    equilibrium(m);
    expect(new Readings(m, dynamic.layout).read([m.channel('effort')], dynamic.chunks)[0]).toEqual(before);
    // at its start the spring is not bent yet, and the carriage alone is lifted and sped up
    expect(before[0]).toBeCloseTo(mass * (2 + g * Math.sin(slope)), 8);
    expect(recordLayout(m).standing).toBeUndefined();
    m.system.compile(COMPILER);
    expect(new Readings(m, dynamic.layout).read([m.channel('effort')], dynamic.chunks)[0]).toEqual(before);
  });
});

describe('friction in a joint that a drive holds or moves', () => {
  const [load, mu] = [4, 0.2],
    slide = (value: string, more: object[] = []): Model =>
      model('Slide', {
        run: { until: 2, every: 0.05, accuracy: 1e-8 },
        points: e([{ name: 'O' }]),
        bodies: e([{ name: 'Block', mass: load, inertia: [1, 1, 1] }]),
        joints: e([{ name: 'Track', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
        loads: e([
          { name: 'Gravity', kind: 'gravity', acceleration: [0, -g, 0] },
          { name: 'Rub', kind: 'joint-friction', joint: 'Track', static: mu, sliding: mu },
          ...more,
        ]),
        drives: e([{ name: 'Ram', joint: 'Track', prescribes: 'position', value }]),
        gauges: e([
          { name: 'place', kind: 'joint', joint: 'Track' },
          { name: 'effort', kind: 'drive', drive: 'Ram' },
          { name: 'rub', kind: 'load', load: 'Rub', of: 'effort' },
        ]),
      }),
    push = { name: 'Push', kind: 'force', body: 'Block', at: 'O', direction: [1, 0, 0], magnitude: '30 N' };

  it('at rest it carries nothing, more than its limit or less, and ends no run', () => {
    for (const more of [[], [push]]) {
      const run = runModel(slide('0.1 m', more));
      expect(run.end.status).toBe('done');
      for (const x of run.gauge('effort')) expect(x).toBeCloseTo(more.length > 0 ? -30 : 0, 8);
      for (const x of run.gauge('rub')) expect(Math.abs(x)).toBeLessThan(1e-9);
    }
  });
  it('rubs while it is moved, there and back, and lies idle before', () => {
    // at rest to 0.5 s, there until 1 s, back until 1.5 s
    const run = runModel(slide('0.1 m*(smootherstep(0.5 s, 1 s, t) - smootherstep(1 s, 1.5 s, t))'));
    expect(run.end.status).toBe('done');
    run.time.forEach((t, i) => {
      const rub = run.gauge('rub')[i]!;
      if (t < 0.49) expect(Math.abs(rub)).toBeLessThan(1e-9);
      if (t > 0.56 && t < 0.99) expect(rub).toBeCloseTo(-mu * load * g, 6);
      if (t > 1.06 && t < 1.49) expect(rub).toBeCloseTo(mu * load * g, 6);
    });
  });
  it('a quasi-static run follows the drive, and says that friction has no side there', () => {
    const run = runModel(slide('0.1 m*t/(1 s)', [push]), { analysis: 'quasi-static' });
    run.time.forEach((t, i) => {
      expect(run.gauge('place')[i]).toBeCloseTo(0.1 * t, 9);
      expect(run.gauge('effort')[i]).toBeCloseTo(-30, 8);
    });
    expect(run.end.diagnoses.map((d) => d.code)).toEqual(['statics-rubs']);
  });
});
