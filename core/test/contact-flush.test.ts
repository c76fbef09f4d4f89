/** Solids of which faces lie in one plane: stacked flush, side by side, shifted by less than they sink, and one that slides down beside another. */
import { describe, expect, it } from 'vitest';
import { type RawElement, provideGeometry, runModel } from '../src';
import { weld } from '../src/geometry/mesh';
import { box } from '../src/geometry/solid';
import { FLOOR, G, machine, solids, touching, weight } from './touching';

const SIDE = 0.2;
const HEIGHT = 0.1;
const K = 1e7;
const WEIGHT = 7800 * SIDE * SIDE * HEIGHT * G;
const BOX = { kind: 'box', length: SIDE, depth: SIDE, height: HEIGHT };
const PLACES = [{ name: 'Places', kind: 'contact', load: 'Contact', of: 'places' }] as never;
const LAW = { sliding: 0.3, restitution: 0.3, stiffness: K };

const faces = box([0, 0, 0], [SIDE, SIDE, HEIGHT]).surface(24);
const { positions, indices } = weld(Float32Array.from(faces.positions), faces.indices);
provideGeometry('flush box', positions, indices);
/** What is imported has no middle to name. */
const imported = (given: ReturnType<typeof solids>): ReturnType<typeof solids> => ({
  ...given,
  shapes: given.shapes.map((s) =>
    s.body === 'Ground' ? s : { name: s.name, kind: 'mesh', body: s.body, geometry: 'flush box' },
  ) as unknown as RawElement[],
});

/** Boxes on one another, each as deep in what is below as its law says at four places. @param beside how far each is shifted along x */
function stack(count: number, beside: (i: number) => number, lifted = 0) {
  const names = Array.from({ length: count }, (_, i) => `Box ${i + 1}`);
  let below = 0;
  const levels = names.map((_, i) => {
    below += -((count - i) * WEIGHT) / (4 * K) + lifted;
    return below + (i + 0.5) * HEIGHT;
  });
  return {
    names,
    levels,
    given: solids(Object.fromEntries(names.map((n, i) => [n, { at: [beside(i), 0, levels[i]!] as const, shape: BOX }])), [FLOOR()]),
  };
}

describe('Boxes that are stacked flush', () => {
  it('stand for a minute, ten on one another, each as deep as its law says', () => {
    const { names, levels, given } = stack(10, () => 0),
      r = runModel(
        machine(
          given,
          [weight(0, -G), touching(names, ['Ground', ...names], LAW)],
          names,
          { until: '60 s', every: '1 s', accuracy: 1e-5 },
          PLACES,
        ),
      );
    expect(r.end.status).toBe('done');
    names.forEach((n, i) => {
      for (const z of r.gauge(`${n} z`)) expect(Math.abs(z - levels[i]!)).toBeLessThan(1e-3 * (WEIGHT / (4 * K)));
      for (const x of r.gauge(`${n} x`)) expect(Math.abs(x)).toBeLessThan(1e-12);
    });
    // four places of each, wherever corners and edges of both are
    expect(r.gauge('Places').every((n) => n === 40)).toBe(true);
    expect(r.end.statistics.steps).toBeLessThan(1000);
  });

  it.each([1e-10, 2e-6, 5e-6, -3e-6])('are carried where they are shifted by %f m, which is less than they sink', (shift) => {
    const { names, levels, given } = stack(2, (i) => i * shift),
      r = runModel(
        machine(given, [weight(0, -G), touching(names, ['Ground', ...names], LAW)], names, {
          until: '1 s',
          every: '0.1 s',
          accuracy: 1e-5,
        }),
      ),
      top = r.gauge('Box 2 z');
    expect(r.end.status).toBe('done');
    for (const z of top) expect(Math.abs(z - levels[1]!)).toBeLessThan(0.01 * (WEIGHT / (4 * K)));
  });

  it.each([
    ['as boxes', (x: ReturnType<typeof solids>) => x],
    ['as they were imported', imported],
  ])('come to rest where they are let fall on one another, %s', (_, as) => {
    const { names, levels, given } = stack(2, () => 0, 1e-4),
      r = runModel(
        machine(as(given), [weight(0, -G), touching(names, ['Ground', ...names], LAW)], names, {
          until: '2 s',
          every: '0.1 s',
          accuracy: 1e-5,
        }),
      );
    expect(r.end.status).toBe('done');
    expect(Math.abs(r.gauge('Box 2 z').at(-1)! - (levels[1]! - 2e-4))).toBeLessThan(0.01 * (WEIGHT / (4 * K)));
    expect(Math.abs(r.gauge('Box 1 z').at(-1)! - (levels[0]! - 1e-4))).toBeLessThan(0.01 * (WEIGHT / (4 * K)));
  });

  it('slide down flush beside one another, and are not caught on an edge', () => {
    // the falling one begins above the fixed one, its side in the plane of the other’s
    const names = ['Peg'],
      given = solids({ Peg: { at: [SIDE, 0, 1], shape: BOX } }, [{ ...BOX, centre: 'Origin' }]),
      r = runModel(machine(given, [weight(0, -G), touching(names, ['Ground'], LAW)], names, { until: '0.4 s', every: '0.01 s' }));
    expect(r.end.status).toBe('done');
    expect(r.gauge('Peg z').at(-1)!).toBeCloseTo(1 - (G * 0.4 * 0.4) / 2, 9);
  });

  it('push one another along a wall, flush above and below', () => {
    // 20 N press both against a wall whose upper edge is flush with theirs
    const names = ['One', 'Two'],
      push = 20,
      given = solids(
        {
          One: { at: [SIDE, 0, 0], shape: BOX },
          Two: { at: [2 * SIDE, 0, 0], shape: BOX },
        },
        [{ ...BOX, centre: 'Origin' }],
      ),
      r = runModel(
        machine(
          given,
          [
            touching(names, ['Ground', ...names], { ...LAW, restitution: 0.1 }),
            { name: 'Push', kind: 'force', body: 'Two', at: 'Two middle', direction: [-1, 0, 0], magnitude: push } as never,
          ],
          names,
          { until: '50 ms', every: '10 ms', accuracy: 1e-6 },
        ),
      );
    expect(r.end.status).toBe('done');
    expect(r.gauge('One x').at(-1)! - SIDE).toBeCloseTo(-push / (4 * K), 8);
    expect(r.gauge('Two x').at(-1)! - 2 * SIDE).toBeCloseTo((-2 * push) / (4 * K), 8);
  });
});
