import type { OfTime } from '../formula/of-time';
import type { Input, Program } from '../formula/program';
import type { Kinematics } from './kinematics';

/** A value that may follow time and what gauges read. */
export interface Magnitude {
  at(K: Kinematics, t: number): number;
  readonly programs: readonly Program[];
  /** As part of other equations, where it takes no reading in. */
  readonly ofTime?: OfTime | undefined;
}

/** A gauge as a formula takes it in, with the formulas that are in it. */
export interface Reading {
  readonly input: Input;
  readonly programs: readonly Program[];
  read(K: Kinematics, t: number): number;
}

/** A formula with the readings it takes in. */
export class Formula implements Magnitude {
  readonly programs: readonly Program[];
  constructor(
    private readonly program: Program,
    private readonly readings: readonly Reading[] = [],
  ) {
    this.programs = [program, ...readings.flatMap((r) => r.programs)];
  }
  get ofTime(): OfTime | undefined {
    return this.program.ofTime;
  }
  at(K: Kinematics, t: number): number {
    for (const r of this.readings) this.program.set(r.input, r.read(K, t));
    return this.program.at(t).v;
  }
}
