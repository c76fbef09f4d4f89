/** Instances among parts: found wherever they stand, mirror images and lookalikes told apart; and an assembly of two hundred parts. */
import { createRequire } from 'node:module';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Vec3, add, apply, fromRollPitchYaw, norm, sub } from '@vim-pivot/core/drawn';
import { writeStep } from '../../examples/tools/step';
import { congruent, instancesAmong } from '../workers/congruent';
import { contentName } from '@vim-pivot/core';
import { readParts } from '../workers/parts';

const wedge = {
  positions: Float32Array.from([0, 0, 0, 3, 0, 0, 0, 2, 0, 0, 0, 1]),
  indices: Uint32Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
};
const corners = (p: Float32Array): Vec3[] => Array.from({ length: p.length / 3 }, (_, i) => [p[3 * i]!, p[3 * i + 1]!, p[3 * i + 2]!]);

describe('instances', () => {
  const angle = fc.double({ min: -3, max: 3, noNaN: true }),
    place = fc.double({ min: -50, max: 50, noNaN: true });
  it('are found under any motion, and the motion takes corner to corner', () => {
    fc.assert(
      fc.property(fc.tuple(angle, angle, angle), fc.tuple(place, place, place), (r, s) => {
        const turn = fromRollPitchYaw(r);
        const moved = {
          positions: Float32Array.from(corners(wedge.positions).flatMap((c) => [...add(s, apply(turn, c))])),
          indices: wedge.indices,
        };
        const found = congruent(wedge, moved)!;
        expect(found).toBeDefined();
        corners(wedge.positions).forEach((c, i) =>
          expect(norm(sub(add(found.shift, apply(found.turn, c)), corners(moved.positions)[i]!))).toBeLessThan(1e-3),
        );
      }),
      { numRuns: 200 },
    );
  });
  it('are not the mirror image, nor one stretched, nor one with other triangles', () => {
    const other = (f: (c: Vec3) => Vec3) => ({
      positions: Float32Array.from(corners(wedge.positions).flatMap((c) => [...f(c)])),
      indices: wedge.indices,
    });
    expect(
      congruent(
        wedge,
        other(([x, y, z]) => [x, -y, z]),
      ),
    ).toBeUndefined();
    expect(
      congruent(
        wedge,
        other(([x, y, z]) => [x * 1.001, y, z]),
      ),
    ).toBeUndefined();
    expect(congruent(wedge, { ...wedge, indices: wedge.indices.slice().reverse() })).toBeUndefined();
    expect(congruent({ ...wedge, positions: new Float32Array(12) }, wedge)).toBeUndefined();
  });
  it('names go by content', () => {
    expect(contentName(wedge.positions, wedge.indices)).toBe(contentName(wedge.positions.slice(), wedge.indices.slice()));
    expect(contentName(wedge.positions)).not.toBe(contentName(wedge.positions.map((x) => x * 1.0000001)));
  });
});

it('a STEP file of 200 parts: tree, colours, and five shapes of which the rest are instances', async () => {
  const spot = (i: number): Vec3 => [100 * (i % 20), 15 * (i % 3), 60 * Math.floor(i / 20)];
  const turns = [
      [0, 0, 1],
      [1, 0, 0],
      [0, 0.6, 0.8],
    ] as const,
    leads = [
      [1, 0, 0],
      [0, 1, 0],
      [1, 0, 0],
    ] as const;
  const plates = Array.from({ length: 5 }, (_, k) => {
    const w = 20 + 10 * k,
      corner = [0, 0] as const;
    const places = Array.from({ length: 40 }, (_x, j) => ({
      name: `Slat ${5 * j + k + 1}`,
      at: spot(5 * j + k),
      z: turns[j % 3]!,
      x: leads[j % 3]!,
    }));
    return {
      name: `Slat of ${w}`,
      colour: [0.1 * k, 0.5, 0.3] as const,
      start: corner,
      sides: [{ to: [w, 0] as const }, { to: [w, 30] as const }, { to: [0, 30] as const }, { to: corner }],
      holes: [{ at: [10, 15] as const, radius: 4 }],
      from: 0,
      to: 6,
      places,
    };
  });
  const bytes = new TextEncoder().encode(writeStep('Slat rack', plates));
  const r = await readParts('rack.step', Uint8Array.from(bytes).buffer, () => undefined, {
    wasm: () => createRequire(import.meta.url).resolve('occt-import-js/dist/occt-import-js.wasm'),
  });
  expect(r.parts).toHaveLength(200);
  expect(r.parts.every((p) => p.path[0] === 'Slat rack' && p.path.length >= 2 && p.report.open === 0)).toBe(true);
  expect(new Set(r.parts.map((p) => p.path.at(-1))).size).toBe(5);
  expect(new Set(r.parts.map((p) => p.colour)).size).toBe(5);
  const same = instancesAmong(r.parts);
  expect(same.filter((s) => s === undefined)).toHaveLength(5);
  same.forEach((s, i) => {
    if (!s) return;
    const [one, other] = [r.parts[s.of]!, r.parts[i]!];
    corners(one.positions).forEach((c, k) =>
      expect(norm(sub(add(s.shift, apply(s.turn, c)), corners(other.positions)[k]!))).toBeLessThan(5e-3),
    );
  });
}, 120_000);
