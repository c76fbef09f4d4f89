/** What is drawn of a curve: as many points as can be seen. */
import { Thinned } from '@vim-pivot/core/plots';
import type { Across, Trace } from './trace';

/** Prepared once for each course, however often and wherever it is drawn. */
const prepared = new WeakMap<Float64Array, Thinned>();
const thinned = (x: Float64Array, y: Float64Array): Thinned => {
  let t = prepared.get(y);
  if (!t) prepared.set(y, (t = new Thinned(x, y)));
  return t;
};
/** Points of a curve over another gauge at most, before those that lie between their neighbours are left out. */
const MOST = 20_000;

/**
 * Width of lines, pixels. Where a line goes to and fro within the columns it is as thin as the screen can draw: measured ten to twenty times as quick
 * (bench/browser.ts).
 */
const LINE = 1.5,
  thin = () => 1 / (globalThis.devicePixelRatio || 1);

/** What a chart of a width draws of a trace. */
export function points(
  t: Trace,
  across: Across,
  from: number,
  to: number,
  width: number,
  log: { x: boolean; y: boolean },
): { data: { x: number; y: number }[]; borderWidth: number; _decimated: boolean } {
  let crowded = false;
  const out: { x: number; y: number }[] = [];
  const add = (x: number, y: number) => {
    const v = log.y ? Math.abs(y) : y;
    if ((log.y && !(v > 0)) || (log.x && !(x > 0))) return;
    out.push({ x: x / across.factor, y: v / t.factor });
  };
  if (across.of !== 'gauge') crowded = thinned(t.x, t.y).columns(from, to, Math.round(width), add);
  else {
    const step = Math.max(1, Math.ceil(t.x.length / MOST));
    for (let i = 0; i < t.x.length; i += step) add(t.x[i]!, t.y[i]!);
  }
  // what is left is drawn as it is: the library would put it into columns of pixels once more, and smooth curves would look stepped
  return { data: out, borderWidth: crowded ? thin() : LINE, _decimated: !crowded };
}
