/** What is typed is what is read; a gauge and a project may be shown in other units, and nothing but what is shown changes. */
import { afterEach, describe, expect, it } from 'vitest';
import { D, type Model, type RawElement, build, check, formatQuantity, runModel, shownUnit, writeModel } from '../src';
import { UNIT_SYSTEMS, showIn } from '../src/quantity/units';
import { readModel } from '../src/model/file';
import { sliderCrank } from './models';

const driven = (value: string, gauges: object[], starts: object[] = []): Model => ({
  ...sliderCrank(),
  drives: [{ name: 'Motor', joint: 'Bearing', prescribes: 'speed', value }] as RawElement[],
  gauges: gauges as RawElement[],
  starts: starts as RawElement[],
});
const unitOf = (m: Model, gauge: string) => build(m).mechanism!.channel(gauge).unit;
afterEach(() => showIn(undefined));

describe('a gauge is shown', () => {
  const speed = { name: 'speed', kind: 'joint', joint: 'Bearing', of: 'rate' };
  it('in the unit that was typed for the motion it reads', () => {
    expect(unitOf(driven('25 rad/s', [speed]), 'speed')).toBe('rad/s');
    expect(unitOf(driven('300 rpm * smoothstep(0 s, 1 s, t)', [speed]), 'speed')).toBe('rpm');
    expect(unitOf(driven('2*pi*4 rad/s', [{ name: 'angle', kind: 'joint', joint: 'Bearing' }]), 'angle')).toBeUndefined();
  });
  it('in a unit of its own, where it fits', () => {
    const m = driven('25 rad/s', [
      { ...speed, unit: 'rev/min' },
      { name: 'x', kind: 'joint', joint: 'Slide', unit: 'inch' },
    ]);
    expect(unitOf(m, 'speed')).toBe('rev/min');
    expect(unitOf(m, 'x')).toBe('inch');
    const run = runModel(m, { until: 0.01, every: 0.01 }),
      plain = runModel(driven('25 rad/s', [speed]), { until: 0.01, every: 0.01 });
    expect([...run.gauge('speed')]).toEqual([...plain.gauge('speed')]);
  });
  it('a unit that does not fit is named, and the gauge left out', () => {
    const found = check(
      driven('25 rad/s', [
        { ...speed, unit: 'kg' },
        { ...speed, name: 'other', unit: 'furlong' },
      ]),
    ).diagnoses.filter((d) => d.code === 'gauge-unit');
    expect(found).toMatchObject([
      { severity: 'warning', element: { name: 'speed' } },
      { severity: 'warning', element: { name: 'other' } },
    ]);
  });
});

describe('a project is shown', () => {
  it.each([
    ['mm', '500 mm', '2 N', 'rpm'],
    ['si', '0.5 m', '2 N', 'rad/s'],
    ['inch', '19.69 inch', '0.4496 lbf', 'rpm'],
  ] as const)('in %s', (system, length, force, speed) => {
    showIn(system);
    expect(formatQuantity(0.5, D.length)).toBe(length);
    expect(formatQuantity(2, D.force)).toBe(force);
    expect(shownUnit(D.angularSpeed)).toBe(speed);
  });
  it('every unit of every system is one that formulas know, of the right dimension', () => {
    for (const system of Object.keys(UNIT_SYSTEMS) as (keyof typeof UNIT_SYSTEMS)[]) {
      showIn(system);
      for (const d of Object.values(D)) expect(formatQuantity(1, d), `${system} ${String(d)}`).toMatch(/^[\d.e-]+( \S+)?$/);
    }
  });
  it('and the choice is kept in its file', () => {
    const m = { ...sliderCrank(), units: 'inch' as const };
    expect(readModel(writeModel(m)).units).toBe('inch');
    expect(() => readModel(writeModel(m).replace('"inch"', '"cubit"'))).toThrow(/can be mm, si, inch/);
  });
});
