/**
 * Derivatives backwards, by the state and by every number of the model, against differences at random states, and forwards against these: for every kind there
 * is.
 */
import { describe, expect, it } from 'vitest';
import { type Model, Refusal, build } from '../src';
import { kindsOf } from '../src/model/kinds';
import { type ModelNumber, numbersOf } from '../src/model/numbers';
import { Cells } from '../src/solve/sensitivity/cells';
import type { RunOptions } from '../src/solve/run-events';
import { Neighbour } from '../src/solve/sensitivity/neighbour';
import { isMachine, machineWith } from '../src/studies/courses';
import { Adjoint } from '../src/system/adjoint/adjoint';
import { notExpressed } from '../src/system/adjoint/residuals';
import { Backwards } from '../src/system/adjoint/backwards';
import { type Besides, Forwards } from '../src/system/adjoint/forwards';
import { Variation } from '../src/system/adjoint/variation';
import type { Mechanism } from '../src/system/mechanism';
import { oneJoint } from './every-joint';
import { LOADS, loaded } from './every-load';
import { MACHINES, random } from './machines';

const T = 0.3;
/** By which numbers are less and more. */
const PARTS = [-2e-3, -1e-3, 1e-3, 2e-3, -1e-5, 1e-5] as const;
/** Numbers of a model that are looked at, at most. */
const NUMBERS = 12;

/** What is found at a random state: how far both are apart, in parts of the largest there is. */
interface Found {
  readonly by: string;
  readonly apart: number;
}

