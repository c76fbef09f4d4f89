/** Solids joined and cut, by what is handed in when it is needed (`solids.ts`): it is large and seldom used. */
import { refuse } from '../diagnosis';
import type { Solid } from './solid';

/** @param round facets to a turn of round sides */
export type Combiner = (joined: readonly Solid[], less: readonly Solid[], round: number) => Solid;

let combiner: Combiner | undefined;
/** Brings the library that joins and cuts solids. */
export const provideCombiner = (c: Combiner): void => void (combiner = c);

/** The union of solids less others. @throws Refusal when a surface is open, nothing is left, or the library is not at hand */
export const combined: Combiner = (joined, less, round) =>
  (
    combiner ??
    refuse({
      code: 'solids-missing',
      message: 'Joined and cut shapes cannot be worked out here.',
      remedy: 'Reload the page; on the command line, use a version with its solids library.',
    })
  )(joined, less, round);
