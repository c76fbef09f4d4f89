/** Meshes from outside: exact mass of what they enclose, welding, and what is wrong with them. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Model, check, geometryOf, provideGeometry, weld } from '../src';
import { massOf } from '../src/geometry/mesh';
import { combine } from '../src/geometry/mass';
import { box } from '../src/geometry/solid';
import { type Vec3, add, apply, fromRollPitchYaw } from '../src/geometry/vector';
import { model } from './models';

const number = fc.double({ min: -1, max: 1, noNaN: true });
const vec = fc.tuple(number, number, number);
const side = fc.double({ min: 0.1, max: 1, noNaN: true });
/** Triangles of a box, nine numbers each, as they stand in a file. */
function soup([x, y, z]: Vec3, place: (p: Vec3) => Vec3 = (p) => p): Float32Array {
  const c = Array.from({ length: 8 }, (_, i) => place([i & 1 ? x : 0, i & 2 ? y : 0, i & 4 ? z : 0]));
  return Float32Array.from(
    [
      [0, 2, 3, 1],
      [4, 5, 7, 6],
      [0, 1, 5, 4],
      [2, 6, 7, 3],
      [0, 4, 6, 2],
      [1, 3, 7, 5],
    ].flatMap(([a, b, d, e]) => [a, b, d, a, d, e].flatMap((i) => c[i!]!)),
  );
}
const welded = (s: Float32Array) => {
  const w = weld(s);
  return geometryOf(w.positions, w.indices);
};

describe('mass of a mesh', () => {
  it('is that of the box it is, wherever it stands and however it is turned, to 1e-9 of what its numbers say', () =>
    fc.assert(
      fc.property(side, side, side, vec, vec, (x, y, z, rpy, shift) => {
        // in numbers that 32 bits hold exactly, so that the mesh is the box itself
        const f = (v: number) => Math.fround(Math.round(v * 64) / 64) || 1 / 64;
        const size: Vec3 = [f(x), f(y), f(z)],
          at: Vec3 = [f(shift[0]), f(shift[1]), f(shift[2])];
        const g = welded(soup(size, (p) => add(p, at)));
        const b = box([at[0] + size[0] / 2, at[1] + size[1] / 2, at[2] + size[2] / 2], size).mass;
        expect(Math.abs(g.mass.mass / b.mass - 1)).toBeLessThan(1e-9);
        g.mass.centre.forEach((c, k) => expect(c).toBeCloseTo(b.centre[k]!, 9));
        const scale = Math.max(...b.inertia.map(Math.abs));
        g.mass.inertia.forEach((v, k) => expect(Math.abs(v - b.inertia[k]!)).toBeLessThan(1e-9 * scale));
        // turned: volume to what 32 bits allow
        const turn = fromRollPitchYaw(rpy);
        expect(Math.abs(welded(soup(size, (p) => apply(turn, p))).mass.mass / b.mass - 1)).toBeLessThan(1e-4);
        expect(g.report).toEqual({ open: 0, touching: 0, inverted: false, triangles: 12, doubt: 0 });
      }),
    ));
  it('two halves make the whole', () => {
    const half = (x: number) => welded(soup([0.5, 1, 1], ([a, b, c]) => [a + x, b, c])).mass;
    const whole = combine([half(0), half(0.5)]),
      one = welded(soup([1, 1, 1])).mass;
    expect(whole.mass).toBeCloseTo(one.mass, 12);
    whole.inertia.forEach((x, k) => expect(x).toBeCloseTo(one.inertia[k]!, 12));
  });
  it('keeps its digits a kilometre from the origin', () => {
    const w = weld(soup([1, 1, 1], ([a, b, c]) => [a + 1024, b, c]));
    expect(massOf(w.positions, w.indices).inertia[0]).toBeCloseTo(1 / 6, 9);
  });
});

describe('what is wrong with a mesh', () => {
  it('is counted: open sides, sides that touch, inside out', () => {
    expect(welded(soup([1, 1, 1]).slice(18)).report.open).toBe(4);
    const s = soup([1, 1, 1]);
    expect(welded(Float32Array.from([...s, ...soup([1, 1, 1], ([a, b, c]) => [a + 1, b + 1, c])])).report.touching).toBe(1);
    const turned = Float32Array.from(
      Array.from({ length: s.length / 9 }, (_, t) => [0, 2, 1].flatMap((k) => [...s.slice(9 * t + 3 * k, 9 * t + 3 * k + 3)])).flat(),
    );
    const g = welded(turned);
    expect(g.report.inverted).toBe(true);
    expect(g.mass.mass).toBeCloseTo(1, 12);
  });
  it('is told by the checks, and geometry that is not here is named', () => {
    const w = weld(soup([0.1, 0.1, 0.1]).slice(18));
    provideGeometry('open-box', w.positions, w.indices);
    const of = (geometry: string) =>
      check(
        model('m', {
          points: [{ name: 'O' }],
          materials: [{ name: 'Steel', density: '7850 kg/m^3' }],
          bodies: [{ name: 'Part', material: 'Steel' }],
          shapes: [{ name: 'Skin', kind: 'mesh', body: 'Part', geometry }],
          joints: [],
        } as unknown as Partial<Model>),
      ).diagnoses;
    expect(of('open-box').find((d) => d.code === 'mesh-open')).toMatchObject({ element: { family: 'shapes', name: 'Skin' } });
    expect(of('nowhere').find((d) => d.code === 'geometry-missing')!.message).toContain('nowhere');
  });
  it('triangles without area and corners nearly at one place are welded away', () => {
    const w = weld(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, /* a sliver of one place */ 1, 0, 0, 1 + 1e-8, 0, 0, 0, 1, 0));
    expect(w.indices.length).toBe(3);
    expect(w.positions.length).toBe(9);
  });
});
