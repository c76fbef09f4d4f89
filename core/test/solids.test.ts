/** Mass properties of solids by closed form against integrals over their own meshes (divergence theorem). */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { combine, place } from '../src/geometry/mass';
import { polygon } from '../src/geometry/outline';
import { type Solid, box, cylinder, linkBar, sphere } from '../src/geometry/solid';
import { extruded } from '../src/geometry/sweeps';
import { type Vec3, IDENTITY, cross, dot, fromRollPitchYaw, scale, sub } from '../src/geometry/vector';
import { prismMass } from './prism';

/** Volume, centre and second moments of a closed mesh by signed tetrahedra. */
function integrate(s: Solid) {
  const mesh = s.mesh();
  const at = (i: number): Vec3 => [mesh.positions[3 * i]!, mesh.positions[3 * i + 1]!, mesh.positions[3 * i + 2]!];
  let volume = 0;
  const first = [0, 0, 0],
    second = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let k = 0; k < mesh.indices.length; k += 3) {
    const t = [at(mesh.indices[k]!), at(mesh.indices[k + 1]!), at(mesh.indices[k + 2]!)] as const;
    const v = dot(t[0], cross(t[1], t[2])) / 6;
    volume += v;
    const sum = [0, 1, 2].map((i) => t[0][i]! + t[1][i]! + t[2][i]!);
    for (let i = 0; i < 3; i++) {
      first[i]! += (v * sum[i]!) / 4;
      for (let j = 0; j < 3; j++) second[3 * i + j]! += (v * (sum[i]! * sum[j]! + t.reduce((s, p) => s + p[i]! * p[j]!, 0))) / 20;
    }
  }
  const centre = scale(first as unknown as Vec3, 1 / volume);
  const about = second.map((x, i) => x - volume * centre[Math.floor(i / 3)]! * centre[i % 3]!);
  const trace = about[0]! + about[4]! + about[8]!;
  return { volume, centre, inertia: about.map((x, i) => (i % 4 === 0 ? trace : 0) - x) };
}

const relative = (a: number, b: number, size: number) => Math.abs(a - b) / size;

function agree(s: Solid, tolerance: number) {
  const m = integrate(s);
  expect(relative(m.volume, s.mass.mass, s.mass.mass)).toBeLessThan(tolerance);
  const size = Math.max(...s.mass.inertia.map(Math.abs));
  const reach = Math.sqrt(size / s.mass.mass);
  m.centre.forEach((c, k) => expect(relative(c, s.mass.centre[k]!, reach)).toBeLessThan(tolerance));
  m.inertia.forEach((x, k) => expect(relative(x, s.mass.inertia[k]!, size)).toBeLessThan(2 * tolerance));
}

const point = fc.tuple(
  ...([0, 0, 0].map(() => fc.double({ min: -1, max: 1, noNaN: true })) as [
    fc.Arbitrary<number>,
    fc.Arbitrary<number>,
    fc.Arbitrary<number>,
  ]),
);
const length = fc.double({ min: 0.05, max: 1, noNaN: true });

// Meshes hold 32-bit positions, so flat-sided solids agree to about 1e-6; round ones to their facets.
describe('closed-form mass properties agree with the mesh', () => {
  it('box', () => fc.assert(fc.property(point, length, length, length, (c, x, y, z) => agree(box(c, [x, y, z]), 3e-6))));
  it('prism of any outline, clockwise or not', () => {
    const outlines = [
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0.5, 0.3],
        [0, 1],
      ],
      [
        [0, 1],
        [0.5, 0.3],
        [1, 1],
        [1, 0],
        [0, 0],
      ],
      [
        [0, 0],
        [0.3, 0],
        [0.1, 0.4],
      ],
    ] as [number, number][][];
    fc.assert(
      fc.property(fc.constantFrom(...outlines), length, point, point, (o, t, rpy, at) => {
        agree(extruded(polygon(o), [], t, fromRollPitchYaw(rpy), at), 5e-6);
        const [ours, textbook] = [extruded(polygon(o), [], t, IDENTITY, [0, 0, 0]).mass, prismMass(o, t)];
        ours.inertia.forEach((x, k) => expect(x).toBeCloseTo(textbook.inertia[k]!, 12));
        ours.centre.forEach((x, k) => expect(x).toBeCloseTo(textbook.centre[k]!, 12));
      }),
    );
  });
  it('cylinder', () =>
    fc.assert(
      fc.property(point, point, length, (a, b, r) => {
        fc.pre(Math.hypot(...sub(a, b)) > 0.1);
        agree(cylinder(a, b, r), 2e-2);
      }),
    ));
  it('sphere', () => agree(sphere([0.1, 0.2, 0.3], 0.4), 5e-2));
  it('link bar, also when its pin direction lies along it', () =>
    fc.assert(
      fc.property(point, point, length, point, (a, b, w, flat) => {
        fc.pre(Math.hypot(...sub(a, b)) > 0.1 && Math.hypot(...flat) > 0.1);
        agree(linkBar(a, b, w, 0.1, flat), 2e-2);
      }),
    ));
});

describe('putting masses together', () => {
  it('two half boxes make the whole', () => {
    const whole = box([0, 0, 0], [2, 1, 1]).mass;
    const halves = combine([box([-0.5, 0, 0], [1, 1, 1]).mass, box([0.5, 0, 0], [1, 1, 1]).mass]);
    expect(halves.mass).toBeCloseTo(whole.mass, 12);
    halves.inertia.forEach((x, i) => expect(x).toBeCloseTo(whole.inertia[i]!, 12));
  });
  it('a turned and shifted mass keeps its principal moments', () =>
    fc.assert(
      fc.property(point, point, (rpy, shift) => {
        const m = box([0, 0, 0], [1, 2, 3]).mass;
        const p = place(m, fromRollPitchYaw(rpy), shift);
        const invariants = (i: readonly number[]) => [i[0]! + i[4]! + i[8]!, i.reduce((s, x) => s + x * x, 0)];
        invariants(p.inertia).forEach((x, k) => expect(x).toBeCloseTo(invariants(m.inertia)[k]!, 9));
        expect(place(m, IDENTITY, [0, 0, 0])).toEqual(m);
      }),
    ));
});
