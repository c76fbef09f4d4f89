/** Faces, edges and axes found again in meshes of solids whose faces, edges and axes are known. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findFeatures } from '../src/geometry/features';
import { polygon } from '../src/geometry/outline';
import { type Solid, box, cylinder, linkBar, sphere } from '../src/geometry/solid';
import { extruded } from '../src/geometry/sweeps';
import { type Vec3, cross, dot, norm, sub, unit } from '../src/geometry/vector';

const found = (s: Solid) => {
  const m = s.mesh();
  return findFeatures(m.positions, m.indices);
};
const count = (list: readonly { type: string }[]) =>
  Object.fromEntries([...new Set(list.map((x) => x.type))].sort().map((t) => [t, list.filter((x) => x.type === t).length]));

describe('faces and edges', () => {
  it('of a box: six planes and twelve straight edges, with their areas and lengths', () => {
    const f = found(box([0.1, 0.2, 0.3], [0.2, 0.1, 0.05]));
    expect(count(f.faces)).toEqual({ plane: 6 });
    expect(count(f.edges)).toEqual({ straight: 12 });
    expect(f.faces.reduce((s, x) => s + x.area, 0)).toBeCloseTo(2 * (0.02 + 0.01 + 0.005), 7);
    expect(f.edges.map((e) => e.length).sort()[0]).toBeCloseTo(0.05, 7);
  });
  it('of a cylinder: two planes, a round side, two circles on its axis', () => {
    fc.assert(
      fc.property(
        fc.tuple(
          fc.double({ min: -1, max: 1, noNaN: true }),
          fc.double({ min: -1, max: 1, noNaN: true }),
          fc.double({ min: 0.2, max: 1, noNaN: true }),
        ),
        fc.double({ min: 0.02, max: 0.5, noNaN: true }),
        (d, r) => {
          const from: Vec3 = [0.3, -0.2, 0.1],
            to: Vec3 = [from[0] + d[0], from[1] + d[1], from[2] + d[2]];
          const f = found(cylinder(from, to, r));
          expect(count(f.faces)).toEqual({ cylinder: 1, plane: 2 });
          expect(count(f.edges)).toEqual({ circle: 2 });
          const side = f.faces.find((x) => x.type === 'cylinder')!;
          expect(side.radius).toBeCloseTo(r, 5);
          expect(side.hollow).toBe(false);
          expect(norm(cross(side.axis!, unit(sub(to, from))))).toBeLessThan(1e-4);
          expect(norm(cross(sub(side.at, from), unit(sub(to, from))))).toBeLessThan(1e-5);
          for (const e of f.edges) expect(Math.min(norm(sub(e.at, from)), norm(sub(e.at, to)))).toBeLessThan(1e-5);
        },
      ),
      { numRuns: 30 },
    );
  });
  it('of a link bar: its flat sides stay apart from its round ends, whose axes are the pins', () => {
    const f = found(linkBar([0, 0, 0], [0.3, 0, 0], 0.04, 0.01, [0, 1, 0]));
    expect(count(f.faces)).toEqual({ cylinder: 2, plane: 4 });
    const ends = f.faces.filter((x) => x.type === 'cylinder').sort((a, b) => a.at[0] - b.at[0]);
    ends.forEach((e, k) => {
      expect(norm(sub(e.at, [0.3 * k, 0, 0]))).toBeLessThan(1e-6);
      expect(Math.abs(dot(e.axis!, [0, 1, 0]))).toBeCloseTo(1, 6);
      expect(e.radius).toBeCloseTo(0.02, 6);
    });
    expect(count(f.edges)).toEqual({ arc: 4, straight: 8 });
  });
  it('of a sphere: one face with its centre', () => {
    const f = found(sphere([0.1, 0, -0.2], 0.07));
    expect(count(f.faces)).toEqual({ sphere: 1 });
    expect(norm(sub(f.faces[0]!.at, [0.1, 0, -0.2]))).toBeLessThan(1e-6);
    expect(f.edges).toEqual([]);
  });
  it('of a prism: corners of its outline part the edges', () => {
    const f = found(
      extruded(
        polygon([
          [0, 0],
          [0.2, 0],
          [0.2, 0.1],
          [0, 0.05],
        ]),
        [],
        0.02,
        [1, 0, 0, 0, 1, 0, 0, 0, 1],
        [0, 0, 0],
      ),
    );
    expect(count(f.faces)).toEqual({ plane: 6 });
    expect(count(f.edges)).toEqual({ straight: 12 });
  });
  it('takes no harm from triangles without area or an empty mesh', () => {
    expect(findFeatures(new Float32Array(9), Uint32Array.from([0, 1, 2])).faces).toEqual([]);
    expect(findFeatures(new Float32Array(0), new Uint32Array(0)).edges).toEqual([]);
  });
});
