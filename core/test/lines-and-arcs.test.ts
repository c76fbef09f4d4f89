/** Courses of lines and arcs against elementary geometry. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pathLength } from '../src/geometry/chords';
import { type LinesAndArcs, rounded, roundWheels } from '../src/geometry/lines-and-arcs';
import type { Vec3 } from '../src/geometry/vector';

const names = ['A', 'B', 'C', 'D', 'E', 'F'];
const place = (c: LinesAndArcs, u: number) => {
  c.at(u);
  return { p: [...c.c], d: [...c.c1], b: [...c.c2] };
};
/** It runs at unit pace, and its place and direction go over without a jump, at joints of pieces and elsewhere. */
function isSmooth(c: LinesAndArcs): void {
  const h = 1e-7;
  for (let i = 0; i <= 200; i++) {
    const u = (c.end * i) / 200,
      now = place(c, u),
      on = place(c, u + h);
    expect(Math.hypot(...now.d)).toBeCloseTo(1, 9);
    for (let k = 0; k < 3; k++) {
      expect(on.p[k]!).toBeCloseTo(now.p[k]! + h * now.d[k]!, 9);
      expect(Math.abs(on.d[k]! - now.d[k]!)).toBeLessThan(1e-4);
    }
  }
}

describe('corners that are rounded', () => {
  const square: Vec3[] = [
    [0, 0, 0],
    [1, 0, 0],
    [1, 0, 1],
    [0, 0, 1],
  ];
  it('a square is as long as its sides less eight radii and a circle more', () => {
    const c = rounded(square, [0.1, 0.1, 0.2, 0.2], true, names);
    expect(c.end).toBeCloseTo(4 - 2 * (0.1 + 0.1 + 0.2 + 0.2) + (Math.PI / 2) * 0.6, 12);
    expect(pathLength(c)).toBeCloseTo(c.end, 9);
    isSmooth(c);
  });
  it('an open course begins and ends at its points, and goes on straight beyond them', () => {
    const c = rounded(square, [9, 0.1, 0.2, 9], false, names);
    expect(place(c, 0).p).toEqual([0, 0, 0]);
    expect(place(c, c.end).p.map((x) => Number(x.toFixed(12)) + 0)).toEqual([0, 0, 1]);
    expect(place(c, -0.5).p.map((x) => x + 0)).toEqual([-0.5, 0, 0]);
    isSmooth(c);
  });
  it('in space: any corners with room for their arcs', () => {
    const spot = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -1, max: 1, noNaN: true }))) as unknown as fc.Arbitrary<Vec3>;
    fc.assert(
      fc.property(
        fc.array(spot, { minLength: 3, maxLength: 5 }),
        fc.double({ min: 0.001, max: 0.02, noNaN: true }),
        fc.boolean(),
        (points, radius, closed) => {
          let c: LinesAndArcs;
          try {
            c = rounded(
              points,
              points.map(() => radius),
              closed,
              names,
            );
          } catch {
            return; // no room, said in words
          }
          isSmooth(c);
        },
      ),
      { numRuns: 40 },
    );
  });
  it.each([
    ['no room', square, [0.6, 0.6, 0.1, 0.1], /Between “A” and “B” there are 1000 mm, and their corners take 1200 mm/],
    ['no radius', square, [0.1, 0, 0.1, 0.1], /corner at “B” has no radius/],
    [
      'a way back',
      [
        [0, 0, 0],
        [1, 0, 0],
        [0, 0, 0],
      ] as Vec3[],
      [0.1, 0.1, 0.1],
      /turns back/,
    ],
  ])('%s is refused in words', (_, points, radii, words) => {
    expect(() => rounded(points, radii, points.length === 4, names)).toThrow(words);
  });
});

describe('a belt round wheels', () => {
  it('of two wheels has the length of the textbook', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.02, max: 0.3, noNaN: true }),
        fc.double({ min: 0.02, max: 0.3, noNaN: true }),
        fc.double({ min: 0.7, max: 3, noNaN: true }),
        (R, r, C) => {
          const c = roundWheels(
              [
                [0, 0, 0],
                [C, 0, 0],
              ],
              [R, r],
              [0, -1, 0],
              names,
            ),
            phi = Math.asin((R - r) / C);
          expect(c.end).toBeCloseTo(2 * C * Math.cos(phi) + R * (Math.PI + 2 * phi) + r * (Math.PI - 2 * phi), 10);
          isSmooth(c);
        },
      ),
      { numRuns: 30 },
    );
  });
  it('touches every wheel and enters none; a tensioner with a negative radius lies outside', () => {
    const centres: Vec3[] = [
        [0, 0, 0],
        [1, 0, 0.1],
        [0.5, 0, 0.35],
        [0.1, 0, 0.8],
      ],
      radii = [0.15, 0.1, -0.08, 0.2];
    // counter-clockwise as seen against the axis
    const c = roundWheels(centres, radii, [0, -1, 0], names);
    isSmooth(c);
    const least = centres.map(() => Infinity);
    for (let i = 0; i < 4000; i++) {
      const { p } = place(c, (c.end * i) / 4000);
      centres.forEach((w, k) => (least[k] = Math.min(least[k]!, Math.hypot(p[0]! - w[0], p[1]! - w[1], p[2]! - w[2]))));
    }
    least.forEach((d, k) => expect(d).toBeCloseTo(Math.abs(radii[k]!), 4));
  });
  it.each([
    [
      'a wheel within another',
      [
        [0, 0, 0],
        [0.1, 0, 0],
      ] as Vec3[],
      [0.3, 0.1],
      /one is within the other/,
    ],
    [
      'wheels in different planes',
      [
        [0, 0, 0],
        [1, 0.2, 0],
      ] as Vec3[],
      [0.1, 0.1],
      /not in one plane/,
    ],
    [
      'a wheel without radius',
      [
        [0, 0, 0],
        [1, 0, 0],
      ] as Vec3[],
      [0.1, 0],
      /has no radius/,
    ],
  ])('%s is refused in words', (_, centres, radii, words) => {
    expect(() => roundWheels(centres, radii, [0, 1, 0], names)).toThrow(words);
  });
});
