/** What a page needs of the core: declarations as data (written by `npm run docs`), units, the document. It computes nothing. */
import declarations from './declarations.json';
import { type Kind, register } from './model/kinds';

register(declarations as unknown as Kind[]);

export * from './diagnosis';
export * from './quantity/dimension';
export { formatNumber, formatQuantity, readUnit, shownUnit } from './quantity/units';
export * from './model/document';
export * from './model/families';
export type * from './model/fields';
export { type Kind, kindOf, kindsOf } from './model/kinds';
export { rename } from './model/rename';
export { applies, askedDimension } from './model/rules';
export * from './model/run-settings';
export type { LiveValue } from './model/resolve';
export { type RecordLayout, type RunStatistics, offsets } from './results/record';
