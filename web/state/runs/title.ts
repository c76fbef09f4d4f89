import type { RunRow } from '../kept/db';

/** What a run is called where it has no name of its own. */
export const titleOf = (r: Pick<RunRow, 'number' | 'live'>): string => (r.live ? 'Live' : `Run ${r.number}`);
