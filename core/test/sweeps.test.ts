/** Mass properties of every swept shape against closed forms, and against integrals over their own meshes. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Model, build } from '../src';
import { type MassProperties, combine, place } from '../src/geometry/mass';
import { circle, moment, polygon } from '../src/geometry/outline';
import { box, cylinder, linkBar, sphere } from '../src/geometry/solid';
import { extruded, revolved } from '../src/geometry/sweeps';
import { IDENTITY, type Vec3, fromRollPitchYaw } from '../src/geometry/vector';
import { model } from './models';
import { prismMass } from './prism';

const { PI } = Math;
const close = (a: MassProperties, b: MassProperties, tolerance = 1e-9) => {
  expect(Math.abs(a.mass / b.mass - 1)).toBeLessThan(tolerance);
  const size = Math.max(...b.inertia.map(Math.abs)),
    reach = Math.sqrt(size / b.mass);
  a.centre.forEach((x, k) => expect(Math.abs(x - b.centre[k]!)).toBeLessThan(tolerance * reach));
  a.inertia.forEach((x, k) => expect(Math.abs(x - b.inertia[k]!)).toBeLessThan(tolerance * size));
};
const minus = (a: MassProperties, ...b: MassProperties[]): MassProperties =>
  combine([a, ...b.map((p) => ({ mass: -p.mass, centre: p.centre, inertia: p.inertia.map((x) => -x) as never }))]);

/** The mass of one shape in the model language, density 1. */
function massOf(shape: object, points: Record<string, Vec3>, tables: object = {}): MassProperties {
  const m = model('one', {
    points: Object.entries(points).map(([name, at]) => ({ name, at: [...at] })),
    materials: [{ name: 'Unit', density: '1 kg/m^3' }],
    bodies: [{ name: 'Part', material: 'Unit' }],
    shapes: [{ name: 'It', body: 'Part', ...shape }],
    joints: [],
    ...tables,
  } as unknown as Partial<Model>);
  const { mechanism, diagnoses } = build(m);
  if (!mechanism) throw new Error(diagnoses.map((d) => d.message).join(' '));
  return mechanism.shapes[0]!.mass;
}
const radii = fc.tuple(
  fc.double({ min: 0.01, max: 0.4, noNaN: true }),
  fc.double({ min: 0.01, max: 0.4, noNaN: true }),
  fc.double({ min: 0.05, max: 1, noNaN: true }),
);

describe('area integrals along outlines', () => {
  it('of a circle anywhere and a triangle are exact', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -2, max: 2, noNaN: true }),
        fc.double({ min: -2, max: 2, noNaN: true }),
        fc.double({ min: 0.05, max: 2, noNaN: true }),
        (x, y, r) => {
          const a = PI * r * r,
            c = circle([x, y], r);
          expect(moment(c, 0, 0) / a).toBeCloseTo(1, 12);
          expect(moment(c, 2, 0)).toBeCloseTo(a * (x * x + (r * r) / 4), 11);
          expect(moment(c, 1, 1)).toBeCloseTo(a * x * y, 11);
        },
      ),
    );
    expect(
      moment(
        polygon([
          [0, 0],
          [3, 0],
          [0, 2],
        ]),
        1,
        1,
      ),
    ).toBeCloseTo((9 * 4) / 24, 13);
  });
});

