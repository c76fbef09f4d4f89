/**
 * Loads on a joint coordinate: what they give, or store and lose, told by the coordinate q (whole turns counted) and its rate. Positive efforts push the
 * joint's second body in the positive sense of the joint.
 */
import type { Ex } from '../../expressions/arithmetic';
import { copied } from '../../expressions/copy';
import { Direction } from '../../expressions/derivative';
import type { Graph } from '../../expressions/graph';
import { wholeTurns } from '../measured';
import type { Freedom } from '../freedom';
import type { Kinematics } from '../kinematics';
import { freedomReadings } from '../load-readings';
import { type BodyEx, moving } from '../stated/body';
import { type Elementary, type Given, type NumberKind, named } from '../stated/elementary';
import { linear } from './elastic';
import type { Does, ForceLaw } from './law';
import { type Beside, type Input, type Instance, StatedForce, constantly, taken } from './stated-force';

/** A joint coordinate, and its value with whole turns counted where that matters. */
interface Coordinate {
  readonly freedom: Freedom;
  value(K: Kinematics): number;
  /** Where a further state says how far it has turned: how many such states, and which. */
  readonly states?: number;
  readonly first?: number;
}

export interface EffortLaw<N extends Readonly<Record<string, NumberKind>> = Readonly<Record<string, NumberKind>>> {
  readonly name: string;
  readonly numbers: N;
  /** Values that it takes in. */
  readonly inputs: number;
  does(
    g: Graph,
    q: Ex,
    rate: Ex,
    n: Given<N>,
    inputs: readonly Ex[],
  ): {
    effort?: Ex;
    potential?: Ex;
    dissipation?: Ex;
    stored?: Ex;
    corners?: readonly Ex[];
    /** What it tells of as its deflection. */
    deflection?: Ex;
  };
}
/** A law whose function knows the names of its numbers. */
export const effortLaw = <const N extends Readonly<Record<string, NumberKind>>>(law: EffortLaw<N>): EffortLaw =>
  law as unknown as EffortLaw;

/** A base of which nothing is ever read. */
const NOWHERE = -2;

/**
 * Effort in all. A coordinate and its rate are derived by as what they are, whatever they are made of: a coordinate −x would not be found any more in its
 * square, which is that of x.
 */
function effortOf(g: Graph, law: EffortLaw, q: Ex, rate: Ex, n: never, inputs: readonly Ex[]): Ex {
  const [itself, speed] = [g.load(NOWHERE, 0), g.load(NOWHERE, 1)],
    by = (x: Ex) => new Direction(g, new Map([[x, g.one]])),
    { effort, potential, dissipation } = law.does(g, itself, speed, n, inputs);
  let sum = effort ?? g.zero;
  if (potential !== undefined) sum = g.subtract(sum, by(itself).of(potential));
  if (dissipation !== undefined) sum = g.subtract(sum, by(speed).of(dissipation));
  return copied(g, sum, g, (x) => (x === itself ? q : x === speed ? rate : x));
}

/** What a load does that works by an effort. */
function told(g: Graph, law: EffortLaw, q: Ex, rate: Ex, n: never, inputs: readonly Ex[]): Does {
  const does = law.does(g, q, rate, n, inputs),
    effort = effortOf(g, law, q, rate, n, inputs);
  return {
    works: [[effort, rate]],
    stored: does.potential ?? does.stored ?? g.zero,
    corners: does.corners ?? [],
    tells: () => ({ effort: [effort], rate: [rate], ...(does.deflection === undefined ? {} : { deflection: [does.deflection] }) }),
  };
}

/** Numbers of the joint's equation and those of the law stand side by side. */
const JOINT = 'joint ',
  OWN = 'own ';
const prefixed = <T>(n: Readonly<Record<string, T>>, prefix: string) =>
  Object.fromEntries(Object.entries(n).map(([k, x]) => [prefix + k, x]));
const without = <T>(n: Readonly<Record<string, T>>, prefix: string) =>
  Object.fromEntries(Object.entries(n).flatMap(([k, x]) => (k.startsWith(prefix) ? [[k.slice(prefix.length), x]] : [])));

