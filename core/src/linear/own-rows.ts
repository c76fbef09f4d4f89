/** Rows of G on bodies that coordinates place: brought from six velocities of the body to the coordinates. */
import type { OwnBody } from '../equations/coordinates/own';
import type { OwnWork } from '../equations/coordinates/work';
import type { Elimination } from './elimination';

/** A side of a block of G. */
interface Side {
  readonly row: number;
  /** Its six numbers, and where those by coordinates go. */
  readonly from: number;
  readonly to: number;
  readonly body: OwnBody;
}

export class OwnRows {
  private readonly sides: readonly Side[];
  constructor(
    { rows, bodyOf, further, rowPlaces, own }: Elimination,
    private readonly work: OwnWork,
  ) {
    this.sides = Array.from({ length: rows }, (_, row) => row).flatMap((row) =>
      [row, ...further[row]!].flatMap((block) =>
        [0, 1].flatMap((side): Side[] => {
          const body = own.of[bodyOf[2 * block + side]!];
          return body?.placed ? [{ row, from: 12 * block + 6 * side, to: rowPlaces.coordinates(block, side), body }] : [];
        }),
      ),
    );
  }

  /** Numbers by coordinates: those by velocities times J. */
  carry(G: Float64Array): void {
    const { sides, work } = this;
    for (let i = 0; i < sides.length; i++) {
      const { from, to, body } = sides[i]!;
      for (let j = 0; j < body.count; j++) {
        let s = 0;
        for (let e = 0; e < 6; e++) s += G[from + e]! * work.J(body, e, j);
        G[to + j] = s;
      }
    }
  }
  /** Takes from γ what rows ask of accelerations that are there while coordinates keep their speeds. */
  remainder(G: Float64Array, gamma: Float64Array): void {
    const { sides, work } = this;
    for (let i = 0; i < sides.length; i++) {
      const { row, from, body } = sides[i]!;
      for (let e = 0; e < 6; e++) gamma[row] = gamma[row]! - G[from + e]! * work.bias(body, e);
    }
  }
}
