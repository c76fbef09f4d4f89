/**
 * Property tests draw the same cases each time, so that a change is judged by what it changes. Others are drawn with
 * PIVOT_SEED=number npx vitest run, as many with PIVOT_RUNS=number; what they find goes into the test as an example.
 */
import fc from 'fast-check';

const { PIVOT_SEED, PIVOT_RUNS } = process.env;
fc.configureGlobal({ seed: Number(PIVOT_SEED ?? 20261124), ...(PIVOT_RUNS ? { numRuns: Number(PIVOT_RUNS) } : {}) });
