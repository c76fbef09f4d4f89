import type { Input, Program } from '../formula/program';
import type { Kinematics } from './kinematics';

/** A value that may follow time and what gauges read. */
export interface Magnitude {
  at(K: Kinematics, t: number): number;
  readonly programs: readonly Program[];
}

/** A formula with the readings it takes in. */
export class Formula implements Magnitude {
  readonly programs: readonly Program[];
  constructor(
    private readonly program: Program,
    private readonly readings: readonly { input: Input; read(K: Kinematics, t: number): number }[] = [],
  ) {
    this.programs = [program];
  }
  at(K: Kinematics, t: number): number {
    for (const r of this.readings) this.program.set(r.input, r.read(K, t));
    return this.program.at(t).v;
  }
}
