/** Whether what the store holds is a model at all, before anything is done with it. It may have been written by a broken program, or by nobody knows whom. */
import { FAMILIES, type Model } from '@vim-pivot/core/page';

const isRecord = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null && !Array.isArray(x);
const isElement = (x: unknown): boolean =>
  isRecord(x) && typeof x.name === 'string' && (x.content === undefined || isSound(x.content, false));

/** @param whole a document; the content of a kit has no name of its own */
export function isSound(model: unknown, whole = true): model is Model {
  if (!isRecord(model)) return false;
  if (whole && (typeof model.name !== 'string' || !isRecord(model.run) || typeof model.ground !== 'string')) return false;
  return FAMILIES.every(({ key }) => model[key] === undefined || (Array.isArray(model[key]) && model[key].every(isElement)));
}
