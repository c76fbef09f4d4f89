/** Distances, angles and radii between what is picked, against plane and solid geometry; the same wherever the whole stands. */
import fc from 'fast-check';
import { Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { type Located, locate, measures } from '../state/scene/measure';
import type { PickedPlace } from '../state/scene/places';
import type { Picture } from '../workers/protocol';

const at = (x: number, y: number, z: number, more: Partial<Located> = {}): Located => ({
  label: 'it',
  at: new Vector3(x, y, z),
  spot: !more.axis,
  ...more,
});
const line = (p: [number, number, number], d: [number, number, number]): Located => at(...p, { axis: new Vector3(...d).normalize() });
const plane = (p: [number, number, number], d: [number, number, number]): Located => ({ ...line(p, d), flat: true });
const told = (...list: Located[]) => Object.fromEntries(measures(list).map((m) => [m.label, m.value]));

describe('two places', () => {
  it('their distance and its parts along the axes', () =>
    expect(told(at(1, 2, 3), at(4, 6, 15))).toEqual({ Distance: 13, 'along x': 3, 'along y': 4, 'along z': 12 }));
  it('a place from a line, and from a plane', () => {
    expect(told(line([0, 0, 0], [0, 0, 2]), at(3, 4, 99))['Distance from the axis']).toBeCloseTo(5, 12);
    expect(told(at(3, 4, 99), plane([1, 1, 1], [0, 0, 1]))['Distance from the plane']).toBeCloseTo(98, 12);
  });
  it('skew axes: the shortest way between them, and their angle', () => {
    const m = told(line([0, 0, 0], [1, 0, 0]), line([5, 7, 3], [0, 1, 1]));
    expect(m['Distance of the axes']).toBeCloseTo(4 / Math.SQRT2, 12); // along (0, −1, 1)
    expect(m.Angle).toBeCloseTo(Math.PI / 2, 12);
    expect(told(line([0, 0, 0], [1, 0, 0]), line([5, 3, 4], [-1, 0, 0]))['Distance of the axes']).toBeCloseTo(5, 12);
  });
  it('parallel planes have a gap, others an angle; an axis and a plane the rest of a right angle', () => {
    expect(told(plane([0, 0, 1], [0, 0, 1]), plane([9, 9, 3.5], [0, 0, -1]))['Gap of the planes']).toBeCloseTo(2.5, 12);
    const tilted = told(plane([0, 0, 1], [0, 0, 1]), plane([0, 0, 3], [0, 1, 1]));
    expect(tilted.Angle).toBeCloseTo(Math.PI / 4, 12);
    expect(tilted['Gap of the planes']).toBeUndefined();
    expect(told(plane([0, 0, 0], [0, 0, 1]), line([0, 0, 3], [0, 1, 1]))['Angle of axis and plane']).toBeCloseTo(Math.PI / 4, 12);
  });
});

describe('three places', () => {
  it('a right-angled triangle: its sides, the right angle, and half the hypotenuse as the radius round it', () => {
    const m = told(at(3, 0, 0, { label: 'A' }), at(0, 0, 0, { label: 'B' }), at(0, 4, 0, { label: 'C' }));
    expect(m).toMatchObject({ 'A to B': 3, 'B to C': 4 });
    expect(m['Angle at B']).toBeCloseTo(Math.PI / 2, 12);
    expect(m['Radius of the circle through them']).toBeCloseTo(2.5, 12);
  });
  it('on one line there is no circle', () =>
    expect(told(at(0, 0, 0), at(1, 1, 1), at(2, 2, 2))['Radius of the circle through them']).toBeUndefined());
  it('any three on a circle give its radius back', () => {
    const step = fc.integer({ min: 100, max: 2000 }).map((x) => x / 1000);
    fc.assert(
      fc.property(
        step,
        step,
        step,
        fc.integer({ min: 100, max: 9000 }).map((x) => x / 1000),
        (a, more, still, r) => {
          const b = a + more,
            c = b + still;
          const on = (t: number) => at(r * Math.cos(t) + 2, 1, r * Math.sin(t) - 3);
          expect(told(on(a), on(b), on(c))['Radius of the circle through them']).toBeCloseTo(r, 6);
        },
      ),
    );
  });
});

it('one round face has a radius; four things are too many to measure', () => {
  expect(told(at(0, 0, 0, { radius: 0.02 }))).toEqual({ Radius: 0.02 });
  expect(measures([at(0, 0, 0), at(1, 0, 0), at(2, 0, 0), at(3, 0, 0)])).toEqual([]);
});

describe('what is picked', () => {
  const picture = {
    bodies: ['Arm'],
    points: [
      { name: 'Pin', body: 0, at: [0.1, 0, 0] },
      { name: 'Foot', body: -1, at: [1, 0, 0] },
    ],
    joints: [{ name: 'Hinge', a: -1, b: 0, place: { body: 0, at: [0, 0.2, 0] }, axis: [0, 0, 1] }],
  } as unknown as Picture;
  const face = { what: 'face', type: 'cylinder', shape: 'Bar', body: 0, at: [0, 0, 0.3], axis: [1, 0, 0], radius: 0.01 } as PickedPlace;
  it('is where its body is, turned as it is, at the posture shown', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 3, maxLength: 3 }),
        fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 4, maxLength: 4 }).filter((q) => Math.hypot(...q) > 0.1),
        (p, raw) => {
          const q = new Quaternion(raw[1], raw[2], raw[3], raw[0]).normalize(),
            posture = Float64Array.from([...p, q.w, q.x, q.y, q.z]);
          const moved = (x: number, y: number, z: number) =>
            new Vector3(x, y, z).applyQuaternion(q).add(new Vector3(...(p as [number, number, number])));
          const found = locate(
            picture,
            posture,
            [
              { family: 'points', name: 'Pin' },
              { family: 'points', name: 'Foot' },
              { family: 'joints', name: 'Hinge' },
              { family: 'bodies', name: 'Arm' },
            ],
            [face],
            () => 'round face',
          );
          expect(found.map((l) => l.label)).toEqual(['Pin', 'Foot', 'Hinge', 'Arm', 'round face of Bar']);
          [moved(0.1, 0, 0), new Vector3(1, 0, 0), moved(0, 0.2, 0), moved(0, 0, 0), moved(0, 0, 0.3)].forEach((v, i) =>
            expect(found[i]!.at.distanceTo(v)).toBeLessThan(1e-12),
          );
          // the joint's axis is fixed in its first body, here the ground; the face's in its own
          expect(found[2]!.axis!.distanceTo(new Vector3(0, 0, 1))).toBeLessThan(1e-12);
          expect(found[4]!.axis!.distanceTo(new Vector3(1, 0, 0).applyQuaternion(q))).toBeLessThan(1e-12);
        },
      ),
    );
  });
  it('but is gone, is left out', () =>
    expect(
      locate(
        picture,
        new Float64Array(7),
        [
          { family: 'points', name: 'Gone' },
          { family: 'bodies', name: 'Gone' },
          { family: 'loads', name: 'Pin' },
        ],
        [],
        () => '',
      ),
    ).toEqual([]));
});
