/** What passes through what in a run. Apart from the rest, because it is looked at when a run is over. */
// what the engine has from the start stays in one piece, which is smaller
import './engine';
export { passedThrough } from './results/passed';
export { type Passing, Passings } from './results/passings';
