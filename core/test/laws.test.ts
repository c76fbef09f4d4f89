/**
 * Loads stated by what they do: for every kind there is, what is derived from it against differences. A new kind fails here until it has an example, and
 * is tested by having one.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { assemble, build } from '../src';
import type { Kinematics } from '../src/equations/kinematics';
import { basesOf, deriveForce } from '../src/equations/laws/derive';
import { StatedForce } from '../src/equations/laws/stated-force';
import { moving } from '../src/equations/stated/body';
import type { Ex } from '../src/expressions/arithmetic';
import { Direction } from '../src/expressions/derivative';
import { Plain } from '../src/expressions/plain';
import { kindsOf } from '../src/model/kinds';
import { COMPILER } from '../src/system/compiler';
import { LOADS, loaded } from './every-load';

/** A system with the two bodies anywhere, moving anyhow: loads are asked, not joints. */
const number = fc.integer({ min: -1000, max: 1000 }).map((x) => x / 1000);
const state = fc.record({ q: fc.array(number, { minLength: 12, maxLength: 12 }), u: fc.array(number, { minLength: 12, maxLength: 12 }) });
function take(K: Kinematics, { q, u }: { q: readonly number[]; u: readonly number[] }): void {
  const y = new Float64Array(K.whole.size);
  [0, 1].forEach((b) => y.set([...q.slice(6 * b, 6 * b + 3), 1.5, ...q.slice(6 * b + 3, 6 * b + 6)], 7 * b));
  y.set(u, 14);
  K.loadWhole(y);
}
const H = 1e-5;

