/**
 * Applied forces. Each adds to F: six numbers a body, force in ground axes, then torque about the centre of
 * mass in body axes. One slot more than there are bodies takes what acts on the ground.
 */
import type { Program } from '../formula/program';
import type { Vec3 } from '../geometry/vector';
import type { Kinematics } from './kinematics';
import type { Constraint } from './constraint';
import type { Memory } from './memory';
import type { Magnitude } from './magnitude';
import type { ExtraStates } from './states';
import type { Carried, Watch } from './watch';
import type { Elastic } from './elastic';
import { type LoadReadings, alongLine } from './load-readings';

export interface Force {
  /** All bodies it can push; the ground is one past the last. */
  readonly bodies: readonly number[];
  apply(K: Kinematics, t: number, F: Float64Array): void;
  /** Stored energy, J, for forces that have a potential. */
  energy?(K: Kinematics, t: number): number;
  /** What part of the stored energy belongs to one body, J. */
  energyOf?(i: number, K: Kinematics, t: number): number;
  /** What it tells of itself: deflection, its rate, effort. */
  readings?: LoadReadings;
  /** Differential states of its own. */
  extras?: readonly ExtraStates[];
  /** Adds what follows from the constraint forces (friction, the spreading of tooth forces); called until it settles. */
  react?(K: Kinematics, t: number, multipliers: Float64Array, G: Float64Array, F: Float64Array): void;
  /** A row that holds only while the force switches it on: of stuck friction, of an end that is leant on. */
  holding?: {
    constraint: Constraint;
    joint: string;
    /** Whether it holds now. */
    readonly on: boolean;
    /** Lets it go, the way the machine is accelerated: six numbers a body. */
    release(K: Kinematics, acceleration: Float64Array): void;
  };
  /** Of friction: whether it can carry what its row carries now. */
  sticks?(K: Kinematics, carried: Carried): boolean;
  /** What it remembers of the run. */
  memory?: Memory;
  /** Moments at which the force changes its law. */
  watches?: readonly Watch[];
  /** Whether the posture is past a limit it sets (end stops). */
  beyond?(K: Kinematics): boolean;
  /** Puts its modes at their start. */
  begin?(K: Kinematics, t: number): void;
  /** Time-dependent formulas in it, whose kinks split the run. */
  programs?: readonly Program[];
  /** Whether it follows from postures and motions alone, without corners: however long a step, its error shows all of it. */
  readonly smooth?: boolean;
}

/** All that a load does at a state: its own force, what follows from the constraint forces, and what its row holds. */
export function wholeForce(force: Force, K: Kinematics, t: number, { multipliers, G }: Carried, F: Float64Array): void {
  force.apply(K, t, F);
  force.react?.(K, t, multipliers, G, F);
  const c = force.holding?.constraint;
  if (!c) return;
  for (let k = 0; k < c.rows; k++) {
    const lambda = multipliers[c.row + k]!,
      g = 12 * (c.row + k);
    for (let e = 0; e < 6; e++) {
      F[6 * c.a + e] = F[6 * c.a + e]! - lambda * G[g + e]!;
      F[6 * c.b + e] = F[6 * c.b + e]! - lambda * G[g + 6 + e]!;
    }
  }
}

/** Adds a ground-axes force at a place fixed in body i (place relative to the centre of mass, body axes). */
export function pushAt(K: Kinematics, F: Float64Array, i: number, s: ArrayLike<number>, fx: number, fy: number, fz: number): void {
  const { A } = K;
  const m = 9 * i,
    p = 6 * i;
  F[p] = F[p]! + fx;
  F[p + 1] = F[p + 1]! + fy;
  F[p + 2] = F[p + 2]! + fz;
  const x = A[m]! * fx + A[m + 3]! * fy + A[m + 6]! * fz;
  const y = A[m + 1]! * fx + A[m + 4]! * fy + A[m + 7]! * fz;
  const z = A[m + 2]! * fx + A[m + 5]! * fy + A[m + 8]! * fz;
  F[p + 3] = F[p + 3]! + s[1]! * z - s[2]! * y;
  F[p + 4] = F[p + 4]! + s[2]! * x - s[0]! * z;
  F[p + 5] = F[p + 5]! + s[0]! * y - s[1]! * x;
}

