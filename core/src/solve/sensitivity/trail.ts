/** What a run did, step for step: enough to go through it again, either way. */
import type { Mechanism } from '../../system/mechanism';
import type { RunOptions } from '../run-events';
import type { Companion } from './companion';
import { Neighbour } from './neighbour';

/** A step of the run. */
export interface Step {
  readonly from: number;
  readonly until: number;
  /** The states at both ends: the second on the constraints. */
  readonly y: Float64Array;
  readonly end: Float64Array;
  readonly implicit: boolean;
}
/** Modes that changed at the end of a stretch. */
export interface Change {
  readonly t: number;
  /** The states before and after. */
  readonly before: Float64Array;
  readonly after: Float64Array;
  readonly fired: readonly number[];
}
/** Steps in which no mode changes and no formula has a kink. */
export interface Stretch {
  /** The segment in which it lies, and from where to where formulas are seen in it. */
  readonly nth: number;
  readonly from: number;
  readonly ends: number;
  /** What elements remember. */
  readonly memory: Float64Array;
  readonly steps: Step[];
  /** What ends it, where that is no end of a segment. */
  change?: Change;
}

/** Bytes that states of steps may take. */
const BYTES = 1e8;

export class Trail implements Companion {
  readonly stretches: Stretch[] = [];
  stops: readonly number[] = [];
  /** Whether some of its steps are implicit. */
  implicit = false;
  /** Why nobody can go through it again. */
  lost: string | undefined;
  /** A machine like that of the run, with the same left out. */
  own!: Neighbour;
  private m!: Mechanism;
  private bytes = 0;

  constructor(private readonly options: RunOptions) {}

  begin(m: Mechanism, _y: Float64Array, stops: readonly number[]): void {
    this.m = m;
    this.own = new Neighbour(m.apart(), m, this.options);
    this.stops = stops;
  }
  segment(t: number, nth: number): void {
    const { memories } = this.m,
      memory = new Float64Array(memories.cells);
    memories.keep(memory);
    this.stretches.push({ nth, from: t, ends: this.stops[nth]!, memory, steps: [] });
  }
  step(from: number, y: Float64Array, until: number, end: Float64Array, implicit: boolean): void {
    if (implicit) this.implicit = true;
    this.bytes += 16 * y.length;
    if (this.bytes > BYTES) this.lost ??= 'it is too long';
    if (this.lost === undefined) this.stretches.at(-1)!.steps.push({ from, until, y: y.slice(), end: end.slice(), implicit });
  }
  changed(t: number, y: Float64Array, fired: readonly number[]): void {
    const stretch = this.stretches.at(-1)!,
      last = stretch.steps.at(-1);
    if (last) stretch.change = { t, before: last.end, after: y.slice(), fired };
    else this.lost ??= 'an event came at once';
  }
}
