/** What is needed in the scene only once it is worked in: it comes with the first pointer that enters. */
export { EdgePicker } from './edge-picker';
export { Labels } from './labels';
export { Mover } from './mover';
