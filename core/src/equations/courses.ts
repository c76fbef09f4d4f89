/** The courses a driven freedom can follow: prescribed position, speed or acceleration. */
import type { Program } from '../formula/program';
import type { Course } from './constraints';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import type { ExtraStates } from './states';

/** A course with its own differential states, which start where the freedom it drives now stands. */
export interface DrivenCourse extends Course, ExtraStates {
  readonly program: Program;
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
  constructor(readonly program: Program, private readonly freedom: Freedom) {}
  at(K: Kinematics, t: number): void {
    const p = this.program.at(t);
    this.f = K.z[this.first]!;
    this.f1 = p.v;
    this.f2 = p.d;
  }
  begin(K: Kinematics): void {
    K.z[this.first] = this.freedom.value(K);
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
  constructor(readonly program: Program, private readonly freedom: Freedom) {}
  at(K: Kinematics, t: number): void {
    this.f = K.z[this.first]!;
    this.f1 = K.z[this.first + 1]!;
    this.f2 = this.program.at(t).v;
  }
  begin(K: Kinematics): void {
    K.z[this.first] = this.freedom.value(K);
    K.z[this.first + 1] = 0;
  }
  rates(K: Kinematics, t: number, dz: Float64Array, at: number): void {
    dz[at + this.first] = K.z[this.first + 1]!;
    dz[at + this.first + 1] = this.program.at(t).v;
  }
}
