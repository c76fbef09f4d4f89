/** Something that goes along with a dynamic run: it is told of all that the run does, when it does it, and leaves the run's machine alone. */
import type { Mechanism } from '../../system/mechanism';

export interface Companion {
  /**
   * The machine is assembled, what is left out of the run is left out, its state is in y.
   * @param stops ends of the segments, of which the last is the end of the run
   */
  begin(m: Mechanism, y: Float64Array, stops: readonly number[]): void;
  /** From t on the run is in a segment, the nth. */
  segment(t: number, nth: number): void;
  /** A step from (t, y) counts until a time. @param end the state there, on the constraints @param event whether one ends it there */
  step(t: number, y: Float64Array, until: number, end: Float64Array, implicit: boolean, event: boolean): void;
  /** A state of the last step, or the first of all, is recorded; left out: it need not be told. @param ends that of an event that ends the run */
  record?(t: number, y: Float64Array, ends?: boolean): void;
  /** Modes have changed at the end of the last step. @param y the state after that @param fired which watches did it */
  changed(t: number, y: Float64Array, fired: readonly number[]): void;
}
