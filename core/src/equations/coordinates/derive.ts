/**
 * What solving needs of a body with coordinates of its own, from where they put it and from its energies alone. With its velocities u (those of the
 * coordinates q, where they place it; else v, w and those) and p = ∂T/∂u,
 *   M = ∂p/∂u,  M u̇ = f + e,  e = X T − X V − ṗ(u̇ = 0) − w × ∂T/∂w,
 * X being the derivatives along the motions of each single velocity (Lagrange's equations; for spins in body axes those of Boltzmann and Hamel).
 * The body's own velocities follow as (v, w) = J q̇, and (v̇, ẇ) = J q̈ + bias.
 */
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import { Graph } from '../../expressions/graph';
import { type QuaternionEx, type VectorEx, cross, dot, rotationOf } from '../../expressions/vectors';
import { type BodyEx, bodyAt, moving } from '../stated/body';
import { numbersAt } from '../stated/elementary';
import { RIGID, blockOf } from './block';
import type { BodyLaw } from './law';

/** Bases: place, rotation, velocity and spin of the body, its quaternion, its coordinates, their speeds, and a block of numbers of its own. */
export const BASES = { body: 0, turn: 4, q: 5, s: 6, block: 7 } as const;
export const BASE_COUNT = BASES.block + 1;

/** Of the six numbers of a displacement the one. */
const UNIT = [0, 1, 2].map((k) => [0, 1, 2].map((j) => (j === k ? 1 : 0)));

/** What is written, and where: base, offset, expression. */
export interface DerivedBody {
  readonly g: Graph;
  readonly stores: readonly { base: number; offset: number; x: Ex }[];
}

/** All that follows from a law. @param numbers how many numbers it asks for */
export function deriveBody(law: BodyLaw, numbers: number): DerivedBody {
  const g = new Graph(),
    at = blockOf(law, numbers),
    load = (base: number, from: number, count: number): Ex[] => Array.from({ length: count }, (_, k) => g.load(base, from + k)),
    q = load(BASES.q, 0, law.coordinates.length),
    s = load(BASES.s, 0, q.length),
    n = numbersAt(g, law.numbers, BASES.block, at.values + RIGID) as never,
    stores: { base: number; offset: number; x: Ex }[] = [],
    put = (base: number, offset: number, list: readonly Ex[]) => list.forEach((x, k) => stores.push({ base, offset: offset + k, x }));

  const placed = law.posture && placedBody(g, law.posture(g, q, n), q, s),
    body = placed?.body ?? bodyAt(g, BASES.body);
  if (placed) {
    put(BASES.body, 0, body.r);
    put(BASES.body + 1, 0, body.A);
    put(BASES.turn, 0, placed.turn);
    put(BASES.body + 2, 0, body.v);
    put(BASES.body + 3, 0, body.w);
    put(BASES.block, at.J, placed.J);
    put(BASES.block, at.bias, placed.bias);
  }

  const extra = law.kinetic?.(g, body, q, s, n) ?? g.zero,
    stored = law.potential?.(g, body, q, n) ?? g.zero,
    T = g.add(rigid(g, body, load(BASES.block, at.values, RIGID)), extra);
  const still: VectorEx = [g.zero, g.zero, g.zero],
    unit = (k: number) => UNIT[k]!.map((x) => g.constant(x)) as unknown as VectorEx,
    // of each velocity: the expression itself, and the motion along it
    free = placed
      ? []
      : [...body.v, ...body.w].map((u, k) => ({
          u,
          along: new Direction(g, new Map(moving(g, body, k < 3 ? unit(k) : still, k < 3 ? still : unit(k - 3)))),
        })),
    velocities = [...free, ...q.map((x, k) => ({ u: s[k]!, along: new Direction(g, new Map([[x, g.one]])) }))],
    byVelocity = velocities.map(({ u }) => new Direction(g, new Map([[u, g.one]]))),
    motion = new Direction(g, new Map([...(placed ? [] : moving(g, body, body.v, body.w)), ...q.map((x, k): [Ex, Ex] => [x, s[k]!])])),
    p = byVelocity.map((d) => d.of(T)),
    turning = placed ? still : cross(g, body.w, [p[3]!, p[4]!, p[5]!]);
  put(
    BASES.block,
    at.M,
    p.flatMap((x, i) => byVelocity.slice(0, i + 1).map((d) => d.of(x))),
  );
  put(
    BASES.block,
    at.effort,
    velocities.map(({ along }, i) => {
      const spin = !placed && i >= 3 && i < 6 ? turning[i - 3]! : g.zero;
      return g.subtract(g.subtract(along.of(T), along.of(stored)), g.add(motion.of(p[i]!), spin));
    }),
  );
  put(BASES.block, at.energies, [extra, stored]);
  return { g, stores };
}

/** ½ m v² + ½ w·I w */
function rigid(g: Graph, { v, w }: BodyEx, [m, ...I]: readonly Ex[]): Ex {
  const Iw = [0, 3, 6].map((k) => dot(g, [I[k]!, I[k + 1]!, I[k + 2]!], w)) as unknown as VectorEx;
  return g.multiply(g.constant(0.5), g.add(g.multiply(m!, dot(g, v, v)), dot(g, w, Iw)));
}

/** A body that coordinates place: how it moves by them, and the part of its accelerations that is there while they keep their speeds. */
function placedBody(g: Graph, { r, turn }: { r: VectorEx; turn: QuaternionEx }, q: readonly Ex[], s: readonly Ex[]) {
  // spin in body axes: twice the vector part of the conjugate quaternion times its rate
  const spin = (d: Direction): VectorEx => {
    const [a, b, c, e] = turn,
      [da, db, dc, de] = turn.map((x) => d.of(x)) as unknown as QuaternionEx,
      two = (...x: readonly [Ex, Ex, Ex]) => x.map((y) => g.multiply(g.constant(2), y)) as unknown as VectorEx,
      imaginary: VectorEx = [b, c, e],
      rate: VectorEx = [db, dc, de],
      across = cross(g, imaginary, rate);
    return two(
      ...([0, 1, 2].map((k) =>
        g.subtract(g.subtract(g.multiply(a, rate[k as 0]), g.multiply(da, imaginary[k as 0])), across[k as 0]),
      ) as unknown as [Ex, Ex, Ex]),
    );
  };
  const columns = q.map((x) => {
    const d = new Direction(g, new Map([[x, g.one]]));
    return [...r.map((y) => d.of(y)), ...spin(d)];
  });
  const J = Array.from({ length: 6 }, (_, e) => columns.map((c) => c[e]!)),
    twist = J.map((row) => row.reduce((sum, x, j) => g.add(sum, g.multiply(x, s[j]!)), g.zero)),
    motion = new Direction(g, new Map(q.map((x, k): [Ex, Ex] => [x, s[k]!])));
  return {
    turn,
    body: {
      r,
      A: rotationOf(g, turn),
      v: twist.slice(0, 3) as unknown as VectorEx,
      w: twist.slice(3) as unknown as VectorEx,
    } satisfies BodyEx,
    J: J.flat(),
    bias: twist.map((x) => motion.of(x)),
  };
}
