/** Where in the file an element stands, for what is found about it. */
import type { ElementRef } from '../diagnosis';
import type { Model } from './document';
import type { Family } from './families';

/** An element and its path, and further on in it: a field, a part. */
export const where = (
  model: Model,
  family: Family,
  name: string,
  ...rest: readonly (string | number)[]
): { element: ElementRef; path: (string | number)[] } => ({
  element: { family, name },
  path: [family, model[family].findIndex((e) => e.name === name), ...rest],
});