describe('closed forms', () => {
  it('truncated cone', () =>
    fc.assert(
      fc.property(radii, ([a, b, h]) => {
        const v = (PI * h * (a * a + a * b + b * b)) / 3;
        const z = (h * (a * a + 2 * a * b + 3 * b * b)) / (4 * (a * a + a * b + b * b));
        const axial = (PI * h * (a ** 4 + a ** 3 * b + a * a * b * b + a * b ** 3 + b ** 4)) / 10;
        const m = massOf({ kind: 'cone', from: 'A', to: 'B', radius: a, end: b }, { A: [0, 0, 0], B: [0, 0, h] });
        expect(m.mass / v).toBeCloseTo(1, 10);
        expect(m.centre[2]).toBeCloseTo(z, 10);
        expect(m.inertia[8] / axial).toBeCloseTo(1, 9);
      }),
    ));
  it('tube, gear blank and wheel are cylinders less cylinders', () => {
    const c = (r: number, h: number) => cylinder([0, 0, -h / 2], [0, 0, h / 2], r).mass;
    close(
      massOf({ kind: 'tube', from: 'A', to: 'B', radius: 0.2, bore: 0.15 }, { A: [0, 0, -0.5], B: [0, 0, 0.5] }),
      minus(c(0.2, 1), c(0.15, 1)),
    );
    close(
      massOf({ kind: 'gear-blank', centre: 'A', axis: [0, 0, 1], module: '4 mm', teeth: 50, width: 0.03, bore: 0.02 }, { A: [0, 0, 0] }),
      minus(c(0.1, 0.03), c(0.02, 0.03)),
    );
    close(
      massOf(
        {
          kind: 'wheel',
          centre: 'A',
          axis: [0, 0, 1],
          radius: 0.3,
          rim: 0.04,
          width: 0.08,
          web: 0.01,
          hub: 0.05,
          hubWidth: 0.1,
          bore: 0.02,
        },
        { A: [0, 0, 0] },
      ),
      combine([minus(c(0.3, 0.08), c(0.26, 0.08)), minus(c(0.26, 0.01), c(0.05, 0.01)), minus(c(0.05, 0.1), c(0.02, 0.1))]),
    );
  });
  it('capsule is a cylinder and a ball cut in two', () =>
    fc.assert(
      fc.property(radii, ([r, , l]) => {
        const half = (sign: number, at: number): MassProperties => {
          const v = (2 / 3) * PI * r ** 3,
            away = (3 / 8) * r,
            side = v * r * r * (2 / 5) - v * away * away;
          return { mass: v, centre: [0, 0, at + sign * away], inertia: [side, 0, 0, 0, side, 0, 0, 0, (2 / 5) * v * r * r] };
        };
        close(
          massOf({ kind: 'capsule', from: 'A', to: 'B', radius: r }, { A: [0, 0, 0], B: [0, 0, l] }),
          combine([cylinder([0, 0, 0], [0, 0, l], r).mass, half(-1, 0), half(1, l)]),
        );
      }),
    ));
  it('torus', () => {
    const [R, r] = [0.3, 0.07],
      v = 2 * PI * PI * R * r * r;
    close(massOf({ kind: 'torus', centre: 'A', axis: [0, 0, 1], radius: R, section: r }, { A: [0, 0, 0] }), {
      mass: v,
      centre: [0, 0, 0],
      inertia: [v * ((R * R) / 2 + (5 / 8) * r * r), 0, 0, 0, v * ((R * R) / 2 + (5 / 8) * r * r), 0, 0, 0, v * (R * R + (3 / 4) * r * r)],
    });
  });
  it('a tapered bar without taper is a link bar; with holes it lacks two cylinders', () => {
    const straight = linkBar([0, 0, 0], [0.3, 0, 0], 0.05, 0.01, [0, 0, 1]).mass;
    const taper = { kind: 'tapered-bar', from: 'A', to: 'B', width: 0.05, end: 0.05, thickness: 0.01, flat: [0, 0, 1] };
    close(massOf(taper, { A: [0, 0, 0], B: [0.3, 0, 0] }), straight);
    const hole = (x: number) => cylinder([x, 0, -0.005], [x, 0, 0.005], 0.01).mass;
    close(massOf({ ...taper, hole: 0.02 }, { A: [0, 0, 0], B: [0.3, 0, 0] }), minus(straight, hole(0), hole(0.3)));
  });
  it('a plate with holes is a prism less cylinders', () => {
    const corners: [number, number][] = [
      [0, 0],
      [0.4, 0],
      [0.4, 0.2],
      [0, 0.3],
    ];
    const points = {
      ...Object.fromEntries(corners.map(([x, y], i) => [`C${i}`, [x, y, 0] as Vec3])),
      H: [0.1, 0.1, 0] as Vec3,
      I: [0.3, 0.1, 0] as Vec3,
    };
    close(
      massOf({ kind: 'plate', corners: ['C0', 'C1', 'C2', 'C3'], holes: ['H', 'I'], bore: 0.05, thickness: 0.02 }, points),
      minus(
        prismMass(corners, 0.02),
        cylinder([0.1, 0.1, -0.01], [0.1, 0.1, 0.01], 0.025).mass,
        cylinder([0.3, 0.1, -0.01], [0.3, 0.1, 0.01], 0.025).mass,
      ),
    );
  });
  it('profiles: a square extruded is a box, a rectangle revolved a cylinder, a half circle revolved a ball', () => {
    close(
      massOf(
        {
          kind: 'extruded',
          at: 'A',
          corners: [
            [-50, -100],
            [50, -100],
            [50, 100],
            [-50, 100],
          ],
          thickness: 0.3,
          normal: [0, 0, 1],
        },
        { A: [0, 0, 0] },
      ),
      box([0, 0, 0], [0.1, 0.2, 0.3]).mass,
    );
    close(
      massOf(
        {
          kind: 'revolved',
          at: 'A',
          corners: [
            [0, 0],
            [50, 0],
            [50, 200],
            [0, 200],
          ],
          normal: [1, 0, 0],
          x: [0, 1, 0],
        },
        { A: [0, 0, 0] },
      ),
      cylinder([0, 0, 0], [0, 0, 0.2], 0.05).mass,
    );
    close(
      revolved(
        [
          { type: 'arc', centre: [0, 0], radius: 0.2, from: -PI / 2, to: PI / 2 },
          { type: 'line', from: [0, 0.2], to: [0, -0.2] },
        ],
        IDENTITY,
        [0, 0, 0],
      ).mass,
      sphere([0, 0, 0], 0.2).mass,
    );
  });
  it('turning and shifting a solid turns and shifts its mass', () =>
    fc.assert(
      fc.property(
        fc.tuple(
          ...([0, 0, 0].map(() => fc.double({ min: -3, max: 3, noNaN: true })) as [
            fc.Arbitrary<number>,
            fc.Arbitrary<number>,
            fc.Arbitrary<number>,
          ]),
        ),
        (rpy) => {
          const o = polygon([
              [0, 0],
              [0.3, 0],
              [0.1, 0.4],
            ]),
            turn = fromRollPitchYaw(rpy);
          close(extruded(o, [], 0.05, turn, rpy).mass, place(extruded(o, [], 0.05, IDENTITY, [0, 0, 0]).mass, turn, rpy), 1e-9);
        },
      ),
    ));
});

