import type { Fields } from '../../model/fields';
import type { LoadKind } from '../declarations';

/** Declares a kind of load. */
export const load = <const F extends Fields>(k: Omit<LoadKind<F>, 'family'>): LoadKind<F> => ({ family: 'loads', ...k });
