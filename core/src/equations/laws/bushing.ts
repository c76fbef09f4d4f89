/**
 * An elastic connection between two frames, right for large rotation: with d the displacement of b's frame in a's axes and φ the rotation vector from a's
 * frame to b's, it stores an energy E(d, φ), and what pushes the bodies is its exact gradient. Damping acts on ḋ and on ω, the angular velocity of b's frame
 * seen from a's, in axes of b's.
 */
import type { Ex } from '../../expressions/arithmetic';
import { Direction } from '../../expressions/derivative';
import type { Graph } from '../../expressions/graph';
import { type VectorEx, cross, dot, minus } from '../../expressions/vectors';
import type { Table } from '../../formula/table';
import { type BodyEx, direction, moving, place, seenFrom, spin } from '../stated/body';
import { linear, tabled } from './elastic';
import { type Does, type ForceLaw, forceLaw } from './law';

/** Energy of six deflections (three shifts, m, and a rotation vector, rad), and the six efforts by which their rates are damped. */
interface SixLaw<N extends Readonly<Record<string, 'number'>>> {
  readonly numbers: N;
  energy(g: Graph, x: readonly Ex[], n: Readonly<Record<keyof N, Ex>>): Ex;
  damping(g: Graph, rates: readonly Ex[], n: Readonly<Record<keyof N, Ex>>): readonly Ex[];
}

/** A frame in each of two bodies: its place relative to the centre of mass, m, and its axes. */
export const FRAMES = {
  sa: 'vector',
  xa: 'vector',
  ya: 'vector',
  za: 'vector',
  sb: 'vector',
  xb: 'vector',
  yb: 'vector',
  zb: 'vector',
} as const;
/** Below this sine of the angle a rotation vector is its own sine. */
const SMALL = 1e-9;

/** Rotation vector between two frames of unit vectors, in axes of either. */
function rotationVector(g: Graph, a: readonly VectorEx[], b: readonly VectorEx[]): VectorEx {
  const half = g.constant(0.5),
    entry = (i: number, j: number) => dot(g, a[i]!, b[j]!),
    skew = (
      [
        [2, 1],
        [0, 2],
        [1, 0],
      ] as const
    ).map(([i, j]) => g.multiply(half, g.subtract(entry(i, j), entry(j, i)))) as unknown as VectorEx,
    trace = g.add(g.add(entry(0, 0), entry(1, 1)), entry(2, 2)),
    sine = g.root(dot(g, skew, skew)),
    angle = g.apply('atan2', sine, g.multiply(half, g.subtract(trace, g.one)));
  return skew.map((x) => g.choose(g.constant(SMALL), sine, g.multiply(g.divide(angle, sine), x), x)) as unknown as VectorEx;
}

/** Two frames as seen from each other. */
export interface Between {
  /** Their axes, and from the place of the first to that of the second; ground axes. */
  readonly inA: readonly VectorEx[];
  readonly inB: readonly VectorEx[];
  readonly gap: VectorEx;
  /** How anything changes with time. */
  readonly all: Direction;
  /** Three shifts along the first's axes, m, and three of a rotation vector, rad; and rates, the last three about the second's axes. */
  readonly deflections: readonly Ex[];
  readonly rates: readonly Ex[];
  /** What is told of them. */
  readonly tells: NonNullable<Does['tells']>;
}

/** @param n the numbers of both frames */
export function between(g: Graph, [a, b]: readonly [BodyEx, BodyEx], n: Readonly<Record<keyof typeof FRAMES, VectorEx>>): Between {
  const axes = (body: BodyEx, list: readonly VectorEx[]) => list.map((u) => direction(g, body, u)),
    inA = axes(a, [n.xa, n.ya, n.za]),
    inB = axes(b, [n.xb, n.yb, n.zb]),
    gap = minus(g, place(g, b, n.sb), place(g, a, n.sa)),
    shift = inA.map((u) => dot(g, u, gap)),
    all = new Direction(g, new Map([a, b].flatMap((x) => moving(g, x, x.v, x.w)))),
    turning = minus(g, spin(g, b), spin(g, a)),
    rates = [...shift.map((x) => all.of(x)), ...inB.map((u) => dot(g, u, turning))],
    deflections = [...shift, ...rotationVector(g, inA, inB)];
  return {
    ...{ inA, inB, gap, all, deflections, rates },
    tells(pushes) {
      // on b: its force along a's axes, and its moment about b's place along b's
      const force = pushes[1]!.slice(0, 3) as unknown as VectorEx,
        about = pushes[1]!.slice(3) as unknown as VectorEx,
        moment = minus(g, about, cross(g, n.sb, seenFrom(g, b, force)));
      return {
        effort: [...inA.map((u) => dot(g, u, force)), ...[n.xb, n.yb, n.zb].map((u) => dot(g, u, moment))],
        deflection: deflections,
        rate: rates,
      };
    },
  };
}

