/** What moves the scores of a run. It stands apart because it is asked for now and then. */
import './elements';
export { type ModelNumber, mostTelling, numbersOf } from './model/numbers';
export type { Moves, NumberMoves } from './studies/moves';
export { type Sensitivities, sensitivities } from './studies/sensitivity';
