/** Bounds that hold: functions of intervals, equations of machines of every kind within them; and equilibria that are proved to be all. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, Refusal, assemble, build } from '../src';
import { equilibria } from '../src/analyses';
import { BY_INDEX } from '../src/expressions/functions';
import { Enclosed } from '../src/expressions/enclosed';
import { Graph } from '../src/expressions/graph';
import { Table } from '../src/formula/table';
import { boundsOf } from '../src/formula/table-bounds';
import { kindsOf } from '../src/model/kinds';
import { D } from '../src/quantity/dimension';
import { around } from '../src/solve/proof/around';
import { Near } from '../src/solve/proof/near';
import { Tree } from '../src/solve/proof/tree';
import { freedomCount, massTimes, move } from '../src/solve/reduced';
import { balance } from '../src/solve/statics';
import { shapesOf, waysOf } from '../src/solve/ways';
import { type Bounds, EquationBounds, notBounded } from '../src/system/tangent/equation-bounds';
import { Tangent } from '../src/system/tangent/tangent';
import { oneJoint } from './every-joint';
import { LOADS, loaded } from './every-load';
import { MACHINES, random } from './machines';
import { model, sliderCrank, standing } from './models';
import { randomMachine } from './random-machines';

const e = (list: object[]) => list as RawElement[];

describe('functions of intervals', () => {
  const number = fc.double({ min: -8, max: 8, noNaN: true }),
    ends = fc.tuple(number, number).map(([a, b]) => [Math.min(a, b), Math.max(a, b)] as const);
  it.each(BY_INDEX.map((f) => [f.name, f] as const))('%s comes to nothing beyond its bounds, and at a point these meet', (name, f) => {
    const g = new Graph(),
      x = g.apply(name, g.load(0, 0), ...(f.args === 2 ? [g.load(0, 1)] : [])),
      of = new Enclosed(g, [x]),
      at = of.at(x),
      within = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(ends, ends, within, within, ([a, b], [c, d], s, t) => {
        const [u, v] = [a + s * (b - a), c + t * (d - c)],
          value = f.at(Math.min(b, Math.max(a, u)), Math.min(d, Math.max(c, v)));
        of.evaluate(Float64Array.of(a, c), Float64Array.of(b, d), [0]);
        if (Number.isNaN(value)) return;
        expect(of.lo[at]!).toBeLessThanOrEqual(value);
        expect(of.hi[at]!).toBeGreaterThanOrEqual(value);
        of.evaluate(Float64Array.of(u, v), Float64Array.of(u, v), [0]);
        const here = f.at(u, v);
        if (!of.jumps && Number.isFinite(here) && Number.isFinite(of.hi[at]!))
          expect(of.hi[at]! - of.lo[at]!).toBeLessThan(1e-12 * (1 + Math.abs(here)));
      }),
      { numRuns: 300 },
    );
  });
  it('an angle that counts whole turns does not jump where its direction does; one that does not, does', () => {
    const g = new Graph(),
      [y, x, z] = [0, 1, 2].map((k) => g.load(0, k)) as [number, number, number],
      angle = g.apply('atan2', y, x),
      turn = g.constant(2 * Math.PI),
      counted = g.add(angle, g.multiply(turn, g.apply('floor', g.add(g.divide(g.subtract(z, angle), turn), g.constant(0.5))))),
      [plain, whole] = [new Enclosed(g, [angle]), new Enclosed(g, [counted])],
      [lo, hi] = [Float64Array.of(-0.1, -1, 3.1), Float64Array.of(0.1, -0.9, 3.1)];
    plain.evaluate(lo, hi, [0]);
    whole.evaluate(lo, hi, [0]);
    expect([plain.jumps, whole.jumps]).toEqual([true, false]);
    expect(whole.lo[whole.at(counted)]).toBeCloseTo(Math.PI - Math.atan(0.1 / 0.9), 9);
    expect(whole.hi[whole.at(counted)]).toBeCloseTo(Math.PI + Math.atan(0.1 / 0.9), 9);
    expect(plain.hi[plain.at(angle)]! - plain.lo[plain.at(angle)]!).toBeGreaterThan(6);
  });
});

describe('bounds of tables', () => {
  const points = fc.array(fc.tuple(fc.double({ min: 0.05, max: 1, noNaN: true }), fc.double({ min: -3, max: 3, noNaN: true })), {
    minLength: 2,
    maxLength: 7,
  });
  it.each(['linear', 'monotone', 'akima'] as const)('%s: value, slope and curvature lie within, whatever is beyond the ends', (between) => {
    fc.assert(
      fc.property(
        points,
        fc.constantFrom('hold', 'extend', 'repeat' as const),
        fc.double({ min: -6, max: 6, noNaN: true }),
        fc.double({ min: 0, max: 4, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (list, beyond, lo, wide, part) => {
          let at = -1;
          const x = Float64Array.from(list, ([step]) => (at += step)),
            y = Float64Array.from(list, ([, value]) => value);
          if (beyond === 'repeat') y[y.length - 1] = y[0]!;
          const table = new Table(x, y, between, beyond as 'hold', [D.none, D.none]),
            out = { lo: new Float64Array(3), hi: new Float64Array(3) },
            u = lo + part * wide,
            { f, f1, f2 } = table.at(u);
          boundsOf(table, lo, lo + wide, out);
          [f, f1, f2].forEach((value, k) => {
            expect(out.lo[k]!).toBeLessThanOrEqual(value);
            expect(out.hi[k]!).toBeGreaterThanOrEqual(value);
          });
          boundsOf(table, u, u, out);
          expect(out.hi[0]! - out.lo[0]!).toBeLessThan(1e-9);
        },
      ),
      { numRuns: 500 },
    );
  });
});

/** The middle of bounds as a matrix of so many columns. */
function dense({ row, column, lo, hi }: Bounds, rows: number, columns: number): Float64Array[] {
  const out = Array.from({ length: rows }, () => new Float64Array(columns));
  row.forEach((r, k) => (out[r]![column[k]!] = out[r]![column[k]!]! + 0.5 * (lo[k]! + hi[k]!)));
  return out;
}
const largest = (list: readonly Float64Array[]): number => list.reduce((most, r) => r.reduce((x, v) => Math.max(x, Math.abs(v)), most), 0);

