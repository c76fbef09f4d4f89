/** How scores change with single records, against differences: for every measure there is, on courses of many sorts. */
import { describe, expect, it } from 'vitest';
import { Refusal } from '../src/diagnosis';
import { score } from '../src/elements/scores/score';
import { slopesOfScore } from '../src/results/score-slopes';
import { type Series, scoreOf } from '../src/results/scores';
import { D } from '../src/quantity/dimension';
import { random } from './machines';

const MEASURES = Object.keys(score.fields.of.options);
const N = 60;

/** A swing that dies out round a step, records at times that are not even. @param dim of the course */
function course(seed: number, of: (t: number, next: () => number) => number, dim = D.length): Series {
  const next = random(seed),
    time = Float64Array.from({ length: N }, (_, i) => 0.1 * (i + 0.3 * next()));
  return { time, values: time.map((t) => of(t, next)), dim };
}
const swing = (seed: number): Series =>
  course(seed, (t, next) => 1 + 0.1 * seed - Math.exp(-(0.3 + 0.05 * seed) * t) * Math.cos((2 + 0.1 * seed) * t) + 1e-3 * next());
const turning = (seed: number): Series => course(seed, (t) => 4.5 * t + 0.1 * Math.sin(3 * t) + seed, D.angle);

/** The largest difference to slopes by differences, of the largest slope. */
function apart(asked: Parameters<typeof scoreOf>[0], own: Series, other: Series): number {
  const by = slopesOfScore(asked, own, other)!;
  let [most, size] = [0, 1e-12];
  for (const [s, slopes] of [
    [own, by.own],
    [other, by.other ?? new Float64Array(N)],
  ] as const)
    s.values.forEach((x, i) => {
      const value = (h: number) => {
          s.values[i] = x + h;
          const { value: v } = scoreOf(asked, own, other);
          s.values[i] = x;
          return v;
        },
        h = 1e-5,
        difference = (8 * (value(h) - value(-h)) - (value(2 * h) - value(-2 * h))) / (12 * h);
      most = Math.max(most, Math.abs(difference - slopes[i]!));
      size = Math.max(size, Math.abs(difference));
    });
  return most / size;
}

/** Whether the courses have such a score. */
function has(...asked: Parameters<typeof scoreOf>): boolean {
  try {
    return Number.isFinite(scoreOf(...asked).value);
  } catch (e) {
    if (e instanceof Refusal) return false;
    throw e;
  }
}

describe.each(MEASURES)('%s', (of) => {
  it('as by differences', () => {
    let found = 0;
    for (let seed = 1; seed <= 12; seed++) {
      const own = swing(seed % 5),
        other = seed % 2 === 0 ? turning(seed) : swing(seed % 4);
      for (const span of [{}, { from: 0.57, to: 5.43 }]) {
        const asked = { of, time: 2.33, level: 1.3 + 0.05 * seed, ...span };
        if (!has(asked, own, other)) continue;
        found++;
        expect(apart(asked, own, other), `course ${seed}`).toBeLessThan(1e-6);
      }
    }
    expect(found).toBeGreaterThan(5);
  });
});
it('of an angle that goes on turning, cycles are whole turns', () => {
  for (const of of ['period', 'frequency']) expect(apart({ of }, turning(1), swing(1))).toBeLessThan(1e-6);
});
it('a peak that the course reaches between a jump and a corner changes with the records on its side', () => {
  for (let seed = 1; seed <= 40; seed++) {
    const own = course(seed, (t, next) => (t < 3 ? t * t : 8 - 2 * (t - 3)) + 0.1 * next());
    expect(apart({ of: 'highest' }, own, swing(1)), `course ${seed}`).toBeLessThan(1e-6);
  }
});
it('nothing is said of a root mean square of nothing', () => {
  const own = course(1, () => 0);
  expect(slopesOfScore({ of: 'rms' }, own)).toBeUndefined();
});
