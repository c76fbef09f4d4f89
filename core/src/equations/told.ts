/**
 * What a record tells of the bodies. Of those that joints hold in a plane, places and velocities in it and one number for the turn (`half-turn.ts`):
 * six numbers instead of thirteen. What is left out stays as it was when the run began.
 */
import { cosine, cosineOf, quarter, sine, sineOf, turn } from './half-turn';
import { MOTION, POSTURE } from './layout';

/** How the bodies can move, and where they were. */
export interface Told {
  /** Six to a body, velocities of its centre and spins about its own axes: 1 where it can differ from zero. */
  moves: readonly number[];
  /** Seven to a body: place of its centre, m, and turn, a unit quaternion. */
  still: readonly number[];
}

const TURN = 4;
const spins = (moves: readonly number[], body: number): number =>
  moves[MOTION * body + 3]! + moves[MOTION * body + 4]! + moves[MOTION * body + 5]!;
/** Numbers that tell a turn, by how many axes it is about. */
const TURNS = [0, 1, TURN, TURN] as const;

/** Numbers of bodies in a record. */
export function toldSize({ moves }: Pick<Told, 'moves'>): number {
  let n = 0;
  for (let b = 0; MOTION * b < moves.length; b++) n += TURNS[spins(moves, b) as 0]!;
  return moves.reduce((s, m, k) => s + (k % MOTION < 3 ? 2 * m : m), n);
}

/** Whether what a file says is told of so many bodies. */
export function isTold(x: unknown, bodies: number): x is Told {
  const { moves, still } = (x ?? {}) as Partial<Told>;
  return (
    Array.isArray(moves) &&
    Array.isArray(still) &&
    moves.length === MOTION * bodies &&
    still.length === POSTURE * bodies &&
    moves.every((m) => m === 0 || m === 1) &&
    still.every((s) => Number.isFinite(s))
  );
}

/** Between states with everything told and what a record tells of them. */
export class Telling {
  /** Numbers that stand in both: where in a record, from the first of its state on, and where in a state. */
  private readonly from: Int32Array;
  private readonly to: Int32Array;
  /** Bodies that turn about one axis, about which, and where their number stands. */
  private readonly turning: readonly { readonly body: number; readonly axis: number; readonly at: number }[];

  /** @param further states of elements */
  constructor(
    { moves, still }: Told,
    further: number,
    private readonly rest = Float64Array.from(still),
  ) {
    const bodies = moves.length / MOTION,
      from: number[] = [],
      to: number[] = [],
      turning: { body: number; axis: number; at: number }[] = [];
    let at = 0;
    const both = (state: number) => {
      from.push(at++);
      to.push(state);
    };
    for (let b = 0; b < bodies; b++) {
      for (let k = 0; k < 3; k++) if (moves[MOTION * b + k]) both(POSTURE * b + k);
      const about = spins(moves, b);
      if (about === 1) turning.push({ body: b, axis: [0, 1, 2].find((k) => moves[MOTION * b + 3 + k])!, at: at++ });
      else for (let k = 0; k < TURNS[about as 0]!; k++) both(POSTURE * b + 3 + k);
    }
    moves.forEach((m, k) => m && both(POSTURE * bodies + k));
    for (let k = 0; k < further; k++) both((POSTURE + MOTION) * bodies + k);
    this.from = Int32Array.from(from);
    this.to = Int32Array.from(to);
    this.turning = turning;
  }

  /** From a state to what is told of it, each from a place on. */
  tell(state: Float64Array, record: Float64Array, at: number): void {
    const { from, to, turning, rest } = this;
    for (let j = 0; j < from.length; j++) record[at + from[j]!] = state[to[j]!]!;
    for (const { body, axis, at: place } of turning) {
      const q = POSTURE * body + 3;
      record[at + place] = quarter(cosine(rest, q, state, q), sine(rest, q, state, q, axis));
    }
  }
  /** The state of which that is told. */
  state(record: Float64Array, at: number, state: Float64Array): void {
    const { from, to, turning, rest } = this;
    state.set(rest);
    state.fill(0, rest.length);
    for (let j = 0; j < from.length; j++) state[to[j]!] = record[at + from[j]!]!;
    for (const { body, axis, at: place } of turning) {
      const q = POSTURE * body + 3,
        x = record[at + place]!;
      turn(rest, q, axis, cosineOf(x), sineOf(x), state, q);
    }
  }
}
