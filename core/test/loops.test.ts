/** Equilibria of machines of two freedoms whose joints close loops, proved to be all: held against algebra, and bounds against what happens within them. */
import { Matrix, inverse } from 'ml-matrix';
import { describe, expect, it } from 'vitest';
import { type Mechanism, type Model, type RawElement, assemble } from '../src';
import { equilibria } from '../src/analyses';
import type { Cell } from '../src/solve/proof/cells';
import { opening } from '../src/solve/proof/loops';
import { anyMotion, extent, freedomCount, massTimes, move } from '../src/solve/reduced';
import { shapesOf } from '../src/solve/ways';
import { random } from './machines';
import { model, standing } from './models';

/** Guard of a run that goes through forty thousand cells. */
const LONG = 1_800_000;
const e = (list: object[]) => list as RawElement[];
type Place = readonly [number, number];
/** A machine of bars in a plane: of each its name, from where to where, and its mass in the middle. */
const bars = (list: readonly (readonly [string, string, string, number])[], at: Record<string, Place>) =>
  list.map(([name, from, to, mass]) => ({
    name,
    mass,
    centre: [0.5 * (at[from]![0] + at[to]![0]), 0.5 * (at[from]![1] + at[to]![1]), 0],
    inertia: [0.01, 0.02, 0.02],
  }));
const points = (at: Record<string, Place>) => Object.entries(at).map(([name, [x, y]]) => ({ name, at: [x, y, 0] }));
const gravity = { name: 'G', kind: 'gravity', acceleration: [0, -9.81, 0] };

const FIVE: Record<string, Place> = { A: [0, 0], B: [0.1, 0.3], C: [0.5, 0.6], D: [0.75, 0.25], E: [0.6, 0] };
const MASSES = [1, 1.2, 1.4, 1.6];
/** Four bars between two pins on the ground. */
const fiveBar = (loads: object[] = []): Model =>
  model('Five bars', {
    points: e(points(FIVE)),
    bodies: e(
      bars(
        [
          ['P', 'A', 'B', MASSES[0]!],
          ['Q', 'B', 'C', MASSES[1]!],
          ['R', 'C', 'D', MASSES[2]!],
          ['S', 'D', 'E', MASSES[3]!],
        ],
        FIVE,
      ),
    ),
    joints: e([
      ...[
        ['A', 'Ground', 'P'],
        ['B', 'P', 'Q'],
        ['C', 'Q', 'R'],
        ['D', 'R', 'S'],
        ['E', 'S', 'Ground'],
      ].map(([p, ...bodies]) => ({ name: `J${p}`, kind: 'revolute', bodies, at: [p] })),
    ]),
    loads: e([gravity, ...loads]),
  });
