/** The dynamic run, and the reading of runs: a page needs them once there is a run, not before. */
// what the engine has from the start stays in one piece, which is smaller
import './engine';
export { Readings, withGauges } from './results/readings';
export { simulate } from './solve/dynamics';