function bushing<N extends Readonly<Record<string, 'number'>>>(name: string, six: SixLaw<N>): ForceLaw {
  return forceLaw({
    name,
    bodies: 2,
    numbers: { ...FRAMES, ...six.numbers },
    inputs: 0,
    does(g, [a, b], n) {
      const { deflections, rates, tells } = between(g, [a!, b!], n as never),
        own = n as unknown as Readonly<Record<keyof N, Ex>>;
      return {
        potential: six.energy(g, deflections, own),
        works: six.damping(g, rates, own).map((c, k) => [g.negate(c), rates[k]!] as const),
        tells,
      };
    },
  });
}

const numbered = (...of: readonly (readonly [string, number])[]) =>
  Object.fromEntries(of.flatMap(([name, count]) => Array.from({ length: count }, (_, k) => [`${name}${k}`, 'number' as const])));
const SIX = [0, 1, 2, 3, 4, 5];
const sum = (g: Graph, list: readonly Ex[]): Ex => list.reduce((x, y) => g.add(x, y), g.zero);

const known = new Map<string, ForceLaw>();
const keys = new WeakMap<Table, number>();
let tables = 0;
const keyOf = (table: Table | undefined): number => {
  if (!table) return 0;
  if (!keys.has(table)) keys.set(table, ++tables);
  return keys.get(table)!;
};
/**
 * Direction by direction: a stiffness with a preload, or a table. Numbers: six stiffnesses, six preloads, six dampings.
 * @param curves a table of each direction that has one
 */
export function sixSprings(curves: readonly (Table | undefined)[]): ForceLaw {
  const key = curves.map(keyOf).join(),
    law =
      known.get(key) ??
      bushing('bushing', {
        numbers: numbered(['k', 6], ['p', 6], ['c', 6]),
        energy: (g, x, n) =>
          sum(
            g,
            SIX.map((k) => {
              const curve = curves[k];
              return (curve ? tabled(curve, n[`p${k}`]!) : linear(n[`k${k}`]!, n[`p${k}`]!)).energy(g, x[k]!);
            }),
          ),
        damping: (g, rates, n) => SIX.map((k) => g.multiply(n[`c${k}`]!, rates[k]!)),
      });
  // laws with tables go when these go
  if (!curves.some(Boolean)) known.set(key, law);
  return law;
}

/** E = ½ (x − x₀)ᵀ K (x − x₀), with K symmetric; damping by a matrix C. Numbers: K row by row, C row by row, x₀. */
export const sixMatrix = bushing('stiffness field', {
  numbers: numbered(['k', 36], ['c', 36], ['r', 6]),
  energy(g, x, n) {
    const d = SIX.map((k) => g.subtract(x[k]!, n[`r${k}`]!)),
      pull = SIX.map((i) =>
        sum(
          g,
          SIX.map((j) => g.multiply(n[`k${6 * i + j}`]!, d[j]!)),
        ),
      );
    return g.multiply(
      g.constant(0.5),
      sum(
        g,
        SIX.map((i) => g.multiply(d[i]!, pull[i]!)),
      ),
    );
  },
  damping: (g, rates, n) =>
    SIX.map((i) =>
      sum(
        g,
        SIX.map((j) => g.multiply(n[`c${6 * i + j}`]!, rates[j]!)),
      ),
    ),
});

/** What readings of a bushing mean. */
export const BUSHING_READINGS = {
  turns: (part: number): boolean => part >= 3,
  positive: {
    effort:
      'Acts on the second body, positive along the bushing’s axes: forces along those fixed in the first body, moments about those fixed in the second.',
    deflection: 'Where the second body stands from the first, along and about the bushing’s axes.',
  },
};
