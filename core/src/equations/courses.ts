/** The courses a driven freedom can follow: prescribed position, speed or acceleration. */
import type { Kink, Program } from '../formula/program';
import type { Prescription } from './constraint';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import type { Memory } from './memory';
import type { ExtraStates } from './states';

/** A function of time with two derivatives, and the times of its kinks. */
export interface TimeLaw {
  readonly v: number;
  readonly d: number;
  readonly dd: number;
  at(t: number): TimeLaw;
  kinks(t0: number, t1: number): Kink[];
  /** Whether it is no constant. */
  readonly varies: boolean;
}

/** A law brought in from zero: s(t/T) f(t) with s = x³ (10 − 15 x + 6 x²). */
export class Eased implements TimeLaw {
  readonly varies = true;
  v = 0;
  d = 0;
  dd = 0;
  constructor(
    private readonly law: Program,
    private readonly time: number,
  ) {}
  at(t: number): this {
    const { v, d, dd } = this.law.at(t);
    const x = Math.min(1, Math.max(0, t / this.time)),
      T = this.time;
    const s = x * x * x * (10 + x * (6 * x - 15)),
      s1 = (30 * x * x * (1 - x) * (1 - x)) / T,
      s2 = (60 * x * (1 - x) * (1 - 2 * x)) / (T * T);
    this.v = s * v;
    this.d = s1 * v + s * d;
    this.dd = s2 * v + 2 * s1 * d + s * dd;
    return this;
  }
  kinks(t0: number, t1: number): Kink[] {
    const end: Kink[] = this.time > t0 && this.time < t1 ? [{ t: this.time, jump: [0, 0, 0] }] : [];
    return [...this.law.kinks(t0, t1), ...end].sort((a, b) => a.t - b.t);
  }
}

/** A course with its own differential states. */
export interface DrivenCourse extends Prescription, ExtraStates {
  readonly law: TimeLaw;
  /** What it keeps from when it last took hold. */
  readonly memory?: Memory;
  /** Begins anew where the freedom stands, when the drive takes hold in the middle of a run. */
  resume(K: Kinematics, t: number): void;
  /** Brings its own states from one time to another by quadrature, where no integrator does. */
  travel(K: Kinematics, from: number, to: number): void;
}

const GAUSS = [
  [-0.906179845938664, 0.2369268850561891],
  [-0.5384693101056831, 0.4786286704993665],
  [0, 0.5688888888888889],
  [0.5384693101056831, 0.4786286704993665],
  [0.906179845938664, 0.2369268850561891],
] as const;

/** ∫ f dt by Gauss's rule on four parts. */
function quadrature(f: (t: number) => number, from: number, to: number): number {
  let sum = 0;
  for (let p = 0; p < 4; p++) {
    const half = (to - from) / 8,
      middle = from + half * (2 * p + 1);
    for (const [x, w] of GAUSS) sum += w * half * f(middle + half * x);
  }
  return sum;
}

/** Position given: f, f′ and f″ are the formula and its exact derivatives. */
export class PositionCourse implements DrivenCourse {
  readonly states = 0;
  first = 0;
  f = 0;
  f1 = 0;
  f2 = 0;
  private offset = 0;
  readonly memory: Memory = {
    cells: 1,
    keep: (out, at) => (out[at] = this.offset),
    recall: (from, at) => (this.offset = from[at]!),
  };
  constructor(
    readonly law: TimeLaw,
    private readonly freedom: Freedom,
  ) {}
  at(_K: Kinematics, t: number): void {
    const p = this.law.at(t);
    this.f = p.v + this.offset;
    this.f1 = p.d;
    this.f2 = p.dd;
  }
  begin(): void {
    this.offset = 0;
  }
  resume(K: Kinematics, t: number): void {
    this.offset = this.freedom.value(K) - this.law.at(t).v;
  }
  travel(): void {}
  rates(): void {}
}

/** Speed given: the position is its integral, from where the freedom stands at the start. */
export class SpeedCourse implements DrivenCourse {
  readonly states = 1;
  first = 0;
  f = 0;
  f1 = 0;
  f2 = 0;
  constructor(
    readonly law: TimeLaw,
    private readonly freedom: Freedom,
  ) {}
  at(K: Kinematics, t: number): void {
    const p = this.law.at(t);
    this.f = K.z[this.first]!;
    this.f1 = p.v;
    this.f2 = p.d;
  }
  begin(K: Kinematics): void {
    K.z[this.first] = this.freedom.value(K);
  }
  resume(K: Kinematics): void {
    this.begin(K);
  }
  travel(K: Kinematics, from: number, to: number): void {
    K.z[this.first] = K.z[this.first]! + quadrature((t) => this.law.at(t).v, from, to);
  }
  rates(_K: Kinematics, t: number, dz: Float64Array, at: number): void {
    dz[at + this.first] = this.law.at(t).v;
  }
}

/** Acceleration given: speed from rest, position from where the freedom stands at the start. */
export class AccelerationCourse implements DrivenCourse {
  readonly states = 2;
  first = 0;
  f = 0;
  f1 = 0;
  f2 = 0;
  constructor(
    readonly law: TimeLaw,
    private readonly freedom: Freedom,
  ) {}
  at(K: Kinematics, t: number): void {
    this.f = K.z[this.first]!;
    this.f1 = K.z[this.first + 1]!;
    this.f2 = this.law.at(t).v;
  }
  begin(K: Kinematics): void {
    K.z[this.first] = this.freedom.value(K);
    K.z[this.first + 1] = 0;
  }
  resume(K: Kinematics): void {
    K.z[this.first] = this.freedom.value(K);
    K.z[this.first + 1] = this.freedom.rate(K);
  }
  travel(K: Kinematics, from: number, to: number): void {
    const speed = K.z[this.first + 1]!;
    K.z[this.first] = K.z[this.first]! + speed * (to - from) + quadrature((t) => (to - t) * this.law.at(t).v, from, to);
    K.z[this.first + 1] = speed + quadrature((t) => this.law.at(t).v, from, to);
  }
  rates(K: Kinematics, t: number, dz: Float64Array, at: number): void {
    dz[at + this.first] = K.z[this.first + 1]!;
    dz[at + this.first + 1] = this.law.at(t).v;
  }
}
