/** Expressions: what is folded, derivatives against differences, and compiled code against plain evaluation, to the last bit. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Ex } from '../src/expressions/arithmetic';
import { Direction } from '../src/expressions/derivative';
import { Gradient } from '../src/expressions/gradient';
import { BY_INDEX, FUNCTIONS, type FunctionName } from '../src/expressions/functions';
import { Graph, OP, type Outside } from '../src/expressions/graph';
import { plainKernel } from '../src/expressions/plain';
import { compileKernel } from '../src/kernel/compile';
import { KernelMemory } from '../src/kernel/memory';

/** Values of expressions of the numbers x. */
function values(g: Graph, list: readonly Ex[], x: readonly number[]): number[] {
  const memory = new Float64Array(x.length + list.length);
  memory.set(x);
  plainKernel(
    g,
    list.map((e, i) => ({ base: 1, offset: i, x: e })),
    memory,
  )(0, x.length);
  return [...memory.subarray(x.length)];
}

/** A product x·y with x² beside it, as code that is no expression: two values of two arguments. */
const outside: Outside = {
  name: 'product',
  args: 2,
  values: 2,
  at(m, at, out, to) {
    const x = m[at]!,
      y = m[at + 1]!;
    out.set([x * y, y, x, 0, 1, 1, 0, x * x * x, 3 * x * x, 0, 6 * x, 0, 0, 0], to);
  },
};

const LOADS = 5;
type Step = { op: number; a: number; b: number; c: number; d: number };
const step = fc.record({ op: fc.nat(16), a: fc.nat(), b: fc.nat(), c: fc.nat(), d: fc.nat() });
const NAMES = Object.keys(FUNCTIONS) as FunctionName[];
/** Smooth everywhere. */
const SAFE: readonly FunctionName[] = ['sin', 'cos', 'atan'];

/** A random graph over five loads; its last nodes. @param smooth only what has derivatives everywhere */
function random(steps: readonly Step[], smooth: boolean): { g: Graph; x: Ex[]; last: Ex[] } {
  const g = new Graph(),
    x = Array.from({ length: LOADS }, (_, i) => g.load(0, i)),
    made: Ex[] = [...x, g.constant(0.5), g.constant(-2)];
  const pick = (k: number) => made[k % made.length]!;
  for (const { op, a, b, c, d } of steps) {
    const [p, q, r, s] = [pick(a), pick(b), pick(c), pick(d)];
    const names = smooth ? SAFE : NAMES;
    const next = [
      () => g.add(p, q),
      () => g.subtract(p, q),
      () => g.multiply(p, q),
      () => g.divide(p, smooth ? g.add(g.constant(2), g.square(q)) : q),
      () => g.negate(p),
      () => g.root(g.add(g.one, g.square(p))),
      () => g.apply(names[b % names.length]!, p, BY_INDEX[FUNCTIONS[names[b % names.length]!].index]!.args === 2 ? q : undefined),
      () => g.call(outside, [p, q])[b % 7]!,
      () => g.choose(p, q, r, s),
      () => g.least(p, q),
      () => g.most(p, q),
      () => g.size(p),
    ];
    made.push(next[op % (smooth ? 8 : 12)]!());
  }
  return { g, x, last: made.slice(-4) };
}
const number = fc.double({ min: -2, max: 2, noNaN: true });
const point = fc.array(number, { minLength: LOADS, maxLength: LOADS });