/** Component k (ground axes) of the position of a place in body i. */
export function placeAt({ r, A }: Kinematics, i: number, s: ArrayLike<number>, k: number): number {
  const p = 9 * i + 3 * k;
  return r[3 * i + k]! + A[p]! * s[0]! + A[p + 1]! * s[1]! + A[p + 2]! * s[2]!;
}

/** Component k (ground axes) of the velocity of a place in body i. */
export function speedAt({ v, w, A }: Kinematics, i: number, s: ArrayLike<number>, k: number): number {
  const x = w[3 * i]!,
    y = w[3 * i + 1]!,
    z = w[3 * i + 2]!;
  const p = 9 * i + 3 * k;
  return v[3 * i + k]! + A[p]! * (y * s[2]! - z * s[1]!) + A[p + 1]! * (z * s[0]! - x * s[2]!) + A[p + 2]! * (x * s[1]! - y * s[0]!);
}

export class Gravity implements Force {
  readonly smooth = true;
  readonly bodies: readonly number[];
  constructor(
    private readonly masses: readonly number[],
    private readonly g: Vec3,
  ) {
    this.bodies = masses.map((_, i) => i);
  }
  apply(_K: Kinematics, _t: number, F: Float64Array): void {
    for (let i = 0; i < this.masses.length; i++) {
      for (let k = 0; k < 3; k++) F[6 * i + k] = F[6 * i + k]! + this.masses[i]! * this.g[k as 0 | 1 | 2];
    }
  }
  energy(K: Kinematics): number {
    let e = 0;
    for (let i = 0; i < this.masses.length; i++) e += this.energyOf(i, K);
    return e;
  }
  energyOf(i: number, K: Kinematics): number {
    let e = 0;
    for (let k = 0; k < 3; k++) e -= (this.masses[i] ?? 0) * this.g[k as 0 | 1 | 2] * K.r[3 * i + k]!;
    return e;
  }
}

/** A force of given magnitude at a place of a body, its direction fixed in a body (or the ground). */
export class PointForce implements Force {
  readonly smooth: boolean;
  readonly bodies: readonly number[];
  readonly programs: readonly Program[];
  readonly readings: LoadReadings = {
    parts: 1,
    turns: () => false,
    effort: (K, t) => this.magnitude.at(K, t),
    positive: { effort: 'Positive along its direction.' },
  };
  constructor(
    private readonly body: number,
    private readonly at: Vec3,
    private readonly carrier: number,
    private readonly direction: Vec3,
    private readonly magnitude: Magnitude,
  ) {
    this.bodies = [body];
    this.programs = magnitude.programs;
    this.smooth = !magnitude.programs.some((p) => p.varies);
  }
  apply(K: Kinematics, t: number, F: Float64Array): void {
    const m = this.magnitude.at(K, t);
    const d = this.direction,
      A = K.A,
      p = 9 * this.carrier;
    pushAt(
      K,
      F,
      this.body,
      this.at,
      m * (A[p]! * d[0] + A[p + 1]! * d[1] + A[p + 2]! * d[2]),
      m * (A[p + 3]! * d[0] + A[p + 4]! * d[1] + A[p + 5]! * d[2]),
      m * (A[p + 6]! * d[0] + A[p + 7]! * d[1] + A[p + 8]! * d[2]),
    );
  }
}

/** A torque of given magnitude on a body, its axis fixed in a body (or the ground), its reaction on another. */
export class Torque implements Force {
  readonly smooth: boolean;
  readonly bodies: readonly number[];
  readonly programs: readonly Program[];
  readonly readings: LoadReadings = {
    parts: 1,
    turns: () => true,
    effort: (K, t) => this.magnitude.at(K, t),
    positive: { effort: 'Positive by the right hand about its axis, on its body.' },
  };
  constructor(
    private readonly body: number,
    private readonly reaction: number,
    private readonly carrier: number,
    private readonly axis: Vec3,
    private readonly magnitude: Magnitude,
  ) {
    this.bodies = [body, reaction];
    this.programs = magnitude.programs;
    this.smooth = !magnitude.programs.some((p) => p.varies);
  }
  apply(K: Kinematics, t: number, F: Float64Array): void {
    const m = this.magnitude.at(K, t);
    const d = this.axis,
      A = K.A,
      p = 9 * this.carrier;
    const x = m * (A[p]! * d[0] + A[p + 1]! * d[1] + A[p + 2]! * d[2]);
    const y = m * (A[p + 3]! * d[0] + A[p + 4]! * d[1] + A[p + 5]! * d[2]);
    const z = m * (A[p + 6]! * d[0] + A[p + 7]! * d[1] + A[p + 8]! * d[2]);
    twist(K, F, this.body, x, y, z);
    twist(K, F, this.reaction, -x, -y, -z);
  }
}

