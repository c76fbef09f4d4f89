/**
 * How a machine answers to a number of its model that is a little more: where what leads its free motions stands still and keeps its rates. By differences of
 * fourth order of machines that are built with it a little changed.
 */
import { type ElementRef, refuse } from '../diagnosis';
import type { Channel } from '../elements/declarations';
import type { Model } from '../model/document';
import { type ModelNumber, withChanged, wholeOf } from '../model/numbers';
import { D, type Dimension } from '../quantity/dimension';
import { TWO_PI } from '../quantity/elementary';
import { readUnit } from '../quantity/units';
import { build } from '../system/build';
import type { Mechanism } from '../system/mechanism';
import { assemble } from './assemble';
import type { FreeMotion } from './motions';
import { modesOf } from './sensitivity/neighbour';
import { snapshotOf } from './snapshot';

/** Part of what it is measured against by which a number is changed: rounding and the rest of the differences are alike small there. */
const PART = 1e-3;
/** Corrections by which a neighbouring machine comes to where it is to stand, at most; what is left then, in parts of its size. */
const ROUNDS = 30;
const THERE = 1e-13;
/** A gap of joints from which on a number has moved them, in parts of the machine's size and of its change. */
const MOVED = 1e-9;

export interface NumberAnswer {
  /** Accelerations of all leaders, and what gauges read, by a change of the number by 1 of its SI unit. */
  readonly leaders: Float64Array;
  readonly outputs: Float64Array;
  /** It moves places at which bodies are joined, or their centres of mass. */
  readonly moves: boolean;
}

/** Its dimension; none where it is written without a unit. */
export const dimensionOf = ({ unit }: ModelNumber): Dimension => readUnit(unit)?.dim ?? D.none;

/**
 * About the posture and motion in K of a machine, which is left as it is.
 * @throws Refusal where the number makes another machine
 */
export function byNumber(
  m: Mechanism,
  t: number,
  { number, model }: { number: ModelNumber; model: Model },
  leaders: readonly FreeMotion[],
  outputs: readonly string[],
): NumberAnswer {
  const whole = wholeOf(number, m.size) * (readUnit(number.unit)?.factor ?? 1),
    at = (parts: number) => beside(m, t, withChanged(model, number, parts * PART, m.size), number, leaders, outputs),
    [a, b, c, d] = [1, -1, 2, -2].map(at) as [Beside, Beside, Beside, Beside],
    slope = (of: (x: Beside) => Float64Array) =>
      Float64Array.from(of(a), (x, i) => (8 * (x - of(b)[i]!) - (of(c)[i]! - of(d)[i]!)) / (12 * PART * whole));
  return { leaders: slope((x) => x.leaders), outputs: slope((x) => x.outputs), moves: Math.max(a.gap, b.gap) > MOVED * PART * m.size };
}

interface Beside {
  readonly leaders: Float64Array;
  readonly outputs: Float64Array;
  readonly gap: number;
}

const other = (element: ElementRef, why: string): never =>
  refuse({ code: 'input-structure', message: 'With a little more of it, it is another machine.', why, element });

function beside(
  m: Mechanism,
  t: number,
  model: Model,
  { element }: ModelNumber,
  leaders: readonly FreeMotion[],
  outputs: readonly string[],
): Beside {
  const { mechanism: n, diagnoses } = build(model),
    error = diagnoses.find((d) => d.severity === 'error');
  if (!n || error) return other(element, error?.message ?? 'It cannot be built.');
  const { system } = n;
  if (system.rows !== m.system.rows || system.bodies !== m.system.bodies || system.K.whole.size !== m.system.K.whole.size)
    return other(element, 'It has other bodies or joints.');
  assemble(n);
  const state = new Float64Array(m.system.K.whole.size),
    memory = new Float64Array(m.memories.cells);
  m.system.K.storeWhole(state);
  m.memories.keep(memory, 0);
  system.standing(m.system.K.standing);
  system.K.loadWhole(state);
  n.memories.recall(memory);
  system.segment(t, Infinity);
  system.linearise();
  const gap = system.residual(t);
  stand(n, t, m, leaders);
  if (modesOf(n) !== modesOf(m)) return other(element, 'Its frictions, stops or switches are in other modes.');
  system.accelerate(t);
  const own = leaders.map((l) => ofNeighbour(n, l)),
    snapshot = snapshotOf(n, t),
    read = (channel: Channel) => channel.read(snapshot);
  return {
    leaders: Float64Array.from(own, (l) => l.acceleration(system.acceleration)),
    outputs: Float64Array.from(outputs, (name) => read(n.channel(name))),
    gap,
  };
}

