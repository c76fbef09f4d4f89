/** The layout of the state: every number has one place, and only the layout knows it. */
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { Kinematics } from '../src/equations/kinematics';
import { KIND, MOTION, StateLayout, stateSize } from '../src/equations/layout';

describe('the layout of a state', () => {
  it('gives every number a place of its own, and says what it is', () => {
    const layout = new StateLayout(3, 2),
      seen = new Uint8Array(layout.size);
    for (let i = 0; i < 3; i++)
      for (const [from, kinds] of [
        [layout.posture[i]!, [KIND.place, KIND.place, KIND.place, KIND.turn, KIND.turn, KIND.turn, KIND.turn]],
        [layout.motions + MOTION * i, [KIND.velocity, KIND.velocity, KIND.velocity, KIND.spin, KIND.spin, KIND.spin]],
      ] as const)
        kinds.forEach((kind, k) => {
          expect([layout.kind[from + k], layout.body[from + k]]).toEqual([kind, i]);
          seen[from + k]!++;
        });
    for (let k = layout.further; k < layout.size; k++) {
      expect([layout.kind[k], layout.body[k]]).toEqual([KIND.further, -1]);
      seen[k]!++;
    }
    expect([...seen].every((n) => n === 1)).toBe(true);
    expect(layout.size).toBe(stateSize(3, 2));
  });

  it('is that by which a state is stored and taken over', () => {
    const K = new Kinematics(2, 3),
      { layout } = K,
      y = Float64Array.from({ length: layout.size }, (_, i) => Math.sin(1 + i));
    for (let i = 0; i < 2; i++) {
      const p = layout.turn[i]!,
        size = Math.hypot(...y.subarray(p, p + 4));
      for (let k = 0; k < 4; k++) y[p + k] = y[p + k]! / size;
    }
    K.load(y);
    expect(K.r[3]).toBe(y[layout.posture[1]!]);
    expect(K.w[5]).toBe(y[layout.motions + MOTION + 5]);
    expect(K.z[2]).toBe(y[layout.further + 2]);
    const back = new Float64Array(layout.size);
    K.store(back);
    back.forEach((x, i) => expect(x).toBeCloseTo(y[i]!, 15));
  });

  it('tells of a body that turns about one axis its angle alone, whichever axis that is', () => {
    const half = Math.SQRT1_2,
      // body axes lie along those of the ground, one way or the other
      turns = [
        [1, 0, 0, 0],
        [half, half, 0, 0],
        [half, 0, -half, 0],
        [half, 0, 0, half],
        [0.5, 0.5, 0.5, 0.5],
        [0, 1, 0, 0],
        [0.5, -0.5, 0.5, 0.5],
      ];
    for (const q of turns)
      for (const own of [0, 1, 2]) {
        const K = new Kinematics(1, 0);
        K.q.set(q);
        K.orient();
        const ground = [0, 1, 2].find((k) => Math.abs(K.A[3 * k + own]!) > 0.5)!,
          moves = Uint8Array.from({ length: 6 }, (_, k) => (k < 3 ? (k === ground ? 0 : 1) : k - 3 === own ? 1 : 0));
        K.r.set([0.3, -0.2, 0.7]);
        K.v.set([1, 2, 3]);
        K.w.set([4, 5, 6]);
        K.lay({ moves, A: K.A.slice(0, 9).map(Math.round), idle: new Uint8Array(0) });
        expect(K.layout.size).toBe(7);
        // what it cannot do is nothing from now on
        expect([K.v[ground], K.w[(own + 1) % 3], K.w[(own + 2) % 3]]).toEqual([0, 0, 0]);

        const y = new Float64Array(7),
          dy = new Float64Array(7),
          whole = new Float64Array(13);
        K.store(y);
        expect([y[2], y[3]]).toEqual([expect.closeTo(1, 15), expect.closeTo(0, 15)]);
        K.load(y);
        K.rates(dy);
        const h = 1e-6;
        K.displace(Float64Array.from([...K.v.subarray(0, 3), ...K.w.subarray(0, 3)]), h);
        K.storeWhole(whole);
        K.load(y.map((x, i) => x + h * dy[i]!));
        for (let k = 0; k < 3; k++) expect(K.r[k]).toBeCloseTo(whole[k]!, 12);
        for (let k = 0; k < 4; k++) expect(K.q[k]).toBeCloseTo(whole[3 + k]!, 10);
        // a large turn, there and back
        y[2] = Math.cos(1.2);
        y[3] = Math.sin(1.2);
        K.load(y);
        const back = new Float64Array(7);
        K.store(back);
        back.forEach((x, i) => expect(x).toBeCloseTo(y[i]!, 14));
        // about that axis and no other: the ground axis stays where it is in the body
        expect(Math.abs(K.A[3 * ground + own]!)).toBeCloseTo(1, 14);
        K.lay(undefined);
        expect(K.layout.size).toBe(13);
      }
  });

  it('is spelt nowhere else in the solver', () => {
    const files = (folder: string): string[] =>
      readdirSync(folder, { withFileTypes: true }).flatMap((e) => (e.isDirectory() ? files(join(folder, e.name)) : [join(folder, e.name)]));
    const spelt = ['equations', 'system', 'solve', 'results'].flatMap((room) =>
      files(join('core/src', room)).flatMap((file) =>
        readFileSync(file, 'utf8')
          .split('\n')
          .flatMap((line, i) =>
            /(?<![\d.e-])(7|13) \* (\w+\.)*(bodies|n|i|b|body)\b/.test(line) ? [`${file}:${i + 1}: ${line.trim()}`] : [],
          ),
      ),
    );
    expect(spelt).toEqual([]);
  });
});