describe('what is folded', () => {
  const g = new Graph(),
    x = g.load(0, 0),
    y = g.load(0, 1);
  it('equal expressions are one, whichever way round sums and products are written', () => {
    expect(g.add(x, y)).toBe(g.add(y, x));
    expect(g.multiply(g.subtract(x, y), y)).toBe(g.multiply(y, g.subtract(x, y)));
    expect(g.apply('sin', x)).toBe(g.apply('sin', x));
    expect(g.call(outside, [x, y])).toEqual(g.call(outside, [x, y]));
  });
  it('zeros, ones and signs vanish', () => {
    for (const e of [g.multiply(g.zero, x), g.subtract(x, x), g.add(x, g.negate(x))]) expect(e).toBe(g.zero);
    for (const e of [g.multiply(g.one, x), g.add(x, g.zero), g.negate(g.negate(x)), g.divide(x, g.one)]) expect(e).toBe(x);
    expect(g.multiply(g.negate(x), g.negate(y))).toBe(g.multiply(x, y));
    expect(g.constant(-0)).toBe(g.zero);
    // no number where x is 0; but what stands still has no rate
    expect(g.divide(g.zero, x)).not.toBe(g.zero);
    expect(new Direction(g, new Map([[y, g.one]])).of(g.divide(g.constant(3), x))).toBe(g.zero);
  });
  it('a fold is no other number (random graphs)', () => {
    // the same graph over constants folds to what it evaluates to over loads
    fc.assert(
      fc.property(fc.array(step, { maxLength: 25 }), point, (steps, at) => {
        const { g, last } = random(steps, true);
        const found = values(g, last, at);
        const h = new Graph();
        const copies = new Map<Ex, Ex>();
        for (const n of g.needed(last)) copies.set(n, copyOf(g, h, n, copies, at));
        const folded = values(
          h,
          last.map((n) => copies.get(n)!),
          [],
        );
        folded.forEach((v, i) => expect(Math.abs(v - found[i]!)).toBeLessThanOrEqual(1e-9 * Math.abs(found[i]!) + 1e-9));
      }),
    );
  });
});

/** A node in another graph, its loads replaced by numbers. */
function copyOf(g: Graph, h: Graph, n: Ex, made: ReadonlyMap<Ex, Ex>, at: readonly number[]): Ex {
  const [p, q] = g.operands(n).map((y) => made.get(y)!) as [Ex, Ex];
  switch (g.op[n]) {
    case OP.constant:
      return h.constant(g.value[n]!);
    case OP.load:
      return h.constant(at[g.b[n]!]!);
    case OP.negate:
      return h.negate(p);
    case OP.add:
      return h.add(p, q);
    case OP.subtract:
      return h.subtract(p, q);
    case OP.multiply:
      return h.multiply(p, q);
    case OP.divide:
      return h.divide(p, q);
    case OP.root:
      return h.root(p);
    case OP.apply:
      return h.apply(NAMES[g.c[n]!]!, p, q);
    case OP.call:
      return h.zero;
    default: {
      const { args } = g.calls[g.a[g.a[n]!]!]!;
      return h.call(
        outside,
        args.map((y) => made.get(y)!),
      )[g.b[n]!]!;
    }
  }
}

describe('derivatives', () => {
  it('by all that is read, in one sweep back, are those in every direction (random graphs, random directions)', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), point, point, fc.boolean(), (steps, at, way, smooth) => {
        const { g, x, last } = random(steps, smooth),
          [e] = last.slice(-1) as [Ex];
        let along: Ex, by: Gradient;
        try {
          along = new Direction(g, new Map(x.map((l, i) => [l, g.constant(way[i]!)])), true).of(e);
          by = new Gradient(g, e);
        } catch (fault) {
          expect((fault as Error).message).toContain('third derivative');
          return;
        }
        const [expected, ...found] = values(g, [along, ...x.map((l) => by.by(l))], at) as [number, ...number[]],
          size = found.reduce((sum, d, i) => sum + Math.abs(d * way[i]!), 1);
        // where parts of it grow beyond all bounds there is none either way
        if (Number.isFinite(expected) && Number.isFinite(size))
          expect(Math.abs(found.reduce((sum, d, i) => sum + d * way[i]!, 0) - expected) / size).toBeLessThan(1e-9);
      }),
    );
  });
  it('of what is chosen do not see what is not, though that is no number there', () => {
    const g = new Graph(),
      [x, y] = [g.load(0, 0), g.load(0, 1)],
      length = g.root(g.add(g.square(x), g.square(y))),
      by = new Gradient(g, g.add(y, g.choose(g.zero, length, g.divide(g.multiply(x, y), length), g.zero)));
    expect(values(g, [by.by(x), by.by(y)], [0, 0])).toEqual([0, 1]);
  });
  it('are the limits of differences, the second as well (random smooth graphs, random directions)', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), point, point, (steps, at, way) => {
        const { g, x, last } = random(steps, true);
        const direction = new Direction(g, new Map(x.map((l, i) => [l, g.constant(way[i]!)])));
        const [e] = last.slice(-1) as [Ex];
        if (g.op[e] === OP.output && g.b[e]! % 7 > 0) return; // a gradient: its second derivative is a third
        let first: Ex, second: Ex;
        try {
          first = direction.of(e);
          second = direction.of(first);
        } catch (fault) {
          expect((fault as Error).message).toContain('third derivative');
          return;
        }
        const [, d1, d2] = values(g, [e, first, second], at) as [number, number, number];
        const along = (h: number) =>
          values(
            g,
            [e, first],
            at.map((v, i) => v + h * way[i]!),
          ) as [number, number];
        const h = 1e-5,
          [ahead, behind] = [along(h), along(-h)];
        const size = 1 + Math.abs(d1) + Math.abs(d2) + Math.abs(ahead[0]) + Math.abs(ahead[1]);
        if (size > 1e6) return; // differences of what is so steep say nothing
        expect(Math.abs((ahead[0] - behind[0]) / (2 * h) - d1)).toBeLessThan(1e-4 * size * size);
        expect(Math.abs((ahead[1] - behind[1]) / (2 * h) - d2)).toBeLessThan(1e-4 * size * size);
      }),
    );
  });
  it.each(NAMES)('of %s by each argument', (name) => {
    const f = FUNCTIONS[name],
      g = new Graph(),
      x = [g.load(0, 0), g.load(0, 1)];
    const e = f.args === 2 ? g.apply(name, x[0]!, x[1]!) : g.apply(name, x[0]!);
    const at = [0.37, 0.62],
      h = 1e-6;
    for (let k = 0; k < f.args; k++) {
      const d = new Direction(g, new Map([[x[k]!, g.one]])).of(e);
      const moved = (by: number) =>
        values(
          g,
          [e],
          at.map((v, i) => (i === k ? v + by : v)),
        )[0]!;
      expect(values(g, [d], at)[0]).toBeCloseTo((moved(h) - moved(-h)) / (2 * h), 7);
    }
  });
});

