/** The courses a driven freedom can follow: prescribed position, speed or acceleration. */
import type { Program } from '../formula/program';
import type { Ex } from '../expressions/arithmetic';
import type { Graph } from '../expressions/graph';
import type { KernelMemory } from '../kernel/memory';
import type { Prescription } from './constraint';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import type { Memory } from './memory';
import type { ExtraStates } from './states';

/** A course as expressions. */
export interface CourseStatement {
  /**
   * What is followed with its two rates, then how its own states change.
   * @param p its formula with its two rates @param z its own states @param shift what is added since it last took hold
   */
  of(g: Graph, p: readonly [Ex, Ex, Ex], z: readonly Ex[], shift: Ex): { follows: readonly [Ex, Ex, Ex]; rates: readonly Ex[] };
  /** The shift is to lie there from now on. */
  settle?(memory: KernelMemory, at: number): void;
}

/** Whether a course is known as expressions. */
export const isStated = (course: Prescription | undefined): course is DrivenCourse => course !== undefined && 'stated' in course;

/** A course with its own differential states. */
export interface DrivenCourse extends Prescription, ExtraStates {
  readonly law: Program;
  readonly stated: CourseStatement;
  readonly changes: { readonly by: 'course' };
  /** What it keeps from when it last took hold. */
  readonly memory?: Memory;
  /** Begins anew where the freedom stands, when the drive takes hold in the middle of a run. */
  resume(K: Kinematics, t: number): void;
  /** Brings its own states from one time to another by quadrature, where no integrator does. */
  travel(K: Kinematics, from: number, to: number): void;
}

const position: CourseStatement['of'] = (g, [f, f1, f2], _z, shift) => ({ follows: [g.add(f, shift), f1, f2], rates: [] });
const speed: CourseStatement['of'] = (_g, [v, a], [z]) => ({ follows: [z!, v, a], rates: [v] });
const acceleration: CourseStatement['of'] = (_g, [a], [z, v]) => ({ follows: [z!, v!, a], rates: [v!, a] });
const BY_COURSE = { by: 'course' } as const;

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
  readonly changes = BY_COURSE;
  first = 0;
  f = 0;
  f1 = 0;
  f2 = 0;
  private shift: Float64Array = new Float64Array(1);
  readonly memory: Memory = {
    cells: 1,
    keep: (out, at) => (out[at] = this.shift[0]!),
    recall: (from, at) => (this.shift[0] = from[at]!),
  };
  readonly stated: CourseStatement = {
    of: position,
    settle: ({ numbers }, at) => {
      numbers[at] = this.shift[0]!;
      this.shift = numbers.subarray(at, at + 1);
    },
  };
  constructor(
    readonly law: Program,
    private readonly freedom: Freedom,
  ) {}
  at(_K: Kinematics, t: number): void {
    const p = this.law.at(t);
    this.f = p.v + this.shift[0]!;
    this.f1 = p.d;
    this.f2 = p.dd;
  }
  begin(): void {
    this.shift[0] = 0;
  }
  resume(K: Kinematics, t: number): void {
    this.shift[0] = this.freedom.value(K) - this.law.at(t).v;
  }
  travel(): void {}
  rates(): void {}
}

/** Speed given: the position is its integral, from where the freedom stands at the start. */
export class SpeedCourse implements DrivenCourse {
  readonly states = 1;
  readonly stated: CourseStatement = { of: speed };
  readonly changes = BY_COURSE;
  first = 0;
  f = 0;
  f1 = 0;
  f2 = 0;
  constructor(
    readonly law: Program,
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
  readonly stated: CourseStatement = { of: acceleration };
  readonly changes = BY_COURSE;
  first = 0;
  f = 0;
  f1 = 0;
  f2 = 0;
  constructor(
    readonly law: Program,
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
