/** A row of the timeline on the screen: time across, values upward, and the steps at which ends and values catch. */
import { stepFor } from '@/state/scene/grid-step';

export const ROW = 84,
  PAD = 14,
  LEFT = 10;
/** Lines at which ends catch are at least this far apart, px. */
const CATCH = 6;
/** The same for values. */
const RISE = 3;

export interface RowScale {
  X: (t: number) => number;
  Y: (v: number) => number;
  /** Time and value at a place of the row, px. */
  at: (x: number, y: number) => { t: number; v: number };
  /** Step of time at which ends catch, s. */
  grip: number;
  snap: (t: number) => number;
  /** A value that is round in a unit. @param factor of the unit */
  round: (v: number, factor: number) => number;
  /** Between the lowest and the highest value shown. */
  span: number;
}

export function rowScale(width: number, end: number, lo: number, hi: number): RowScale {
  const across = width - 2 * LEFT,
    up = ROW - 2 * PAD,
    span = hi - lo || 1,
    grip = stepFor((CATCH * end) / width);
  return {
    X: (t) => LEFT + (t / end) * across,
    Y: (v) => ROW - PAD - ((v - lo) / span) * up,
    at: (x, y) => ({ t: ((x - LEFT) / across) * end, v: lo + ((ROW - PAD - y) / up) * span }),
    grip,
    snap: (t) => Math.round(t / grip) * grip,
    round: (v, factor) => {
      const step = stepFor((span / factor) * (RISE / up));
      return Math.round(v / factor / step) * step * factor;
    },
    span,
  };
}