/** Bounds of a machine at a posture beside its own, and within some way of it. */
function looked(of: Model, seed: number): void {
  const m = standing(of),
    { system, size } = m,
    { K, motions, rows } = system;
  if (notBounded(system) !== undefined) return;
  const next = random(seed),
    step = Float64Array.from({ length: motions }, (_, i) => 0.02 * next() * (i % 6 < 3 ? size : 1)),
    bounds = new EquationBounds(system),
    own = K.r.slice(),
    near = new Near(system, bounds),
    y = new Float64Array(system.size);
  K.store(y);
  K.displace(step, 1);
  for (const c of m.counters) if (c.states > 0) K.z[c.first] = c.value(K);
  K.store(y);
  system.accelerate(0);
  // what has mass between bodies carries nothing at rest
  for (const { constraints } of system.groups)
    for (const c of constraints) for (let k = 0; k < c.rows; k++) system.multipliers[c.row + k] = c.inertia === undefined ? 10 * next() : 0;

  // a point: loads, how they and what joints carry change, and rows, each known otherwise
  const z = around(motions);
  near.of(z.mid);
  for (let i = 0; i < motions; i++) expect(Math.abs(z.mid[i]! - step[i]!)).toBeLessThan(1e-3 * (Math.abs(step[i]!) + 0.02));
  expect(own.some((x, i) => x !== K.r[i]) || step.every((x) => x === 0)).toBe(true);
  bounds.take();
  near.put(z);
  for (const [at, value] of [
    [bounds.placeOf(0), K.r],
    [bounds.turnOf(0), K.A],
  ] as const)
    for (let k = 0; k < (value === K.r ? 3 : 9) * system.bodies; k++) {
      expect(bounds.hi[at + k]! - value[k]!).toBeGreaterThan(-1e-14 * (1 + size));
      expect(value[k]! - bounds.lo[at + k]!).toBeGreaterThan(-1e-14 * (1 + size));
      expect(bounds.hi[at + k]! - bounds.lo[at + k]!).toBeLessThan(1e-13 * (1 + size));
    }
  bounds.look();
  bounds.bending();
  const f = dense(bounds.f, motions, 1).map((r) => r[0]!),
    F = new Float64Array(6 * (system.bodies + 1));
  for (const { force } of m.assembly.forces) force.apply(K, 0, F);
  // of code that is no expression nothing is known
  if (f.some((x) => !Number.isFinite(x))) return void expect(bounds.jumps).toBe(true);
  f.forEach((x, i) => expect(Math.abs(x - F[i]!)).toBeLessThan(1e-9 * (1 + largest([F]))));
  const tangent = new Tangent(system),
    bent = dense(bounds.K, motions, motions),
    known = Array.from({ length: motions + rows }, () => new Float64Array(motions)),
    { row, column, at } = tangent.entries.posture;
  tangent.look();
  at.forEach((place, k) => (known[row[k]!]![column[k]!] = known[row[k]!]![column[k]!]! + tangent.values[place]!));
  const scale = 1 + largest(known.slice(0, motions));
  // loads that do no work are left out
  if (system.forces.every((x) => !x.workless))
    bent.forEach((r, i) => r.forEach((x, j) => expect(Math.abs(x - known[i]![j]!)).toBeLessThan(1e-9 * scale)));
  const G = dense(bounds.G, rows, motions),
    way = Float64Array.from({ length: motions }, (_, i) => next() * (i % 6 < 3 ? size : 1)),
    phi = (h: number) => {
      K.load(y);
      K.displace(way, h);
      system.residual(0);
      return system.phi.slice();
    },
    [less, more] = [phi(-1e-6), phi(1e-6)];
  K.load(y);
  G.forEach((r, i) => {
    const rate = r.reduce((s, x, j) => s + x * way[j]!, 0);
    if (bounds.G.row.includes(i)) expect(Math.abs(rate - (more[i]! - less[i]!) / 2e-6)).toBeLessThan(1e-7 * (1 + Math.abs(rate)));
  });

  // within some way of where it was all of that lies between bounds
  const wide = { mid: new Float64Array(motions), rad: z.mid.map((x) => 1.001 * Math.abs(x) + 1e-12) },
    points = [bounds.G, bounds.f, bounds.K].map(({ lo, hi }) => [lo.slice(), hi.slice()] as const);
  near.put(wide);
  bounds.look();
  bounds.bending();
  [bounds.G, bounds.f, bounds.K].forEach(({ lo, hi }, n) => {
    const [low, high] = points[n]!;
    lo.forEach((x, k) => {
      const rounding = 1e-9 * (1 + Math.abs(low[k]!));
      expect(x).toBeLessThanOrEqual(low[k]! + rounding);
      expect(hi[k]!).toBeGreaterThanOrEqual(high[k]! - rounding);
    });
  });
}

