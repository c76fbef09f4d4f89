/** What a model asks of a run: scores, values by hand beside them, and limits whose bounds are formulas of what was measured. */
import { expect, it } from 'vitest';
import { type Model, type RawElement, measured, runModel } from '../src';
import { sliderCrank } from './models';

const e = (list: object[]) => list as RawElement[];
const REACH = { name: 'Reach', kind: 'score', gauge: 'x', of: 'highest' };

function measure(more: Partial<Record<'scores' | 'workings' | 'limits' | 'gauges', object[]>>) {
  const base = sliderCrank();
  const m = {
    ...base,
    ...Object.fromEntries(Object.entries(more).map(([k, list]) => [k, e(list)])),
    gauges: [...base.gauges, ...e(more.gauges ?? [])],
  };
  const run = runModel(m as Model, { until: 0.2, every: 0.001 });
  return measured({
    resolution: run.mechanism.resolution,
    series: (gauge) => ({ time: run.time, values: run.gauge(gauge), dim: run.mechanism.channel(gauge).dim }),
    unitOf: (gauge) => run.mechanism.channel(gauge).unit,
  });
}

it('a bound taken from a score is compared in the quantity of the gauge, and in no other', () => {
  const [kept, passed, other, zero] = measure({
    scores: [REACH],
    limits: [
      { name: 'Kept', gauge: 'x', high: '{Reach} + 1 mm' },
      { name: 'Passed', gauge: 'x', high: '{Reach} - 1 mm' },
      { name: 'Other', gauge: 'v', high: '{Reach}' },
      { name: 'Zero', gauge: 'v', high: '0 * {Reach}' },
    ],
  }).limits;
  expect(kept!.fault ?? kept!.worst).toBeUndefined();
  expect(kept!.bounds[0]).toBeCloseTo(0.251, 6);
  expect(passed!.worst!.worst).toBeCloseTo(0.25, 6);
  expect(other!.fault).toContain('another quantity');
  expect(zero!.worst).toBeDefined();
});

it('stands a value by hand beside its score, in the unit of the score, and says how far apart they are', () => {
  const [right, wrong, chained, other, alone] = measure({
    scores: [REACH],
    gauges: [{ name: 'x in inches', kind: 'joint', joint: 'Slide', unit: 'in' }],
    workings: [
      { name: 'Stretched', value: '(arm + rod) * 1 m', score: 'Reach' },
      { name: 'Forgotten', value: 'rod * 1 m', score: 'Reach', tolerance: 0.1 },
      { name: 'Twice', value: '2 * {Stretched} - {Reach}', score: 'Reach', tolerance: '1e-6' },
      { name: 'Speed', value: '1 m/s', score: 'Reach' },
      { name: 'Nobody', value: '1 / {Gone}' },
    ],
  }).workings;
  expect(right).toMatchObject({ bad: false, unit: 'mm' });
  expect(right!.hand).toBeCloseTo(0.25, 12);
  expect(right!.difference).toBeCloseTo(0, 6);
  expect(wrong).toMatchObject({ bad: true });
  expect(wrong!.difference).toBeCloseTo(0.25, 6);
  expect(chained!.hand).toBeCloseTo(0.25, 6);
  expect(other).toMatchObject({ hand: 1, fault: 'What was measured is another quantity.' });
  expect(alone!.hand).toBeUndefined();
  expect(alone!.fault).toBeDefined();
});

it('says why a score or a limit is not measured, and measures the others', () => {
  const { scores, limits } = measure({
    scores: [
      { name: 'Nowhere', kind: 'score', gauge: 'Gone' },
      { name: 'Unfinished', kind: 'score', gauge: 'x', of: 'at-time', time: 'soon' },
      REACH,
    ],
    limits: [
      { name: 'Of nothing', gauge: 'Gone', high: '1 m' },
      { name: 'Size', gauge: 'v', of: 'size', high: '0.5 m/s' },
      { name: 'Off', gauge: 'x', high: '0 m', off: true },
      { name: 'Another quantity', gauge: 'v', high: '3 kg' },
      { name: 'Upside down', gauge: 'v', low: '1 m/s', high: '-1 m/s' },
    ],
  });
  expect(scores.map((s) => s.fault !== undefined)).toEqual([true, true, false]);
  expect(scores[2]!.value).toBeCloseTo(0.25, 6);
  expect(limits.map((l) => l.name)).toEqual(['Of nothing', 'Size', 'Another quantity', 'Upside down']);
  expect(limits[0]!.fault).toBeDefined();
  expect(limits[1]!.bounds).toEqual([0.5, -0.5]);
  for (const l of limits.slice(2)) expect(l).toMatchObject({ fault: 'It is in error: see the checks.', bounds: [], passed: [] });
});
