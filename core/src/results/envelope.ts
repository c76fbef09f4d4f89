/** The curves through the peaks and through the troughs of a course. */
import { type Series, extrema } from './scores';

/** @param part of the range by which a peak must stand out */
export function envelope(s: Series, part = 1e-3): { upper: Series; lower: Series } {
  const found = extrema(s, part),
    n = s.time.length;
  const through = (high: boolean): Series => {
    const peaks = found.filter((e) => e.high === high && e.at > s.time[0]! && e.at < s.time[n - 1]!);
    if (peaks.length === 0) return s;
    // it begins and ends as high as its first and last peak
    const all = [{ at: s.time[0]!, value: peaks[0]!.value }, ...peaks, { at: s.time[n - 1]!, value: peaks.at(-1)!.value }];
    return { time: Float64Array.from(all, (e) => e.at), values: Float64Array.from(all, (e) => e.value), dim: s.dim };
  };
  return { upper: through(true), lower: through(false) };
}
