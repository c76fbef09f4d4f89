/** Limits whose bounds are formulas of what was measured. */
import { expect, it } from 'vitest';
import { type RawElement, measured, runModel } from '../src';
import { sliderCrank } from './models';

const e = (list: object[]) => list as RawElement[];

function limits(list: object[]) {
  const m = { ...sliderCrank(), scores: e([{ name: 'Reach', kind: 'score', gauge: 'x', of: 'highest' }]), limits: e(list) };
  const run = runModel(m, { until: 0.2, every: 0.001 });
  return measured(run.mechanism, (gauge) => ({ time: run.time, values: run.gauge(gauge), dim: run.mechanism.channel(gauge).dim })).limits;
}

it('a bound taken from a score is compared in the quantity of the gauge, and in no other', () => {
  const [kept, passed, other, zero] = limits([
    { name: 'Kept', gauge: 'x', high: '{Reach} + 1 mm' },
    { name: 'Passed', gauge: 'x', high: '{Reach} - 1 mm' },
    { name: 'Other', gauge: 'v', high: '{Reach}' },
    { name: 'Zero', gauge: 'v', high: '0 * {Reach}' },
  ]);
  expect(kept).toMatchObject({ kept: true });
  expect(passed).toMatchObject({ kept: false });
  expect(other!.kept).toBeUndefined();
  expect(other!.fault).toContain('another quantity');
  expect(zero).toMatchObject({ kept: false });
});