const laws = new Map<EffortLaw, Map<Elementary, ForceLaw>>();
/** A law of efforts on the coordinate that an elementary equation measures. Its first input is what whole turns add to that. */
function onElementary(law: EffortLaw, e: Elementary): ForceLaw {
  const known = laws.get(law) ?? new Map<Elementary, ForceLaw>();
  laws.set(law, known);
  let made = known.get(e);
  if (!made) {
    made = {
      name: `${law.name}, ${e.name}`,
      bodies: 2,
      numbers: { ...prefixed(e.numbers, JOINT), ...prefixed(law.numbers, OWN) },
      inputs: 1 + law.inputs,
      does(g, [a, b], n, [turns, ...inputs]): Does {
        const phi = e.phi(g, a!, b!, without(n, JOINT) as never, g.zero)[0]!,
          rate = new Direction(g, new Map([a!, b!].flatMap((x) => moving(g, x, x.v, x.w)))).of(phi);
        return told(g, law, g.add(phi, turns!), rate, without(n, OWN) as never, inputs);
      },
    };
    known.set(e, made);
  }
  return made;
}

const given = new Map<EffortLaw, ForceLaw>();
/** The same on a coordinate that is no expression: it takes in the coordinate, and the twelve numbers of its row. */
function onGiven(law: EffortLaw): ForceLaw {
  const made: ForceLaw = given.get(law) ?? {
    name: `${law.name}, on a row`,
    bodies: 2,
    numbers: law.numbers,
    inputs: 1 + 12 + law.inputs,
    does(g, bodies, n, [q, ...inputs]): Does {
      const velocities = bodies.flatMap((b) => [...b.v, ...b.w]),
        rate = velocities.reduce((sum, u, k) => g.add(sum, g.multiply(inputs[k]!, u)), g.zero);
      return told(g, law, q!, rate, n as never, inputs.slice(12));
    },
  };
  given.set(law, made);
  return made;
}

/** The rate of a coordinate, for loads that act on more than one: what they are told for it, and what they take in. */
export function rateOn(freedom: Freedom): {
  readonly name: string;
  readonly values: readonly number[];
  readonly inputs: readonly Input[];
  of(g: Graph, bodies: readonly BodyEx[], n: readonly Ex[], inputs: readonly Ex[]): Ex;
} {
  const { statement } = freedom.equation;
  if (!statement)
    return {
      name: 'a row',
      values: [],
      inputs: [rowOf(freedom)],
      of: (g, bodies, _n, row) => bodies.flatMap((b) => [...b.v, ...b.w]).reduce((sum, u, k) => g.add(sum, g.multiply(row[k]!, u)), g.zero),
    };
  const { equation, values } = statement;
  return {
    name: equation.name,
    values: Array.from(values),
    inputs: [],
    of(g, [a, b], n) {
      let k = 0;
      const phi = equation.phi(g, a!, b!, named(equation.numbers, () => n[k++]!) as never, g.zero)[0]!;
      return new Direction(g, new Map([a!, b!].flatMap((x) => moving(g, x, x.v, x.w)))).of(phi);
    },
  };
}
/** The twelve numbers of its row, for a coordinate that is no expression. */
const rowOf = (freedom: Freedom): Input => ({ count: 12, fill: (K, _t, to, at) => to.set(freedom.row(K), at) });

/** What whole turns add to a coordinate that an elementary equation measures. */
function turnsOf(coordinate: Coordinate, e: Elementary): Input {
  const { freedom } = coordinate;
  if (!coordinate.states) return constantly(0);
  return {
    ...taken({ at: (K) => coordinate.value(K) - freedom.value(K) }),
    // a state beside it says which turn it is
    express: {
      state: () => coordinate.first!,
      of(g, [a, b], n, z) {
        return wholeTurns(g, e.phi(g, a!, b!, without(n, JOINT) as never, g.zero)[0]!, z(coordinate.first!));
      },
    },
  };
}

/** What a load by a law of efforts is made of. @param coordinate whole turns counted where that matters */
export function partsOn(
  coordinate: Coordinate,
  law: EffortLaw,
  values: readonly number[],
  inputs: readonly Input[] = [],
): readonly [ForceLaw, readonly Instance[], readonly Input[]] {
  const { freedom } = coordinate,
    { statement, a, b } = freedom.equation;
  if (statement)
    return [
      onElementary(law, statement.equation),
      [{ bodies: [a, b], values: [...statement.values, ...values] }],
      [turnsOf(coordinate, statement.equation), ...inputs],
    ];
  return [onGiven(law), [{ bodies: [a, b], values }], [taken({ at: (K) => coordinate.value(K) }), rowOf(freedom), ...inputs]];
}

