/** Equations that hold between bodies. */
import type { Kinematics } from './kinematics';
import type { Memory } from './memory';
import type { Watch } from './watch';
import type { Elementary } from './stated/elementary';
import type { KernelMemory } from '../kernel/memory';

/**
 * Rows Φ(position, t) = 0. With a body's six velocities u = (v, w):
 *   Φ̇ = G u − ν,  Φ̈ = G u̇ − γ.
 * A row of G holds twelve numbers: six for body a, six for body b.
 */
export abstract class Constraint {
  /** First row in the system; set when the system is put together. */
  row = 0;
  /** Whether it holds at present; set by the system. */
  holds = true;
  constructor(
    readonly a: number,
    readonly b: number,
    /** Dimension of each row: true where Φ is a length, false where it is an angle or a direction cosine. */
    readonly lengths: readonly boolean[],
  ) {}

  get rows(): number {
    return this.lengths.length;
  }
  /** Forgets what was remembered from the last posture (the foot on a curve). */
  reset(): void {}
  /** What it remembers from the last posture. */
  get memory(): Memory | undefined {
    return undefined;
  }
  /** A position that it must not pass. */
  readonly watch?: Watch;
  /** Its rows do not hold: they are how a point moves that has so much mass, kg (`carried-mass.ts`). */
  readonly inertia?: number;
  /** Further pairs of bodies of a single row, each with twelve numbers of its own. */
  readonly more: readonly (readonly [a: number, b: number])[] = [];
  /** Index of the first of these blocks in G; set when the system is put together. */
  block = 0;

  /** Whether entry `column` (0 to 11) of row k can differ from zero. */
  abstract pattern(k: number, column: number): boolean;
  /** What it is as an expression, where it is one. */
  get statement(): Statement | undefined {
    return undefined;
  }
  abstract position(K: Kinematics, t: number, phi: Float64Array): void;
  abstract jacobian(K: Kinematics, G: Float64Array): void;
  /** γ, the part of the second derivative without accelerations, sign reversed. */
  abstract gamma(K: Kinematics, t: number, out: Float64Array): void;
  /** Both of these. */
  linear(K: Kinematics, t: number, G: Float64Array, out: Float64Array): void {
    this.jacobian(K, G);
    this.gamma(K, t, out);
  }
  /** ν = −∂Φ/∂t; zero unless the constraint depends on time. */
  nu(_K: Kinematics, _t: number, out: Float64Array): void {
    for (let k = 0; k < this.rows; k++) out[this.row + k] = 0;
  }
}

/** A constraint that is stated by its Φ. */
export interface Statement {
  readonly equation: Elementary;
  /** Of the model, in the order in which the equation names them. */
  readonly values: Float64Array;
  readonly course?: Prescription;
  /** Its numbers, and what its course says if it has one, are to lie at these places from now on. */
  settle(memory: KernelMemory, numbers: number, course: number | undefined): void;
  /** Hands on what its course says at a time. */
  follow(K: Kinematics, t: number): void;
}

/** A function of time with two derivatives: what a driven freedom follows. */
export interface Prescription {
  f: number;
  f1: number;
  f2: number;
  at(K: Kinematics, t: number): void;
  /** They are to lie there, one after the other, from now on: of one that is known at any time without being asked. */
  settle?(memory: KernelMemory, at: number): void;
}
