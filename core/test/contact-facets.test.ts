/** What is known by its triangles alone: the same as the exact form that they were made from, and machines that touch by them. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, check, provideGeometry, runModel } from '../src';
import { meetingsOf } from '../src/equations/contact/meeting';
import type { Kinematics } from '../src/equations/kinematics';
import { partsOf } from '../src/geometry/contact/chains';
import { Facets, type FacetForm } from '../src/geometry/contact/facets';
import { fieldOf } from '../src/geometry/contact/field';
import { polygon } from '../src/geometry/outline';
import { type Solid, box, cylinder, sphere } from '../src/geometry/solid';
import { extruded } from '../src/geometry/sweeps';
import { weld } from '../src/geometry/mesh';
import type { Mat3, Vec3 } from '../src/geometry/vector';
import { random as seeded } from './machines';
import { BALL, FLOOR, G, MASS, done, machine, solids, touching, weight } from './touching';

const AXES: Mat3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const tub = extruded(polygon([[-3, -1], [3, -1], [3, 1], [2, 1], [2, 0], [-2, 0], [-2, 1], [-3, 1]]), [], 2, AXES, [0, 0, 0]); // prettier-ignore
const facetsOf = (solid: Solid, round = 24): FacetForm => ({ type: 'facets', ...solid.surface(round) });

describe('The distance from facets', () => {
  it.each([
    ['box', box([0.2, 0, 0], [1, 2, 3])],
    ['tub', tub],
  ] as const)('is that of the %s of which they are all there is, inside and out', (_, solid) => {
    const exact = fieldOf(solid.forms![0]!.form),
      shift = solid.forms![0]!.shift,
      field = fieldOf(facetsOf(solid)),
      random = seeded(3);
    for (let i = 0; i < 600; i++) {
      const p = [0, 0, 0].map(() => 8 * (random() - 0.5)) as unknown as Vec3,
        d = exact.at(p[0] - shift[0], p[1] - shift[1], p[2] - shift[2]);
      expect(field.at(...p), p.join()).toBeCloseTo(d, 9);
      // as many places are nearest to two faces as have no measure
      for (let k = 0; k < 3; k++) expect(field.n[k]).toBeCloseTo(exact.n[k]!, 6);
    }
  });
  it('of a round one is within what its facets leave of it', () => {
    const form = facetsOf(sphere([0, 0, 0], 1), 48),
      field = fieldOf(form),
      random = seeded(5);
    for (let i = 0; i < 300; i++) {
      const p = [0, 0, 0].map(() => 3 * (random() - 0.5)) as unknown as Vec3,
        d = Math.hypot(...p) - 1;
      expect(Math.abs(field.at(...p) - d)).toBeLessThan(2 * (1 - Math.cos(Math.PI / 24)));
    }
    expect(Facets.of(form).round).toBe(true);
    expect(Facets.of(facetsOf(box([0, 0, 0], [1, 1, 1]))).round).toBe(false);
  });
  it('is that of the nearest of the parts that it is met in', () => {
    const form = facetsOf(tub),
      parts = partsOf(form)!,
      all = fieldOf(form),
      random = seeded(8);
    expect(parts.length).toBeGreaterThan(1);
    expect(partsOf(facetsOf(box([0, 0, 0], [1, 1, 1])))).toBeUndefined();
    for (let i = 0; i < 400; i++) {
      const p = [0, 0, 0].map(() => 8 * (random() - 0.5)) as unknown as Vec3;
      expect(Math.min(...parts.map((f) => f.at(...p))), p.join()).toBeCloseTo(all.at(...p), 9);
    }
    // in a corner of the tub both the floor and the wall are met
    expect(parts.map((f) => f.at(-1.7, 0.3, 0)).filter((d) => Math.abs(d - 0.3) < 1e-9)).toHaveLength(2);
  });
});

describe('What of facets may touch', () => {
  it('are the corners and edges of a box, whatever triangles it is cut into, and rims of a cylinder', () => {
    const b = Facets.of(facetsOf(box([0, 0, 0], [1, 2, 3])));
    expect([b.corners.length, b.edges.length, b.closed]).toEqual([8, 12, true]);
    expect(b.volume).toBeCloseTo(6, 9);
    const c = Facets.of(facetsOf(cylinder([0, 0, 0], [0, 0, 1], 0.5), 36));
    expect([c.corners.length, c.edges.length]).toEqual([72, 72]);
    // seven sides more than two faces, one of each edge in one piece
    const t = Facets.of(facetsOf(tub));
    expect([t.corners.length, t.edges.length]).toEqual([16, 22]);
  });
  it('meets another form as deep as the exact one does', () => {
    const random = seeded(21),
      side = (body: number, form: FacetForm | NonNullable<Solid['forms']>[0]['form']) => ({
        body,
        form,
        shape: '',
        turn: AXES,
        shift: [0, 0, 0] as const,
      }),
      exact = box([0, 0, 0], [1, 1.4, 0.8]),
      other = box([0, 0, 0], [0.6, 0.9, 2]).forms![0]!.form,
      deepest = (form: Parameters<typeof side>[1], K: Kinematics) =>
        Math.max(
          ...meetingsOf(side(1, form), side(0, other)).flatMap((m) => {
            m.stand(K);
            return [...m.probes.keys()].map((k) => -m.look(k));
          }),
        );
    let touched = 0;
    for (let i = 0; i < 60; i++) {
      const q = [0, 0, 0, 0].map(() => 2 * random() - 1),
        l = Math.hypot(...q),
        [w, x, y, z] = q.map((v) => v / l) as [number, number, number, number],
        R = [
          1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y),
          2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x),
          2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y),
        ], // prettier-ignore
        K = {
          A: Float64Array.from([...R, ...AXES]),
          r: Float64Array.from([1.1 + 0.2 * random(), 0.3, 0.2, 0, 0, 0]),
          moved: i,
        } as unknown as Kinematics,
        a = deepest(facetsOf(exact), K),
        b = deepest(exact.forms![0]!.form, K);
      if (b > 0) touched++;
      if (b > 0 && b < 0.1) expect(a).toBeCloseTo(b, 9);
      else if (b <= 0) expect(a).toBeLessThanOrEqual(1e-9);
    }
    expect(touched).toBeGreaterThan(10);
  });
});

describe('An imported part', () => {
  const keep = (name: string, solid: Solid, round = 24) => {
    const { positions, indices } = solid.surface(round),
      welded = weld(Float32Array.from(positions), indices);
    provideGeometry(name, welded.positions, welded.indices);
    return { kind: 'mesh', geometry: name };
  };
  const CUBE = keep('cube', box([0, 0, 0], [0.1, 0.1, 0.1])),
    TUB = keep('tub', extruded(polygon([[-0.3, -0.1], [0.3, -0.1], [0.3, 0.2], [0.2, 0.2], [0.2, 0], [-0.2, 0], [-0.2, 0.2], [-0.3, 0.2]]), [], 0.4, [1, 0, 0, 0, 0, -1, 0, 1, 0], [0, 0, 0])); // prettier-ignore
  const meshed = (name: string, shape: object, at: readonly [number, number, number], more: object = {}) => {
    const given = solids({ [name]: { at, shape: {}, ...more } }, [FLOOR()]);
    return {
      ...given,
      shapes: given.shapes.map((s) => (s.body === name ? { name: s.name, body: name, ...shape } : s)) as unknown as RawElement[],
    };
  };
  const laws = { restitution: 0.2, stiffness: '1e6 N/m', sliding: 0.4 };
  it('comes to rest on the floor as a box does, and slides as far', () => {
    const run = (shape: object) =>
        done(
          machine(
            meshed('Part', shape, [0, 0, 0.06], { velocity: [1, 0, 0] }),
            [weight(0, -G), touching(['Part'], ['Ground'], laws)],
            ['Part'],
            { until: '0.8 s' },
          ),
        ),
      [mesh, plain] = [run(CUBE), run({ kind: 'box', centre: 'Part middle', length: '100 mm', depth: '100 mm', height: '100 mm' })];
    expect(mesh.last('Part z')).toBeCloseTo(0.05, 4);
    expect(mesh.last('Part x')).toBeCloseTo(plain.last('Part x'), 4);
    expect(mesh.last('Press')).toBeCloseTo(7.8 * G, 1);
  });
  it('holds a ball in its corner, on its floor and its wall at once', () => {
    const given = solids({ Part: { at: [0.145, 0, 0.06], shape: BALL } }),
      m = machine(
        { ...given, shapes: [...given.shapes, { name: 'Tub', body: 'Ground', ...TUB }] as unknown as RawElement[] },
        [weight(3, -G), touching(['Part'], ['Ground'], { restitution: 0.2, stiffness: '1e6 N/m' })],
        ['Part'],
        { until: '2 s', accuracy: 1e-6 },
      ),
      { last } = done(m);
    // a quarter of a micrometre: geometry from files is in single precision
    expect(last('Part x')).toBeCloseTo(0.15 + (MASS * 3) / 1e6, 6);
    expect(last('Part z')).toBeCloseTo(0.05 - (MASS * G) / 1e6, 6);
  });
  it('whose surface is open takes no part, which is said; what is round by facets is said as well', () => {
    const found = (shape: object) =>
      check(machine(meshed('Part', shape, [0, 0, 0.2]), [touching(['Part'], ['Ground'], {})], [], { until: '1 s' }))
        .diagnoses.filter((d) => d.code.startsWith('contact'))
        .map((d) => `${d.code} ${d.severity}`);
    const { positions, indices } = box([0, 0, 0], [0.1, 0.1, 0.1]).surface(),
      lid = weld(Float32Array.from(positions), indices.slice(3));
    provideGeometry('open box', lid.positions, lid.indices);
    expect(found(CUBE)).toEqual([]);
    expect(found({ kind: 'mesh', geometry: 'open box' })).toEqual(['contact-empty error']);
    const both = meshed('Part', { kind: 'mesh', geometry: 'open box' }, [0, 0, 0.2]),
      ball = { name: 'Ball', ...BALL, body: 'Part', centre: 'Part middle' } as unknown as RawElement;
    expect(
      check(machine({ ...both, shapes: [...both.shapes, ball] }, [touching(['Part'], ['Ground'], {})], [], { until: '1 s' }))
        .diagnoses.filter((d) => d.code === 'contact-open')
        .map((d) => d.message),
    ).toEqual(['“Part shape” takes no part in it.']);
    expect(found(keep('drum', cylinder([0, 0, 0], [0, 0, 0.1], 0.05)))).toEqual(['contact-facets note']);
  });
  it('that is turned inside out in its file is met from outside all the same', () => {
    const { positions, indices } = box([0, 0, 0], [0.1, 0.1, 0.1]).surface(),
      turned = weld(
        Float32Array.from(positions),
        Uint32Array.from(indices, (_, i) => indices[i - (i % 3) + ((3 - (i % 3)) % 3)]!),
      );
    provideGeometry('inside out', turned.positions, turned.indices);
    const m: Model = machine(
      meshed('Part', { kind: 'mesh', geometry: 'inside out' }, [0, 0, 0.06]),
      [weight(0, -G), touching(['Part'], ['Ground'], laws)],
      ['Part'],
      { until: '0.6 s' },
    );
    const ran = runModel(m);
    expect(ran.end.status).toBe('done');
    expect(ran.gauge('Part z').at(-1)).toBeCloseTo(0.05, 4);
  });
});
