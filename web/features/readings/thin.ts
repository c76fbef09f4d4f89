/**
 * A curve thinned to what a chart of a given width can show: first, smallest, largest and last of each pixel column, so
 * that no peak is ever hidden.
 * @param width pixels
 */
export function thin(time: Float64Array, values: Float64Array, factor: number, width: number): { x: number; y: number }[] {
  const n = time.length;
  const point = (i: number) => ({ x: time[i]!, y: values[i]! / factor });
  if (n <= 4 * width) return Array.from({ length: n }, (_, i) => point(i));
  const out: { x: number; y: number }[] = [];
  for (let column = 0; column < width; column++) {
    const from = Math.floor((column * n) / width), to = Math.floor(((column + 1) * n) / width);
    let lo = from, hi = from;
    for (let i = from; i < to; i++) {
      if (values[i]! < values[lo]!) lo = i;
      if (values[i]! > values[hi]!) hi = i;
    }
    for (const i of [...new Set([from, lo, hi, to - 1])].sort((a, b) => a - b)) out.push(point(i));
  }
  return out;
}
