/** Every request to a worker is answered: with its result, or with words. */
import { type Diagnosis, Refusal } from '@vim-pivot/core/engine';

/** What is said of an error that nobody foresaw. */
export function faultOf(e: unknown, doing: string): Diagnosis[] {
  if (e instanceof Refusal) return [...e.diagnoses];
  // eslint-disable-next-line no-console -- for whoever looks after the program; the user gets words
  console.warn(`Fault at ${doing}:`, e);
  return [
    {
      code: 'engine-fault',
      severity: 'error',
      message: `The engine made an error of its own (at “${doing}”).`,
      why: 'This is a fault of the program, not of the model. Nothing of your work is lost.',
      remedy: 'Undo the last change or try again; please keep the model file for whoever looks after the program.',
    },
  ];
}

/** Lets a request be handled. @param refuse sends the words @param doing the name of the request */
export async function answered(doing: string, handle: () => Promise<void> | void, refuse: (diagnoses: Diagnosis[]) => void): Promise<void> {
  try {
    await handle();
  } catch (e) {
    refuse(faultOf(e, doing));
  }
}