describe.each(kindsOf('loads').map((k) => [k.kind] as const))('%s', (kind) => {
  it('has an example', () => expect(LOADS[kind]).toBeDefined());
  it.each((LOADS[kind] ?? []).map((x, i) => [i + 1, x] as const))('example %i', (_i, example) => {
    const built = build(loaded({ kind, ...example })),
      m = built.mechanism;
    if (!m) throw new Error(JSON.stringify(built.diagnoses));
    const { force } = m.assembly.forces[0]!,
      { K } = m.system;
    if (!(force instanceof StatedForce)) return expect(example.coded).toBe(true);
    const F = () => {
      const out = new Float64Array(18);
      force.apply(K, 0.5, out);
      return out;
    };
    const motion = () => [0, 1].flatMap((b) => [...K.v.subarray(3 * b, 3 * b + 3), ...K.w.subarray(3 * b, 3 * b + 3)]);
    const power = () =>
      F()
        .subarray(0, 12)
        .reduce((s, f, k) => s + f * motion()[k]!, 0);

    const { law } = force,
      derived = deriveForce(law),
      { g, bodies, pushes } = derived,
      bases = basesOf(law);
    // derivatives of what it pushes with: along the motion while the velocities stay, and by the velocities alone
    const along = new Direction(g, new Map(bodies.flatMap((b) => moving(g, b, b.v, b.w)))),
      by = new Direction(g, new Map(bodies.flatMap((b) => [...b.v, ...b.w].map((u): [Ex, Ex] => [u, u])))),
      list = [...pushes.flat().map((x) => along.of(x)), ...pushes.flat().map((x) => by.of(x))],
      plain = new Plain(g, list);
    const derivatives = () => {
      const out = [new Float64Array(18), new Float64Array(18)],
        places = force.placesFrom(0);
      let at = places.numbers;
      force.take(K, 0.5);
      for (const { bodies: of, values } of force.instances) {
        const where = new Array<number>(bases.count).fill(0);
        of.forEach((b, i) => [K.at.r + 3 * b, K.at.A + 9 * b, K.at.v + 3 * b, K.at.w + 3 * b].forEach((p, k) => (where[4 * i + k] = p)));
        where[bases.numbers] = at;
        where[bases.inputs] = places.inputs;
        at += values.length;
        plain.evaluate(K.memory.numbers, where);
        list.forEach((x, j) => {
          const half = j < list.length / 2 ? 0 : 1,
            k = j % (list.length / 2);
          out[half]![6 * of[Math.floor(k / 6)]! + (k % 6)]! += plain.value(x);
        });
      }
      return out;
    };
    const close = (x: number, y: number, size: number) => Math.abs(x - y) <= 2e-4 * size + 1e-6;
    fc.assert(
      fc.property(state, (s) => {
        take(K, s);
        const u = motion(),
          step = new Float64Array(m.system.motions);
        step.set(u);
        const [posture, velocity] = derivatives(),
          P = power(),
          at = (h: number, what: 'posture' | 'velocity') => {
            take(K, s);
            if (what === 'posture') K.displace(step, h);
            else K.quicken(step, h);
            return { F: F(), E: force.energy(K, 0.5) };
          };
        const [before, after, slower, faster] = [at(-H, 'posture'), at(H, 'posture'), at(-H, 'velocity'), at(H, 'velocity')],
          size = 1 + Math.max(...after.F.map(Math.abs), ...posture!.map(Math.abs), ...velocity!.map(Math.abs));
        // beside a corner differences say nothing
        const corner = before.F.some((f, k) => Math.abs(f - 2 * at(0, 'posture').F[k]! + after.F[k]!) > 1e-6 * size);
        if (corner) return;
        const given = law.name.endsWith('on a row');
        for (let k = 0; k < 12; k++) {
          if (!given) expect(close(posture![k]!, (after.F[k]! - before.F[k]!) / (2 * H), size)).toBe(true);
          expect(close(velocity![k]!, (faster.F[k]! - slower.F[k]!) / (2 * H), size)).toBe(true);
        }
        // off its curve a path length says nothing of energies
        if (given) return;
        // what it gives is what it stores less what it loses
        const stores = derived.stored !== g.zero,
          lost = -P - (after.E - before.E) / (2 * H);
        if (example.loses) expect(lost).toBeGreaterThan(-1e-4 * size);
        else if (stores) expect(Math.abs(lost)).toBeLessThan(1e-4 * size);
      }),
      { numRuns: 40 },
    );
  });
  it.each(
    (LOADS[kind] ?? []).flatMap((x, i) => [
      [i + 1, 'in the code of a machine', x, undefined] as const,
      [i + 1, 'with all others of its kind', x, 0] as const,
    ]),
  )(
    'example %i %s gives what it gives by itself: accelerations, powers, and the derivative of a whole state',
    (_i, _how, example, most) => {
      const mechanism = () => {
        const m = build(loaded({ kind, ...example })).mechanism!;
        assemble(m);
        m.system.segment(0, Infinity);
        return m;
      };
      const [one, whole] = [mechanism(), mechanism()],
        y = new Float64Array(one.system.size);
      one.system.K.store(y);
      // moving, and further states anywhere
      const { motions, further } = one.system.K.layout;
      for (let k = motions; k < y.length; k++) y[k] = k < further ? 0.3 + 0.1 * ((7 * k) % 5) : y[k]! + 0.01;
      // what rubs slips
      for (const { system } of [one, whole]) {
        system.K.load(y);
        for (const f of system.forces) if (f.react) f.begin?.(system.K, 0.5);
      }
      whole.system.compile(COMPILER, most);
      const [state, rate] = whole.system.vectors().row(2) as [Float64Array, Float64Array],
        plain = new Float64Array(y.length);
      state.set(y);
      one.system.evaluate(0.5, y, plain);
      whole.system.evaluate(0.5, state, rate);
      expect([one.system.compiled, whole.system.compiled]).toEqual([false, most === undefined]);
      const same = (a: ArrayLike<number>, b: ArrayLike<number>) => {
        const size = Math.max(1e-9, ...Array.from(a, Math.abs));
        return Array.from(a).every((x, k) => Math.abs(x - b[k]!) <= 1e-9 * size);
      };
      expect(same(one.system.solution.subarray(0, 12), whole.system.solution.subarray(0, 12))).toBe(true);
      expect(same(one.system.powers, whole.system.powers)).toBe(true);
      expect(same(plain, rate)).toBe(true);
    },
  );
});
