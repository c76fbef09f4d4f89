/** Tables: what passes through the points, what never overshoots, exact slopes, integrals, corners. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type RawElement, check, compile, D } from '../src';
import { type Between, Table } from '../src/formula/table';
import { model } from './models';

const NONE = [D.none, D.none] as const;
const table = (rows: number[][], between: Between, beyond: 'hold' | 'extend' | 'repeat' = 'hold') =>
  new Table(
    Float64Array.from(rows, (r) => r[0]!),
    Float64Array.from(rows, (r) => r[1]!),
    between,
    beyond,
    NONE,
  );
const points = fc
  .array(fc.tuple(fc.double({ min: 0.05, max: 2, noNaN: true }), fc.double({ min: -5, max: 5, noNaN: true })), {
    minLength: 3,
    maxLength: 12,
  })
  .map((steps) => steps.reduce<number[][]>((rows, [dx, y]) => [...rows, [(rows.at(-1)?.[0] ?? 0) + dx, y]], []));
const KINDS: Between[] = ['linear', 'monotone', 'akima'];

describe.each(KINDS)('%s', (between) => {
  it('passes through its points, with slopes and integral that belong to it', () => {
    fc.assert(
      fc.property(points, fc.double({ min: 0.01, max: 0.99, noNaN: true }), (rows, part) => {
        const t = table(rows, between);
        for (const [x, y] of rows) expect(t.at(x!).f).toBeCloseTo(y!, 9);
        const i = Math.floor(part * (rows.length - 1));
        const x = rows[i]![0]! + 0.37 * (rows[i + 1]![0]! - rows[i]![0]!),
          h = 1e-5 * (rows[i + 1]![0]! - rows[i]![0]!);
        const slope = (t.at(x + h).f - t.at(x - h).f) / (2 * h);
        expect(t.at(x).f1).toBeCloseTo(slope, 3);
        const area = (t.integral(x + h) - t.integral(x - h)) / (2 * h);
        expect(area).toBeCloseTo(t.at(x).f, 4);
      }),
      { numRuns: 60 },
    );
  });

  it('keeps or goes on from its end values, or repeats', () => {
    const rows = [
      [0, 1],
      [1, 3],
      [2, 2],
      [3, 1],
    ];
    expect(table(rows, between).at(9).f).toBe(1);
    const straight = table(rows, between, 'extend');
    expect(straight.at(4).f).toBeCloseTo(1 + straight.at(3).f1, 9);
    const round = table(rows, between, 'repeat');
    for (const x of [0.3, 1.7, 2.9]) {
      expect(round.at(x + 3).f).toBeCloseTo(round.at(x).f, 12);
      expect(round.at(x - 6).f).toBeCloseTo(round.at(x).f, 12);
      expect(round.integral(x + 3) - round.integral(x)).toBeCloseTo(round.integral(3), 9);
    }
  });
});

it('the smooth curve without overshoot stays between neighbouring points', () => {
  fc.assert(
    fc.property(points, (rows) => {
      const t = table(rows, 'monotone');
      for (let i = 0; i + 1 < rows.length; i++)
        for (let k = 0; k <= 10; k++) {
          const [a, b] = [rows[i]!, rows[i + 1]!];
          const y = t.at(a[0]! + (k / 10) * (b[0]! - a[0]!)).f;
          expect(y).toBeGreaterThanOrEqual(Math.min(a[1]!, b[1]!) - 1e-9);
          expect(y).toBeLessThanOrEqual(Math.max(a[1]!, b[1]!) + 1e-9);
        }
    }),
  );
});

describe('in a model', () => {
  const e = (list: object[]) => list as RawElement[];
  const driven = (between: Between, prescribes: string) =>
    check(
      model('Lift', {
        tables: e([
          {
            name: 'lift',
            from: 's',
            to: prescribes === 'position' ? 'mm' : 'mm/s',
            data: [
              [0, 0],
              [0.5, 20],
              [1, 0],
            ],
            between,
          },
        ]),
        points: e([{ name: 'O' }]),
        bodies: e([{ name: 'Block', mass: 1, inertia: [1, 1, 1] }]),
        joints: e([{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'] }]),
        drives: e([{ name: 'Cam', joint: 'Slide', prescribes, value: 'lift(t)' }]),
      }),
    ).diagnoses.filter((d) => d.severity === 'error');

  it('a driven position by straight lines is refused at its corner; smooth curves and speeds are not', () => {
    const [corner] = driven('linear', 'position');
    expect(corner).toMatchObject({ code: 'drive-jump', element: { family: 'drives', name: 'Cam' } });
    expect(corner!.time).toBeCloseTo(0.5, 9);
    expect(driven('akima', 'position')).toEqual([]);
    expect(driven('linear', 'speed')).toEqual([]);
  });

  it('is checked for its units', () => {
    expect(() =>
      compile('lift(2 m)', {
        lookup: () => undefined,
        time: true,
        table: () =>
          table(
            [
              [0, 0],
              [1, 1],
            ],
            'linear',
          ).asFunction('lift'),
      }),
    ).toThrow(/takes/);
  });
});