/** Two bars that hang, and from their end a rod to a bead on a slide with a spring. */
const tied = (second: number, loads: object[] = []): Model => {
  const at: Record<string, Place> = { O: [0, 0], P: [0.5, 0], Q: [0.5 + second, 0], S: [1, 0.6] };
  return model('Tied', {
    points: e(points(at)),
    bodies: e([
      ...bars(
        [
          ['B0', 'O', 'P', 1],
          ['B1', 'P', 'Q', 1],
        ],
        at,
      ),
      { name: 'Bead', mass: 2, centre: [1, 0.6, 0], inertia: [0.01, 0.01, 0.01] },
    ]),
    joints: e([
      { name: 'J0', kind: 'revolute', bodies: ['Ground', 'B0'], at: ['O'] },
      { name: 'J1', kind: 'revolute', bodies: ['B0', 'B1'], at: ['P'] },
      { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Bead'], at: ['S'], axis: [1, 0, 0] },
      { name: 'Rod', kind: 'distance', bodies: ['B1', 'Bead'], at: ['Q', 'S'] },
    ]),
    loads: e([gravity, { name: 'K', kind: 'joint-spring', joint: 'Slide', stiffness: 20 }, ...loads]),
  });
};
/** The bead is pushed as well, again and again otherwise on its way. */
const jumping = (): Model => ({
  ...tied(0.4, [
    { name: 'F', kind: 'force', body: 'Bead', at: 'S', direction: [1, 0, 0], magnitude: '40 N * step(0, sin({x} * 60 / (1 m)))' },
  ]),
  gauges: e([{ name: 'x', kind: 'joint', joint: 'Slide' }]),
});
/** Three bars that hang on each other, the turns of two of them bound to each other. */
const coupled = (): Model => {
  const at: Record<string, Place> = { O: [0, 0], P: [0.5, 0], Q: [1, 0], R: [1.5, 0] };
  return model('Coupled', {
    points: e(points(at)),
    bodies: e(
      bars(
        [
          ['B0', 'O', 'P', 1],
          ['B1', 'P', 'Q', 1],
          ['B2', 'Q', 'R', 1],
        ],
        at,
      ),
    ),
    joints: e(
      [
        ['O', 'Ground', 'B0'],
        ['P', 'B0', 'B1'],
        ['Q', 'B1', 'B2'],
      ].map(([p, ...bodies]) => ({ name: `J${p}`, kind: 'revolute', bodies, at: [p] })),
    ),
    couplings: e([{ name: 'C', kind: 'coupler', first: 'JP', second: 'JQ', ratio: 1 }]),
    loads: e([gravity]),
  });
};
const found = (of: Model) => {
  const { list, complete, diagnoses } = equilibria(standing(of), 0, 0);
  return { list, complete, said: diagnoses.map((d) => d.message).join() };
};

/** Places at which a function of two angles has no slope, from a grid of starts by Newton’s method; where it has no value it is no number. */
function flat(V: (a: number, b: number) => number, parts = 90): Place[] {
  const h = 1e-4,
    out: Place[] = [],
    turn = (x: number) => x - 2 * Math.PI * Math.round(x / (2 * Math.PI));
  for (let i = 0; i < parts; i++)
    for (let j = 0; j < parts; j++) {
      let [a, b] = [(2 * Math.PI * (i + 0.3)) / parts, (2 * Math.PI * (j + 0.7)) / parts];
      for (let k = 0; k < 30; k++) {
        const [p, q, r, s, here] = [V(a + h, b), V(a - h, b), V(a, b + h), V(a, b - h), V(a, b)],
          [fa, fb] = [(p - q) / (2 * h), (r - s) / (2 * h)],
          [faa, fbb] = [(p - 2 * here + q) / h / h, (r - 2 * here + s) / h / h],
          fab = (V(a + h, b + h) - V(a + h, b - h) - V(a - h, b + h) + V(a - h, b - h)) / (4 * h * h),
          det = faa * fbb - fab * fab,
          [x, y] = [(fa * fbb - fb * fab) / det, (fb * faa - fa * fab) / det],
          far = Math.hypot(x, y);
        if (!(far < Infinity)) break;
        const part = Math.min(1, 0.2 / far);
        [a, b] = [a - part * x, b - part * y];
        if (far < 1e-6) {
          if (!out.some(([c, d]) => Math.abs(turn(a - c)) + Math.abs(turn(b - d)) < 1e-3)) out.push([a, b]);
          break;
        }
      }
    }
  return out;
}
const between = ([x, y]: Place, [u, v]: Place): number => Math.hypot(u - x, v - y);
const out = ([x, y]: Place, far: number, angle: number): Place => [x + far * Math.cos(angle), y + far * Math.sin(angle)];
const L = [
  ['A', 'B'],
  ['B', 'C'],
  ['C', 'D'],
  ['D', 'E'],
].map(([a, b]) => between(FIVE[a!]!, FIVE[b!]!));
/** Energy of the five bars by the angles of both that turn on the ground, with the pin in the middle on one side of those beside it. */
const energyOfFive =
  (side: number) =>
  (a: number, b: number): number => {
    const [B, D] = [out(FIVE.A!, L[0]!, a), out(FIVE.E!, L[3]!, b)],
      d = between(B, D),
      x = (L[1]! ** 2 - L[2]! ** 2 + d * d) / (2 * d),
      y = side * Math.sqrt(L[1]! ** 2 - x * x),
      Cy = B[1] + (x * (D[1] - B[1]) + y * (D[0] - B[0])) / d,
      [P, Q, R, S] = [0.5 * B[1], 0.5 * (B[1] + Cy), 0.5 * (Cy + D[1]), 0.5 * D[1]];
    return 9.81 * (MASSES[0]! * P + MASSES[1]! * Q + MASSES[2]! * R + MASSES[3]! * S);
  };
describe('loops of two freedoms', () => {
  it(
    'five bars: as many equilibria as algebra has, with the middle pin above and below',
    () => {
      const { list, complete, said } = found(fiveBar()),
        known = [1, -1].flatMap((side) => flat(energyOfFive(side)).map(([a, b]) => energyOfFive(side)(a, b)));
      expect(said).toMatch(/JA, JB, JD and JE \(all the way round\), in whatever way its loops are put together: proved/);
      expect(complete).toBe(true);
      expect(known).toHaveLength(8);
      expect(list).toHaveLength(8);
      expect(list.filter((x) => x.stable)).toHaveLength(1);
      // energies are told from where they are in the model
      const off = list.map((x) => x.energy).sort((a, b) => a - b),
        least = known.sort((a, b) => a - b);
      off.forEach((x, k) => expect(Math.abs(x - off[0]! - (least[k]! - least[0]!))).toBeLessThan(1e-6));
    },
    LONG,
  );
  it.each<[string, () => Model, RegExp]>([
    ['bars that fold onto each other below the bead', () => tied(0.5), /a posture in which it may move in other ways/],
    [
      'a turn that is counted where a loop closes',
      () => fiveBar([{ name: 'K', kind: 'joint-spring', joint: 'JC', stiffness: 2 }]),
      /how often a joint turns that closes a loop/,
    ],
    [
      'friction',
      () => tied(0.4, [{ name: 'F', kind: 'joint-friction', joint: 'J0', static: 0.2, sliding: 0.1, radius: '10 mm' }]),
      /what sticks/,
    ],
    ['coupled joints', coupled, /joints are coupled/],
  ])('%s: said', (_, of, why) => expect(found(of()).said).toMatch(why));
});

interface Reference {
  readonly phi: readonly number[];
  readonly p: readonly number[];
}
/** Φ and what pushes coordinates F where the others follow, at coordinates σ of a machine whose loops are open; by differences and plain algebra. */
function reference(
  m: Mechanism,
  put: (σ: readonly number[]) => void,
  ways: Parameters<typeof shapesOf>[1],
  rows: readonly number[],
  F: readonly number[],
) {
  const { system } = m,
    phi = () => {
      system.residual(0);
      return rows.map((r) => system.phi[r]!);
    };
  return (σ: readonly number[]): Reference => {
    const n = σ.length,
      J = Matrix.zeros(rows.length, n);
    σ.forEach((_, j) => {
      const at = (h: number) => {
          put(σ.map((x, k) => (k === j ? x + h : x)));
          return phi();
        },
        [less, more] = [at(-1e-6), at(1e-6)];
      rows.forEach((_r, k) => J.set(k, j, (more[k]! - less[k]!) / 2e-6));
    });
    put(σ);
    const here = phi();
    system.linearise();
    system.accelerate(0);
    const force = new Float64Array(system.motions);
    massTimes(system, system.acceleration, force);
    const Q = shapesOf(m, ways)!.map((u) => u.reduce((s, x, i) => s + x * force[i]!, 0)),
      N = Matrix.zeros(n, n);
    for (let k = 0; k < rows.length; k++) for (let j = 0; j < n; j++) N.set(k, j, J.get(k, j));
    F.forEach((a, k) => N.set(rows.length + k, a, 1));
    const x = inverse(N).transpose().mmul(Matrix.columnVector(Q)).to1DArray();
    return { phi: here, p: x.slice(rows.length) };
  };
}

describe('cells of loops that are open', () => {
  it.each<[string, number, () => Model]>([
    [
      'two bars and a bead',
      7,
      () => tied(0.4, [{ name: 'D', kind: 'spring', bodies: ['B0', 'Bead'], at: ['P', 'S'], stiffness: 30, free: 0.3 }]),
    ],
    ['a bead that is pushed otherwise on one side than on the other', 0, jumping],
    ['five bars', 7, () => fiveBar()],
  ])('%s: keep where loops close, and bound what pushes and how it changes', (_, least, of) => {
    const m = standing(of()),
      { system, size } = m,
      next = random(7),
      y = new Float64Array(system.size);
    system.linearise();
    const opened = opening(m, 0, freedomCount(system));
    if (typeof opened === 'string') throw new Error(opened);
    const { loop, reaches, open } = opened,
      ways = reaches.map((r) => r.freedom),
      rows = loop.closing,
      n = ways.length,
      subsets = Array.from({ length: n }, (_x, a) => Array.from({ length: n - a - 1 }, (_y, b) => [a, a + b + 1])).flat();
    let looked = 0;
    for (let k = 0; k < 12; k++) {
      // somewhere where loops close
      open(false);
      system.K.load(y.some((x) => x !== 0) ? y : assemble(m).y);
      for (let s = 0; s < 4; s++) {
        system.linearise();
        const way = anyMotion(m, next);
        move(m, way, 0.4 / extent(system, way, size), 0);
      }
      system.K.store(y);
      const closed = loop.tree.of(),
        half = closed.map(() => 0.02 + 0.05 * Math.abs(next())),
        cell: Cell = { centre: closed.map((x, i) => x + 0.9 * half[i]! * next()), half };
      open(true);
      const left = loop.within(cell)!;
      left.centre.forEach((x, i) => expect(Math.abs(closed[i]! - x)).toBeLessThanOrEqual(left.half[i]! + 1e-9));
      const about = loop.about(left.centre, left.half),
        here = loop.at();
      if (!here) continue;
      looked++;
      // which of the coordinates lead
      const F = subsets.find((list) => {
        const { p } = reference(m, (σ) => loop.tree.put(σ), ways, rows, list)(left.centre);
        return p.every((x, i) => Math.abs(x - 0.5 * (here[rows.length + i]!.lo + here[rows.length + i]!.hi)) < 1e-5 * (1 + Math.abs(x)));
      })!;
      expect(F).toBeDefined();
      const at = reference(m, (σ) => loop.tree.put(σ), ways, rows, F);
      for (let s = 0; s < 6; s++) {
        const σ = left.centre.map((x, i) => x + left.half[i]! * next()),
          { p } = at(σ);
        p.forEach((x, i) => {
          const { lo, hi } = about.push[rows.length + i]!;
          expect(x).toBeGreaterThan(lo - 1e-5 * (1 + Math.abs(x)));
          expect(x).toBeLessThan(hi + 1e-5 * (1 + Math.abs(x)));
        });
        σ.forEach((_x, j) => {
          const [less, more] = [-1e-4, 1e-4].map((h) => at(σ.map((x, i) => (i === j ? x + h : x)))) as [Reference, Reference];
          [...more.phi.map((x, i) => x - less.phi[i]!), ...more.p.map((x, i) => x - less.p[i]!)].forEach((x, i) => {
            const by = x / 2e-4,
              { lo, hi } = about.slope[i]![j]!;
            expect(by).toBeGreaterThan(lo - 1e-3 * (1 + Math.abs(by)));
            expect(by).toBeLessThan(hi + 1e-3 * (1 + Math.abs(by)));
          });
        });
      }
    }
    expect(looked).toBeGreaterThanOrEqual(least);
  });
});
