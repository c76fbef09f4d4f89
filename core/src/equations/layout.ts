/**
 * How the state of a machine is laid out, the one place that knows: first where every body is, then how it moves, then the further states of elements.
 * A body has its centre of mass (three lengths), its turn (a unit quaternion) and its motion: velocity and spin.
 */

/** What a number of the state is, by which it is weighed: a length, a part of a turn, a speed, an angular speed, or an element's own. */
export const KIND = { place: 0, turn: 1, velocity: 2, spin: 3, further: 4 } as const;

const PLACE = 3;
const TURN = 4;
const POSTURE = PLACE + TURN;
/** Numbers that say how a body moves: velocity, then spin. */
export const MOTION = 6;

/** Numbers of a state of so many bodies and further states. */
export const stateSize = (bodies: number, further: number): number => (POSTURE + MOTION) * bodies + further;

export class StateLayout {
  readonly size: number;
  /** Where motions begin: before them all numbers are postures. */
  readonly motions: number;
  /** Where further states begin. */
  readonly further: number;
  /** Of each number what it is, and the body to which it belongs (−1: none). */
  readonly kind: Uint8Array;
  readonly body: Int32Array;

  constructor(
    readonly bodies: number,
    further: number,
  ) {
    this.motions = POSTURE * bodies;
    this.further = this.motions + MOTION * bodies;
    this.size = stateSize(bodies, further);
    this.kind = new Uint8Array(this.size).fill(KIND.further);
    this.body = new Int32Array(this.size).fill(-1);
    for (let i = 0; i < bodies; i++) {
      this.note(this.posture(i), PLACE, KIND.place, i);
      this.note(this.turn(i), TURN, KIND.turn, i);
      this.note(this.motion(i), MOTION / 2, KIND.velocity, i);
      this.note(this.motion(i) + MOTION / 2, MOTION / 2, KIND.spin, i);
    }
  }

  /** Where the posture of a body begins: place, then turn. */
  posture(body: number): number {
    return POSTURE * body;
  }
  /** Where the turn of a body begins: a unit quaternion. */
  turn(body: number): number {
    return this.posture(body) + PLACE;
  }
  /** Where the motion of a body begins: velocity, then spin. */
  motion(body: number): number {
    return this.motions + MOTION * body;
  }
  /** Numbers that belong to a body. */
  get each(): number {
    return POSTURE + MOTION;
  }

  private note(at: number, count: number, kind: number, body: number): void {
    this.kind.fill(kind, at, at + count);
    this.body.fill(body, at, at + count);
  }
}