/** Adds a ground-axes torque to body i. */
export function twist({ A }: Kinematics, F: Float64Array, i: number, x: number, y: number, z: number): void {
  const m = 9 * i,
    p = 6 * i;
  F[p + 3] = F[p + 3]! + A[m]! * x + A[m + 3]! * y + A[m + 6]! * z;
  F[p + 4] = F[p + 4]! + A[m + 1]! * x + A[m + 4]! * y + A[m + 7]! * z;
  F[p + 5] = F[p + 5]! + A[m + 2]! * x + A[m + 5]! * y + A[m + 8]! * z;
}

/** Spring and damper along the line between two places; tension is positive: k (l − l₀) + c l̇ + preload. */
export class SpringDamper implements Force {
  readonly smooth: boolean;
  readonly bodies: readonly number[];
  /** Length, m, its rate, m/s, and tension, N, after `measure`. */
  length = 0;
  rate = 0;
  tension = 0;
  readonly readings = alongLine({
    effort: (K) => this.measured(K).tension,
    deflection: (K) => this.measured(K).length - this.free,
    rate: (K) => this.measured(K).rate,
  });
  private readonly d = new Float64Array(3);
  constructor(
    private readonly a: number,
    private readonly sa: Vec3,
    private readonly b: number,
    private readonly sb: Vec3,
    private readonly law: Elastic,
    private readonly damping: number,
    private readonly free: number,
    /** Pulls only, pushes only, or both. */
    private readonly only: 'both' | 'tension' | 'compression' = 'both',
  ) {
    this.bodies = [a, b];
    this.smooth = only === 'both' && law.smooth;
    if (only !== 'both') this.watches = [{ value: (K) => this.side * this.slack(K), fire: () => void (this.side = -this.side) }];
  }
  readonly watches?: readonly Watch[];
  private side = 1;
  begin(K: Kinematics): void {
    this.side = this.slack(K) < 0 ? -1 : 1;
  }
  /** Tension in the sense in which it acts; below zero it is slack. */
  private slack(K: Kinematics): number {
    this.measure(K);
    return (this.only === 'tension' ? 1 : -1) * this.law.effort(this.length - this.free);
  }
  private measured(K: Kinematics): this {
    this.measure(K);
    return this;
  }
  measure(K: Kinematics): void {
    const { d } = this;
    let l2 = 0;
    for (let k = 0; k < 3; k++) {
      d[k] = placeAt(K, this.b, this.sb, k) - placeAt(K, this.a, this.sa, k);
      l2 += d[k]! * d[k]!;
    }
    const l = (this.length = Math.sqrt(l2));
    let rate = 0;
    for (let k = 0; k < 3; k++) {
      d[k] = l > 0 ? d[k]! / l : 0;
      rate += d[k]! * (speedAt(K, this.b, this.sb, k) - speedAt(K, this.a, this.sa, k));
    }
    this.rate = rate;
    const elastic = this.law.effort(l - this.free);
    const pull = elastic + this.damping * rate;
    if (this.only === 'tension') this.tension = elastic > 0 ? Math.max(0, pull) : 0;
    else if (this.only === 'compression') this.tension = elastic < 0 ? Math.min(0, pull) : 0;
    else this.tension = pull;
  }
  apply(K: Kinematics, _t: number, F: Float64Array): void {
    this.measure(K);
    const { d, tension: f } = this;
    pushAt(K, F, this.a, this.sa, f * d[0]!, f * d[1]!, f * d[2]!);
    pushAt(K, F, this.b, this.sb, -f * d[0]!, -f * d[1]!, -f * d[2]!);
  }
  energy(K: Kinematics): number {
    this.measure(K);
    const x = this.length - this.free;
    if (this.only !== 'both' && this.law.effort(x) * (this.only === 'tension' ? 1 : -1) <= 0) return 0;
    return this.law.energy(x) - (this.only === 'both' ? 0 : this.law.slackEnergy);
  }
}
