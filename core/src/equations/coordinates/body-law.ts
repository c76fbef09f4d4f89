import type { NumberKind } from '../stated/elementary';
import type { AtWork, BodyLaw } from './law';
import { OwnWork, scratchOf } from './work';

const work: AtWork = { scratchOf, made: (own, memory, places) => new OwnWork(own, memory, places) };

/** A law whose functions know the names of its numbers, with what makes bodies of it work. */
export const bodyLaw = <const N extends Readonly<Record<string, NumberKind>>>(law: Omit<BodyLaw<N>, 'work'>): BodyLaw =>
  ({ ...law, work }) as unknown as BodyLaw;
