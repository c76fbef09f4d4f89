/** The demo data: the example files that ship with the program, as they are. */
import sortingGate from '../../examples/sorting-gate.pivot.json';
import type { Model } from '@vim-pivot/core';

/** Model files leave out empty families; the model has them all. */
const filled = (file: unknown): Model =>
  ({ parameters: [], points: [], materials: [], bodies: [], shapes: [], joints: [], couplings: [], drives: [], loads: [], gauges: [], ...(file as object) }) as unknown as Model;

export const EXAMPLES: readonly Model[] = [filled(sortingGate)];
