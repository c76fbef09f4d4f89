import type { Diagnosis } from '../diagnosis';
import type { Kinematics } from './kinematics';

/** What the constraints carry at a state, for watches that look at it. */
export interface Carried {
  multipliers: Float64Array;
  G: Float64Array;
}

/** The same with the accelerations found there, six numbers a body. */
export interface Settled extends Carried {
  acceleration: Float64Array;
}

/** What happened at an event. */
export interface Fired {
  kind: 'sticks' | 'slips' | 'struck' | 'engages' | 'releases';
  message: string;
  /** Numbers that belong to it, SI. */
  values?: Readonly<Record<string, number>>;
}

/**
 * A quantity whose change of sign is an event: the run stops there, the watch fires, and the run goes on. The integrator never steps
 * over a change of law.
 */
export interface Watch {
  /** Positive before the event, negative after it; NaN while it has nothing to watch. */
  value(K: Kinematics, t: number, carried: Settled): number;
  /** Values of which that was the least, at the last look, NaN where there is nothing: they have no scale in common, and each is followed by itself. */
  readonly several?: Float64Array;
  /** Changes modes; returns what happened when that is worth telling. */
  fire(K: Kinematics, t: number): Fired | undefined;
  /** The mode it is in, for what may change it more than once at an event: what counts is the mode before and after. */
  mode?(): Fired;
  /** Whether the value needs accelerations and multipliers, as it is now. */
  readonly carried?: boolean;
  /** Why no run goes on from there, for what must not be passed. */
  readonly fault?: Pick<Diagnosis, 'code' | 'message' | 'why' | 'remedy'>;
  /** What its value is the least of, where that may come and go between two looks: values and their rates, Infinity where there is nothing. */
  readonly parts?: { readonly count: number; look(K: Kinematics, values: Float64Array, rates: Float64Array, at: number): void };
  /** Longest time, s, within which nothing that it watches comes and goes unseen. @param acceleration six numbers a body */
  lasts?(K: Kinematics, acceleration: Float64Array): number;
  /** Told after `fire`, with the machine brought onto the rows that then hold: the velocities are those after an impact. */
  rebound?(): void;
  /** Told after that, with the new solution at hand; may change modes once more. Returns whether it did. */
  changeMode?(K: Kinematics, t: number, carried: Settled): boolean;
}