describe('bounds of equations agree with these at a point, and hold all about it', () => {
  const SEEDS = [1, 2];
  it.each(MACHINES)('%s', (_, of) => SEEDS.forEach((seed) => looked(of(), seed)));
  it.each(kindsOf('joints').map((k) => k.kind))('joint: %s', (kind) =>
    SEEDS.forEach((seed) => looked(oneJoint(kind, [0.6, 0, 0.8]), seed)),
  );
  it.each(Object.entries(LOADS).flatMap(([kind, list]) => list.map((load, i) => [`${kind} ${i + 1}`, { kind, ...load }] as const)))(
    'load: %s',
    (_, load) => SEEDS.forEach((seed) => looked(loaded(load), seed)),
  );
});

/** Bars that hang on each other. */
const hanging = (n: number, loads: object[] = []): Model =>
  model('Bars', {
    points: e(Array.from({ length: n }, (_, k) => ({ name: `P${k}`, at: [0.5 * k, 0, 0] }))),
    bodies: e(
      Array.from({ length: n }, (_, k) => ({
        name: `B${k}`,
        mass: 1 + 0.3 * k,
        centre: [0.5 * k + 0.3, 0, 0],
        inertia: [0.01, 0.05, 0.05],
      })),
    ),
    joints: e(
      Array.from({ length: n }, (_, k) => ({
        name: `J${k}`,
        kind: 'revolute',
        bodies: [k ? `B${k - 1}` : 'Ground', `B${k}`],
        at: [`P${k}`],
      })),
    ),
    loads: e([{ name: 'G', kind: 'gravity', acceleration: [0, -9.81, 0] }, ...loads]),
  });
