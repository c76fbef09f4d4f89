/** Spectrum, histogram, envelope, thinning and snapping against closed forms. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Thinned, type WindowName, envelope, histogram, nextPlace, snapPlaces, snapTo, spectrum } from '../src/plots';
import { D } from '../src/quantity/dimension';
import type { Series } from '../src/results/scores';

const course = (n: number, end: number, f: (t: number) => number): Series => {
  const time = Float64Array.from({ length: n }, (_, i) => (end * i) / (n - 1));
  return { time, values: time.map(f), dim: D.none };
};
const sine =
  (f: number, a: number, phase = 0) =>
  (t: number) =>
    a * Math.sin(2 * Math.PI * f * t + phase);

describe('spectrum', () => {
  it.each(['hann', 'flat-top', 'rectangular'] as WindowName[])(
    'with window %s reads the amplitude of a sine that goes on for whole periods',
    (window) => {
      const n = 4096,
        s = course(n + 1, 4, sine(12.5, 3));
      // the last record is the first of the next period
      const whole: Series = { ...s, time: s.time.subarray(0, n), values: s.values.subarray(0, n) };
      const { frequency, amplitude } = spectrum(whole, window);
      let k = 1;
      for (let i = 1; i < amplitude.length; i++) if (amplitude[i]! > amplitude[k]!) k = i;
      // the flat top is flat to a hundredth of a decibel
      expect(amplitude[k]).toBeCloseTo(3, window === 'flat-top' ? 2 : 3);
      expect(Math.abs(frequency[k]! - 12.5)).toBeLessThan(0.07);
    },
  );

  it('with a flat top reads amplitudes to a thousandth wherever the frequency lies', () => {
    fc.assert(
      fc.property(fc.double({ min: 20, max: 60, noNaN: true }), fc.double({ min: 0, max: 6, noNaN: true }), (f, phase) => {
        const { amplitude } = spectrum(course(2000, 2, sine(f, 2, phase)), 'flat-top');
        expect(Math.max(...amplitude.subarray(1))).toBeGreaterThan(1.998);
        expect(Math.max(...amplitude.subarray(1))).toBeLessThan(2.002);
      }),
      { numRuns: 60 },
    );
  });

  it('puts the mean at zero, and tells two frequencies apart that differ by two of its resolution', () => {
    const { frequency, amplitude, resolution } = spectrum(
      course(4001, 4, (t) => 5 + sine(10, 1)(t) + sine(11, 1)(t)),
      'hann',
    );
    expect(amplitude[0]).toBeCloseTo(5, 6);
    expect(resolution).toBeCloseTo(0.25, 9);
    const at = (f: number) => amplitude[frequency.findIndex((x) => x >= f)]!;
    expect(at(10)).toBeGreaterThan(0.9);
    expect(at(11)).toBeGreaterThan(0.9);
    expect(at(10.5)).toBeLessThan(0.3);
  });

  it('reads records that do not stand evenly as it reads those that do', () => {
    const even = course(4001, 2, sine(7, 1.5));
    const time = Float64Array.from([...even.time, 0.50001, 1.23456].sort((a, b) => a - b));
    const a = spectrum(even).amplitude,
      b = spectrum({ time, values: time.map(sine(7, 1.5)), dim: D.none }).amplitude;
    expect(Math.max(...b.subarray(1))).toBeCloseTo(Math.max(...a.subarray(1)), 2);
  });

  it('of too few records is refused', () => expect(() => spectrum(course(5, 1, () => 1))).toThrow('at least 8'));
});

describe('histogram', () => {
  it('of a straight rise is even', () => {
    const { edges, share } = histogram(
      course(101, 1, (t) => 4 * t),
      8,
    );
    expect([...edges]).toEqual([0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5, 4]);
    for (const x of share) expect(x).toBeCloseTo(1 / 8, 12);
  });

  it('of a sine follows the arc sine law', () => {
    const { edges, share } = histogram(course(100_001, 1, sine(5, 1)), 20);
    share.forEach((x, k) =>
      expect(x).toBeCloseTo((Math.asin(Math.min(1, edges[k + 1]!)) - Math.asin(Math.max(-1, edges[k]!))) / Math.PI, 3),
    );
  });

  it('counts time and not records, and always comes to one', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 1e-6, max: 1, noNaN: true }), fc.double({ min: -5, max: 5, noNaN: true })), {
          minLength: 2,
          maxLength: 60,
        }),
        fc.integer({ min: 1, max: 50 }),
        (rows, bins) => {
          let t = 0;
          const time = Float64Array.from(rows, ([dt]) => (t += dt)),
            values = Float64Array.from(rows, ([, v]) => v);
          expect(histogram({ time, values, dim: D.none }, bins).share.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
        },
      ),
      { numRuns: 2000 },
    );
  });

  it('of a constant is one class of all', () =>
    expect(
      Math.max(
        ...histogram(
          course(10, 1, () => 3),
          5,
        ).share,
      ),
    ).toBe(1));
});

it('the envelope of a decaying swing is its decay', () => {
  const { upper, lower } = envelope(course(20_001, 2, (t) => Math.exp(-t) * Math.cos(2 * Math.PI * 8 * t)));
  // the peaks stand a little before where the cosine is one
  for (let i = 1; i < upper.time.length - 1; i++) expect(upper.values[i]).toBeCloseTo(Math.exp(-upper.time[i]!), 3);
  for (let i = 1; i < lower.time.length - 1; i++) expect(lower.values[i]).toBeCloseTo(-Math.exp(-lower.time[i]!), 3);
  expect(upper.time.length).toBeGreaterThan(14);
});

describe('a thinned curve', () => {
  it('shows the lowest and the highest of every column, whatever part is looked at', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 6000 }),
        fc.integer({ min: 1, max: 90 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.integer(),
        (n, width, a, b, seed) => {
          let x = (seed >>> 0) + 1;
          const time = Float64Array.from({ length: n }, (_, i) => i / (n - 1)),
            values = Float64Array.from({ length: n }, () => (x = (x * 48271) % 2147483647) / 2147483647);
          const [from, to] = [Math.min(a, b), Math.max(a, b)],
            seen: [number, number][] = [];
          new Thinned(time, values).columns(from, to, width, (t, v) => seen.push([t, v]));
          const inside = [...time.keys()].filter((i) => time[i]! >= from && time[i]! <= to).map((i) => values[i]!);
          if (inside.length > 0) {
            expect(Math.max(...seen.map(([, v]) => v))).toBeGreaterThanOrEqual(Math.max(...inside));
            expect(Math.min(...seen.map(([, v]) => v))).toBeLessThanOrEqual(Math.min(...inside));
          }
          expect(seen.every(([t], i) => i === 0 || t >= seen[i - 1]![0])).toBe(true);
          expect(seen.length).toBeLessThanOrEqual(Math.max(2 * width + 3, 2 * width + 2));
        },
      ),
      { numRuns: 300 },
    );
  });

  it('is a line while it is smooth at the width it is drawn, and a band where it goes to and fro within the columns', () => {
    const band = (f: (t: number) => number, n: number) =>
      new Thinned(
        Float64Array.from({ length: n }, (_, i) => i / n),
        Float64Array.from({ length: n }, (_, i) => f(i / n)),
      ).columns(0, 1, 500, () => undefined);
    expect(band((t) => Math.sin(20 * t), 400)).toBe(false);
    expect(band((t) => Math.sin(20 * t), 4000)).toBe(false);
    expect(band((t) => Math.sin(20 * t), 100_000)).toBe(false);
    expect(band((t) => Math.sin(8000 * t), 100_000)).toBe(true);
  });

  it('never hides a single record among a million', () => {
    const n = 1_000_000,
      time = Float64Array.from({ length: n }, (_, i) => i * 1e-3),
      values = new Float64Array(n);
    values[654_321] = 7;
    const curve = new Thinned(time, values);
    for (const [from, to] of [
      [0, 1000],
      [600, 700],
      [654.3, 654.4],
    ] as const) {
      let high = 0;
      curve.columns(from, to, 500, (_, v) => (high = Math.max(high, v)));
      expect(high).toBe(7);
    }
  });
});

describe('snapping', () => {
  const s = course(1001, 1, sine(2, 1)),
    places = snapPlaces(s, [0.33], [0.6]);
  it('finds the peaks and zero crossings of a sine', () => {
    expect(snapTo(places, 0.12, 0.02)).toMatchObject({ kind: 'peak' });
    expect(snapTo(places, 0.12, 0.02)!.at).toBeCloseTo(0.125, 6);
    expect(nextPlace(places, 'zero', 0.1, true)!.at).toBeCloseTo(0.25, 6);
    expect(nextPlace(places, 'peak', 0.5, false)!.at).toBeCloseTo(0.375, 6);
  });
  it('knows events and limits, and keeps to its reach', () => {
    expect(snapTo(places, 0.32, 0.015)).toEqual({ at: 0.33, kind: 'event' });
    expect(nextPlace(places, 'limit', 0, true)).toEqual({ at: 0.6, kind: 'limit' });
    expect(snapTo(places, 0.19, 0.01)).toBeUndefined();
    expect(nextPlace(places, 'event', 0.33, true)).toBeUndefined();
  });
});