describe('compiled code', () => {
  it('gives the same numbers as plain evaluation, to the last bit, from any place in memory (random graphs)', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 80 }), point, fc.nat(40), (steps, at, shift) => {
        const { g, last } = random(steps, false);
        const stores = last.map((x, i) => ({ base: 1, offset: i, x }));
        const memory = new KernelMemory(4000),
          from = memory.take(shift + LOADS) + shift,
          to = memory.take(last.length);
        memory.numbers.set(at, from);
        compileKernel(g, stores, 2, memory)(from, to);
        const compiled = [...memory.numbers.subarray(to, to + last.length)];
        expect(compiled).toEqual(values(g, last, at));
      }),
    );
  });
  it('of many functions, with what crosses from one to another', () => {
    const g = new Graph(),
      x = Array.from({ length: 40 }, (_, i) => g.load(0, i));
    let layer = x;
    for (let k = 0; k < 60; k++)
      layer = layer.map((e, i) => g.add(g.multiply(e, g.constant(0.5 + i / 97)), g.apply('sin', layer[(i + k) % 40]!)));
    const at = x.map((_, i) => Math.sin(i));
    const memory = new KernelMemory(20_000),
      from = memory.take(40),
      to = memory.take(40);
    memory.numbers.set(at, from);
    compileKernel(
      g,
      layer.map((e, i) => ({ base: 1, offset: i, x: e })),
      2,
      memory,
    )(from, to);
    expect([...memory.numbers.subarray(to, to + 40)]).toEqual(values(g, layer, at));
  });
  it('what is read is read before anything is written', () => {
    const g = new Graph(),
      [x, y, z] = [0, 1, 2].map((k) => g.load(0, k)) as [Ex, Ex, Ex],
      memory = new KernelMemory(100),
      at = memory.take(3);
    memory.numbers.set([2, 3, 5], at);
    const stores = [y, g.multiply(z, x), x].map((value, offset) => ({ base: 0, offset, x: value }));
    compileKernel(g, stores, 1, memory)(at);
    expect([...memory.numbers.subarray(at, at + 3)]).toEqual([3, 10, 2]);
  });
  it('a long chain of sums is no deep nesting', () => {
    const g = new Graph();
    let sum = g.zero;
    for (let i = 0; i < 30_000; i++) sum = g.add(sum, g.load(0, i));
    const memory = new KernelMemory(70_000),
      from = memory.take(30_000),
      to = memory.take(1);
    memory.numbers.fill(1, from, from + 30_000);
    compileKernel(g, [{ base: 1, offset: 0, x: sum }], 2, memory)(from, to);
    expect(memory.numbers[to]).toBe(30_000);
    expect(new Direction(g, new Map([[g.load(0, 17), g.one]])).of(sum)).toBe(g.one);
  });
});
