/** Equations stated by their Φ alone: what is derived from it against differences, for every one there is. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Kinematics } from '../src/equations/kinematics';
import { AlongCurve, OffCurve } from '../src/equations/curves/foot';
import { Touching } from '../src/equations/curves/touching';
import { ASKING, onCurve, pathLength, touch } from '../src/equations/on-curve';
import { BASES, BASE_COUNT, derive } from '../src/equations/stated/derive';
import { type Asking, ELEMENTARY, type Elementary } from '../src/equations/stated/elementary';
import type { Asked } from '../src/equations/stated/stated';
import type { Ex } from '../src/expressions/arithmetic';
import { Circle, Spline } from '../src/geometry/curve';
import type { Vec3 } from '../src/geometry/vector';
import { CompiledKernel } from '../src/kernel/compile';
import { KernelMemory } from '../src/kernel/memory';

const number = fc.integer({ min: -1000, max: 1000 }).map((x) => x / 1000);
const numbers = (n: number) => fc.array(number, { minLength: n, maxLength: n });

/** A wheel far away, so that all places near the origin have their foot on its near side; and an oval. */
const wheel = (at: Vec3 = [14, 0, 0]) => new Circle(at, [1, 0, 0], [0, 1, 0], 8),
  oval = new Spline(
    [0, 1, 2, 3, 4, 5].map((k): Vec3 => [0.5 * Math.cos((k * Math.PI) / 3), 0.3 * Math.sin((k * Math.PI) / 3), 0]),
    true,
  ),
  PLANE = [
    [1, 0, 0],
    [0, 1, 0],
  ] as const;
/** An example of the code of each equation that asks. One without fails here. */
const ASKED = new Map<Asking, () => Asked>([
  [onCurve, () => new OffCurve(wheel())],
  [pathLength, () => new AlongCurve(wheel())],
  [touch, () => new Touching(wheel(), PLANE, oval, PLANE)],
]);
type Equation = Elementary | Asking;
const countOf = (e: Equation) => Object.values(e.numbers).reduce((n, k) => n + (k === 'vector' ? 3 : 1), 0);

/** Two bodies anywhere, moving anyhow; the last slot is the ground. */
function posture(q: readonly number[], u: readonly number[]): Kinematics {
  const K = new Kinematics(2, 0),
    y = new Float64Array(K.size);
  y.set([...q.slice(0, 3), 1.5, ...q.slice(3, 6), ...q.slice(6, 9), 1.5, ...q.slice(9, 12), ...u]);
  K.load(y);
  return K;
}

/** An equation, its four parts compiled. */
function made(e: Equation) {
  const derived = derive(e),
    asked = 'asks' in e ? ASKED.get(e)!() : undefined,
    memory = new KernelMemory(20_000),
    bases = Array.from({ length: BASE_COUNT }, (_, k) => memory.take(k === BASES.out ? 12 * e.lengths.length : 24));
  const part = (list: readonly Ex[]) =>
    new CompiledKernel(
      derived.g,
      list.map((x, i) => ({ base: BASES.out, offset: i, x })),
      BASE_COUNT,
    ).calling(memory, asked ? [asked] : []);
  const parts = { phi: part(derived.phi), jacobian: part(derived.jacobian), nu: part(derived.nu), gamma: part(derived.gamma) };
  const at = (which: keyof typeof parts, K: Kinematics, n: readonly number[], course: readonly number[]): Float64Array => {
    [0, 1].forEach((body) =>
      [
        [K.r, 3],
        [K.A, 9],
        [K.v, 3],
        [K.w, 3],
      ].forEach(([from, size], k) =>
        memory.numbers.set(
          (from as Float64Array).subarray(body * (size as number), (body + 1) * (size as number)),
          bases[(body === 0 ? BASES.a : BASES.b) + k],
        ),
      ),
    );
    memory.numbers.set(n, bases[BASES.numbers]);
    memory.numbers.set(course, bases[BASES.course]);
    parts[which](...bases);
    return memory.numbers.slice(bases[BASES.out], bases[BASES.out]! + derived[which].length);
  };
  return { at, anew: () => asked?.forget() };
}

/** The posture a moment later, the velocities unchanged. */
function later(K: Kinematics, h: number): Kinematics {
  const out = new Kinematics(2, 0),
    y = new Float64Array(K.size),
    step = new Float64Array(12);
  K.store(y);
  out.load(y);
  for (let i = 0; i < 2; i++)
    for (let k = 0; k < 3; k++) {
      step[6 * i + k] = K.v[3 * i + k]!;
      step[6 * i + 3 + k] = K.w[3 * i + k]!;
    }
  out.displace(step, h);
  return out;
}

describe.each([...ELEMENTARY, ...ASKING].map((e) => [e.name, e] as const))('%s', (_, e) => {
  const { at, anew } = made(e);
  it('has as Jacobian what Φ changes by, and as remainder what Φ̇ changes by (random states)', () => {
    let compared = 0;
    fc.assert(
      fc.property(numbers(12), numbers(12), numbers(countOf(e)), numbers(3), (q, u, n, course) => {
        anew();
        const K = posture(q, u);
        const rate = (K: Kinematics, course: readonly number[]) => {
          const G = at('jacobian', K, n, course),
            nu = at('nu', K, n, course);
          const velocities = [0, 1].flatMap((i) => [...K.v.subarray(3 * i, 3 * i + 3), ...K.w.subarray(3 * i, 3 * i + 3)]);
          return [...nu].map((x, row) => velocities.reduce((s, x, k) => s + G[12 * row + k]! * x, -x));
        };
        const moved = (h: number): [Kinematics, number[]] => {
          const [f, f1, f2] = course as [number, number, number];
          return [later(K, h), [f + h * f1 + 0.5 * h * h * f2, f1 + h * f2, f2]];
        };
        const h = 1e-5,
          [ahead, behind] = [moved(h), moved(-h)];
        const now = rate(K, course),
          gamma = at('gamma', K, n, course),
          phi = [ahead, behind].map(([K, c]) => at('phi', K, n, c)),
          rates = [ahead, behind].map(([K, c]) => rate(K, c));
        const size = 1 + Math.max(...now.map(Math.abs), ...[...gamma].map(Math.abs));
        const jump = at('phi', K, n, course).some((x, row) => Math.abs(phi[0]![row]! - 2 * x + phi[1]![row]!) > 1e-3);
        if (!(size < 100) || jump) return; // next to where it has no direction, or has come round
        compared++;
        now.forEach((x, row) => {
          expect(Math.abs((phi[0]![row]! - phi[1]![row]!) / (2 * h) - x)).toBeLessThan(1e-6 * size * size);
          expect(Math.abs((rates[0]![row]! - rates[1]![row]!) / (2 * h) + gamma[row]!)).toBeLessThan(1e-5 * size * size);
        });
      }),
    );
    expect(compared).toBeGreaterThan(50);
  });
});
