/** Sides of triangles grouped by their corners, and what is read from them: open and touching sides, sharp edges. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sharpEdges } from '../src/geometry/edges';
import { creased, inspect } from '../src/geometry/mesh';
import { eachSide, sidesOf } from '../src/geometry/sides';
import { box, sphere } from '../src/geometry/solid';

/** Triangles over few corners, so that sides meet; over few enough for lists of hundreds at one corner. */
const triangles = fc.integer({ min: 3, max: 30 }).chain((count) =>
  fc.tuple(
    fc.constant(count),
    fc.array(
      fc.tuple(...[0, 1, 2].map(() => fc.nat(count - 1))).filter(([a, b, c]) => a !== b && b !== c && c !== a),
      { maxLength: 200 },
    ),
  ),
);
const after = (c: number): number => (c % 3 === 2 ? c - 2 : c + 1);
/** Each pair of corners by plain looking, with the sides that join them in order. */
function plainly(indices: Uint32Array): Map<string, number[]> {
  const out = new Map<string, number[]>();
  for (let c = 0; c < indices.length; c++) {
    const pair = [indices[c]!, indices[after(c)]!].sort((a, b) => a - b).join(' ');
    out.set(pair, [...(out.get(pair) ?? []), c]);
  }
  return out;
}

describe('sides of triangles', () => {
  it('come once for each pair of corners, with all that join them in order', () =>
    fc.assert(
      fc.property(triangles, ([count, list]) => {
        const indices = Uint32Array.from(list.flat()),
          known = plainly(indices),
          met = new Set<string>();
        eachSide(sidesOf(indices, count), (low, high, sides, from, to) => {
          expect(met.has(`${low} ${high}`)).toBe(false);
          met.add(`${low} ${high}`);
          expect([...sides.subarray(from, to)]).toEqual(known.get(`${low} ${high}`));
        });
        expect(met.size).toBe(known.size);
        const report = inspect(indices, sidesOf(indices, count)),
          all = [...known.values()];
        expect(report.open).toBe(all.filter((s) => s.length === 1).length);
        expect(report.touching).toBe(all.filter((s) => s.length > 2).length);
      }),
    ));
  it('a fan of a hundred thousand triangles round one corner is gone through at once', () => {
    const n = 100_000,
      indices = Uint32Array.from({ length: 3 * n }, (_, c) => (c % 3 === 0 ? 0 : 1 + ((Math.floor(c / 3) + (c % 3) - 1) % n)));
    expect(inspect(indices, sidesOf(indices, n + 1))).toEqual({ open: n, touching: 0, inverted: false, triangles: n, doubt: 0 });
  });
});

describe('sharp edges', () => {
  const lengths = (positions: Float32Array, edges: Uint32Array) =>
    Array.from({ length: edges.length / 2 }, (_, i) =>
      Math.hypot(...[0, 1, 2].map((k) => positions[3 * edges[2 * i]! + k]! - positions[3 * edges[2 * i + 1]! + k]!)),
    ).sort((a, b) => a - b);
  it('of a box are its twelve, of the right lengths, however its corners are parted', () => {
    const { positions, indices } = box([0, 0, 0], [1, 2, 3]).mesh();
    const edges = lengths(positions, sharpEdges(positions, indices));
    expect(edges).toEqual([1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 3]);
  });
  it('of a ball there are none; of half of it, its rim', () => {
    const { positions, indices } = sphere([0, 0, 0], 1).mesh();
    expect(sharpEdges(positions, indices).length).toBe(0);
    const kept = Array.from({ length: indices.length / 3 }, (_, t) => [...indices.subarray(3 * t, 3 * t + 3)])
      .filter((t) => t.every((v) => positions[3 * v + 2]! > -1e-6))
      .flat();
    const rim = sharpEdges(positions, Uint32Array.from(kept));
    expect(rim.length).toBeGreaterThan(20);
    for (const v of rim) expect(Math.abs(positions[3 * v + 2]!)).toBeLessThan(1e-6);
  });
  it('of a mesh whose corners are parted at creases are the same as those found from its places alone', () => {
    const s = 1 / 1024;
    // a roof over a square, one side of it steep: the ridge and eight borders are sharp, the slight bend is not
    const positions = Float32Array.from([
      0,
      0,
      0,
      1,
      0,
      0,
      1,
      1,
      0,
      0,
      1,
      0,
      0.5,
      0,
      0.5,
      0.5,
      1,
      0.5,
      0.25,
      0,
      0.25 + s,
      0.25,
      1,
      0.25 + s,
    ]);
    const indices = Uint32Array.from([0, 6, 7, 0, 7, 3, 6, 4, 5, 6, 5, 7, 4, 1, 2, 4, 2, 5]);
    const mesh = creased(positions, indices);
    expect(lengths(mesh.positions, mesh.edges)).toEqual(lengths(positions, sharpEdges(positions, indices)));
    expect(mesh.edges.length / 2).toBe(9);
  });
});
