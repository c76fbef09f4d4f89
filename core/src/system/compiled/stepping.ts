/** Between states and the bodies of a machine, as expressions: where a state puts them, and the derivative of the state. */
import { turningOf } from '../../equations/fold';
import { type StateLayout, placesIn } from '../../equations/layout';
import type { Changes } from '../../equations/states';
import type { Ex } from '../../expressions/arithmetic';
import type { Store } from '../../expressions/plain';
import { type QuaternionEx, rotationOf } from '../../expressions/vectors';
import type { MachineEquations, Statement } from './equations';
import { KINEMATICS, OWN, RATE, STATE } from './places';

/** A further state of which it is known how it changes. */
export interface StatedState {
  /** Its number among the further states. */
  readonly at: number;
  readonly changes: Changes;
  /** Of the coordinate that it follows. */
  readonly coordinate?: Statement | undefined;
}

/** Its half turn about the axis of a body that turns about one alone, as the state tells it: cosine and sine, brought to length 1. */
function halfTurn({ g }: MachineEquations, at: number): [Ex, Ex] {
  const c = g.load(STATE, at),
    s = g.load(STATE, at + 1),
    n = g.divide(g.one, g.root(g.add(g.square(c), g.square(s))));
  return [g.multiply(c, n), g.multiply(s, n)];
}

/** The quaternion of a body, as the state tells it. */
function quaternionOf(m: MachineEquations, layout: StateLayout, i: number): QuaternionEx | undefined {
  const { g } = m,
    at = layout.turn[i]!;
  if (layout.turns[i] === 4) {
    const q = [0, 1, 2, 3].map((k) => g.load(STATE, at + k)),
      n = g.divide(g.one, g.root(q.map((x) => g.square(x)).reduce((x, y) => g.add(x, y))));
    return q.map((x) => g.multiply(x, n)) as unknown as QuaternionEx;
  }
  if (layout.turns[i] !== 2) return undefined;
  const [c, s] = halfTurn(m, at),
    k = turningOf(layout.fold!, i)!.own,
    [x, y, z] = [k, (k + 1) % 3, (k + 2) % 3].map((e) => 1 + e) as [number, number, number],
    still = [0, 1, 2, 3].map((e) => g.load(KINEMATICS, m.places.kinematics.still + 4 * i + e)),
    out = new Array<Ex>(4),
    by = (e: number, f: number, sense: 1 | -1) => {
      const [p, q] = [g.multiply(still[e]!, c), g.multiply(still[f]!, s)];
      return sense > 0 ? g.add(p, q) : g.subtract(p, q);
    };
  // the quaternion of before times (c, s about the axis)
  out[0] = by(0, x, -1);
  out[x] = by(x, 0, 1);
  out[y] = by(y, z, 1);
  out[z] = by(z, y, -1);
  return out as unknown as QuaternionEx;
}

/** The entries of a layout that tell places: of which body, along which axis, and where they stand. */
function placesOf(layout: StateLayout): { body: number; axis: number; at: number }[] {
  return Array.from(placesIn(layout), (x, at) => ({ body: Math.floor(x / 3), axis: x % 3, at })).filter(({ body }) => body >= 0);
}

/** Where a state puts the bodies, how they move, and further states. */
export function placing(m: MachineEquations, layout: StateLayout): Store[] {
  const { g } = m,
    { r, q, v, w, A, z } = m.places.kinematics,
    out: Store[] = [],
    put = (offset: number, x: Ex) => out.push({ base: KINEMATICS, offset, x });
  for (const { body, axis, at } of placesOf(layout)) put(r + 3 * body + axis, g.load(STATE, at));
  for (let i = 0; i < layout.bodies; i++) {
    const turn = quaternionOf(m, layout, i);
    if (!turn) continue;
    turn.forEach((x, k) => put(q + 4 * i + k, x));
    rotationOf(g, turn).forEach((x, k) => put(A + 9 * i + k, x));
  }
  layout.moving.forEach((x, j) => {
    const body = Math.floor(x / 6),
      k = x % 6;
    put(k < 3 ? v + 3 * body + k : w + 3 * body + k - 3, g.load(STATE, layout.motions + j));
  });
  for (let k = layout.further; k < layout.size; k++) put(z + k - layout.further, g.load(STATE, k));
  return out;
}

