/**
 * How the state of a machine is laid out, the one place that knows: first where every body is, then how it moves, then the further states of elements.
 * A body has its centre of mass (three lengths), its turn (a unit quaternion) and its motion: velocity and spin. Of a body that cannot move in every way
 * only what can change is told: coordinates of its centre, and of its turn about one axis the cosine and sine of half the angle since then. A body that is
 * placed by coordinates of its own has these and their speeds instead; where everything is told, it has them beside.
 */
import { OwnBodies } from './coordinates/own';
import { type Fold, spinsOf } from './fold';

/** What a number of the state is, by which it is weighed: a length, a part of a turn, a speed, an angular speed, or an element's own. */
export const KIND = { place: 0, turn: 1, velocity: 2, spin: 3, further: 4 } as const;

/** Whether it has a length in it: a length, or a speed. */
export const isLength = (kind: number): boolean => kind === KIND.place || kind === KIND.velocity;

const PLACE = 3;
const TURN = 4;
/** Numbers that say where a body is: its place, then its turn. */
export const POSTURE = PLACE + TURN;
/** Numbers that say how a body moves: velocity, then spin. */
export const MOTION = 6;

/** Numbers of a state of so many bodies and further states, coordinates that bodies have of their own and their speeds among these. */
export const stateSize = (bodies: number, further: number): number => (POSTURE + MOTION) * bodies + further;

/** Numbers that tell the turn of a body, by how many axes it turns about. */
const TURNS = [0, 2, TURN, TURN] as const;

export class StateLayout {
  readonly size: number;
  /** Where motions begin: before them all numbers are postures. */
  readonly motions: number;
  /** Where further states begin. */
  readonly further: number;
  /** Of each number what it is, and the body to which it belongs (−1: none). */
  readonly kind: Uint8Array;
  readonly body: Int32Array;
  /** Where the posture of each body begins (place, then turn), and where its turn does. */
  readonly posture: Int32Array;
  readonly turn: Int32Array;
  /** Numbers that tell the turn of each body: none, two about one axis, or four. */
  readonly turns: Uint8Array;
  /** Of each number of the motions, in order, which entry of a motion it is: six velocities a body, then the speeds of coordinates. */
  readonly moving: Int32Array;
  /** Where coordinates that bodies have of their own stand. */
  readonly coordinate: Int32Array;
  /** Numbers that belong to a body which moves in every way. */
  readonly each = POSTURE + MOTION;

  constructor(
    readonly bodies: number,
    further: number,
    /** How the bodies can move; left out: in every way. */
    readonly fold?: Fold,
    own = new OwnBodies(bodies),
    /** Whether bodies that coordinates place are told as all others, too. */
    everything = false,
  ) {
    const moves = fold?.moves ?? new Uint8Array(MOTION * bodies).fill(1),
      count = (from: number) => moves[from]! + moves[from + 1]! + moves[from + 2]!,
      kinds: number[] = [],
      owners: number[] = [],
      moving: number[] = [],
      note = (n: number, kind: number, body: number) => {
        for (let k = 0; k < n; k++) {
          kinds.push(kind);
          owners.push(body);
        }
      },
      six = (i: number) => everything || !own.of[i]?.placed;
    this.posture = new Int32Array(bodies);
    this.turn = new Int32Array(bodies);
    this.turns = Uint8Array.from({ length: bodies }, (_, i) => (six(i) ? TURNS[fold ? spinsOf(fold, i) : 3]! : 0));
    for (let i = 0; i < bodies; i++) {
      this.posture[i] = kinds.length;
      if (six(i)) note(count(MOTION * i), KIND.place, i);
      this.turn[i] = kinds.length;
      note(this.turns[i]!, KIND.turn, i);
    }
    const coordinates = kinds.length;
    this.coordinate = Int32Array.from({ length: own.coordinates }, (_, j) => coordinates + j);
    for (const { body, law } of own.list) for (const { length } of law.coordinates) note(1, length ? KIND.place : KIND.turn, body);
    this.motions = kinds.length;
    for (let i = 0; i < bodies; i++) {
      if (!six(i)) continue;
      note(count(MOTION * i), KIND.velocity, i);
      note(count(MOTION * i + 3), KIND.spin, i);
      for (let k = 0; k < MOTION; k++) if (moves[MOTION * i + k]) moving.push(MOTION * i + k);
    }
    for (const { body, law, first } of own.list)
      law.coordinates.forEach(({ length }, j) => {
        note(1, length ? KIND.velocity : KIND.spin, body);
        moving.push(MOTION * bodies + first + j);
      });
    this.further = kinds.length;
    note(further, KIND.further, -1);
    this.size = kinds.length;
    this.kind = Uint8Array.from(kinds);
    this.body = Int32Array.from(owners);
    this.moving = Int32Array.from(moving);
  }
}

/** Of each number of the postures which entry it is of the places of all bodies, three each; −1 for all others. */
export function placesIn({ moving, posture, bodies, motions }: StateLayout): Int32Array {
  const nth = new Uint8Array(bodies),
    out = new Int32Array(motions).fill(-1);
  for (const x of moving) {
    const body = Math.floor(x / 6);
    if (x < MOTION * bodies && x % 6 < 3) out[posture[body]! + nth[body]!++] = 3 * body + (x % 6);
  }
  return out;
}
