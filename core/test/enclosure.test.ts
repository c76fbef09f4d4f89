/** Surfaces from outside: whether they bound their volume once everywhere, and how far an open one can be trusted. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Enclosure, doubt, enclosure, inspect, massOf, meshFaults, sidesOf, weld } from '../src/meshes';

type V = readonly [number, number, number];
interface Faces {
  at: number[];
  faces: number[];
}
/** A box between two corners; inside out on request. */
function box(low: V, high: V, inverted = false): Faces {
  const at = Array.from({ length: 8 }, (_, i) => [i & 1 ? high[0] : low[0], i & 2 ? high[1] : low[1], i & 4 ? high[2] : low[2]]).flat();
  const faces = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ].flatMap(([a, b, c, d]) => (inverted ? [a!, c!, b!, a!, d!, c!] : [a!, b!, c!, a!, c!, d!]));
  return { at, faces };
}
const joined = (...list: Faces[]): Faces =>
  list.reduce((s, f) => ({ at: [...s.at, ...f.at], faces: [...s.faces, ...f.faces.map((i) => i + s.at.length / 3)] }), {
    at: [],
    faces: [],
  });
const looked = ({ at, faces }: Faces): Enclosure => {
  const { positions, indices } = weld(Float32Array.from(at), Uint32Array.from(faces));
  return enclosure(positions, indices)!;
};
const codes = (f: Faces): string[] => {
  const { positions, indices } = weld(Float32Array.from(f.at), Uint32Array.from(f.faces)),
    report = inspect(indices, sidesOf(indices, positions.length / 3)),
    mass = massOf(positions, indices).mass;
  return meshFaults(
    { ...report, inverted: mass < 0, doubt: report.open > 0 ? doubt(positions, indices, mass) : 0 },
    enclosure(positions, indices),
  ).map((x) => x.code);
};
const unit: V = [1, 1, 1],
  o: V = [0, 0, 0];

describe('a closed surface', () => {
  it('of one box, of two apart, and with a cavity, is clean', () => {
    for (const f of [
      box(o, unit),
      joined(box(o, unit), box([2, 0, 0], [3, 1, 1])),
      joined(box(o, unit), box([0.2, 0.2, 0.2], [0.7, 0.8, 0.6], true)),
    ]) {
      expect(looked(f)).toEqual({ crossing: 0, windings: [0, 1] });
      expect(codes(f)).toEqual([]);
    }
  });
  it('of boxes that only touch, side to side or at a part of a side, does not cross', () => {
    for (const shift of [
      [1, 0, 0],
      [1, 0.3, 0.2],
    ] as const)
      expect(looked(joined(box(o, unit), box(shift, shift.map((x) => x + 1) as unknown as V))).crossing).toBe(0);
  });
  it('turned inside out is told as that alone', () => {
    expect(looked(box(o, unit, true)).windings).toEqual([-1, 0]);
    expect(codes(box(o, unit, true))).toEqual(['mesh-inverted']);
  });
  it('with one shell inside out tells that its volume is taken away', () => {
    expect(codes(joined(box(o, [3, 3, 3]), box([5, 0, 0], [6, 1, 1], true)))).toEqual(['mesh-partly-inverted']);
  });
  it('with a shell within another, or over it along shared planes, counts twice though nothing crosses', () => {
    for (const f of [joined(box(o, unit), box([0.2, 0.2, 0.2], [0.7, 0.8, 0.6])), joined(box(o, unit), box([0.5, 0, 0], [1.5, 1, 1]))]) {
      expect(looked(f).windings[1]).toBe(2);
      expect(codes(f)).toContain('mesh-twice');
      // and so it does: the sum is that of both
      const { positions, indices } = weld(Float32Array.from(f.at), Uint32Array.from(f.faces));
      expect(massOf(positions, indices).mass).toBeGreaterThan(1.11);
    }
  });
  it('of two boxes anywhere: crossing or counted twice exactly when they overlap', () => {
    const place = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -1400, max: 1400 }).map((x) => x / 1000)));
    fc.assert(
      fc.property(
        place,
        fc.integer({ min: 300, max: 1000 }).map((x) => x / 1000),
        (shift, size) => {
          // clear of the bounds of either, where single precision decides
          fc.pre(shift.every((s) => [s, s - 1, s + size, s + size - 1].every((x) => Math.abs(x) > 0.02)));
          const overlap = shift.every((s) => s < 1 && s + size > 0);
          const e = looked(joined(box(o, unit), box(shift as unknown as V, shift.map((s) => s + size) as unknown as V)));
          expect(e.crossing > 0 || e.windings[1] > 1).toBe(overlap);
          expect(e.windings[0]).toBe(0);
        },
      ),
      { numRuns: 150 },
    );
  });
  it('with too many triangles to look at is left alone', () => {
    expect(enclosure(new Float32Array(9), new Uint32Array(3 * 100_001))).toBeUndefined();
    expect(enclosure([], [])).toBeUndefined();
  });
});

describe('an open surface', () => {
  const open = (f: Faces, drop = 6): Faces => ({ ...f, faces: f.faces.slice(drop) });
  it('tells how far its volume depends on the place from which it is reckoned', () => {
    const f = open(box([3, 1, 2], [4, 3, 5])),
      at = Float32Array.from(f.at),
      faces = Uint32Array.from(f.faces);
    const from = (p: V) =>
      massOf(
        at.map((x, i) => x - p[(i % 3) as 0]),
        faces,
      );
    // massOf reckons from the first corner: put others first by turning the order of the corners
    const volumes = Array.from({ length: 8 }, (_, k) => {
      const swap = (i: number) => (i === 0 ? k : i === k ? 0 : i);
      return massOf(
        Float32Array.from({ length: 24 }, (_x, c) => at[3 * swap(Math.floor(c / 3)) + (c % 3)]!),
        faces.map(swap),
      ).mass;
    });
    const spread = (Math.max(...volumes) - Math.min(...volumes)) / Math.abs(volumes[0]!);
    expect(doubt(at, faces, volumes[0]!)).toBeCloseTo(spread, 6);
    expect(from([9, 9, 9]).mass).toBeCloseTo(volumes[0]!, 5);
    expect(codes(f)).toEqual(['mesh-open']);
  });
  it('that is closed has no doubt', () => {
    fc.assert(
      fc.property(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -5, max: 5, noNaN: true }))), (p) => {
        const f = box(p as unknown as V, p.map((x, k) => x + 0.5 + k) as unknown as V),
          at = Float64Array.from(f.at),
          faces = Uint32Array.from(f.faces);
        expect(doubt(at, faces, massOf(at, faces).mass)).toBeLessThan(1e-12);
      }),
    );
  });
});
