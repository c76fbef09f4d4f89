/** Each load names the bodies it pushes and its power is taken there: in every example and template, at random motions. */
import { readFileSync, readdirSync } from 'node:fs';
import { expect, describe, it } from 'vitest';
import { assemble, build } from '../src';
import { readModel } from '../src/model/file';

const FILES = ['examples', 'examples/templates'].flatMap((dir) =>
  readdirSync(dir)
    .filter((f) => f.endsWith('.pivot.json'))
    .map((f) => `${dir}/${f}`),
);

describe.each(FILES)('%s', (file) => {
  it('no load pushes a body it does not name, and its power is that of its forces and moments', () => {
    const m = build(readModel(readFileSync(file, 'utf8'))).mechanism!,
      { system } = m,
      { K, bodies } = system;
    K.load(assemble(m).y);
    K.v.subarray(0, 3 * bodies).forEach((_, k) => (K.v[k] = Math.sin(k)));
    K.w.subarray(0, 3 * bodies).forEach((_, k) => (K.w[k] = 3 * Math.cos(k)));
    system.accelerate(0.05);
    const F = new Float64Array(6 * (bodies + 1)),
      sum = new Float64Array(F.length);
    m.assembly.forces.forEach(({ name, force }, i) => {
      F.fill(0);
      force.apply(K, 0.05, F);
      force.react?.(K, 0.05, system.multipliers, system.G, F);
      const power = F.reduce((s, x, k) => {
        if (x !== 0) expect(force.bodies, `${name}, body ${Math.floor(k / 6)}`).toContain(Math.floor(k / 6));
        sum[k] = sum[k]! + x;
        const at = 3 * Math.floor(k / 6) + (k % 3);
        return s + x * (k % 6 < 3 ? K.v[at]! : K.w[at]!);
      }, 0);
      expect(Math.abs(system.powers[i]! - power), name).toBeLessThan(1e-9 * (1 + Math.abs(power)));
    });
    if (system.powers.length === m.assembly.forces.length)
      sum.forEach((x, k) => expect(Math.abs(x - system.loads[k]!)).toBeLessThan(1e-9 * (1 + Math.abs(x))));
  });
});
