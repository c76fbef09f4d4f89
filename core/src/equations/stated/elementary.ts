/**
 * The elementary constraint equations of which joints are made, each by its Φ alone (Nikravesh, Computer-Aided Analysis of Mechanical Systems, ch. 7).
 * Φ = 0 while they hold. Its Jacobian and the remainders of its time derivatives are derived (`derive.ts`).
 */
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import { type VectorEx, dot, minus, norm } from '../../expressions/vectors';
import { TWO_PI } from '../../quantity/elementary';
import { type BodyEx, direction, place, seenFrom } from './body';

/** Numbers of an equation: a direction or a place in a body, or a single one. */
export type NumberKind = 'vector' | 'number';
export type Given<N> = { readonly [K in keyof N]: N[K] extends 'vector' ? VectorEx : Ex };

/** The numbers that an equation asks for, one after the other from a place on. */
export function numbersAt(
  g: Graph,
  kinds: Readonly<Record<string, NumberKind>>,
  base: number,
  from: number,
): Record<string, VectorEx | Ex> {
  let at = from;
  return named(kinds, () => g.load(base, at++));
}
/** The same, each number as it comes. */
export const named = (kinds: Readonly<Record<string, NumberKind>>, next: () => Ex): Record<string, VectorEx | Ex> =>
  Object.fromEntries(Object.entries(kinds).map(([name, kind]) => [name, kind === 'vector' ? ([next(), next(), next()] as const) : next()]));

export interface Elementary<N extends Readonly<Record<string, NumberKind>> = Readonly<Record<string, NumberKind>>> {
  readonly name: string;
  /** What it is told of the model, in this order. */
  readonly numbers: N;
  /** Of each row, whether Φ is a length; else it is an angle or a direction cosine. */
  readonly lengths: readonly boolean[];
  /** @param f what a driven coordinate follows, a function of time */
  phi(g: Graph, a: BodyEx, b: BodyEx, n: Given<N>, f: Ex): readonly Ex[];
}
/** One that asks code that is no expression (geometry): from so many numbers that makes so many. */
export interface Asking<N extends Readonly<Record<string, NumberKind>> = Readonly<Record<string, NumberKind>>> extends Omit<
  Elementary<N>,
  'phi'
> {
  readonly asks: { readonly args: number; readonly values: number };
  /** @param ask the values of that code */
  phi(g: Graph, a: BodyEx, b: BodyEx, n: Given<N>, f: Ex, ask: (args: readonly Ex[]) => readonly Ex[]): readonly Ex[];
}
/** An equation that asks, its numbers typed by what it declares. */
export const asking = <const N extends Readonly<Record<string, NumberKind>>>(e: Asking<N>): Asking => e as unknown as Asking;
/** An equation, its numbers typed by what it declares. */
export const elementary = <const N extends Readonly<Record<string, NumberKind>>>(e: Elementary<N>): Elementary =>
  e as unknown as Elementary;

/** Two points coincide. */
export const coincide = elementary({
  name: 'coincide',
  numbers: { sa: 'vector', sb: 'vector' },
  lengths: [true, true, true],
  phi: (g, a, b, { sa, sb }) => minus(g, place(g, b, sb), place(g, a, sa)),
});

/** Two directions stay square to each other. */
export const perpendicular = elementary({
  name: 'perpendicular',
  numbers: { ua: 'vector', vb: 'vector' },
  lengths: [false],
  phi: (g, a, b, { ua, vb }) => [dot(g, direction(g, a, ua), direction(g, b, vb))],
});

/** The point of b, seen from the one of a along a direction of a, is as far as the course says. */
export const travelAlongAxis = elementary({
  name: 'travel along an axis',
  numbers: { ua: 'vector', sa: 'vector', sb: 'vector' },
  lengths: [true],
  phi: (g, a, b, { ua, sa, sb }, f) => [g.subtract(travel(g, a, b, ua, sa, sb), f)],
});
const travel = (g: Graph, a: BodyEx, b: BodyEx, ua: VectorEx, sa: VectorEx, sb: VectorEx): Ex =>
  dot(g, direction(g, a, ua), minus(g, place(g, b, sb), place(g, a, sa)));

/** The x axis of b has turned from that of a about their common z axis by what the course says. */
export const turnAboutAxis = elementary({
  name: 'turn about an axis',
  numbers: { xa: 'vector', ya: 'vector', xb: 'vector' },
  lengths: [false],
  phi: (g, a, b, { xa, ya, xb }, f) => [g.apply('wrap', g.subtract(turn(g, a, b, xa, ya, xb), f))],
});
function turn(g: Graph, a: BodyEx, b: BodyEx, xa: VectorEx, ya: VectorEx, xb: VectorEx): Ex {
  const x = seenFrom(g, a, direction(g, b, xb));
  return g.apply('atan2', dot(g, x, ya), dot(g, x, xa));
}

/** Two points stay a distance apart. */
export const pointDistance = elementary({
  name: 'distance of points',
  numbers: { sa: 'vector', sb: 'vector', length: 'number' },
  lengths: [true],
  phi: (g, a, b, { sa, sb, length }) => [g.subtract(norm(g, minus(g, place(g, b, sb), place(g, a, sa))), length)],
});

/** Two shafts turn alike at any bend: the relative rotation has no part about z. */
export const sameTwist = elementary({
  name: 'same twist',
  numbers: { xa: 'vector', ya: 'vector', xb: 'vector', yb: 'vector' },
  lengths: [false],
  phi: (g, a, b, { xa, ya, xb, yb }) => [
    g.subtract(dot(g, direction(g, a, xa), direction(g, b, yb)), dot(g, direction(g, a, ya), direction(g, b, xb))),
  ],
});

/** Travel follows turning by a lead: s = p θ with p = lead/2π, whole turns known from the travel. */
export const thread = elementary({
  name: 'thread',
  numbers: { xa: 'vector', ya: 'vector', za: 'vector', sa: 'vector', xb: 'vector', sb: 'vector', lead: 'number' },
  lengths: [true],
  phi(g, a, b, { xa, ya, za, sa, xb, sb, lead }) {
    const p = g.divide(lead, g.constant(TWO_PI)),
      s = travel(g, a, b, za, sa, sb);
    const wound = g.negate(g.multiply(p, g.apply('wrap', g.subtract(turn(g, a, b, xa, ya, xb), g.divide(s, p)))));
    // a thread without lead does not travel
    return [g.choose(g.zero, g.size(p), wound, s)];
  },
});

/** All of them. */
export const ELEMENTARY: readonly Elementary[] = [
  coincide,
  perpendicular,
  travelAlongAxis,
  turnAboutAxis,
  pointDistance,
  sameTwist,
  thread,
];
