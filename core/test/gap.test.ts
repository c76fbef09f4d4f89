/** Smallest distances between surfaces against closed forms and against all pairs of triangles. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runModel } from '../src/index';
import { Gap, Surface, triangles } from '../src/geometry/gap';
import { model } from './models';

const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const num = fc.double({ min: -1, max: 1, noNaN: true });
/** A rotation from a quaternion. */
const turn = ([w, x, y, z]: readonly number[]): number[] => {
  const n = Math.hypot(w!, x!, y!, z!) || 1,
    [a, b, c, d] = [w! / n, x! / n, y! / n, z! / n];
  return [
    1 - 2 * (c * c + d * d),
    2 * (b * c - a * d),
    2 * (b * d + a * c),
    2 * (b * c + a * d),
    1 - 2 * (b * b + d * d),
    2 * (c * d - a * b),
    2 * (b * d - a * c),
    2 * (c * d + a * b),
    1 - 2 * (b * b + c * c),
  ];
};
/** A box of half sizes round the origin. */
function box(x: number, y: number, z: number): Surface {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? x : -x, i & 2 ? y : -y, i & 4 ? z : -z]);
  return new Surface(corners, [0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]);
}
/** A crumpled sheet of n by n cells. */
function sheet(n: number, heights: readonly number[]): Surface {
  const corners: number[] = [],
    indices: number[] = [];
  for (let i = 0; i <= n; i++) for (let j = 0; j <= n; j++) corners.push(i / n, j / n, heights[(i * (n + 1) + j) % heights.length]! * 0.2);
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      const a = i * (n + 1) + j;
      indices.push(a, a + 1, a + n + 1, a + 1, a + n + 2, a + n + 1);
    }
  return new Surface(corners, indices);
}

describe('the gap', () => {
  it('of two boxes, face to face, edge to edge and corner to corner, and none where they cross', () => {
    const gap = new Gap(box(1, 1, 1), box(1, 1, 1));
    expect(gap.measure(IDENTITY, [3, 0.4, 0])).toBeCloseTo(1, 12);
    expect(gap.measure(IDENTITY, [3, 3, 0])).toBeCloseTo(Math.SQRT2, 12);
    expect(gap.measure(IDENTITY, [3, 3, 3])).toBeCloseTo(Math.sqrt(3), 12);
    expect(gap.measure(IDENTITY, [1.5, 0.3, 0.2])).toBe(0);
    // an eighth of a turn: an edge leads
    const s = Math.SQRT1_2;
    expect(gap.measure([s, -s, 0, s, s, 0, 0, 0, 1], [4, 0, 0])).toBeCloseTo(3 - Math.SQRT2, 12);
  });

  it('is the least of all pairs of triangles, wherever the two are, in whatever order they are measured', () => {
    fc.assert(
      fc.property(
        fc.array(num, { minLength: 9, maxLength: 9 }),
        fc.array(fc.tuple(fc.array(num, { minLength: 4, maxLength: 4 }), fc.array(num, { minLength: 3, maxLength: 3 })), {
          minLength: 1,
          maxLength: 3,
        }),
        (heights, postures) => {
          const a = sheet(4, heights),
            b = sheet(5, [...heights].reverse()),
            gap = new Gap(a, b);
          for (const [q, p] of postures) {
            const R = turn(q),
              moved = b.triangles.map((_, i, all) => {
                const at = i - (i % 3),
                  k = i % 3;
                return R[3 * k]! * all[at]! + R[3 * k + 1]! * all[at + 1]! + R[3 * k + 2]! * all[at + 2]! + p[k]!;
              });
            let least = Infinity;
            for (let i = 0; i < a.triangles.length; i += 9)
              for (let j = 0; j < moved.length; j += 9) least = Math.min(least, triangles(a.triangles, i, moved, j));
            expect(Math.abs(gap.measure(R, p) - least)).toBeLessThan(1e-11);
          }
        },
      ),
      {
        numRuns: 60,
        examples: [
          [
            [0, 0, 0, 0, 0, -5.368206536872592e-223, 0, 0, 0],
            [
              [
                [1.5017277031938556e-283, 0, 0, -1.4094800231320546e-282],
                [-0.9400917592285767, 0, 0],
              ],
              [
                [0, 0, 0, 0],
                [0, 0, 0],
              ],
            ],
          ],
        ],
      },
    );
  });

  it('of triangles that cross is nothing, and the same both ways', () => {
    fc.assert(
      fc.property(fc.array(num, { minLength: 18, maxLength: 18 }), (x) => {
        const p = x.slice(0, 9),
          q = x.slice(9);
        expect(triangles(p, 0, q, 0)).toBeCloseTo(triangles(q, 0, p, 0), 9);
      }),
    );
    expect(triangles([0, 0, 0, 1, 0, 0, 0, 1, 0], 0, [0.2, 0.2, -1, 0.2, 0.2, 1, 0.3, 5, 0], 0)).toBe(0);
  });

  it('without triangles is not a number', () =>
    expect(new Gap(new Surface([], []), box(1, 1, 1)).measure(IDENTITY, [5, 0, 0])).toBe(Infinity));
});

describe('a gap gauge', () => {
  // a ball that slides towards a wall: the gap is the travel that is left
  const machine = model('Ball and wall', {
    points: [
      { name: 'O', at: [0, 0, 0] },
      { name: 'W', at: ['300 mm', 0, 0] },
    ],
    materials: [{ name: 'Steel', density: '7850 kg/m^3' }],
    bodies: [{ name: 'Ball', material: 'Steel', origin: 'O' }],
    shapes: [
      { name: 'Round', kind: 'sphere', body: 'Ball', centre: 'O', radius: '20 mm' },
      { name: 'Wall', kind: 'box', body: 'Ground', centre: 'W', length: '100 mm', depth: '200 mm', height: '200 mm' },
    ],
    joints: [{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Ball'], at: ['O'], axis: [1, 0, 0] }],
    drives: [{ name: 'Push', joint: 'Slide', prescribes: 'position', value: '0.1 m/s * t' }],
    gauges: [
      { name: 'Gap', kind: 'gap', bodies: ['Ground', 'Ball'] },
      { name: 'Energy of the ball', kind: 'energy', of: 'kinetic', body: 'Ball' },
      { name: 'All of it', kind: 'energy', of: 'kinetic' },
    ],
    run: { until: '1 s', every: '10 ms', accuracy: 1e-6 },
  });

  it('follows the closed form to what the facets of the ball leave', () => {
    const run = runModel(machine),
      [gap, one, all] = ['Gap', 'Energy of the ball', 'All of it'].map((n) => run.gauge(n));
    gap!.forEach((g, i) => expect(Math.abs(g - (0.25 - 0.02 - 0.1 * run.time[i]!))).toBeLessThan(20e-3 * 1.4e-4 + 1e-7));
    one!.forEach((e, i) => expect(e).toBeCloseTo(all![i]!, 12));
  });
});
