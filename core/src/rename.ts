/** Renaming, which reads formulas: for a page that renames now and then. */
export type { Family } from './model/families';
export { rename, renameInInstances } from './model/rename';
export { namesIn, parse } from './formula/parse';
