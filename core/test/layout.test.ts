/** The layout of the state: every number has one place, and only the layout knows it. */
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { Kinematics } from '../src/equations/kinematics';
import { KIND, StateLayout, stateSize } from '../src/equations/layout';

describe('the layout of a state', () => {
  it('gives every number a place of its own, and says what it is', () => {
    const layout = new StateLayout(3, 2),
      seen = new Uint8Array(layout.size);
    for (let i = 0; i < 3; i++)
      for (const [from, kinds] of [
        [layout.posture[i]!, [KIND.place, KIND.place, KIND.place, KIND.turn, KIND.turn, KIND.turn, KIND.turn]],
        [layout.motion[i]!, [KIND.velocity, KIND.velocity, KIND.velocity, KIND.spin, KIND.spin, KIND.spin]],
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
    expect(K.w[5]).toBe(y[layout.motion[1]! + 5]);
    expect(K.z[2]).toBe(y[layout.further + 2]);
    const back = new Float64Array(layout.size);
    K.store(back);
    back.forEach((x, i) => expect(x).toBeCloseTo(y[i]!, 15));
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
