import type { Mechanism } from '../system/mechanism';
import { chooseModes } from './assemble';
import type { Events, Happening } from './events';

/**
 * Fires watches at the state in K, and brings a machine onto the rows that then hold; energy lost at once is accounted for.
 * @param which of the watches; left out: those below zero
 * @returns what happened, the kinetic energy before, and what was put into it at once, J
 */
export function fireAt(
  m: Mechanism,
  watched: Events,
  t: number,
  project: () => void,
  which?: readonly number[],
): { list: Happening[]; before: number; jump: number } {
  const { ledgers, watches } = m,
    { K } = m.system,
    before = ledgers.kinetic(K);
  const list = watched.fire(
    t,
    () => {
      project();
      for (const { watch } of watches) watch.rebound?.();
      chooseModes(m, t);
      project();
    },
    which,
  );
  const jump = ledgers.kinetic(K) - before;
  K.z[ledgers.start.first] = K.z[ledgers.start.first]! + jump;
  return { list, before, jump };
}
