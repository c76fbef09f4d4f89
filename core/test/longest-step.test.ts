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
