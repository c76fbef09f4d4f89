/** The courses a driven freedom can follow: prescribed position, speed or acceleration. */
import type { Program } from '../formula/program';
import type { Course } from './constraints';
import type { Kinematics } from './kinematics';

/** A course with its own differential states: z[first], z[first + 1], … in Kinematics.z. */
export interface DrivenCourse extends Course {
  /** Number of extra states it integrates. */
  readonly states: number;
  first: number;
  readonly program: Program;
  /** Puts the states at their start, for a freedom now at `coordinate`. */
  begin(K: Kinematics, coordinate: number): void;
  rates(K: Kinematics, t: number, dz: Float64Array, at: number): void;
}

/** Position given: f, f′ and f″ are the formula and its exact derivatives. */
export class PositionCourse implements DrivenCourse {
  readonly states = 0;
  first = 0;
  f = 0;
  f1 = 0;
  f2 = 0;
  constructor(readonly program: Program) {}
  at(_K: Kinematics, t: number): void {
    const p = this.program.at(t);
    this.f = p.v;
    this.f1 = p.d;
    this.f2 = p.dd;
  }
  begin(): void {}
  rates(): void {}
}

/** Speed given: the position is its integral, from where the freedom stands at the start. */
export class SpeedCourse implements DrivenCourse {
  readonly states = 1;
  first = 0;
  f = 0;
  f1 = 0;
  f2 = 0;
  constructor(readonly program: Program) {}
  at(K: Kinematics, t: number): void {
    const p = this.program.at(t);
    this.f = K.z[this.first]!;
    this.f1 = p.v;
    this.f2 = p.d;
  }
  begin(K: Kinematics, coordinate: number): void {
    K.z[this.first] = coordinate;
  }
  rates(_K: Kinematics, t: number, dz: Float64Array, at: number): void {
    dz[at + this.first] = this.program.at(t).v;
  }
}

/** Acceleration given: speed from rest, position from where the freedom stands at the start. */
export class AccelerationCourse implements DrivenCourse {
  readonly states = 2;
  first = 0;
  f = 0;
  f1 = 0;
  f2 = 0;
  constructor(readonly program: Program) {}
  at(K: Kinematics, t: number): void {
    this.f = K.z[this.first]!;
    this.f1 = K.z[this.first + 1]!;
    this.f2 = this.program.at(t).v;
  }
  begin(K: Kinematics, coordinate: number): void {
    K.z[this.first] = coordinate;
    K.z[this.first + 1] = 0;
  }
  rates(K: Kinematics, t: number, dz: Float64Array, at: number): void {
    dz[at + this.first] = K.z[this.first + 1]!;
    dz[at + this.first + 1] = this.program.at(t).v;
  }
}
