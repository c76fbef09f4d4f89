/** The dynamic run alone: a page needs it when it runs, not before. */
export { simulate } from './solve/dynamics';
