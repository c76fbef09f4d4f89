/** Formulas that switch with what they drive: told by name; those that only pass through a switch, or pass it gradually, run to their end. */
import { describe, expect, it } from 'vitest';
import { type RawElement, build, runModel } from '../src';
import { switching } from '../src/solve/chatter';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const wheel = (magnitude: string, more: object[] = []) =>
  model('Wheel', {
    run: { until: '2 s', every: '10 ms' },
    points: e([{ name: 'O' }]),
    bodies: e([{ name: 'Wheel', mass: 1, inertia: [0.01, 0.01, 0.01], spin: [0, 0, '10 rad/s'] }]),
    joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Wheel'], at: ['O'] }]),
    gauges: e([{ name: 'W', kind: 'joint', joint: 'Pin', of: 'rate' }]),
    loads: e([{ name: 'Rub', kind: 'torque', body: 'Wheel', magnitude }, ...more]),
  });

describe('a torque by the sign of a speed', () => {
  it('that it brings to rest ends the run there, named, with the remedy, after few attempts', () => {
    const { end } = runModel(wheel('-0.2 N*m * sign({W})'));
    expect(end.status).toBe('failed');
    expect(end.t).toBeCloseTo(0.5, 3);
    expect(end.diagnoses).toContainEqual(
      expect.objectContaining({ code: 'load-switches', element: { family: 'loads', name: 'Rub' }, severity: 'error' }),
    );
    expect(end.statistics.rejected).toBeLessThan(2000);
  });

  it('is told from one that is steep, and from one that only passes through zero, at a state on the switch', () => {
    const named = (magnitude: string) => {
      const m = build(wheel(magnitude)).mechanism!,
        { system } = m,
        y = new Float64Array(system.size),
        rates = new Float64Array(system.size);
      system.K.store(y);
      rates[12] = 20; // the wheel's spin passes through rest
      return switching(m, 0, y, rates, 1e-6)?.code;
    };
    expect(named('-0.2 N*m * sign({W})')).toBe('load-switches');
    expect(named('-0.2 N*m * {W} / (1 rad/s)')).toBeUndefined();
    expect(named('-0.2 N*m * (2 * smoothstep(-1e-4 rad/s, 1e-4 rad/s, {W}) - 1)')).toBeUndefined();
  });

  it('that only changes its side runs on', () => {
    // another torque, twice as large, carries the wheel through rest
    const { end } = runModel(wheel('-0.2 N*m * sign({W})', [{ name: 'Push', kind: 'torque', body: 'Wheel', magnitude: '-0.4 N*m' }]));
    expect(end.status).toBe('done');
  });

  it('that passes gradually, or is a friction of the joint, runs to its end', () => {
    const gradual = runModel(wheel('-0.2 N*m * (2 * smoothstep(-0.01 rad/s, 0.01 rad/s, {W}) - 1)'));
    expect(gradual.end.status).toBe('done');
    expect(Math.abs(gradual.gauge('W').at(-1)!)).toBeLessThan(1e-3);
    const rubbing = runModel(
      wheel('0 N*m', [{ name: 'Friction', kind: 'joint-friction', joint: 'Pin', freedom: 'rotation', preload: '0.2 N*m' }]),
    );
    expect(rubbing.end.status).toBe('done');
    expect(Math.abs(rubbing.gauge('W').at(-1)!)).toBeLessThan(1e-9);
  });
});

it('a block on a belt, held by a spring: the events are its slips and sticks in turn, each once', () => {
  // slips when the spring carries the static limit, 0.4 m g at 0.2 m/s; then it swings about where sliding friction holds it, until it is as fast as the belt
  const [m, k, v, g] = [1, 100, 0.2, 9.81],
    w = Math.sqrt(k / m),
    first = (0.4 * m * g) / k / v,
    start = ((0.4 - 0.25) * m * g) / k;
  const swing = (2 * (Math.PI - Math.atan((start * w) / v))) / w,
    hold = (2 * start) / v;
  const run = runModel(
    model('Belt', {
      run: { until: '2 s', every: '0.1 s' },
      points: e([{ name: 'O' }, { name: 'Wall', at: [-1, 0, 0] }, { name: 'Eye', body: 'Block', at: [0, 0, 0] }]),
      bodies: e([
        { name: 'Belt', mass: 5, inertia: [0.05, 0.05, 0.05] },
        { name: 'Block', mass: m, inertia: [0.01, 0.01, 0.01] },
      ]),
      joints: e([
        { name: 'Run', kind: 'prismatic', bodies: ['Ground', 'Belt'], at: ['O'], axis: [1, 0, 0] },
        { name: 'Top', kind: 'prismatic', bodies: ['Belt', 'Block'], at: ['O'], axis: [1, 0, 0] },
      ]),
      drives: e([{ name: 'Motor', joint: 'Run', prescribes: 'speed', value: v }]),
      starts: e([{ name: 'With the belt', joint: 'Top', position: 0, speed: 0 }]),
      loads: e([
        { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -g] },
        { name: 'Spring', kind: 'spring', bodies: ['Ground', 'Block'], at: ['Wall', 'Eye'], stiffness: k, free: 1 },
        { name: 'Rub', kind: 'joint-friction', joint: 'Top', static: 0.4, sliding: 0.25 },
      ]),
    }),
  );
  const events = run.end.happenings.filter((h) => h.t > 0);
  expect(events.map((h) => h.kind)).toEqual(['slips', 'sticks', 'slips', 'sticks', 'slips', 'sticks']);
  events.forEach((h, i) => expect(h.t).toBeCloseTo(first + Math.ceil(i / 2) * swing + Math.floor(i / 2) * hold, 7));
});
