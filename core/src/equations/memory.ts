import type { Kinematics } from './kinematics';

/**
 * What an element remembers of the past of a run and no state tells: whether a friction sticks and which way it slips, whether a drive or a joint
 * has let go, the foot on a curve. It is recorded with every state, so that a reading never depends on where the run ended.
 */
export interface Memory {
  /** How many numbers it takes. */
  readonly cells: number;
  keep(out: Float64Array, at: number): void;
  recall(from: Float64Array, at: number): void;
  /** Brings it up to date where nothing else does, at every accepted step. */
  follow?(K: Kinematics): void;
}

/** All memories of a mechanism, one after the other. */
export class Memories implements Memory {
  readonly cells: number;
  constructor(private readonly parts: readonly Memory[]) {
    this.cells = parts.reduce((n, p) => n + p.cells, 0);
  }
  follow(K: Kinematics): void {
    for (const m of this.parts) m.follow?.(K);
  }
  keep(out: Float64Array, at = 0): void {
    let p = at;
    for (const m of this.parts) {
      m.keep(out, p);
      p += m.cells;
    }
  }
  recall(from: Float64Array, at = 0): void {
    let p = at;
    for (const m of this.parts) {
      m.recall(from, p);
      p += m.cells;
    }
  }
}
