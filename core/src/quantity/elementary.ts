/**
 * Elementary functions with the same result in every engine. The ones built into JavaScript engines
 * differ from each other in their last bits, so a run in the browser and a run from the command line
 * would drift apart; these are the published FreeBSD msun algorithms and use only exactly rounded
 * operations. (`Math.sqrt` and the four operations are exactly rounded everywhere.)
 */
export { default as sin } from '@stdlib/math-base-special-sin';
export { default as cos } from '@stdlib/math-base-special-cos';
export { default as tan } from '@stdlib/math-base-special-tan';
export { default as asin } from '@stdlib/math-base-special-asin';
export { default as acos } from '@stdlib/math-base-special-acos';
export { default as atan } from '@stdlib/math-base-special-atan';
export { default as atan2 } from '@stdlib/math-base-special-atan2';
export { default as exp } from '@stdlib/math-base-special-exp';
export { default as ln } from '@stdlib/math-base-special-ln';
export { default as pow } from '@stdlib/math-base-special-pow';

export * from './powers';
