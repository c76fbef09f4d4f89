/** The demo data: the example files that ship with the program, as they are. */
import sortingGate from '../../../examples/sorting-gate.pivot.json';
import { type Model, complete } from '@vim-pivot/core/page';

/** Model files leave out empty families; the model has them all. */
export const EXAMPLES: readonly Model[] = [complete(sortingGate)];
