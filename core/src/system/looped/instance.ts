/** One instance of an equation: what it reads and writes, each from a base of its own, in the order in which it is asked for. */
import type { Fold } from '../../equations/fold';
import { foldedBody, groundBody } from '../../equations/folded-body';
import { BODY_BASES, type BodyEx, bodyAt } from '../../equations/stated/body';
import type { Ex } from '../../expressions/arithmetic';
import { Graph } from '../../expressions/graph';
import type { Site } from '../compiled/site';

export class Instance {
  readonly g = new Graph();
  /** Where each base lies in the memory. */
  readonly places: number[] = [];
  private readonly known = new Map<number, number>();
  /** @param fold what its bodies cannot do, where that is left out @param turned whether rotations that never change are read all the same */
  constructor(
    private readonly site: Site,
    private readonly fold?: Fold,
    private readonly turned = false,
  ) {}

  /** A base that lies there. */
  base(place: number): number {
    return this.places.push(place) - 1;
  }
  /** A number that lies there. */
  number(place: number): Ex {
    return this.g.load(this.base(place), 0);
  }
  /** A body by its number. */
  body(b: number): BodyEx {
    const { r, A, v, w } = this.site.at;
    let base = this.known.get(b);
    if (base === undefined) {
      this.known.set(b, (base = this.places.length));
      this.places.push(r + 3 * b, A + 9 * b, v + 3 * b, w + 3 * b);
    }
    const { g, fold, turned } = this;
    if (!fold) return bodyAt(g, base);
    return b < this.site.bodies ? foldedBody(g, fold, b, bodyAt(g, base), turned) : groundBody(g);
  }
  /** The bodies that it knows, in the order in which they were asked for. */
  get bodies(): readonly number[] {
    return [...this.known.keys()];
  }
  /** By which it is known which bodies are the same. */
  nth(b: number): number {
    void this.body(b);
    return this.known.get(b)! / BODY_BASES;
  }
}
