/** Coordinates that count whole turns along the run: one for all who ask for the same freedom. */
import type { Freedom } from '../../equations/freedom';
import { Tracked } from '../../equations/tracked';

export class Counters {
  private readonly known = new Map<Freedom, Tracked>();
  readonly of = (freedom: Freedom): Tracked => {
    const counter = this.known.get(freedom) ?? new Tracked(freedom);
    this.known.set(freedom, counter);
    return counter;
  };
  get all(): Tracked[] {
    return [...this.known.values()];
  }
}
