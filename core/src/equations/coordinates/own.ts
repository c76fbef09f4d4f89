/** Which bodies of a machine are told by coordinates of their own, and how these are numbered. */
import { type BlockPlaces, blockOf, velocitiesOf } from './block';
import type { BodyLaw, OwnCoordinates } from './law';

/** One of them. */
export interface OwnBody {
  readonly body: number;
  readonly law: BodyLaw;
  /** Whether its coordinates place it; else it moves in every way beside. */
  readonly placed: boolean;
  /** Its first coordinate among those of all bodies, and how many it has. */
  readonly first: number;
  readonly count: number;
  /** How many velocities it has in all. */
  readonly velocities: number;
  /** Where its block begins among those of all bodies, and what stands where in it. */
  readonly block: number;
  readonly at: BlockPlaces;
  readonly values: readonly number[];
  readonly speeds: readonly number[] | undefined;
}

/** Which bodies of a machine they are. */
export class OwnBodies {
  readonly list: readonly OwnBody[];
  /** Of each body; undefined for those that have six velocities and no more. */
  readonly of: readonly (OwnBody | undefined)[];
  /** Coordinates of all bodies together. */
  readonly coordinates: number;
  /** Numbers of all blocks. */
  readonly blocks: number;
  /** Most coordinates of one body that they place. */
  readonly widest: number;

  constructor(
    readonly bodies: number,
    given: readonly (OwnCoordinates | undefined)[] = [],
  ) {
    let coordinates = 0,
      blocks = 0;
    this.of = Array.from({ length: bodies }, (_, body) => {
      const own = given[body];
      if (!own) return undefined;
      const { law, values, speeds } = own,
        at = blockOf(law, values.length),
        placed = law.posture !== undefined,
        count = law.coordinates.length,
        made = { body, law, placed, first: coordinates, count, velocities: velocitiesOf(law), block: blocks, at, values, speeds };
      coordinates += count;
      blocks += at.size;
      return made;
    });
    this.coordinates = coordinates;
    this.blocks = blocks;
    this.list = this.of.filter((o) => o !== undefined);
    this.widest = this.list.reduce((most, { placed, count }) => (placed ? Math.max(most, count) : most), 0);
  }

  /** Entries of a motion: six velocities a body, then the speeds of all coordinates. */
  get motions(): number {
    return 6 * this.bodies + this.coordinates;
  }
  /** Which entries of a motion are the velocities that a body has. */
  velocitiesOf(body: number): number[] {
    const own = this.of[body],
      six = own?.placed ? [] : [0, 1, 2, 3, 4, 5].map((k) => 6 * body + k);
    return [...six, ...Array.from({ length: own?.count ?? 0 }, (_, j) => 6 * this.bodies + own!.first + j)];
  }
}
