/** What is known of a number along a run. */
import type { Mechanism } from '../../system/mechanism';
import type { Neighbour } from './neighbour';

/** Two machines with one number less and more. */
export interface Pair {
  readonly less: Mechanism;
  readonly more: Mechanism;
}

/**
 * The two beside a run. Changes are not those at a time: less and more of the number are looked at that much earlier and later, so that both are at an event,
 * or at a kink of a formula, when the run is there, and on the same side of it before and after.
 */
export interface Side {
  /** Where the number stands among those asked. */
  readonly nth: number;
  readonly less: Neighbour;
  readonly more: Neighbour;
  /** How the state changes with it, at the end of the last step. */
  readonly s: Float64Array;
  /** How time does, at both ends of the step at hand, and at the end of the segment. */
  before: number;
  after: number;
  last: number;
  /** How far it has turned bodies at most, rad. */
  farthest: number;
}

/** Looks at both. @param part by which they differ from the machine of the run */
export function both({ less, more }: Pick<Side, 'less' | 'more'>, part: number, look: (n: Neighbour, by: number) => void): void {
  look(less, -part);
  look(more, part);
}

/** Takes the change from the states that stand in both. */
export function difference({ less, more, s }: Side, part: number): void {
  for (let j = 0; j < s.length; j++) s[j] = (more.y[j]! - less.y[j]!) / (2 * part);
}

/** Why nothing can be said of a number. */
export interface Why {
  readonly code: string;
  readonly why: string;
}
export type Left = Map<Side, Why>;