/** A load by a law of efforts. */
export const onCoordinate = (
  coordinate: Coordinate,
  law: EffortLaw,
  values: readonly number[],
  inputs: readonly Input[] = [],
  beside: Omit<Beside, 'readings'> = {},
): StatedForce =>
  new StatedForce(...partsOn(coordinate, law, values, inputs), { ...beside, readings: freedomReadings(coordinate.freedom) });

/** Spring and damper: −k (q − q₀) − c q̇ − preload. */
export const jointSpring = effortLaw({
  name: 'joint spring',
  numbers: { stiffness: 'number', damping: 'number', rest: 'number', preload: 'number' },
  inputs: 0,
  does(g, q, rate, { stiffness, damping, rest, preload }) {
    const x = g.subtract(q, rest);
    return {
      potential: linear(stiffness, preload).energy(g, x),
      dissipation: g.multiply(g.multiply(g.constant(0.5), damping), g.square(rate)),
      deflection: x,
    };
  },
});

/**
 * An actuator: the effort commanded, no more than its limit, and less the faster it already goes that way: at the top speed it can push no further, and
 * braking is not limited by speed.
 */
const actuatorOf = (limited: boolean, slowing: boolean) =>
  effortLaw({
    name: `actuator${limited ? ', limited' : ''}${slowing ? ' by speed' : ''}`,
    numbers: { limit: 'number', fastest: 'number' },
    inputs: 1,
    does(g, _q, rate, { limit, fastest }, [command]) {
      if (!limited) return { effort: command! };
      const going = slowing ? g.divide(g.multiply(rate, g.apply('sign', command!)), fastest) : g.zero,
        most = g.multiply(limit, g.least(g.one, g.most(g.zero, g.subtract(g.one, going))));
      return { effort: g.most(g.negate(most), g.least(most, command!)) };
    },
  });
const actuators = { free: actuatorOf(false, false), limited: actuatorOf(true, false), slowing: actuatorOf(true, true) };
/** Its law, by what limits it. */
export const actuator = (limit: number | undefined, fastest: number | undefined): EffortLaw =>
  actuators[limit === undefined ? 'free' : fastest === undefined ? 'limited' : 'slowing'];

/** End stops: beyond an end a spring and damper push back; they never pull. */
const stopsOf = (lower: boolean, upper: boolean) =>
  effortLaw({
    name: `stops${lower ? ', lower' : ''}${upper ? ', upper' : ''}`,
    numbers: { lower: 'number', upper: 'number', stiffness: 'number', damping: 'number' },
    inputs: 0,
    does(g, q, rate, n) {
      const ends = [
          ...(lower ? [{ sense: 1, room: g.subtract(q, n.lower) }] : []),
          ...(upper ? [{ sense: -1, room: g.subtract(n.upper, q) }] : []),
        ],
        all = ends.map(({ sense, room }) => {
          const depth = g.most(g.zero, g.negate(room)),
            closing = sense > 0 ? rate : g.negate(rate),
            push = g.choose(
              g.zero,
              depth,
              g.most(g.zero, g.subtract(g.multiply(n.stiffness, depth), g.multiply(n.damping, closing))),
              g.zero,
            );
          return { depth, effort: sense > 0 ? push : g.negate(push), past: sense > 0 ? g.negate(depth) : depth };
        }),
        sum = (list: readonly Ex[]) => list.reduce((x, y) => g.add(x, y), g.zero);
      return {
        effort: sum(all.map((x) => x.effort)),
        stored: sum(all.map(({ depth }) => g.multiply(g.multiply(g.constant(0.5), n.stiffness), g.square(depth)))),
        corners: ends.map((x) => x.room),
        deflection: sum(all.map((x) => x.past)),
      };
    },
  });
const stopLaws = new Map<string, EffortLaw>();
/** Their law, by which ends there are. */
export function stops(lower: boolean, upper: boolean): EffortLaw {
  const key = `${lower}${upper}`,
    law = stopLaws.get(key) ?? stopsOf(lower, upper);
  stopLaws.set(key, law);
  return law;
}
