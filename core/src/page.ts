/** What a page needs of the core: units, the document, and a place for the declarations, which the engine sends as data. It computes nothing. */
export * from './diagnosis';
export * from './quantity/dimension';
export {
  UNIT_SYSTEMS,
  type UnitSystem,
  fixed,
  formatNumber,
  formatQuantity,
  localText,
  plainText,
  readUnit,
  showComma,
  showIn,
  shownUnit,
  usesComma,
} from './quantity/units';
export * from './model/document';
export * from './model/families';
export type * from './model/fields';
export { type Kind, kindOf, kindsOf, register } from './model/kinds';
export type { Stroke, Symbol3952 } from './model/symbol';
export { homeOf } from './model/instance-names';
export { type Bundle, bundleOf, pointsOn, refsOf } from './model/bundle';
export { readAssigned, writeAssigned } from './model/assigned';
export { matching } from './model/patterns';
export { applies, askedDimension, fits } from './model/rules';
export * from './model/run-settings';
export { geometriesOf, needs } from './model/stored';
export type { LiveValue } from './model/resolve';
export { type RecordLayout, type RunStatistics, RecordedStates } from './results/record';
export { isTold } from './equations/told';
