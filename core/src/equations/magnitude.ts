import type { Input, Program } from '../formula/program';
import type { Kinematics } from './kinematics';
import type { StatedValue } from './values';

/** A value that may follow time and what gauges read. */
export interface Magnitude {
  at(K: Kinematics, t: number): number;
  readonly programs: readonly Program[];
  /** As an expression, where all that it takes in is one. */
  readonly stated?: StatedValue | undefined;
}

/** A gauge as a formula takes it in, with the formulas that are in it. */
export interface Reading {
  readonly input: Input;
  readonly programs: readonly Program[];
  read(K: Kinematics, t: number): number;
  /** As an expression, where it is one. */
  readonly stated?: StatedValue | undefined;
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
  get stated(): StatedValue | undefined {
    const inputs = this.readings.flatMap(({ stated }) => stated ?? []);
    return inputs.length < this.readings.length ? undefined : { formula: this.program.stated, inputs };
  }
  at(K: Kinematics, t: number): number {
    for (const r of this.readings) this.program.set(r.input, r.read(K, t));
    return this.program.at(t).v;
  }
}
