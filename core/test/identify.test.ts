/** Modes fitted to curves, against motions whose modes are known in closed form. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { D } from '../src/index';
import { identify } from '../src/results/identify';
import type { Series } from '../src/results/scores';

const TAU = 2 * Math.PI;
const series = (f: (t: number) => number, end = 4, count = 2001): Series => {
  const time = Float64Array.from({ length: count }, (_, i) => (end * i) / (count - 1));
  return { time, values: time.map(f), dim: D.length };
};
const decay =
  (f: number, zeta: number, a = 1, phase = 0) =>
  (t: number) =>
    a * Math.exp(-zeta * TAU * f * t) * Math.cos(TAU * f * Math.sqrt(1 - zeta * zeta) * t + phase);

describe('a decay', () => {
  it('gives frequency, damping, amplitude, phase and the value about which it swings', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 20, noNaN: true }),
        fc.double({ min: 0.005, max: 0.3, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: -5, max: 5, noNaN: true }),
        (f, zeta, phase, rest) => {
          const {
            modes: [mode],
            rest: [found],
            explained,
          } = identify([series((t) => rest + decay(f, zeta, 0.02, phase)(t))], 2);
          expect(mode!.frequency / f).toBeCloseTo(1, 4);
          expect(mode!.damping).toBeCloseTo(zeta, 4);
          expect(mode!.shape[0]!.amplitude).toBeCloseTo(0.02, 5);
          expect(Math.cos(mode!.shape[0]!.phase - phase)).toBeCloseTo(1, 4);
          expect(found).toBeCloseTo(rest, 5);
          expect(explained[0]).toBeGreaterThan(0.9999);
        },
      ),
      { numRuns: 25 },
    );
  });
  it('that does not swing has a rate alone', () => {
    const { modes } = identify([series((t) => 3 * Math.exp(-2 * t))], 1);
    expect(modes).toHaveLength(1);
    expect(modes[0]).toMatchObject({ im: 0, damping: 1 });
    expect(modes[0]!.re).toBeCloseTo(-2, 4);
  });
  it('that grows has negative damping', () => {
    const { modes } = identify([series((t) => 1e-3 * Math.exp(0.5 * t) * Math.cos(TAU * 3 * t))], 2);
    expect(modes[0]!.re).toBeCloseTo(0.5, 4);
    expect(modes[0]!.damping).toBeLessThan(0);
    expect(modes[0]!.shape[0]!.amplitude).toBeCloseTo(1e-3, 6);
  });
  it('with noise of a hundredth of its amplitude keeps its frequency to a thousandth', () => {
    let seed = 7;
    const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5;
    const { modes, singular } = identify([series((t) => decay(5, 0.02)(t) + 0.01 * random())], 2);
    expect(modes[0]!.frequency).toBeCloseTo(5, 2);
    expect(Math.abs(modes[0]!.damping - 0.02)).toBeLessThan(2e-3);
    // the order shows in the singular values: the third is noise
    expect(singular[2]! / singular[1]!).toBeLessThan(0.05);
  });
});

describe('several channels', () => {
  const shape = [
    [1, 0.4],
    [-0.3, 1],
  ];
  const channels = [0, 1].map((c) => series((t) => shape[c]![0]! * decay(3, 0.01)(t) + shape[c]![1]! * decay(7.5, 0.03, 1, 1)(t), 3));
  it('share their modes, each with its amplitude and phase in each of them', () => {
    const { modes, explained } = identify(channels, 4);
    const [slow, quick] = [...modes].sort((a, b) => a.frequency - b.frequency);
    expect(slow!.frequency).toBeCloseTo(3, 4);
    expect(quick!.frequency).toBeCloseTo(7.5, 4);
    expect(slow!.damping).toBeCloseTo(0.01, 5);
    expect(quick!.damping).toBeCloseTo(0.03, 5);
    expect(slow!.shape.map((s) => s.amplitude * Math.cos(s.phase))).toEqual([expect.closeTo(1, 4), expect.closeTo(-0.3, 4)]);
    expect(quick!.shape[1]!.amplitude).toBeCloseTo(1, 4);
    expect(Math.min(...explained)).toBeGreaterThan(0.99999);
  });
  it('are the output of the system that is found: it runs on from its first state', () => {
    const { A, C, x0, rest, dt, samples } = identify(channels, 4);
    let x = x0;
    for (let k = 0; k < samples; k++) {
      C.forEach((row, c) =>
        expect(row.reduce((s, v, i) => s + v * x[i]!, rest[c]!)).toBeCloseTo(
          shape[c]![0]! * decay(3, 0.01)(k * dt) + shape[c]![1]! * decay(7.5, 0.03, 1, 1)(k * dt),
          3,
        ),
      );
      x = A.map((row) => row.reduce((s, v, i) => s + v * x[i]!, 0));
    }
  });
});

it.each([
  ['no curve', [], 2, /no curve/],
  ['an order that is none', [series(decay(5, 0.1))], 1.5, /whole number/],
  ['an order that the samples do not hold', [series(decay(5, 0.1), 1, 12)], 12, /too few|fewer/],
  ['a curve that stands still', [series(() => 2)], 2, /does not move/],
  [
    'curves that share no time',
    [series(decay(5, 0.1)), { ...series(decay(5, 0.1)), time: series(() => 0).time.map((t) => t + 10) }],
    2,
    /share too short/,
  ],
  ['an order beyond what the curve is made of', [series(decay(5, 0.1))], 12, /fewer than 12/],
] as [string, Series[], number, RegExp][])('%s is refused in words', (_, channels, order, words) => {
  expect(() => identify(channels, order)).toThrow(words);
});