describe('refused in words', () => {
  it.each<[string, object, RegExp]>([
    [
      'an outline that crosses itself',
      {
        kind: 'extruded',
        at: 'A',
        corners: [
          [0, 0],
          [10, 10],
          [10, 0],
          [0, 10.5],
        ],
      },
      /crosses itself/,
    ],
    [
      'an outline without area',
      {
        kind: 'extruded',
        at: 'A',
        corners: [
          [0, 0],
          [10, 10],
          [20, 20],
        ],
      },
      /encloses no area/,
    ],
    [
      'a radius over the axis',
      {
        kind: 'revolved',
        at: 'A',
        corners: [
          [-1, 0],
          [10, 0],
          [10, 10],
        ],
      },
      /reaches over its axis/,
    ],
    ['a bore as wide as the tube', { kind: 'tube', from: 'A', to: 'B', radius: 0.1, bore: 0.1 }, /must be smaller/],
    [
      'a unit that is no length',
      {
        kind: 'extruded',
        at: 'A',
        unit: 'kg',
        corners: [
          [0, 0],
          [1, 0],
          [1, 1],
        ],
      },
      /not a unit of length/,
    ],
    ['no length', { kind: 'capsule', from: 'A', to: 'A', radius: 0.1 }, /has no length/],
  ])('%s', (_what, shape, words) => {
    expect(() => massOf(shape, { A: [0, 0, 0], B: [0, 0, 1] })).toThrow(words);
  });
});
