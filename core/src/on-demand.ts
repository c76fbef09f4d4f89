/** What is seldom asked of the engine, apart from the rest. */
// what the engine has from the start stays in one piece, which is smaller
import './engine';
export { kitOf } from './model/kit-of';
export { independent } from './model/independent';
export { type Acting, acting } from './results/acting';
export { type BodyLoad, type BodyLoads, bodyLoads, snapshotChannel } from './results/body-loads';
export { type MassFound, massFound } from './results/mass';
export { Pace, holdUp } from './solve/hold-up';
export { pull } from './solve/pull';
