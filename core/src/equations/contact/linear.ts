/** What linearised equations need of places that touch: how they slide as their bodies move. */
import type { Kinematics } from '../kinematics';
import type { Touch } from './meeting';

/** The bodies of a place, and where it is. */
type Place = Touch & { readonly a: number; readonly b: number };

/** Parts of a depth, and of the speed that leads to it, over which a force is straight enough for a difference of fourth order. */
const PART = 1e-2;
/** The same of the machine's size where nothing touches, and where it barely does. */
const LEAST = 1e-10;
const USUAL = 1e-6;

/** Next to a state what sticks is stretched by how far the places of its bodies that touched there have moved apart. */
export class Beside {
  displacement = 0;
  speed = 0;
  /** Of each place both bodies, and where it was in the axes of each. */
  private readonly bodies: Int32Array;
  private readonly at: Float64Array;
  private size = 1;
  constructor(places: number) {
    this.bodies = new Int32Array(2 * places);
    this.at = new Float64Array(6 * places);
  }
  begin(size: number): void {
    this.size = size;
    this.displacement = this.speed = USUAL * size;
  }
  /** @param speed at which its depth would be reached, m/s */
  take({ r, A }: Kinematics, i: number, { a, b, x }: Place, depth: number, speed: number): void {
    this.displacement = Math.min(this.displacement, Math.max(LEAST * this.size, PART * depth));
    this.speed = Math.min(this.speed, Math.max(LEAST * this.size, PART * speed));
    [a, b].forEach((body, side) => {
      this.bodies[2 * i + side] = body;
      for (let k = 0; k < 3; k++) {
        let s = 0;
        for (let j = 0; j < 3; j++) s += A[9 * body + 3 * j + k]! * (x[j]! - r[3 * body + j]!);
        this.at[6 * i + 3 * side + k] = s;
      }
    });
  }
  /** Component k (ground axes) of how far a place has slid. */
  slid(K: Kinematics, i: number, k: number): number {
    return this.place(K, i, 0, k) - this.place(K, i, 1, k);
  }
  private place({ r, A }: Kinematics, i: number, side: 0 | 1, k: number): number {
    const body = this.bodies[2 * i + side]!,
      p = 9 * body + 3 * k,
      q = 6 * i + 3 * side;
    return r[3 * body + k]! + A[p]! * this.at[q]! + A[p + 1]! * this.at[q + 1]! + A[p + 2]! * this.at[q + 2]!;
  }
}

/** How fast places slide that stick, by the motions of their bodies: three rows of six numbers for each side. */
export class Following {
  private readonly bodies: Int32Array;
  private readonly rows: Float64Array;
  constructor(private readonly places: number) {
    this.bodies = new Int32Array(2 * places);
    this.rows = new Float64Array(36 * places);
  }
  clear(): void {
    this.rows.fill(0);
  }
  take({ r, A, bodies }: Kinematics, i: number, { a, b, x, n }: Place): void {
    const { rows } = this;
    [a, b].forEach((body, side) => {
      // the ground rests
      this.bodies[2 * i + side] = body < bodies ? body : -1;
      const sign = side === 0 ? 1 : -1,
        arm = [0, 1, 2].map((k) => x[k]! - r[3 * body + k]!) as [number, number, number],
        at = 36 * i + 18 * side;
      for (let c = 0; c < 6; c++) {
        const turn = [0, 1, 2].map((k) => (c < 3 ? 0 : A[9 * body + 3 * k + c - 3]!)) as [number, number, number],
          v = [
            turn[1] * arm[2] - turn[2] * arm[1] + (c === 0 ? 1 : 0),
            turn[2] * arm[0] - turn[0] * arm[2] + (c === 1 ? 1 : 0),
            turn[0] * arm[1] - turn[1] * arm[0] + (c === 2 ? 1 : 0),
          ] as const,
          across = v[0] * n[0]! + v[1] * n[1]! + v[2] * n[2]!;
        for (let k = 0; k < 3; k++) rows[at + 6 * k + c] = sign * (v[k as 0]! - across * n[k]!);
      }
    });
  }
  add(motion: Float64Array, rates: Float64Array, at: number): void {
    const { places, bodies, rows } = this;
    for (let i = 0; i < places; i++)
      for (let side = 0; side < 2; side++) {
        const body = 6 * bodies[2 * i + side]!;
        for (let k = 0; k < 3 && body >= 0; k++) {
          let s = 0;
          for (let c = 0; c < 6; c++) s += rows[36 * i + 18 * side + 6 * k + c]! * motion[body + c]!;
          rates[at + 3 * i + k] = rates[at + 3 * i + k]! + s;
        }
      }
  }
}
