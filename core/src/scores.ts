/** Scores, strokes and limits, for a page that measures curves. It brings none of the solver. */
export * from './results/scores';
export { typeset } from './formula/typeset';
export { FormulaError } from './formula/parse';