/** The tangent of a quarter of the angle by which a body has turned about its only axis (`equations/half-turn.ts`). */
function quarterTurn(m: MachineEquations, at: number): Ex {
  const { g } = m,
    [c, s] = halfTurn(m, at),
    by = (sense: (x: Ex, y: Ex) => Ex, x: Ex) => g.divide(x, sense(g.one, c));
  return g.choose(
    c,
    g.zero,
    by((x, y) => g.subtract(x, y), g.negate(s)),
    by((x, y) => g.add(x, y), s),
  );
}

/** What is recorded of a state: time, and what is told of it (`equations/told.ts`). The bodies stand where it says. */
export function recorded(m: MachineEquations, layout: StateLayout): Ex[] {
  const { g, places } = m,
    { kinematics, own } = places,
    out = [g.load(OWN, own.clock)];
  for (let i = 0; i < layout.bodies; i++) {
    for (let at = layout.posture[i]!; at < layout.turn[i]!; at++) out.push(g.load(STATE, at));
    if (layout.turns[i] === 2) out.push(quarterTurn(m, layout.turn[i]!));
    for (let k = 0; k < (layout.turns[i] === 4 ? 4 : 0); k++) out.push(g.load(KINEMATICS, kinematics.q + 4 * i + k));
  }
  for (let at = layout.motions; at < layout.size; at++) out.push(g.load(STATE, at));
  return out;
}

/** The derivative of a state at accelerations and multipliers. @param powers of loads, by their numbers */
export function derivative(
  m: MachineEquations,
  layout: StateLayout,
  solution: readonly Ex[],
  powers: ReadonlyMap<number, Ex>,
  further: readonly StatedState[],
): Store[] {
  const { g, bodies } = m,
    { kinematics, own } = m.places,
    half = g.constant(0.5),
    out: Store[] = [],
    put = (offset: number, x: Ex) => out.push({ base: RATE, offset, x });
  for (const { body, axis, at } of placesOf(layout)) put(at, bodies[body]!.v[axis as 0]);
  for (let i = 0; i < layout.bodies; i++) {
    const at = layout.turn[i]!,
      { w } = bodies[i]!;
    if (layout.turns[i] === 2) {
      const [c, s] = halfTurn(m, at),
        spin = g.multiply(half, w[turningOf(layout.fold!, i)!.own as 0]);
      put(at, g.negate(g.multiply(spin, s)));
      put(at + 1, g.multiply(spin, c));
    } else if (layout.turns[i] === 4) {
      const [a, b, c, d] = [0, 1, 2, 3].map((k) => g.load(KINEMATICS, kinematics.q + 4 * i + k)) as [Ex, Ex, Ex, Ex],
        [x, y, z] = w,
        sum = (...of: readonly [Ex, Ex, 1 | -1][]) =>
          g.multiply(
            half,
            of.reduce((s, [p, q, sense]) => (sense > 0 ? g.add(s, g.multiply(p, q)) : g.subtract(s, g.multiply(p, q))), g.zero),
          );
      put(at, sum([b, x, -1], [c, y, -1], [d, z, -1]));
      put(at + 1, sum([a, x, 1], [c, z, 1], [d, y, -1]));
      put(at + 2, sum([a, y, 1], [b, z, -1], [d, x, 1]));
      put(at + 3, sum([a, z, 1], [b, y, 1], [c, x, -1]));
    }
  }
  layout.moving.forEach((x, j) => put(layout.motions + j, solution[x]!));
  const rateOf = (s: Statement): Ex => m.measure([s])[1]!;
  for (const { at, changes, coordinate } of further) {
    const x =
      changes.by === 'nothing'
        ? g.zero
        : changes.by === 'power'
          ? (powers.get(changes.which) ?? g.load(OWN, own.powers + changes.which))
          : changes.by === 'rate'
            ? rateOf(coordinate!)
            : changes.by === 'course'
              ? m.rateOfCourse(at)
              : g.negate(g.multiply(solution[m.variable(changes.constraint.row)]!, rateOf(coordinate!)));
    put(layout.further + at, x);
  }
  return out;
}