function compare(model: Model, seed: number): Found[] | string {
  const m = build(model).mechanism!,
    options = m.resolution.run,
    own = new Neighbour(m, m, options),
    { system } = m,
    { K } = system,
    why = notExpressed(system);
  if (why) return why;
  const next = random(seed),
    { kind } = K.layout,
    by = new Float64Array(own.y.length);
  system.segment(0, Infinity);
  /** Brought onto the constraints: of a machine whose rows are redundant nothing is known beside them. */
  const remembered = new Float64Array(m.memories.cells);
  m.memories.keep(remembered);
  const rates = (n: Neighbour, at: Float64Array) => {
      n.m.memories.recall(remembered);
      n.m.system.K.load(at);
      n.exactly(T);
      n.m.system.K.store(n.y);
      return n.rates(T);
    },
    dy = rates(
      own,
      own.y.map((x, j) => x + [0.01 * m.size, 0.02, 0.5, 2, 0.1][kind[j]!]! * next()),
    ),
    y = own.y.slice(),
    scaled = Float64Array.from(dy, (x) => next() / (1 + Math.abs(x))),
    adjoint = new Adjoint(system),
    backwards = new Backwards(adjoint, system);
  adjoint.clear();
  backwards.rates(y, scaled, by);
  backwards.onto(T, own.at(y), by);
  const value = (n: Neighbour, at: Float64Array) => rates(n, at).reduce((s, x, j) => s + x * scaled[j]!, 0);
  // along what the constraints allow: beside them a machine with redundant rows is another
  const any = Float64Array.from(y, next),
    [before, after] = [-1e-6, 1e-6].map((h) => {
      rates(
        own,
        y.map((x, j) => x + h * any[j]!),
      );
      return own.y.slice();
    }) as [Float64Array, Float64Array],
    way = after.map((x, j) => (x - before[j]!) / 2e-6),
    along = (h: number) =>
      value(
        own,
        y.map((x, j) => x + h * way[j]!),
      ),
    slope = (h: number) => (8 * (along(h) - along(-h)) - (along(2 * h) - along(-2 * h))) / (12 * h),
    [coarse, fine] = [slope(2e-4), slope(1e-4)],
    given = by.reduce((s, x, j) => s + x * way[j]!, 0),
    size = 1 + by.reduce((s, x, j) => s + Math.abs(x * way[j]!), 0),
    out: Found[] = [],
    forwards = new Forwards(new Variation(system), system),
    /** What changes, brought onto the constraints and then through the derivative of the state. */
    forward = (change: Float64Array, besides: Besides): number => {
      const s = change.slice();
      forwards.at(T, own.at(y));
      forwards.onto(y, s, besides);
      own.at(y);
      own.rates(T);
      forwards.look();
      forwards.rates(own.y, s, besides, own.dy);
      return own.dy.reduce((sum, x, j) => sum + x * scaled[j]!, 0);
    },
    both = (what: string, change: Float64Array, besides: Besides, back: number, most: number) =>
      out.push({ by: `forwards ${what}`, apart: Math.abs(forward(change, besides) - back) / most });
  both('state', any, () => {}, inner(by, any), 1 + by.reduce((sum, x, j) => sum + Math.abs(x * any[j]!), 0));
  // beside a corner differences are not to be relied on
  if (Math.abs(coarse - fine) < 1e-8 * size) out.push({ by: 'state', apart: Math.abs(given - fine) / size });
  for (const number of some(numbersOf(model).filter((n) => n.element.family !== 'tables'))) {
    const beside = PARTS.map((part) => machineWith(model, number, part, m)).map((x) =>
      isMachine(x) ? neighbour(x, m, options) : undefined,
    );
    if (beside.some((n) => !n || n.differsFrom(m, own.stops))) continue;
    const [a, b, c, d, e, f] = beside as [Neighbour, Neighbour, Neighbour, Neighbour, Neighbour, Neighbour];
    for (const n of [a, b, c, d]) n.m.system.segment(0, Infinity);
    const cells = Cells.of(system, e.m.system, f.m.system, PARTS[5]);
    if (!cells || cells.none) continue;
    const known = cells.times(adjoint);
    both(number.name, new Float64Array(y.length), (to) => cells.put(to), known, 1 + Math.abs(known));
    const [low, less, more, high] = [a, b, c, d].map((n) => value(n, y)) as [number, number, number, number],
      difference = (8 * (more - less) - (high - low)) / (12 * PARTS[2]),
      of = 1 + Math.abs(difference) + Math.abs(less);
    // beside a kink
    if (Math.abs((high - low) / (4 * PARTS[2]) - difference) > 1e-3 * of) continue;
    out.push({ by: `${number.element.name}: ${number.name}`, apart: Math.abs(known - difference) / of });
  }
  return out;
}
const inner = (x: Float64Array, y: Float64Array): number => x.reduce((sum, v, j) => sum + v * y[j]!, 0);
/** The machine next to another; undefined where it cannot start. */
function neighbour(m: Mechanism, of: Mechanism, options: RunOptions): Neighbour | undefined {
  try {
    return new Neighbour(m, of, options);
  } catch (e) {
    if (e instanceof Refusal) return undefined;
    throw e;
  }
}
const some = (list: readonly ModelNumber[]): ModelNumber[] => list.filter((_, i) => i % Math.ceil(list.length / NUMBERS) === 0);

const SEEDS = [1, 2, 3];
function agree(model: () => Model): string | undefined {
  const all = SEEDS.map((seed) => compare(model(), seed)),
    [first] = all;
  if (typeof first === 'string') return first;
  const found = all.flatMap((x) => (typeof x === 'string' ? [] : x));
  expect(found.length).toBeGreaterThan(0);
  for (const { by, apart } of found) expect(apart, by).toBeLessThan(by.startsWith('forwards') ? 1e-10 : by === 'state' ? 1e-7 : 5e-6);
  return undefined;
}

describe('machines', () => {
  it.each(MACHINES)('%s', (_, model) => void agree(model));
});
describe('joints', () => {
  it.each(kindsOf('joints').map((k) => k.kind))('%s', (kind) => void agree(() => oneJoint(kind, [0.6, 0, 0.8])));
});
describe('loads', () => {
  it.each(Object.entries(LOADS).flatMap(([kind, list]) => list.map((load, i) => [`${kind} ${i + 1}`, { kind, ...load }] as const)))(
    '%s',
    (_, load) => void agree(() => loaded(load)),
  );
});
