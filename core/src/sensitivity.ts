/** What moves the scores of a run. It stands apart because it is asked for now and then. */
// what the engine has from the start stays in one piece, which is smaller
import './engine';
export { type ModelNumber, mostTelling, numbersOf } from './model/numbers';
export type { Moves, NumberMoves } from './studies/moves';
export { type Sensitivities, sensitivities } from './studies/sensitivity';
