/** The core with its kinds registered, for tests of the page. */
import { KINDS } from '../src/elements';
export { build } from '../src';
export { checkModel as check } from '../src/model/file';
export const KINDS_READY = KINDS.length;
