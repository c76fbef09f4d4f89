/** The stages of a step in one call: the same numbers, to the last bit, as stage by stage; and not where anything has to be asked between. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, assemble, build, runModel } from '../src';
import { Dop853 } from '../src/solve/dop853';
import { leaveOut } from '../src/solve/leave-out';
import { COMPILER } from '../src/system/compiler';
import { bricard, gears, rubbing } from './benchmarks';
import { doublePendulum, sliderCrank } from './models';

const free = (): Model => ({ ...sliderCrank(), drives: [], gauges: [] });
/** Driven at its bearing, pushed at its slider. */
const driven = (drive: object, load: object = { magnitude: '3 N * sin(t/(1 s))' }): Model => ({
  ...sliderCrank(),
  tables: [
    {
      name: 'rise',
      from: 's',
      to: 'N',
      data: [
        [0, 0],
        [1, 3],
        [2, 1],
        [3, 2],
      ],
      between: 'akima',
      beyond: 'hold',
    },
  ] as RawElement[],
  drives: [{ ...sliderCrank().drives[0]!, ...drive }],
  gauges: [],
  loads: [{ name: 'Load', kind: 'force', body: 'Slider', at: 'Slide pin', direction: [1, 0, 0], ...load }] as RawElement[],
});
const POSITION = { prescribes: 'position', value: '0.3 rad * sin(7 rad/s * t) + 0.1 rad' },
  SPEED = { prescribes: 'speed', value: 'max(2 rad/s, 9 rad/s^2 * t) + 1 rad/s * smoothstep(0 s, 3 s, t)', ease: '0.5 s' },
  ACCELERATION = { prescribes: 'acceleration', value: '5 rad/s^2 * cos(t^2/(2 s^2))' };
const ready = (m: Model, planar: boolean) => {
  const mechanism = build(m).mechanism!,
    { system } = mechanism;
  system.K.load(assemble(mechanism).y);
  if (planar) leaveOut(mechanism);
  system.compile(COMPILER);
  system.segment(0, 1);
  for (const f of system.forces) f.begin?.(system.K, 0);
  return system;
};

describe('all stages in one call', () => {
  it.each([
    ['a slider-crank in its plane', free(), true],
    ['a slider-crank in space', free(), false],
    ['two bars in space', doublePendulum(), false],
    ['a slider-crank driven by a position', driven(POSITION), true],
    ['by a speed brought in', driven(SPEED), true],
    ['by an acceleration, in space', driven(ACCELERATION), false],
    ['and pushed as a table says', driven(SPEED, { magnitude: 'rise(t)' }), true],
    ['one that rubs in its plane', rubbing(driven(SPEED)), true],
    ['gears', gears(), false],
    ['a loop in space that rubs', rubbing(bricard(), { collar: '3 mm', length: '1 m' }), false],
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
        together ? { stages: (nodes, sums) => system.stages(nodes, sums), passed: (n) => system.passed(n) } : undefined,
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
  it('is not had where a reading has to be asked for', () => {
    const with_ = (parts: object) => ready({ ...free(), ...parts }, false).alone;
    expect(with_({})).toBe(true);
    expect(with_({ drives: sliderCrank().drives })).toBe(true);
    const load = (x: object) => ({ loads: [{ name: 'Load', ...x }] as RawElement[] });
    expect(with_(load({ kind: 'force', body: 'Slider', at: 'Slide pin', direction: [1, 0, 0], magnitude: '3 N * sin(t/(1 s))' }))).toBe(
      true,
    );
    const gauges = [
        sliderCrank().gauges.find((g) => g.name === 'Angle')!,
        { name: 'Turned', kind: 'body', body: 'Rod', of: 'angle' },
      ] as RawElement[],
      by = (magnitude: string) =>
        with_({ gauges, ...load({ kind: 'force', body: 'Slider', at: 'Slide pin', direction: [1, 0, 0], magnitude }) });
    expect(by('3 N * sin({Angle})')).toBe(true);
    expect(by('3 N * sin({Turned})')).toBe(false);
    expect(with_(load({ kind: 'force', body: 'Slider', at: 'Slide pin', direction: [1, 0, 0], magnitude: '3 N' }))).toBe(true);
    expect(with_(load({ kind: 'joint-friction', joint: 'Slide', static: 0.1, sliding: 0.1 }))).toBe(true);
    expect(with_(load({ kind: 'joint-spring', joint: 'Bearing', stiffness: '2 N*m/rad' }))).toBe(true);
  });
  it.each([
    ['a position', POSITION],
    ['a speed brought in', SPEED],
    ['an acceleration', ACCELERATION],
  ])('driven by %s, it moves as where each formula is asked', (_, drive) => {
    const rates = (code: boolean) => {
      const mechanism = build(driven(drive)).mechanism!,
        { system } = mechanism,
        out: number[][] = [];
      system.K.load(assemble(mechanism).y);
      if (code) system.compile(COMPILER);
      for (const t of [0, 0.2, 0.222, 0.7]) {
        system.segment(0, 0.5); // the last lies beyond: it is seen from inside
        const y = new Float64Array(system.size),
          dy = new Float64Array(system.size);
        system.K.store(y);
        system.evaluate(t, y, dy);
        out.push([...dy, system.residual(t), system.velocityResidual(t)]);
      }
      return out.flat();
    };
    const [asked, made] = [rates(false), rates(true)];
    const largest = Math.max(...asked.map(Math.abs));
    made.forEach((x, i) => expect(Math.abs(x - asked[i]!)).toBeLessThan(1e-12 * largest));
  });
  it('machines that differ in the numbers of their formulas share their code', () => {
    const code = (x: object) => {
      const system = ready(driven(x), true) as unknown as { made: object; kernels: object };
      void system.made;
      return system.kernels;
    };
    const one = code(SPEED);
    expect(code({ ...SPEED, value: SPEED.value.replace('9 rad', '8 rad') })).toBe(one);
    expect(code({ ...SPEED, value: SPEED.value.replace('max', 'min') })).not.toBe(one);
  });
  it('a run counts its right-hand sides', () => {
    const r = runModel(free(), { until: 0.3 });
    expect(r.end.statistics.evaluations).toBeGreaterThan(12 * r.end.statistics.steps);
  });
});
