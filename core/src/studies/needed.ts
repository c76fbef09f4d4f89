/** On which records of a run its scores hang: a peak on three of them, a mean on all. Of the others nobody need ask how they change. */

/** Part of the range of a curve by which a record is changed to see whether a score notices. */
const NOTICED = 5e-4;
/** Part of a curve that is no range of it. */
const FLAT = 1e-9;
/** Part of that by which a machine next to the run may differ from it in a record. */
export const FARTHEST = 0.25;
/** How often all others are changed in the end, to see that none counts. */
const ROUNDS = 4;
/** Records from which on it is worth asking, and those that are taken together in the end. */
const WORTH = 64;
const TOGETHER = 6;
/** Records beside one that counts that count with it: a peak is sharpened by those around it, even where they do not bear on its size at present. */
const AROUND = 4;
/** So many places are tried first: where more than a part of them is needed, all records are. */
const TRIED = 24;
const MOST = 0.5;

/** By how much a curve may change until what its scores hang on must be looked for anew. */
export function mayChange(curve: Float64Array): number {
  let [lo, hi] = [Infinity, -Infinity];
  for (let i = 0; i < curve.length; i++) {
    lo = Math.min(lo, curve[i]!);
    hi = Math.max(hi, curve[i]!);
  }
  const size = Math.max(Math.abs(lo), Math.abs(hi));
  // the range of one that stays is rounding
  return NOTICED * (hi - lo > FLAT * size ? hi - lo : size);
}

/**
 * Found by halves: a part of all curves is changed a little at random, up and down.
 * @param curves changed meanwhile, and put back @param scores of them
 * @returns by the records, 1 where one counts; undefined where most of them do
 */
export function neededRecords(curves: readonly Float64Array[], scores: () => readonly (number | undefined)[]): Uint8Array | undefined {
  const n = curves[0]?.length ?? 0;
  if (n < WORTH) return undefined;
  const known = scores(),
    by = curves.map(mayChange);
  let seed = 1;
  const random = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 1073741824 - 1;
  const noticed = (from: number, to: number): boolean => {
    const kept = curves.map((c) => c.slice(from, to)),
      // never by next to nothing
      change = curves.map((_, g) => kept[g]!.map(() => (by[g]! * (1 + random())) / 2 + 0.1 * by[g]!)),
      way = kept[0]!.map(() => (random() < 0 ? -1 : 1));
    let seen = false;
    for (const sense of [1, -1]) {
      curves.forEach((c, g) => {
        for (let i = from; i < to; i++) c[i] = kept[g]![i - from]! + sense * way[i - from]! * change[g]![i - from]!;
      });
      seen ||= scores().some((x, k) => x !== known[k]);
    }
    curves.forEach((c, g) => c.set(kept[g]!, from));
    return seen;
  };
  let met = 0;
  for (let k = 0; k < TRIED; k++) {
    const from = Math.floor(((k + 0.5) * (n - TOGETHER)) / TRIED);
    if (noticed(from, from + TOGETHER)) met++;
  }
  if (met > MOST * TRIED) return undefined;
  const out = new Uint8Array(n),
    count = (from: number, to: number) => out.fill(1, Math.max(0, from - AROUND), to + AROUND);
  let blocks: [number, number][] = [[0, n]];
  while (blocks.length > 0) {
    const left = blocks.filter(([from, to]) => noticed(from, to));
    blocks = [];
    for (const [from, to] of left)
      if (to - from <= TOGETHER) count(from, to);
      else {
        const middle = (from + to) >> 1;
        blocks.push([from, middle], [middle, to]);
      }
  }
  // the run begins and ends there
  out[0] = out[n - 1] = 1;
  return unmoved() ? out : undefined;

  /** Whether the scores stay what they are while all other records change as far as they may. */
  function unmoved(): boolean {
    const kept = curves.map((c) => c.slice());
    let same = true;
    for (let round = 0; same && round < ROUNDS; round++) {
      curves.forEach((c, g) => {
        for (let i = 0; i < n; i++) if (!out[i]) c[i] = kept[g]![i]! + FARTHEST * by[g]! * random();
      });
      same = scores().every((x, k) => x === known[k]);
    }
    curves.forEach((c, g) => c.set(kept[g]!));
    return same;
  }
}

/** Part of the range of a curve by which others may come to count: far more than a small change of any number does. */
const RIVAL = 2e-4;
/**
 * Whether a score hangs on the records by which it changes alone: no other peak is as high, no other time as early, to within what small changes do.
 * @param slopes of the score by the records of each curve @param score of the curves, which are changed meanwhile
 */
export function standsAlone(curves: readonly Float64Array[], slopes: readonly Float64Array[], score: () => number | undefined): boolean {
  const known = score(),
    kept = curves.map((c) => c.slice()),
    by = curves.map((c) => (RIVAL / NOTICED) * mayChange(c)),
    others = curves.map((c, g) => apart(c, slopes[g]!, 2 * by[g]!));
  let same = true;
  for (const sense of [1, -1]) {
    curves.forEach((c, g) => {
      for (const i of others[g]!) c[i] = kept[g]![i]! + sense * by[g]!;
    });
    same &&= score() === known;
  }
  curves.forEach((c, g) => c.set(kept[g]!));
  return same;
}
/** Records that neither count nor lie round one that does, going up and down with it: as high to within so much. */
function apart(curve: Float64Array, slopes: Float64Array, within: number): number[] {
  const n = curve.length,
    near = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    if (slopes[i] === 0) continue;
    for (const way of [-1, 1])
      for (let j = i; j >= 0 && j < n && (Math.abs(j - i) <= AROUND || Math.abs(curve[j]! - curve[i]!) <= within); j += way) near[j] = 1;
  }
  return [...near.keys()].filter((i) => !near[i]);
}
