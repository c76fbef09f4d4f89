/** Requests about runs: made, kept and read. */
import '@vim-pivot/core/engine';
import { READING } from './reading';
import { RUNNING } from './running';

export const RUNS = { ...RUNNING, ...READING };
export type Runs = typeof RUNS;
