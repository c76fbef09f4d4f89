/** The stages of a step in one call: the same numbers, to the last bit, as stage by stage; and not where anything has to be asked between. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, assemble, build, runModel } from '../src';
import { Dop853 } from '../src/solve/dop853';
import { leaveOut } from '../src/solve/leave-out';
import { kernelsOf } from '../src/system/compiled/machine';
import { doublePendulum, sliderCrank } from './models';

const free = (): Model => ({ ...sliderCrank(), drives: [], gauges: [] });
const ready = (m: Model, planar: boolean) => {
  const mechanism = build(m).mechanism!,
    { system } = mechanism;
  system.K.load(assemble(mechanism).y);
  if (planar) leaveOut(mechanism);
  system.compile(kernelsOf);
  system.segment(0, 1);
  return system;
};

describe('all stages in one call', () => {
  it.each([
    ['a slider-crank in its plane', free(), true],
    ['a slider-crank in space', free(), false],
    ['two bars in space', doublePendulum(), false],
  ])('%s', (_, m, planar) => {
    const step = (together: boolean) => {
      const system = ready(m, planar),
        vectors = system.vectors(),
        [y] = vectors.row(1) as [Float64Array];
      system.K.store(y);
      let asked = 0;
      const method = new Dop853(
        system.size,
        (t, x, dx) => {
          asked++;
          system.evaluate(t, x, dx);
        },
        vectors,
        together ? { stages: (sums) => system.stages(sums), passed: (n) => system.passed(n) } : undefined,
      );
      system.evaluate(0, y, method.k[0]!);
      const before = system.evaluations;
      method.attempt(0, y, 3e-3);
      const out = { y1: method.y1.slice(), errors: [method.error5.slice(), method.error3.slice()], k: method.k.map((x) => x.slice()) };
      return { ...out, asked, evaluations: system.evaluations - before, tightest: system.ldlt.tightest };
    };
    const [one, all] = [step(false), step(true)];
    expect([one.asked, all.asked]).toEqual([12, 0]);
    expect(all).toEqual({ ...one, asked: 0 });
    expect(one.y1.some((x, i) => x !== one.k[0]![i])).toBe(true);
  });
  it('is not had where a drive, a formula or a friction has to be asked', () => {
    const with_ = (parts: object) => ready({ ...free(), ...parts }, false).alone;
    expect(with_({})).toBe(true);
    expect(with_({ drives: sliderCrank().drives })).toBe(false);
    const load = (x: object) => ({ loads: [{ name: 'Load', ...x }] as RawElement[] });
    expect(with_(load({ kind: 'force', body: 'Slider', at: 'Slide pin', direction: [1, 0, 0], magnitude: '3 N * sin(t/(1 s))' }))).toBe(
      false,
    );
    expect(with_(load({ kind: 'force', body: 'Slider', at: 'Slide pin', direction: [1, 0, 0], magnitude: '3 N' }))).toBe(true);
    expect(with_(load({ kind: 'joint-friction', joint: 'Slide', static: 0.1, sliding: 0.1 }))).toBe(false);
    expect(with_(load({ kind: 'joint-spring', joint: 'Bearing', stiffness: '2 N*m/rad' }))).toBe(true);
  });
  it('a run counts its right-hand sides', () => {
    const r = runModel(free(), { until: 0.3 });
    expect(r.end.statistics.evaluations).toBeGreaterThan(12 * r.end.statistics.steps);
  });
});
