/** How long a course stays in each part of its range. */
import type { Series } from './scores';

export interface Histogram {
  /** Lower ends of the classes, and the upper end of the last. */
  edges: Float64Array;
  /** Share of the time spent in each; together one. */
  share: Float64Array;
}

/** The course is taken as straight between records, so a record at an event does not count for more than its time. @param bins number of classes */
export function histogram({ time, values }: Series, bins: number): Histogram {
  let lo = Infinity,
    hi = -Infinity;
  for (const v of values) {
    lo = Math.min(lo, v);
    hi = Math.max(hi, v);
  }
  const edges = new Float64Array(bins + 1),
    share = new Float64Array(bins),
    total = time.length > 1 ? time[time.length - 1]! - time[0]! : 0;
  if (!(lo <= hi)) return { edges, share };
  // a range that rounding alone could make is none
  if (hi - lo <= 1e-14 * Math.max(-lo, hi) || hi - lo < 1e-290) {
    const pad = Math.max(-lo, hi) * 1e-6 || 1;
    lo -= pad;
    hi += pad;
  }
  const width = (hi - lo) / bins;
  for (let k = 0; k <= bins; k++) edges[k] = lo + k * width;
  const classOf = (v: number) => Math.min(bins - 1, Math.max(0, Math.floor((v - lo) / width)));
  for (let i = 1; i < time.length; i++) {
    const dt = (time[i]! - time[i - 1]!) / total,
      a = Math.min(values[i - 1]!, values[i]!),
      b = Math.max(values[i - 1]!, values[i]!);
    if (!(dt > 0)) continue;
    const from = classOf(a),
      to = classOf(b);
    if (from === to) share[from]! += dt;
    // the ends are those of the piece itself, whatever rounding makes of edges: so all of it is counted
    else for (let k = from; k <= to; k++) share[k]! += (dt * ((k === to ? b : edges[k + 1]!) - (k === from ? a : edges[k]!))) / (b - a);
  }
  return { edges, share };
}