const found = (of: Model) => {
  const { list, complete, diagnoses } = equilibria(standing(of), 0, 0);
  return { list, complete, said: diagnoses.map((d) => d.message).join() };
};
/** How often something changes sign over a range that is looked at closely. */
function changes(f: (x: number) => number, from: number, to: number, parts = 40_000): number {
  let count = 0,
    last = f(from + 1e-7);
  for (let k = 1; k <= parts; k++) {
    const next = f(from + 1e-7 + ((to - from) * k) / parts);
    if (last * next < 0) count++;
    last = next;
  }
  return count;
}

describe('screws', () => {
  it('push as the machine does, and change as differences say (two bars and a slide, at random)', () => {
    const of = hanging(2, [{ name: 'K', kind: 'joint-spring', joint: 'J1', stiffness: 4, rest: 0.3 }]),
      slide = {
        ...of,
        joints: e([of.joints[0]!, { ...of.joints[1]!, kind: 'cylindrical', axis: [0, 0.6, 0.8] }]),
        loads: e([of.loads[0]!, { name: 'K', kind: 'spring', bodies: ['Ground', 'B1'], at: ['P0', 'P1'], stiffness: 30, free: 0.2 }]),
      };
    for (const [machine, d] of [
      [of, 2],
      [slide, 3],
    ] as const) {
      const m = standing(machine),
        { system } = m;
      system.linearise();
      const ways = waysOf(m, d)!,
        shapes = shapesOf(m, ways)!,
        tree = new Tree(m, 0, ways, shapes),
        next = random(5),
        push = (σ: readonly number[]) => {
          tree.put(σ);
          system.linearise();
          system.accelerate(0);
          const force = new Float64Array(system.motions);
          massTimes(system, system.acceleration, force);
          return shapesOf(m, ways)!.map((u) => u.reduce((s, x, i) => s + x * force[i]!, 0));
        };
      for (let k = 0; k < 8; k++) {
        const σ = ways.map((f) => (f.type === 'rotation' ? 3 : 0.4) * next()),
          half = σ.map(() => 1e-4),
          here = tree.at(σ),
          { slope, push: near } = tree.about(σ, half);
        push(σ).forEach((p, i) => {
          expect(Math.abs(p - 0.5 * (here[i]!.lo + here[i]!.hi))).toBeLessThan(1e-9 * (1 + Math.abs(p)));
          expect(near[i]!.lo).toBeLessThan(p);
          expect(near[i]!.hi).toBeGreaterThan(p);
        });
        σ.forEach((_, j) => {
          const at = (h: number) => push(σ.map((x, i) => (i === j ? x + h : x))),
            [less, more] = [at(-1e-5), at(1e-5)];
          more.forEach((x, i) => {
            const by = (x - less[i]!) / 2e-5;
            expect(by).toBeGreaterThan(slope[i]![j]!.lo - 1e-6 * (1 + Math.abs(by)));
            expect(by).toBeLessThan(slope[i]![j]!.hi + 1e-6 * (1 + Math.abs(by)));
            expect(slope[i]![j]!.hi - slope[i]![j]!.lo).toBeLessThan(0.2 * (1 + Math.abs(by)));
          });
        });
      }
    }
  });
});

/** Of these machines it is proved. */
const SEEDED = [
  ...[18, 22, 24, 45, 49, 51, 82].map((seed) => [seed, 'open'] as const),
  ...[18, 24, 37, 41, 45, 51, 94, 96, 109].map((seed) => [seed, 'driven'] as const),
];