/** What leads a free motion, in a neighbouring machine. */
function ofNeighbour(n: Mechanism, { leads, element }: FreeMotion) {
  const { K } = n.system;
  if ('freedom' in leads) {
    const f = n.joints.find((j) => j.name === element.name)!.freedoms.get(leads.freedom.type)!;
    return {
      value: () => f.value(K),
      rate: () => f.rate(K),
      acceleration: (a: Float64Array) => f.acceleration(K, a),
      turns: leads.freedom.type === 'rotation',
    };
  }
  const { entry } = leads,
    [b, k] = [Math.floor(entry / 6), entry % 6],
    home = K.q.slice(4 * b, 4 * b + 4);
  return {
    value: () => (k < 3 ? K.r[3 * b + k]! : 2 * turnedBy(home, K.q, 4 * b)[k - 3]!),
    rate: () => (k < 3 ? K.v[3 * b + k]! : K.w[3 * b + k - 3]!),
    acceleration: (a: Float64Array) => a[entry]!,
    turns: false,
  };
}
/** Vector part of the turn between two quaternions, in the axes of the first. */
function turnedBy([w, x, y, z]: Float64Array, q: Float64Array, at: number): [number, number, number] {
  const [a, b, c, d] = [q[at]!, q[at + 1]!, q[at + 2]!, q[at + 3]!];
  return [w! * b - x! * a - y! * d + z! * c, w! * c + x! * d - y! * a - z! * b, w! * d - x! * c + y! * b - z! * a];
}

/** Brings a neighbour onto its joints, with all leaders where they stand in the machine, and as fast. */
function stand(n: Mechanism, t: number, m: Mechanism, leaders: readonly FreeMotion[]): void {
  const { system } = n,
    { K } = system,
    own = leaders.map((l) => ofNeighbour(n, l)),
    // in the neighbour, which has the state of the machine as yet: body motions are measured from there
    places = own.map((l) => l.value()),
    rates = own.map((l) => l.rate()),
    wanted = leaders.map(({ leads }, i) =>
      'freedom' in leads ? [leads.freedom.value(m.system.K), leads.freedom.rate(m.system.K)] : [places[i]!, rates[i]!],
    );
  for (let round = 0; round < ROUNDS; round++) {
    system.linearise();
    system.projectPositions(t, THERE * m.size);
    let off = 0;
    own.forEach((l, i) => {
      let by = wanted[i]![0]! - l.value();
      if (l.turns) by -= TWO_PI * Math.round(by / TWO_PI);
      off = Math.max(off, Math.abs(by));
      K.displace(leaders[i]!.shape, by);
    });
    if (off < THERE) break;
  }
  system.linearise();
  system.projectPositions(t, THERE * m.size);
  for (let round = 0; round < ROUNDS; round++) {
    system.linearise();
    system.projectVelocities(t, THERE);
    let off = 0;
    own.forEach((l, i) => {
      const by = wanted[i]![1]! - l.rate();
      off = Math.max(off, Math.abs(by));
      K.quicken(leaders[i]!.shape, by);
    });
    if (off < THERE) break;
  }
  system.linearise();
  system.projectVelocities(t, THERE);
}
