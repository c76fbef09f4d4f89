/** Numbers that belong to a body with coordinates of its own, and where they stand in its block. */
import type { BodyLaw } from './law';

/** Mass, and inertia in body axes. */
export const RIGID = 1 + 9;

/** What a block of a body holds, and where. */
export interface BlockPlaces {
  /** Mass, inertia (nine), then the numbers of the law. */
  readonly values: number;
  /** Six rows, as many columns as there are coordinates. */
  readonly J: number;
  readonly bias: number;
  /** The lower triangle row by row, of all velocities that the body has. */
  readonly M: number;
  readonly effort: number;
  /** Kinetic energy beyond that of the rigid body, and stored energy. */
  readonly energies: number;
  readonly size: number;
}

/** How many velocities a body has: those of its coordinates, and six where these do not place it. */
export const velocitiesOf = (law: BodyLaw): number => law.coordinates.length + (law.posture ? 0 : 6);

/** Where things stand in the block of a body. @param numbers how many numbers its law asks for */
export function blockOf(law: BodyLaw, numbers: number): BlockPlaces {
  const m = law.coordinates.length,
    n = velocitiesOf(law),
    J = RIGID + numbers,
    bias = J + (law.posture ? 6 * m : 0),
    M = bias + (law.posture ? 6 : 0),
    effort = M + (n * (n + 1)) / 2,
    energies = effort + n;
  return { values: 0, J, bias, M, effort, energies, size: energies + 2 };
}
