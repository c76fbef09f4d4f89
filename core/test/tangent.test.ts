/** How equations change with posture and motion, derived from their expressions, against differences at random states: for every kind there is. */
import { describe, expect, it } from 'vitest';
import { type Model, assemble, build } from '../src';
import { OnCurve } from '../src/equations/on-curve';
import { kindsOf } from '../src/model/kinds';
import type { System } from '../src/system/system';
import { COMPILER } from '../src/system/compiler';
import { leaveOut } from '../src/solve/leave-out';
import { ImplicitMatrix } from '../src/system/tangent/implicit';
import { Tangent } from '../src/system/tangent/tangent';
import { oneJoint } from './every-joint';
import { LOADS, loaded } from './every-load';
import { MACHINES, disturb, random } from './machines';

const T = 0.3;
/** r₁ = f − Gᵀλ − M u̇ and r₂ = γ − G u̇ at the state in K, for accelerations and multipliers that stay. */
function residuals(s: System, solution: Float64Array): Float64Array {
  const { K, motions, bodies, inertias } = s;
  s.accelerate(T);
  const out = new Float64Array(solution.length);
  times(s, solution, out);
  s.room.view('gamma').forEach((x, r) => (out[motions + r] = x - out[motions + r]!));
  for (let b = 0; b < bodies; b++) {
    const w = K.w.subarray(3 * b, 3 * b + 3),
      J = [0, 1, 2].map((k) => [0, 1, 2].reduce((sum, j) => sum + inertias[9 * b + 3 * k + j]! * w[j]!, 0)),
      turning = [w[1]! * J[2]! - w[2]! * J[1]!, w[2]! * J[0]! - w[0]! * J[2]!, w[0]! * J[1]! - w[1]! * J[0]!];
    for (let k = 0; k < 6; k++) out[6 * b + k] = s.loads[6 * b + k]! - (k < 3 ? 0 : turning[k - 3]!) - out[6 * b + k]!;
  }
  return out;
}
/** [M Gᵀ; G 0] x at the state at hand. */
function times({ bodies, masses, inertias, groups, G, motions }: System, x: Float64Array, out: Float64Array): void {
  for (let b = 0; b < bodies; b++)
    for (let k = 0; k < 3; k++) {
      out[6 * b + k] = masses[b]! * x[6 * b + k]!;
      for (let j = 0; j < 3; j++) out[6 * b + 3 + k]! += inertias[9 * b + 3 * k + j]! * x[6 * b + 3 + j]!;
    }
  const block = (row: number, at: number, [a, b]: readonly [number, number]) =>
    [a, b].forEach((body, side) => {
      for (let k = 0; k < (body < bodies ? 6 : 0); k++) {
        const g = G[12 * at + 6 * side + k]!;
        out[motions + row]! += g * x[6 * body + k]!;
        out[6 * body + k]! += g * x[motions + row]!;
      }
    });
  for (const { constraints } of groups)
    for (const c of constraints) {
      for (let k = 0; k < c.rows; k++) block(c.row + k, c.row + k, [c.a, c.b]);
      c.more.forEach((pair, i) => block(c.row, c.block + i, pair));
    }
}

