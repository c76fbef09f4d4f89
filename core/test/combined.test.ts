/** Joined and cut solids: mass by closed form where the faces are flat, inclusion and exclusion for random ones, refusals. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { type Model, Refusal, build, complete, writeModel } from '../src';
import { combined } from '../src/geometry/combine';
import { welded } from '../src/geometry/joined';
import { massOf } from '../src/geometry/mesh';
import { box, cylinder, sphere, type Solid } from '../src/geometry/solid';
import { fromRollPitchYaw, type Vec3 } from '../src/geometry/vector';
import { readModel } from '../src/model/file';
import { loadSolids } from '../src/solids';

const boxes = (shapes: object[]): Model =>
  complete({
    format: 'vim-pivot-model',
    version: 1,
    name: 'blocks',
    ground: 'Ground',
    run: { until: '1 s', every: '1 ms', accuracy: 1e-5 },
    materials: [{ name: 'Steel', density: 7850 }],
    points: [{ name: 'O' }, { name: 'P', at: [0.03, 0.01, 0] }],
    bodies: [{ name: 'Block', material: 'Steel' }],
    shapes,
    loads: [{ name: 'Gravity', kind: 'gravity' }],
  });
const cube = (name: string, centre: string, size: number) => ({
  name,
  kind: 'box',
  body: 'Block',
  centre,
  length: size,
  depth: size,
  height: size,
});

it('without its library a clear refusal, and nothing else is hindered', () => {
  const r = build(boxes([cube('A', 'O', 0.1), { name: 'J', kind: 'combined', body: 'Block', of: ['A'] }]));
  expect(r.diagnoses.filter((d) => d.severity === 'error').map((d) => d.code)).toContain('solids-missing');
});

describe('with the library', () => {
  beforeAll(() => loadSolids());
  const three = (x: fc.Arbitrary<number>) => fc.tuple(x, x, x);
  /** Places and sizes to a tenth of a millimetre, turns to a hundredth of a radian. */
  const stepped = (min: number, max: number, step: number) =>
    fc.integer({ min: Math.round(min / step), max: Math.round(max / step) }).map((n) => n * step);
  const block = fc.record({
    at: three(stepped(-0.1, 0.1, 1e-4)),
    size: three(stepped(0.05, 0.3, 1e-4)),
    turn: three(stepped(-3, 3, 0.01)),
  });
  /** Faces that all but coincide as well: nearer than single precision they are taken as one. */
  const any = fc.record({
    at: three(fc.double({ min: -0.1, max: 0.1, noNaN: true })),
    size: three(fc.double({ min: 0.05, max: 0.3, noNaN: true })),
    turn: three(fc.double({ min: -3, max: 3, noNaN: true })),
  });
  const solidOf = (b: { at: number[]; size: number[]; turn: number[] }) =>
    box(b.at as unknown as Vec3, b.size as unknown as Vec3, fromRollPitchYaw(b.turn as unknown as Vec3));

  /** One inside the other leaves nothing. */
  const rest = (a: Solid, b: Solid) => {
    try {
      return combined([a], [b], 32).mass;
    } catch (e) {
      if (!(e instanceof Refusal) || e.diagnoses[0]!.code !== 'solid-empty') throw e;
      return { mass: 0, centre: [0, 0, 0] };
    }
  };
  it.each([
    ['to the step', block, 1e-9],
    ['of any place, nearly coincident faces among them', any, 1e-6],
  ] as const)(
    'random turned boxes %s: union and what is cut away keep to inclusion and exclusion',
    (_which, kind, tolerance) => {
      fc.assert(
        fc.property(kind, kind, (x, y) => {
          const [a, b] = [solidOf(x), solidOf(y)];
          const union = combined([a, b], [], 32).mass,
            onlyA = rest(a, b);
          // A ∪ B = (A − B) + B, in volume and in first moments
          expect(Math.abs(union.mass - onlyA.mass - b.mass.mass)).toBeLessThan(tolerance * union.mass);
          for (let k = 0; k < 3; k++)
            expect(Math.abs(union.mass * union.centre[k]! - onlyA.mass * onlyA.centre[k]! - b.mass.mass * b.mass.centre[k]!)).toBeLessThan(
              tolerance * union.mass,
            );
        }),
        { numRuns: 60 },
      );
    },
    60_000,
  );
  it('a box with a box cut out of it, against the closed form, mass and inertia 1e-9', () => {
    const outer = box([0, 0, 0], [0.2, 0.2, 0.2]),
      inner = box([0, 0, 0], [0.1, 0.1, 0.4]);
    const { mass } = combined([outer], [inner], 32);
    expect(Math.abs(mass.mass / (0.008 - 0.002) - 1)).toBeLessThan(1e-12);
    const izz = (0.008 * (0.04 + 0.04)) / 12 - (0.002 * (0.01 + 0.01)) / 12;
    expect(Math.abs(mass.inertia[8] / izz - 1)).toBeLessThan(1e-9);
  });
  it('round sides come nearer to the round with the square of their facets', () => {
    const exact = 0.2 * 0.2 * 0.05 - Math.PI * 0.04 * 0.04 * 0.05;
    const drilled = (round: number) =>
      combined([box([0, 0, 0], [0.2, 0.2, 0.05])], [cylinder([0, 0, -0.1], [0, 0, 0.1], 0.04)], round).mass.mass;
    const errors = [24, 48, 96].map((n) => Math.abs(drilled(n) / exact - 1));
    expect(errors[2]!).toBeLessThan(2e-3);
    expect(errors[0]! / errors[1]!).toBeGreaterThan(3.5);
    expect(errors[1]! / errors[2]!).toBeGreaterThan(3.5);
  });
  it('what comes out is closed and goes in again', () => {
    const first = combined([box([0, 0, 0], [0.2, 0.1, 0.1]), sphere([0.1, 0, 0], 0.06)], [cylinder([0, 0, -1], [0, 0, 1], 0.02)], 24);
    const again = combined([first], [], 24);
    expect(Math.abs(again.mass.mass / first.mass.mass - 1)).toBeLessThan(1e-12);
    const s = welded(first.surface(24));
    expect(Math.abs(massOf(s.positions, s.indices).mass / first.mass.mass - 1)).toBeLessThan(1e-9);
  });
  it('an open surface and an empty rest are refused', () => {
    const open: Solid = {
      mass: box([0, 0, 0], [1, 1, 1]).mass,
      mesh: () => box([0, 0, 0], [1, 1, 1]).mesh(),
      surface: () => ({ positions: Float64Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0]), indices: Uint32Array.from([0, 1, 2]) }),
    };
    expect(() => combined([open], [], 16)).toThrow(/open/);
    expect(() => combined([box([0, 0, 0], [0.1, 0.1, 0.1])], [box([0, 0, 0], [1, 1, 1])], 16)).toThrow(/Nothing is left/);
  });
  it('in a model the parts count in the whole alone, can be left out, and a circle is refused', () => {
    const both = [cube('A', 'O', 0.1), cube('B', 'P', 0.1)];
    const alone = build(boxes(both)).mechanism!.bodies[0]!.mass;
    expect(alone).toBeCloseTo(2 * 7.85, 10);
    const joined = build(boxes([...both, { name: 'J', kind: 'combined', body: 'Block', of: ['A', 'B'] }])).mechanism!;
    expect(joined.bodies[0]!.mass).toBeCloseTo(7850 * (0.002 - 0.07 * 0.09 * 0.1), 9);
    expect(joined.shapes.map((s) => s.name)).toEqual(['J']);
    expect(
      build(boxes([...both, { name: 'J', kind: 'combined', body: 'Block', of: ['A', 'B'], off: true }])).mechanism!.bodies[0]!.mass,
    ).toBeCloseTo(alone, 10);
    const cut = boxes([...both, { name: 'J', kind: 'combined', body: 'Block', of: ['A'], less: ['B'] }]);
    expect(build(cut).mechanism!.bodies[0]!.mass).toBeCloseTo(7850 * 0.1 * (0.01 - 0.07 * 0.09), 9);
    expect(readModel(writeModel(cut)).shapes).toEqual(cut.shapes);
    const circle = build(
      boxes([
        { name: 'J', kind: 'combined', body: 'Block', of: ['K'] },
        { name: 'K', kind: 'combined', body: 'Block', of: ['J'] },
        cube('A', 'O', 0.1),
      ]),
    );
    expect(circle.diagnoses.some((d) => d.code === 'shape-unusable' && /made of itself/.test(d.message))).toBe(true);
  });
});
