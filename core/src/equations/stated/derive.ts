/**
 * What solving needs of an equation, from its Φ alone. With the six velocities u = (v, w) of each body:
 *   Φ̇ = G u − ν,  Φ̈ = G u̇ − γ.
 * G is the derivative of Φ in the direction of each single velocity; −ν that by time alone; −γ the second derivative while the velocities stay.
 */
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import { Graph, unnamed } from '../../expressions/graph';
import type { VectorEx } from '../../expressions/vectors';
import { BODY_BASES, type BodyEx, bodyAt, moving } from './body';
import { type Asking, type Elementary, numbersAt } from './elementary';

/** Bases from which a derived equation reads: two bodies, its numbers, its course (value, rate, second rate), and one to write to. */
export const BASES = { a: 0, b: BODY_BASES, numbers: 2 * BODY_BASES, course: 2 * BODY_BASES + 1, out: 2 * BODY_BASES + 2 } as const;
export const BASE_COUNT = BASES.out + 1;

export interface Derived {
  readonly g: Graph;
  readonly phi: readonly Ex[];
  /** Twelve for each row: six of body a, six of body b. */
  readonly jacobian: readonly Ex[];
  readonly nu: readonly Ex[];
  readonly gamma: readonly Ex[];
  /** Φ̇ = G u − ν. */
  readonly rate: readonly Ex[];
}

const UNIT: readonly (readonly [number, number, number])[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** What an equation that asks is answered with: values of one call that is named where it is put to work. */
export const answers = (g: Graph, { name, asks: { args, values } }: Asking) => {
  const outside = unnamed(name, args, values),
    each = 1 + args + args * args;
  return (of: readonly Ex[]): Ex[] => g.call(outside, of).filter((_, i) => i % each === 0);
};

/** @param e an equation between two bodies */
export function derive(e: Elementary | Asking): Derived {
  const g = new Graph(),
    a = bodyAt(g, BASES.a),
    b = bodyAt(g, BASES.b),
    [f, f1, f2] = [0, 1, 2].map((k) => g.load(BASES.course, k)) as [Ex, Ex, Ex];
  const n = numbersAt(g, e.numbers, BASES.numbers, 0) as never,
    phi = 'asks' in e ? e.phi(g, a, b, n, f, answers(g, e)) : e.phi(g, a, b, n, f);

  const still: VectorEx = [g.zero, g.zero, g.zero],
    unit = (k: number) => UNIT[k]!.map((x) => g.constant(x)) as unknown as VectorEx;
  const alone = [a, b].flatMap((body: BodyEx) =>
    Array.from({ length: 6 }, (_, k) => new Direction(g, new Map(moving(g, body, k < 3 ? unit(k) : still, k < 3 ? still : unit(k - 3))))),
  );
  const byTime: [Ex, Ex][] = [
    [f, f1],
    [f1, f2],
  ];
  const time = new Direction(g, new Map(byTime)),
    all = new Direction(g, new Map([...moving(g, a, a.v, a.w), ...moving(g, b, b.v, b.w), ...byTime]));
  return {
    g,
    phi,
    jacobian: phi.flatMap((x) => alone.map((d) => d.of(x))),
    nu: phi.map((x) => g.negate(time.of(x))),
    gamma: phi.map((x) => g.negate(all.of(all.of(x)))),
    rate: phi.map((x) => all.of(x)),
  };
}
