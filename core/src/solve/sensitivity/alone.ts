/** States next to recorded ones of the run itself, less and more by a change that moves bodies far: it is looked at apart from the number that brings it about. */
import { noStatistics } from '../run-events';
import { Recorder } from '../recorder';
import type { Neighbour } from './neighbour';

export class Alone {
  readonly chunks: Float64Array[] = [];
  /** Of each recorded state, how much of the change was added to it; 0 where there is none here. */
  readonly parts: number[];
  private readonly recorder: Recorder;

  /** @param own the machine of the run @param before states recorded until now */
  constructor(
    readonly own: Neighbour,
    before: number,
  ) {
    this.recorder = new Recorder(own.layout, own.m, noStatistics());
    this.parts = new Array<number>(before).fill(0);
  }
  /** Nothing is here of a state. */
  skip(): void {
    this.parts.push(0);
  }
  /** @param small how much of the change @returns false where a number is not finite */
  record(t: number, y: Float64Array, change: Float64Array, small: number, angles: Float64Array): boolean {
    const { own, recorder } = this;
    this.parts.push(small);
    return [-small, small].every((by) => {
      own.near(y, change, by);
      const good = own.recordTo(recorder, t, angles);
      if (recorder.full) this.flush();
      return good;
    });
  }
  flush(): void {
    for (const e of this.recorder.flush(0)) if (e.type === 'records') this.chunks.push(e.data);
  }
}