/** The largest difference between both, of the largest there is; nothing where differences are not to be relied on (beside a corner, or for rounding). */
function compare(model: Model, seed: number): number[] {
  const m = build(model).mechanism!,
    s = m.system,
    { K } = s,
    { y } = assemble(m),
    next = random(seed);
  s.segment(0, Infinity);
  disturb(s, y, next);
  const onCurves = s.groups.flatMap((g) => g.constraints.filter((c) => c instanceof OnCurve));
  if (onCurves.length > 0) {
    // what is known of curves is known on them
    s.linearise();
    s.projectPositions(T);
    s.linearise();
    s.projectVelocities(T);
  }
  const here = new Float64Array(K.whole.size);
  K.storeWhole(here);
  s.accelerate(T);
  if (s.unsettled) return [];
  const solution = s.solution.slice(),
    tangent = new Tangent(s),
    step = Float64Array.from({ length: s.motions }, next),
    framed = new Set(
      onCurves.flatMap((c) => [
        s.motions + c.row,
        s.motions + c.row + 1,
        ...[c.a, c.b].flatMap((x) => [0, 1, 2, 3, 4, 5].map((k) => 6 * x + k)),
      ]),
    );
  tangent.look();
  return (['posture', 'motion'] as const).flatMap((by) => {
    const at = (h: number): Float64Array[] => {
      K.loadWhole(here);
      if (by === 'posture') K.displace(step, h);
      else K.quicken(step, h);
      return [residuals(s, solution), s.solution.slice()];
    };
    let corner = false;
    /** By differences of fourth order: residuals, and what constraints carry otherwise, which is felt at once by what follows from that. */
    const differences = (h: number) => {
      const [a, b, c, d] = [h, -h, 2 * h, -2 * h].map(at) as [Float64Array[], Float64Array[], Float64Array[], Float64Array[]],
        o = at(0);
      corner ||= a[0]!.some((x, i) => Math.abs(x - 2 * o[0]![i]! + b[0]![i]!) > 1e-2 * h * (1 + Math.abs(x - b[0]![i]!) / h));
      return [0, 1].map((k) => a[k]!.map((x, i) => (8 * (x - b[k]![i]!) - (c[k]![i]! - d[k]![i]!)) / (12 * h)));
    };
    /** As derived, and by differences over so much: of residuals; and of accelerations, where nothing follows from what constraints carry. */
    const both = (h: number): [derived: Float64Array, given: Float64Array][] => {
      const [given, carried] = differences(h) as [Float64Array, Float64Array],
        derived = new Float64Array(solution.length);
      tangent.times(by, step, derived);
      tangent.times('load', carried, derived);
      K.loadWhole(here);
      s.linearise();
      const solved = derived.slice();
      s.ldlt.solve(solved);
      // normals of a curve are chosen place by place: what rows carry along them is no measure
      return [
        [derived, given].map((x) => x.filter((_, i) => !framed.has(i))) as [Float64Array, Float64Array],
        ...(s.reacting || s.ldlt.redundant.includes(1)
          ? []
          : [[solved, carried].map((x) => x.subarray(0, s.motions)) as [Float64Array, Float64Array]]),
      ];
    };
    const apart = (x: Float64Array, y: Float64Array): number => {
      const largest = (list: Float64Array) => list.reduce((most, z) => Math.max(most, Math.abs(z)), 0);
      return x.reduce((most, z, i) => Math.max(most, Math.abs(z - y[i]!)), 0) / Math.max(1, largest(x), largest(y));
    };
    const again = both(5e-5),
      first = both(1e-4);
    return first.flatMap(([derived, given], i) =>
      !corner && apart(derived, again[i]![0]) < 1e-8 && apart(given, again[i]![1]) < 1e-8 ? [apart(derived, given)] : [],
    );
  });
}
/** Both at several states. */
function agree(model: () => Model): void {
  const all = SEEDS.flatMap((seed) => compare(model(), seed));
  expect(all.length).toBeGreaterThan(3);
  for (const x of all) expect(x).toBeLessThan(1e-7);
}
const SEEDS = [1, 2, 3, 4, 5, 6, 7, 8];

describe('machines', () => {
  it.each(MACHINES)('%s', (_, model) => {
    agree(model);
  });
});
describe.each(kindsOf('joints').map((k) => [k.kind] as const))('joint: %s', (kind) => {
  it('as by differences', () => {
    agree(() => oneJoint(kind, [0.3, -0.5, 0.8]));
  });
});
describe.each(kindsOf('loads').map((k) => [k.kind] as const))('load: %s', (kind) => {
  it.each((LOADS[kind] ?? []).map((x, i) => [i + 1, x] as const))('example %i', (_i, example) => {
    agree(() => loaded({ kind, ...example }));
  });
});

/** A machine made ready for a run: folded and by code of its own or not. */
function ready(model: Model, seed: number, fold: boolean, most?: number) {
  const m = build(model).mechanism!,
    s = m.system,
    next = random(seed);
  assemble(m);
  s.segment(0, Infinity);
  for (const f of s.forces) f.begin?.(s.K, T);
  if (fold) leaveOut(m);
  if (most !== undefined) s.compile(COMPILER, most);
  const [state, rate] = s.vectors().row(2) as [Float64Array, Float64Array];
  return { m, s, state, rate, next };
}
describe.each(MACHINES.filter(([name]) => !name.includes('rub')))('implicit steps of %s', (_, model) => {
  it.each([
    ['in space', false, undefined],
    ['with what does not move left out', true, undefined],
    ['compiled', true, 1e9],
    ['kind by kind', true, 0],
  ] as const)('solve what differences of its rates say, %s', (_how, fold, most) => {
    const { s, state, rate, next } = ready(model(), 3, fold, most),
      { K } = s;
    s.linearise();
    s.projectPositions(T);
    // moving as its joints allow
    for (let k = 0; k < K.v.length - 3; k++) K.v[k] = 0.1 * next();
    for (let k = 0; k < K.w.length - 3; k++) K.w[k] = 0.3 * next();
    K.lay(s.leftOut);
    s.projectVelocities(T);
    K.store(state);
    s.evaluate(T, state, rate);
    const tangent = new Tangent(s),
      matrix = new ImplicitMatrix(s, tangent),
      n = state.length,
      gamma = 37;
    tangent.look();
    matrix.take(state);
    expect(matrix.factorise(gamma, gamma, 23)).toBe(true);
    const x = new Float64Array(n),
      back = new Float64Array(n);
    for (let k = 0; k < K.layout.further; k++) x[k] = next();
    matrix.times(x, back);
    const r = x.map((v, k) => gamma * v - back[k]!);
    for (let k = K.layout.further; k < n; k++) r[k] = 0;
    matrix.solve(r);
    const size = Math.max(...x.map(Math.abs));
    for (let k = 0; k < K.layout.further; k++) expect(Math.abs(r[k]! - x[k]!)).toBeLessThan(1e-7 * size);
  });
});
