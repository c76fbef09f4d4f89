/** Less and more of numbers brought to an event of the run together: how much later it comes with more of them (Rozenvasser's corrections, read backwards). */
import type { Flow } from './flow';
import type { Neighbour } from './neighbour';
import type { Left, Side } from './side';

/** Changes of the times of two events that are the same, in parts of themselves. */
const SAME_TIME = 1e-6;
/** Part of a step, or of how much later an event comes, that is none. */
const MET = 1e-8;
/** An event whose time would move by more than this part of the time or of its step is only just touched. */
const GRAZING = 1e-2;

/** An event at the end of a step. */
export interface Event {
  readonly t: number;
  readonly y: Float64Array;
  /** Length of the step that it ends, s. */
  readonly length: number;
  /** Which watches fire. */
  readonly fired: readonly number[];
}

/**
 * Whether less and more of each number are at the event when the run is there; if not, time is let change so that they will be.
 * @param own the machine of the run @param part by which less and more differ from it @returns that, and numbers of which it cannot be said
 */
export function meet(
  flow: Flow,
  own: Neighbour,
  sides: readonly Side[],
  part: number,
  { t, y, length, fired }: Event,
): { met: boolean; left: Left } {
  const rates = flow.rate(t, y).slice(),
    small = part * Math.min(1 / Math.max(1e-300, flow.extent(rates)), length),
    values = (n: Neighbour, at: number) => {
      n.m.system.K.load(n.y);
      return n.watched.at(at).values;
    },
    moved = (by: number) => {
      own.near(y, rates, by);
      return values(own, t + by).slice();
    },
    [after, before] = [moved(small), moved(-small)],
    rate = after.map((x, i) => (x - before[i]!) / (2 * small)),
    change = new Float64Array(rate.length),
    left: Left = new Map();
  let met = true;
  for (const side of sides) {
    flow.along(side, t, y, side.s, change, values);
    const late = fired.map((i) => -change[i]! / rate[i]!),
      by = late[0] ?? NaN;
    if (!late.every((x) => Number.isFinite(x) && part * Math.abs(side.after + x) < GRAZING * Math.max(length, t)) || late.length === 0)
      left.set(side, {
        code: 'sensitivity-grazing',
        why: 'An event of the run is only just touched: with a little more or less of it there is none.',
      });
    else if (!late.every((x) => Math.abs(x - by) <= SAME_TIME * Math.max(t, Math.abs(side.after + by))))
      left.set(side, {
        code: 'sensitivity-together',
        why: 'Two events of the run come at the same time: with more of it one comes first, with less the other.',
      });
    else if (Math.abs(by) > MET * Math.max(length, Math.abs(side.after))) {
      met = false;
      side.after += by;
    }
  }
  return { met, left };
}