describe('equilibria that are proved to be all', () => {
  const weight = 9.81 * 0.3;
  it('of a weight on a spring that is wound up: as many as its torque has zeros', () => {
    const k = 0.2,
      { list, complete, said } = found(hanging(1, [{ name: 'K', kind: 'joint-spring', joint: 'J0', stiffness: k }])),
      torque = (q: number) => -weight * Math.cos(q) - k * q;
    expect(complete).toBe(true);
    expect(said).toMatch(/up to 20 rad.+proved/);
    expect(list).toHaveLength(changes(torque, -20, 20));
  });
  it.each([0.25, 0.2, 0.17])('of a slider-crank with a spring at its slider, round its loop (at rest at %d m)', (rest) => {
    const plain = sliderCrank(),
      [r, l] = [0.05, 0.2],
      { list, complete, said } = found({
        ...plain,
        drives: [],
        loads: e([
          { name: 'G', kind: 'gravity', acceleration: [0, -9.81, 0] },
          { name: 'K', kind: 'spring', bodies: ['Ground', 'Slider'], at: ['Axle', 'Slide pin'], stiffness: 400, free: rest },
        ]),
      }),
      energy = (q: number) => {
        const y = r * Math.sin(q),
          x = r * Math.cos(q) + Math.sqrt(l * l - y * y);
        return 9.81 * y * (1.2 / 2 + 0.8 * 0.6) + 200 * (x - rest) * (x - rest);
      };
    expect(complete).toBe(true);
    expect(said).toMatch(/on the whole way round/);
    expect(list).toHaveLength(changes((q) => energy(q + 1e-4) - energy(q - 1e-4), 0, 2 * Math.PI));
    expect(list.filter((x) => x.stable)).toHaveLength(list.length / 2);
  });
  it('of a bead that a table pushes by where it is', () => {
    const data = [
        [-0.4, 60],
        [-0.2, -10],
        [0, 5],
        [0.1, -35],
        [0.3, 20],
        [0.5, -80],
      ],
      table = new Table(
        Float64Array.from(data, (r) => r[0]!),
        Float64Array.from(data, (r) => r[1]!),
        'akima',
        'extend',
        [D.none, D.none],
      ),
      of = model('Tabled', {
        tables: e([{ name: 'Curve', from: 'm', to: 'N', data, between: 'akima', beyond: 'extend' }]),
        points: e([{ name: 'O' }, { name: 'Far', at: [0.5, 0, 0] }, { name: 'Hook', body: 'Bead' }]),
        bodies: e([{ name: 'Bead', mass: 1, inertia: [0.1, 0.1, 0.1] }]),
        joints: e([{ name: 'S', kind: 'prismatic', bodies: ['Ground', 'Bead'], at: ['O'], axis: [1, 0, 0] }]),
        gauges: e([{ name: 'x', kind: 'joint', joint: 'S' }]),
        loads: e([{ name: 'F', kind: 'force', body: 'Bead', at: 'Hook', direction: [1, 0, 0], magnitude: 'Curve({x})' }]),
      }),
      { list, complete } = found(of);
    expect(complete).toBe(true);
    expect(list).toHaveLength(changes((x) => table.at(x).f, -9, 9));
    for (const { y } of list) expect(Math.abs(table.at(y[0]!).f)).toBeLessThan(1e-6);
  });
  it('of a pair of gears with a weight on one of them, hanging and standing, whatever the teeth press with', () => {
    const of = model('Gears', {
        points: e([{ name: 'O' }, { name: 'P', at: [0.3, 0, 0] }]),
        bodies: e([
          { name: 'Pinion', mass: 1, inertia: [0.01, 0.01, 0.01] },
          { name: 'Wheel', origin: 'P', mass: 2, centre: [0.05, 0, 0], inertia: [0.05, 0.05, 0.05] },
        ]),
        joints: e([
          { name: 'A', kind: 'revolute', bodies: ['Ground', 'Pinion'], at: ['O'] },
          { name: 'B', kind: 'revolute', bodies: ['Ground', 'Wheel'], at: ['P'] },
        ]),
        couplings: e([{ name: 'Mesh', kind: 'gear-pair', joints: ['A', 'B'], teeth: 17, otherTeeth: 34, pressure: '20 deg' }]),
        loads: e([{ name: 'G', kind: 'gravity', acceleration: [0, -9.81, 0] }]),
      }),
      { list, complete, said } = found(of);
    expect(complete).toBe(true);
    expect(said).toMatch(/on the whole way round/);
    expect(list.map((x) => x.stable)).toEqual([true, false]);
  });
  it('of three bars that hang on each other: eight, of which one is stable', () => {
    const { list, complete } = found(hanging(3));
    expect(complete).toBe(true);
    expect(list).toHaveLength(8);
    expect(list.filter((x) => x.stable)).toHaveLength(1);
  });
  it('where there are none that is proved too', () => {
    const of = hanging(1, [{ name: 'T', kind: 'torque', body: 'B0', magnitude: 5 }]);
    expect(() => found(of)).toThrow(/There is no equilibrium on the whole way round: proved/);
  });
  it.each<[string, Model, RegExp]>([
    [
      'a push that touches zero and does not pass it',
      hanging(1, [{ name: 'T', kind: 'torque', body: 'B0', magnitude: weight }]),
      /cannot be told from nothing/,
    ],
    ['friction', hanging(1, [{ name: 'F', kind: 'joint-friction', joint: 'J0', static: 0.2, sliding: 0.1, radius: '10 mm' }]), /friction/],
  ])('is not claimed of %s', (_, of, why) => {
    const { complete, said } = found(of);
    expect(complete).toBe(false);
    expect(said).toMatch(why);
  });
  it('beside them none shows, wherever a machine is let go from (machines made at random)', () => {
    let proved = 0;
    for (const [seed, sort] of SEEDED) {
      const plain = randomMachine(seed, sort),
        m = build({
          ...plain,
          drives: [],
          starts: [],
          loads: plain.loads.filter((l) => l.kind !== 'joint-friction' && l.kind !== 'joint-stop'),
        }).mechanism;
      if (!m) continue;
      const { system, size } = m,
        { K } = system,
        { y } = assemble(m);
      system.standing(true);
      system.linearise();
      const d = freedomCount(system),
        ways = d > 0 && d < 3 ? waysOf(m, d) : undefined;
      if (!ways) continue;
      let all: ReturnType<typeof equilibria>;
      try {
        all = equilibria(m, 0, 0);
      } catch (error) {
        expect(error).toBeInstanceOf(Refusal);
        continue;
      }
      if (!all.complete) continue;
      proved++;
      const places = (state: Float64Array) => {
          K.load(state);
          return [...K.r, ...Array.from(K.A, (x) => x * size)];
        },
        known = all.list.map((x) => places(x.y)),
        next = random(seed + 1);
      K.load(y);
      const from = ways.map((f) => f.value(K));
      for (let s = 0; s < 6; s++) {
        K.load(y);
        K.rest();
        for (let k = 0; k < 8; k++) {
          system.linearise();
          const shapes = shapesOf(m, ways)!;
          shapes.forEach((u, i) => move(m, u, (ways[i]!.type === 'rotation' ? 0.5 : 0.3 * size) * next(), 0));
        }
        let other: Float64Array;
        try {
          const e = balance(m, 0, s % 2 === 1);
          if (e.neutral.length > 0) continue;
          other = e.y;
        } catch (error) {
          expect(error).toBeInstanceOf(Refusal);
          continue;
        }
        const there = places(other);
        // slides are looked at so far
        if (ways.some((f, i) => f.type !== 'rotation' && Math.abs(f.value(K) - from[i]!) > 3 * size)) continue;
        if (m.counters.some((c) => c.states > 0 && Math.abs(K.z[c.first]!) > 6)) continue;
        expect(
          known.some((x) => x.every((v, i) => Math.abs(v - there[i]!) < 1e-4 * size)),
          `seed ${seed}`,
        ).toBe(true);
      }
    }
    expect(proved).toBe(SEEDED.length);
  });
});
