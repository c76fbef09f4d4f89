/** The dynamic run, and the reading of runs: a page needs them once there is a run, not before. */
export { Readings, withGauges } from './results/readings';
export { simulate } from './solve/dynamics';
