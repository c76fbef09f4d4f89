import { describe, expect, it } from 'vitest';
import { type RawElement, runModel } from '../src';
import { doublePendulum, model } from './models';

describe('free spatial double pendulum', () => {
  it('conserves energy to 1e-6 over 10 s at default settings', () => {
    const run = runModel(doublePendulum());
    const energy = run.gauge('Energy');
    const size = Math.max(...run.gauge('Kinetic'));
    const drift = Math.max(...energy.map((e) => Math.abs(e - energy[0]!)));
    expect(run.end.status).toBe('done');
    expect(size).toBeGreaterThan(0.1);
    expect(drift / size).toBeLessThan(1e-6);
  });

  it('comes closer to its limit as the asked accuracy is tightened', () => {
    const toe = (accuracy: number) => runModel(doublePendulum('2 s'), { accuracy }).gauge('Toe x').at(-1)!;
    const best = toe(1e-8);
    for (const asked of [1e-3, 1e-5]) expect(Math.abs(toe(asked) - best) / 0.7).toBeLessThan(asked);
  });
});

describe('physical pendulum', () => {
  /** Bar on a pin, released level: speed at the bottom from energy, pin load from Newton. */
  it('has the speed and the pin load that energy and Newton give at the bottom', () => {
    const m = 2,
      c = 0.3,
      I = 0.05,
      g = 9.80665;
    const run = runModel(
      model('Pendulum', {
        run: { until: '1 s', every: '0.1 ms' },
        points: [{ name: 'Pin' }] as RawElement[],
        bodies: [{ name: 'Bar', mass: m, centre: [c, 0, 0], inertia: [0.01, I, I] }] as RawElement[],
        joints: [{ name: 'Pivot', kind: 'revolute', bodies: ['Ground', 'Bar'], at: ['Pin'], axis: [0, 1, 0] }] as RawElement[],
        loads: [{ name: 'Gravity', kind: 'gravity' }] as RawElement[],
        gauges: [
          { name: 'Speed', kind: 'joint', joint: 'Pivot', of: 'rate' },
          { name: 'Load', kind: 'reaction', joint: 'Pivot', component: 'z' },
        ] as RawElement[],
      }),
    );
    const speed = Math.max(...run.gauge('Speed'));
    const w2 = (2 * m * g * c) / (I + m * c * c);
    expect(speed / Math.sqrt(w2)).toBeCloseTo(1, 6);
    expect(Math.max(...run.gauge('Load')) / (m * g + m * c * w2)).toBeCloseTo(1, 6);
  });
});

describe('spring and damper', () => {
  it('rings and fades as the closed form of the linear oscillator', () => {
    const m = 3,
      k = 1200,
      c = 6,
      x0 = 0.05;
    const run = runModel(
      model('Oscillator', {
        run: { until: '2 s', every: '5 ms' },
        points: [{ name: 'Wall' }, { name: 'Eye', at: [0.5, 0, 0] }] as RawElement[],
        bodies: [{ name: 'Block', origin: 'Eye', mass: m, inertia: [0.01, 0.01, 0.01] }] as RawElement[],
        joints: [{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['Wall', 'Eye'], axis: [1, 0, 0] }] as RawElement[],
        loads: [
          { name: 'Spring', kind: 'spring', bodies: ['Ground', 'Block'], at: ['Wall', 'Eye'], stiffness: k, damping: c, free: 0.5 - x0 },
        ] as RawElement[],
        gauges: [{ name: 'x', kind: 'joint', joint: 'Slide' }] as RawElement[],
      }),
    );
    const d = c / (2 * m),
      w = Math.sqrt(k / m - d * d);
    run.gauge('x').forEach((x, i) => {
      const t = run.time[i]!;
      const exact = 0.5 - x0 + x0 * Math.exp(-d * t) * (Math.cos(w * t) + (d / w) * Math.sin(w * t));
      expect(Math.abs(x - exact)).toBeLessThan(1e-5 * x0);
    });
  });
});

describe('free flight', () => {
  it('keeps angular momentum and energy of a body spun about its middle axis', () => {
    const J = [1, 2, 3] as const;
    const run = runModel(
      model('Tumbling', {
        run: { until: '20 s', every: '0.1 s' },
        bodies: [{ name: 'Brick', mass: 1, inertia: [...J], spin: [0.001, 2, 0.002] }] as RawElement[],
        gauges: [{ name: 'Energy', kind: 'energy' }] as RawElement[],
      }),
    );
    const energy = run.gauge('Energy');
    for (const e of energy) expect(e / energy[0]!).toBeCloseTo(1, 6);
    // it really tumbles: the body's own y comes to point the other way
    const row = Array.from(run.time, (_, i) => run.state(i));
    expect(row.length).toBe(201);
    const along = row.map((s) => 1 - 2 * (s[4]! ** 2 + s[6]! ** 2));
    expect(Math.min(...along)).toBeLessThan(-0.9);
  });
});
