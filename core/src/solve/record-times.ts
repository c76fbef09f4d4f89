/** Times at which a run is recorded: whole multiples of the interval, and the end. */
const wholeCount = (until: number, every: number): number => Math.floor(until / every + 1e-9) + 1;

/** Time of a record, s. @param until end, s; every interval, s */
export const recordTime =
  (until: number, every: number) =>
  (i: number): number =>
    i < wholeCount(until, every) ? Math.min(until, i * every) : until;

/** Number of recorded times: the end is always one of them. */
export const recordCount = (until: number, every: number): number => {
  const count = wholeCount(until, every);
  return recordTime(until, every)(count - 1) < until - 1e-9 * every ? count + 1 : count;
};
