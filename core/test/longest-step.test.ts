/** The longest step of a dynamic run: set by hand where something happens that is over before a step would end. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, build, runModel, writeModel } from '../src';
import { readModel } from '../src/model/file';
import { rename } from '../src/rename';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];

/** A block at rest that is struck for less than a millisecond, far from the start: 1 N·s in all, so that 2 kg then move at 0.5 m/s. */
const struck = (longest?: string): Model => {
  const m = model('Struck', {
    run: { until: '2 s', every: '0.1 s' },
    parameters: e([{ name: 'width', value: '0.1 ms' }]),
    points: e([{ name: 'O' }]),
    bodies: e([{ name: 'Block', mass: 2, inertia: [0.02, 0.02, 0.02] }]),
    joints: e([{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'], axis: [1, 0, 0] }]),
    loads: e([
      {
        name: 'Strike',
        kind: 'actuator',
        joint: 'Slide',
        effort: '1 N*s / (width * sqrt(pi)) * exp(-((t - 1.013 s) / width)^2)',
      },
    ]),
    gauges: e([{ name: 'v', kind: 'joint', joint: 'Slide', of: 'rate' }]),
  });
  return longest === undefined ? m : { ...m, run: { ...m.run, longest } };
};
const speed = (m: Model, options = {}) => runModel(m, options).gauge('v').at(-1)!;

describe('a force that is over before a step would end', () => {
  it('is not missed with a longest step of about its duration', () => {
    expect(Math.abs(speed(struck()) - 0.5)).toBeGreaterThan(0.1);
    expect(speed(struck('0.2 ms'))).toBeCloseTo(0.5, 6);
    expect(speed(struck('2 * width'))).toBeCloseTo(0.5, 6);
  });
  it('no step is longer, whatever the method', () => {
    for (const method of ['explicit', 'implicit'] as const) {
      const { statistics } = runModel(struck('3 ms'), { method }).end;
      expect(statistics.largestStep).toBeLessThanOrEqual(3e-3 * (1 + 1e-12));
      expect(statistics.steps).toBeGreaterThanOrEqual(2 / 3e-3);
      expect(statistics.limits.longest).toBeGreaterThan(300);
    }
  });
  it('is longer than the usual hundredth of the run where that is asked', () => {
    expect(runModel(struck(), { longest: 1 }).end.statistics.largestStep).toBeGreaterThan(2 / 100);
  });
});

describe('a step of a machine in which all follows smoothly from postures and motions', () => {
  /** A wheel on a spring that swings by many turns. */
  const wheel = (every: string, more: object = {}): Model =>
    model('Wheel', {
      run: { until: '6 s', every },
      points: e([{ name: 'O' }]),
      bodies: e([{ name: 'Wheel', mass: 2, inertia: [0.02, 0.02, 0.04] }]),
      joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Wheel'], at: ['O'] }]),
      starts: e([{ name: 'Spin', joint: 'Pin', speed: '40 rad/s' }]),
      loads: e([{ name: 'Spring', kind: 'joint-spring', joint: 'Pin', stiffness: '0.04 N*m/rad' }]),
      gauges: e([{ name: 'angle', kind: 'joint', joint: 'Pin' }]),
      ...more,
    });
  it.each(['3 s', '1 s', '10 ms'])(
    'is as long as its error allows, and whole turns are counted all the same, recorded every %s',
    (every) => {
      const run = runModel(wheel(every), { accuracy: 1e-4 });
      expect(run.end.statistics.limits.longest).toBe(0);
      expect(run.end.statistics.largestStep).toBeGreaterThan(6 / 100);
      const angle = run.gauge('angle');
      run.time.forEach((t, i) => expect(Math.abs(angle[i]! - 40 * Math.sin(t))).toBeLessThan(0.02));
    },
  );
  it('of a spring-damper between two points is so, too: that a line of no length has no direction is no corner', () => {
    const smooth = (only: string) => {
      const m = model('Spring', {
        points: e([{ name: 'O' }, { name: 'P', body: 'Block', at: [1, 0, 0] }]),
        bodies: e([{ name: 'Block', mass: 2, inertia: [1, 1, 1] }]),
        loads: e([{ name: 'Spring', kind: 'spring', bodies: ['Ground', 'Block'], at: ['O', 'P'], stiffness: 3, damping: 1, only }]),
      });
      return build(m).mechanism!.assembly.forces[0]!.force.smooth;
    };
    expect(['both', 'tension', 'compression'].map(smooth)).toEqual([true, false, false]);
  });
  it.each([
    ['a force follows time', { loads: [{ name: 'Push', kind: 'actuator', joint: 'Pin', effort: '0.1 N*m * sin(t/(1 s))' }] }],
    [
      'a drive follows time',
      { starts: [], drives: [{ name: 'Motor', joint: 'Pin', prescribes: 'speed', value: '1 rad/s * sin(t/(1 s))' }] },
    ],
    [
      'something is watched',
      { loads: [{ name: 'Stop', kind: 'joint-stop', joint: 'Pin', upper: '1 MN*m/(1 N*m) * 1 rad', stiffness: '1 N*m/rad' }] },
    ],
  ])('is bounded where %s', (_what, more) => {
    const run = runModel(wheel('1 s', more as object));
    expect(run.end.statistics.largestStep).toBeLessThanOrEqual(0.06 * (1 + 1e-12));
  });
});

describe('the setting', () => {
  it('is a formula, kept in the file, renamed with its parameters, and left out where it is not set', () => {
    const m = struck('2 * width');
    expect(readModel(writeModel(m)).run.longest).toBe('2 * width');
    expect(rename(m, 'parameters', 'width', 'long').run.longest).toBe('2 * long');
    expect(build(m).resolution.run.longest).toBeCloseTo(2e-4, 16);
    expect('longest' in readModel(writeModel(struck())).run).toBe(false);
    expect('longest' in rename(struck(), 'parameters', 'width', 'long').run).toBe(false);
  });
  it.each([
    ['0 s', 'value-range'],
    ['-1 ms', 'value-range'],
    ['3 mm', 'formula-dimension'],
    ['nothing', 'formula-name'],
  ])('%s is refused at its place', (longest, code) => {
    expect(build(struck(longest)).diagnoses).toContainEqual(
      expect.objectContaining({ code, severity: 'error', path: ['run', 'longest'] }) as unknown,
    );
  });
});
