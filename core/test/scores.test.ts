/** Scores, strokes and limits against courses in closed form; and what is refused. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { D, type Series, check, complete, crossings, extrema, scoreOf, strokesOf, violations } from '../src';
import { valueAt, within } from '../src/results/scores';
import { derivative, integral, lowPass, movingMean, movingRms } from '../src/formula/course';

const course = (f: (t: number) => number, end = 10, step = 0.01): Series => {
  const time = Float64Array.from({ length: Math.round(end / step) + 1 }, (_, i) => i * step);
  return { time, values: time.map(f), dim: D.length };
};
const of = (s: Series, what: string, more: object = {}) => scoreOf({ of: what, ...more }, s).value;

it('a part of a course is what filtering its records gives, with values at its ends', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: 20 }), fc.integer({ min: -9, max: 9 })), { minLength: 1, maxLength: 30 }),
      fc.integer({ min: -20, max: 400 }),
      fc.integer({ min: -20, max: 400 }),
      (rows, from, to) => {
        let t = 0;
        const time = Float64Array.from(rows, ([dt]) => (t += dt)),
          values = Float64Array.from(rows, ([, v]) => v),
          s: Series = { time, values, dim: D.length };
        const has = (x: number) => x >= time[0]! && x <= t,
          part = within(s, from, to);
        const inner = [...time.keys()].filter((i) => time[i]! > from && time[i]! < to);
        expect([...part.time]).toEqual([
          ...(has(from) ? [from] : []),
          ...inner.map((i) => time[i]!),
          ...(has(to) && to > from ? [to] : []),
        ]);
        part.time.forEach((x, i) => expect(part.values[i]).toBe(valueAt(s, x)));
        expect([...within(s).values]).toEqual([...values]);
      },
    ),
  );
});

describe('scores', () => {
  const wave = course((t) => 3 + 2 * Math.sin(2 * Math.PI * 0.8 * t));
  it('of a sine: peak, lowest, range, mean, RMS, period, frequency', () => {
    expect(of(wave, 'peak')).toBeCloseTo(5, 6);
    expect(scoreOf({ of: 'highest' }, wave).at).toBeCloseTo(1 / (4 * 0.8), 6);
    expect(of(wave, 'lowest')).toBeCloseTo(1, 6);
    expect(of(wave, 'range')).toBeCloseTo(4, 6);
    expect(of(wave, 'mean')).toBeCloseTo(3, 6);
    expect(of(wave, 'rms')).toBeCloseTo(Math.sqrt(9 + 2), 4);
    expect(of(wave, 'period')).toBeCloseTo(1.25, 8);
    expect(scoreOf({ of: 'frequency' }, wave)).toMatchObject({ dim: [0, 0, -1, 0, 0, 0] });
    expect(of(wave, 'area')).toBeCloseTo(30, 4);
  });
  it('change from first to last, and over a cycle of another gauge: the work of a cycle, also of an angle that goes on turning', () => {
    // work that rises by 7 a cycle of 1.25 s, with a swing in it
    const work = course((t) => (7 * t) / 1.25 + Math.sin(2 * Math.PI * 0.8 * t));
    expect(of(work, 'change')).toBeCloseTo(56, 6);
    expect(scoreOf({ of: 'per-cycle' }, work, wave).value).toBeCloseTo(7, 3);
    const angle = { ...course((t) => -2 * Math.PI * 0.8 * t + 0.4), dim: D.angle };
    expect(scoreOf({ of: 'per-cycle' }, work, angle).value).toBeCloseTo(7, 3);
    expect(of(angle, 'period')).toBeCloseTo(1.25, 6);
    expect(() =>
      scoreOf(
        { of: 'per-cycle' },
        work,
        course((t) => t),
      ),
    ).toThrow(/no whole cycle/);
    expect(() => scoreOf({ of: 'per-cycle' }, work)).toThrow(/no whole cycle/);
  });
  it('of a step response: rise, overshoot, settling, damping', () => {
    const z = 0.2,
      w = 5,
      d = w * Math.sqrt(1 - z * z);
    const step = course((t) => 1 - Math.exp(-z * w * t) * (Math.cos(d * t) + ((z * w) / d) * Math.sin(d * t)), 20, 0.001);
    expect(of(step, 'overshoot')).toBeCloseTo(Math.exp((-Math.PI * z) / Math.sqrt(1 - z * z)), 5);
    expect(of(step, 'damping')).toBeCloseTo(z, 4);
    const slow = course((t) => 1 - Math.exp(-t / 0.5), 20, 0.001);
    expect(of(slow, 'rise')).toBeCloseTo(0.5 * Math.log(9), 5);
    expect(of(slow, 'settling')).toBeCloseTo(0.5 * Math.log(50), 4);
  });
  it('at a time, at crossings, in a span', () => {
    expect(of(wave, 'at-time', { time: 1.237 })).toBeCloseTo(3 + 2 * Math.sin(2 * Math.PI * 0.8 * 1.237), 3);
    expect(of(wave, 'crossing', { level: 4, from: 1 })).toBeCloseTo(1.25 + Math.asin(0.5) / (2 * Math.PI * 0.8), 4);
    expect(
      scoreOf(
        { of: 'when-other', level: 0.5 },
        wave,
        course((t) => t),
      ).value,
    ).toBeCloseTo(3 + 2 * Math.sin(2 * Math.PI * 0.4), 5);
    expect(of(wave, 'highest', { from: 0.4, to: 0.9 })).toBeCloseTo(3 + 2 * Math.sin(2 * Math.PI * 0.8 * 0.4), 4);
  });
  it('what a course does not have is refused in words', () => {
    for (const [what, f, more] of [
      ['period', (t: number) => t, {}],
      ['damping', (t: number) => t, {}],
      ['rise', () => 2, {}],
      ['crossing', () => 2, { level: 5 }],
      ['at-time', (t: number) => t, { time: 99 }],
      ['mean', (t: number) => t, { from: 50, to: 60 }],
    ] as const) {
      expect(() => scoreOf({ of: what, ...more }, course(f))).toThrow(/\w+/);
    }
    const one: Series = { time: Float64Array.of(0), values: Float64Array.of(7), dim: D.length };
    expect(of(one, 'peak')).toBe(7);
    expect(of(one, 'mean')).toBe(7);
    expect(() => scoreOf({ of: 'peak' }, { time: new Float64Array(0), values: new Float64Array(0), dim: D.length })).toThrow(
      /not been read/,
    );
  });
});

describe('strokes', () => {
  it('of a quick-return motion: durations, ratio, and dwell at the turning points', () => {
    // forward over 0.6 s, back over 0.3 s, after a rest of 0.1 s
    const smooth = (x: number) => x * x * x * (10 - 15 * x + 6 * x * x);
    const one = (t: number) => (t < 0.1 ? 0 : t < 0.7 ? smooth((t - 0.1) / 0.6) : 1 - smooth((t - 0.7) / 0.3));
    const s = course((t) => one(t % 1), 5, 0.001);
    const strokes = strokesOf(s).filter((x) => x.from > 0.5 && x.to < 4.5);
    const forth = strokes.filter((x) => x.end > x.start),
      back = strokes.filter((x) => x.end < x.start);
    expect(forth.length).toBeGreaterThanOrEqual(3);
    for (const x of back) expect(x.to - x.from).toBeGreaterThan(0.3 - 0.002);
    for (const x of forth) expect(x.end - x.start).toBeCloseTo(1, 6);
    for (let i = 1; i < forth.length; i++) expect(forth[i]!.from - forth[i - 1]!.from).toBeCloseTo(1, 2);
    expect(forth[1]!.dwell).toBeGreaterThan(0.1);
  });
  it('turning points are those of the course, noise left out', () => {
    const e = extrema(course((t) => Math.sin(t) + 1e-6 * Math.sin(500 * t), 10));
    expect(e.map((x) => x.high)).toEqual([true, false, true]);
    e.forEach((x, i) => expect(x.at).toBeCloseTo(Math.PI * (0.5 + i), 3));
  });
});

describe('limits', () => {
  it('violations are where a sine is outside, to the crossing', () => {
    const found = violations(
      { high: 0.5, low: -2 },
      course((t) => Math.sin(t), 10),
    );
    expect(found).toHaveLength(2);
    found.forEach((v, i) => {
      expect(v.from).toBeCloseTo(Math.PI / 6 + 2 * Math.PI * i, 4);
      expect(v.to).toBeCloseTo((5 * Math.PI) / 6 + 2 * Math.PI * i, 4);
      expect(v.worst).toBeCloseTo(1, 4);
    });
    expect(
      violations(
        { high: 0.5, of: 'size' },
        course((t) => Math.sin(t), 10),
      ),
    ).toHaveLength(4);
    expect(
      violations(
        { high: 0.5, from: 3, to: 6 },
        course((t) => Math.sin(t), 10),
      ),
    ).toHaveLength(0);
  });
  it('every value outside lies in a violation, and none inside does (random courses)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -10, max: 10, noNaN: true }), { minLength: 2, maxLength: 60 }),
        fc.double({ min: -5, max: 5, noNaN: true }),
        (values, high) => {
          const s: Series = { time: Float64Array.from(values, (_, i) => i), values: Float64Array.from(values), dim: D.none };
          const found = violations({ high }, s);
          values.forEach((v, i) => expect(found.some((x) => i >= x.from - 1e-9 && i <= x.to + 1e-9) || v <= high).toBe(true));
          for (const x of found) expect(x.worst).toBeGreaterThan(high);
          expect(crossings(s, high).every((c) => c.t >= 0 && c.t <= values.length - 1)).toBe(true);
        },
      ),
      { numRuns: 300 },
    );
  });
  it('a level of another dimension, and a limit of nothing, are refused by name', () => {
    const said = check(
      complete({
        format: 'vim-pivot-model',
        version: 1,
        name: 'x',
        ground: 'Ground',
        run: { until: '1 s', every: '1 ms', accuracy: 1e-5 },
        points: [{ name: 'O' }],
        bodies: [{ name: 'B', mass: 1, inertia: [1, 1, 1] }],
        joints: [{ name: 'J', kind: 'revolute', bodies: ['Ground', 'B'], at: ['O'] }],
        gauges: [
          { name: 'Angle', kind: 'joint', joint: 'J' },
          { name: 'Slow', kind: 'formula', value: '{Angle}', then: 'low-pass' },
        ],
        limits: [
          { name: 'L', gauge: 'Angle', high: '3 N' },
          { name: 'M', gauge: 'Angle' },
          { name: 'N', gauge: 'Slow', high: '1 rad', then: 'stop' },
        ],
        scores: [{ name: 'S', gauge: 'Angle', of: 'crossing', level: '2 kg' }],
      }),
    )
      .diagnoses.filter((d) => d.code === 'limit-level')
      .map((d) => d.element!.name);
    // what is to stop a run comes first: it is an error
    expect(said).toEqual(['N', 'S', 'L', 'M']);
  });
});

describe('peaks at jumps, corners and single records', () => {
  const series = (time: readonly number[], values: readonly number[]): Series => ({
    time: Float64Array.from(time),
    values: Float64Array.from(values),
    dim: D.power,
  });
  it('the power of a rotor on a speed ramp that ends is that at the end of the ramp', () => {
    // torque 2 N·m up to 1.5 s along a straight ramp of speed, then none
    const ramp = course((t) => (t <= 1.5 ? 2 * 100 * t : 0), 3, 0.013);
    expect(of(ramp, 'peak')).toBe(Math.max(...ramp.values));
    expect(of(ramp, 'highest')).toBe(Math.max(...ramp.values));
  });
  it('one record alone is itself', () => {
    expect(of(series([0, 1, 2, 3, 4, 5, 6], [0, 0, 0, 7, 0, 0, 0]), 'peak')).toBe(7);
    expect(of(series([0, 1, 2, 3, 4], [1, 1, -5, 1, 1]), 'lowest')).toBe(-5);
    expect(of(series([0], [3]), 'highest')).toBe(3);
    expect(of(series([0, 1, 1, 2], [0, 4, -4, 0]), 'highest')).toBe(4); // two records at one time
  });
  const piece = fc.record({ level: fc.double({ min: -5, max: 5, noNaN: true }), slope: fc.double({ min: -20, max: 20, noNaN: true }) });
  it('no peak goes beyond its records where straight pieces meet at jumps and corners (random pieces and spacings)', () => {
    fc.assert(
      fc.property(
        fc.array(piece, { minLength: 1, maxLength: 5 }),
        fc.array(fc.double({ min: 0.02, max: 0.1, noNaN: true }), { minLength: 12, maxLength: 60 }),
        (pieces, steps) => {
          let t = 0;
          const time = steps.map((h) => (t += h)),
            end = t,
            at = (x: number) => pieces[Math.min(pieces.length - 1, Math.floor((x / end) * pieces.length))]!;
          const s = series(
              time,
              time.map((x) => at(x).level + at(x).slope * x),
            ),
            lo = Math.min(...s.values),
            hi = Math.max(...s.values),
            slack = 1e-9 * (1 + hi - lo);
          expect(of(s, 'highest')).toBeLessThanOrEqual(hi + slack);
          expect(of(s, 'lowest')).toBeGreaterThanOrEqual(lo - slack);
          for (const e of extrema(s)) expect(e.value).toSatisfy((v: number) => v <= hi + slack && v >= lo - slack);
        },
      ),
      { numRuns: 300 },
    );
  });
  it('where smooth pieces meet, no peak goes beyond what the course itself reaches (random jumps of random waves)', () => {
    const wave = fc.record({
      a: fc.double({ min: 0.1, max: 3, noNaN: true }),
      w: fc.double({ min: 0.5, max: 6, noNaN: true }),
      phase: fc.double({ min: 0, max: 6.3, noNaN: true }),
      up: fc.double({ min: -4, max: 4, noNaN: true }),
    });
    fc.assert(
      fc.property(wave, wave, fc.integer({ min: 10, max: 90 }), (one, two, split) => {
        const f = (t: number) => {
          const p = t <= split * 0.02 ? one : two;
          return p.up + p.a * Math.sin(p.w * t + p.phase);
        };
        const s = course(f, 2, 0.02),
          fine = course(f, 2, 0.0005),
          hi = Math.max(...fine.values),
          lo = Math.min(...fine.values);
        // a parabola through three records of a wave misses its crest by its fourth order alone
        const slack = Math.max(one.a * (one.w * 0.02) ** 3, two.a * (two.w * 0.02) ** 3) + 1e-9;
        expect(of(s, 'highest')).toBeLessThanOrEqual(hi + slack);
        expect(of(s, 'lowest')).toBeGreaterThanOrEqual(lo - slack);
      }),
      { numRuns: 300 },
    );
  });
});

describe('what is made of a course', () => {
  const t = Float64Array.from({ length: 501 }, (_, i) => i * 0.01 + 0.002 * Math.sin(i));
  it('derivative is exact for parabolas on uneven times, integral for straight lines', () => {
    derivative(
      t,
      t.map((x) => 3 * x * x - x + 2),
    ).forEach((d, i) => expect(d).toBeCloseTo(6 * t[i]! - 1, 9));
    integral(
      t,
      t.map((x) => 4 * x - 1),
    ).forEach((a, i) => expect(a).toBeCloseTo(2 * t[i]! ** 2 - t[i]! - (2 * t[0]! ** 2 - t[0]!), 10));
  });
  it('the moving mean of a line is the line away from the ends; moving RMS of a sine over whole periods is 1/√2', () => {
    const mean = movingMean(0.3)(
      t,
      t.map((x) => 5 * x),
    );
    for (let i = 20; i < 480; i++) expect(mean[i]).toBeCloseTo(5 * t[i]!, 8);
    const rms = movingRms(0.5)(
      t,
      t.map((x) => Math.sin(4 * Math.PI * x)),
    );
    for (let i = 60; i < 440; i++) expect(rms[i]).toBeCloseTo(Math.SQRT1_2, 2);
  });
  it('a low-pass answers a ramp with the lag of its time constant', () => {
    const out = lowPass(0.1)(
      t,
      t.map((x) => 2 * x),
    );
    for (let i = 200; i < 500; i++) expect(out[i]).toBeCloseTo(2 * (t[i]! - 0.1), 6);
  });
});
