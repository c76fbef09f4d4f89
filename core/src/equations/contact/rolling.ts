/**
 * Resistance to rolling and to spinning of places that touch: a moment of a lever arm b times what presses, N, against the turning of both past one another.
 * It is b N w, where w is wound up as they turn, dw/dt = (ω − |ω| w)/θ₀, so that what rests is held without creeping (P. R. Dahl, AIAA Journal 14, 1976);
 * θ₀ is the angle in which the lever arm is rolled over.
 */
import type { Kinematics } from '../kinematics';
import type { ExtraStates } from '../states';

export interface TurningLaw {
  /** Lever arms against rolling and against spinning about the normal, m. */
  readonly rolling: number;
  readonly spinning: number;
}

/** A place: its bodies and the normal, ground axes; whether it touches. */
export interface TurningPlace {
  readonly a: number;
  readonly b: number;
  readonly n: Float64Array;
  readonly x: Float64Array;
}

export class Rolling implements ExtraStates {
  /** w of each place, ground axes. */
  readonly states: number;
  first = 0;
  /** Moment on the first body at the last `moment`, N·m, ground axes. */
  readonly moment = new Float64Array(3);
  private readonly w = new Float64Array(3);
  private readonly part = new Float64Array(3);
  private readonly following: Float64Array;
  private readonly follows: Int32Array;

  /** @param touching tells of all places that touch, with what presses, N */
  constructor(
    private readonly count: number,
    private readonly law: TurningLaw,
    private readonly touching: (K: Kinematics, tell: (i: number, at: TurningPlace, presses: number) => void) => void,
  ) {
    this.states = 3 * count;
    this.following = new Float64Array(18 * count);
    this.follows = new Int32Array(2 * count);
  }
  begin(K: Kinematics): void {
    K.z.fill(0, this.first, this.first + this.states);
  }
  /** A place begins, or ends. */
  clear(K: Kinematics, i: number): void {
    K.z.fill(0, this.first + 3 * i, this.first + 3 * i + 3);
  }

  /** How both turn past one another, rad/s, ground axes, into `w`. */
  private turning({ A, w, bodies }: Kinematics, { a, b }: TurningPlace): void {
    for (let k = 0; k < 3; k++) {
      let sum = 0;
      for (let j = 0; j < 3; j++) {
        if (a < bodies) sum += A[9 * a + 3 * k + j]! * w[3 * a + j]!;
        if (b < bodies) sum -= A[9 * b + 3 * k + j]! * w[3 * b + j]!;
      }
      this.w[k] = sum;
    }
  }
  /** The part of a vector about the normal, or across it, into `part`. @returns its size */
  private split(x: Float64Array, at: number, n: Float64Array, about: boolean): number {
    const { part } = this,
      along = x[at]! * n[0]! + x[at + 1]! * n[1]! + x[at + 2]! * n[2]!;
    let sum = 0;
    for (let k = 0; k < 3; k++) {
      part[k] = about ? along * n[k]! : x[at + k]! - along * n[k]!;
      sum += part[k]! * part[k]!;
    }
    return Math.sqrt(sum);
  }
  private arm(about: boolean): number {
    return about ? this.law.spinning : this.law.rolling;
  }
  /** How far a place is from the centre of mass of the nearer body that moves, m: the radius of what rolls. */
  private radius({ r, bodies }: Kinematics, { a, b, x }: TurningPlace): number {
    let least = Infinity;
    for (const body of [a, b]) {
      if (body >= bodies) continue;
      let sum = 0;
      for (let k = 0; k < 3; k++) sum += (x[k]! - r[3 * body + k]!) * (x[k]! - r[3 * body + k]!);
      least = Math.min(least, sum);
    }
    return Math.sqrt(least);
  }
  /**
   * What resists at a place: into `moment`, no more than its arm times what presses.
   * @param heavy part of critical damping, times the root of what turns, √(kg·m²)
   */
  resist(K: Kinematics, i: number, place: TurningPlace, presses: number, heavy: number): void {
    const { moment, part, w } = this;
    moment.fill(0);
    this.turning(K, place);
    // b N/θ₀, θ₀ being b over the radius
    const damping = presses > 0 ? 2 * heavy * Math.sqrt(presses * this.radius(K, place)) : 0;
    for (const about of [false, true]) {
      const most = this.arm(about) * presses;
      if (!(most > 0)) continue;
      this.split(K.z, this.first + 3 * i, place.n, about);
      const [x, y, z] = [part[0]!, part[1]!, part[2]!];
      this.split(w, 0, place.n, about);
      const a = most * x + damping * part[0]!,
        b = most * y + damping * part[1]!,
        c = most * z + damping * part[2]!,
        all = Math.sqrt(a * a + b * b + c * c),
        by = all > most ? most / all : 1;
      moment[0] = moment[0]! - by * a;
      moment[1] = moment[1]! - by * b;
      moment[2] = moment[2]! - by * c;
    }
  }
  rates(K: Kinematics, _t: number, dz: Float64Array, at: number): void {
    const { first, part, w } = this;
    dz.fill(0, at + first, at + first + this.states);
    this.touching(K, (i, place, presses) => {
      if (!(presses > 0)) return;
      this.turning(K, place);
      const radius = this.radius(K, place),
        to = at + first + 3 * i;
      for (const about of [false, true]) {
        const arm = this.arm(about);
        if (arm === 0) continue;
        const speed = this.split(w, 0, place.n, about);
        for (let k = 0; k < 3; k++) dz[to + k] = dz[to + k]! + (radius / arm) * part[k]!;
        this.split(K.z, first + 3 * i, place.n, about);
        for (let k = 0; k < 3; k++) dz[to + k] = dz[to + k]! - (radius / arm) * speed * part[k]!;
      }
    });
  }

  readonly along = {
    take: (K: Kinematics): void => {
      const { following, follows } = this,
        { A, bodies } = K;
      following.fill(0);
      this.touching(K, (i, place, presses) => {
        const { a, b, n } = place,
          radius = this.radius(K, place),
          [rolls, spins] = [false, true].map((about) => (this.arm(about) > 0 ? radius / this.arm(about) : 0)) as [number, number];
        [a, b].forEach((body, side) => {
          follows[2 * i + side] = body < bodies ? body : -1;
          if (body >= bodies || !(presses > 0)) return;
          const sign = side === 0 ? 1 : -1;
          for (let c = 0; c < 3; c++) {
            const about = A[9 * body + c]! * n[0]! + A[9 * body + 3 + c]! * n[1]! + A[9 * body + 6 + c]! * n[2]!;
            for (let k = 0; k < 3; k++) {
              const spin = about * n[k]!,
                roll = A[9 * body + 3 * k + c]! - spin;
              following[18 * i + 9 * side + 3 * k + c] = sign * (spins * spin + rolls * roll);
            }
          }
        });
      });
    },
    add: (motion: Float64Array, rates: Float64Array, at: number): void => {
      const { count, follows, following } = this;
      for (let i = 0; i < count; i++)
        for (let side = 0; side < 2; side++) {
          const body = follows[2 * i + side]!;
          for (let k = 0; k < 3 && body >= 0; k++) {
            let s = 0;
            for (let c = 0; c < 3; c++) s += following[18 * i + 9 * side + 3 * k + c]! * motion[6 * body + 3 + c]!;
            rates[at + 3 * i + k] = rates[at + 3 * i + k]! + s;
          }
        }
    },
  };
}
