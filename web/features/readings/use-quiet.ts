/** Rounding noise beside the range of a curve is nothing. */
import { useMemo } from 'react';

const NOISE = 1e-9;

/** @param values the whole curve @returns what takes noise out of one of its values */
export function useQuiet(values: Float64Array | undefined): (v: number) => number {
  const least = useMemo(() => {
    let lo = Infinity,
      hi = -Infinity;
    for (const v of values ?? []) {
      if (v < lo) lo = v;
      if (v > hi) hi = v;
    }
    return lo <= hi ? NOISE * (hi - lo) : 0;
  }, [values]);
  return (v) => (Math.abs(v) < least ? 0 : v);
}
