/** Checks of contact, by what is handed in when a machine has any (`contacts.ts` beside the engine). */
import type { Diagnosis } from '../diagnosis';
import type { Mechanism } from '../system/mechanism';

let faults: ((m: Mechanism) => Diagnosis[]) | undefined;
/** Brings the checks. */
export const provideContactFaults = (f: (m: Mechanism) => Diagnosis[]): void => void (faults = f);

/** What is wrong with the contact of an assembled machine; nothing where it has none. */
export const contactFaults = (m: Mechanism): Diagnosis[] => faults?.(m) ?? [];
