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
/** Others that count as much, at most. */
const RIVALS = 24;
/** How a score changes with the records of each curve. */
export type BySlopes = readonly Float64Array[];

/**
 * On which other records a score would hang as well, to within what small changes of numbers do: the tops of a motion that repeats itself are all as high.
 * @param slopes of the score where the curves are as they are, which they are changed from meanwhile @param score how it then comes out
 * @returns how it would change with these, of each of them; undefined where that is not found
 */
export function rivalsOf(
  curves: readonly Float64Array[],
  slopes: BySlopes,
  score: () => { readonly value: number | undefined; readonly slopes: BySlopes | undefined },
): BySlopes[] | undefined {
  const known = score().value,
    kept = curves.map((c) => c.slice()),
    by = curves.map((c) => (RIVAL / NOTICED) * mayChange(c)),
    list: BySlopes[] = [slopes];
  /** With some records higher or lower by so much. */
  const shifted = <T>(some: readonly number[][], much: number, look: () => T): T => {
    curves.forEach((c, g) => some[g]!.forEach((i) => (c[i] = kept[g]![i]! + much * by[g]!)));
    const found = look();
    curves.forEach((c, g) => c.set(kept[g]!));
    return found;
  };
  while (list.length <= RIVALS) {
    const near = curves.map((c, g) => around(c, (i) => list.some((s) => s[g]![i] !== 0), 2 * by[g]!)),
      of = (here: 0 | 1) => near.map((n) => [...n.keys()].filter((i) => n[i] === here)),
      others = of(0);
    if ([1, -1].every((sense) => shifted(others, sense, () => score().value) === known)) return list.slice(1);
    const next = [-1, 1]
      .map((sense) => shifted(of(1), 3 * sense, () => score().slopes))
      .find((s) => s && s.some((w, g) => w.some((x, i) => x !== 0 && near[g]![i] === 0)));
    if (!next) return undefined;
    list.push(next);
  }
  return undefined;
}
/** Records that count, and those round them that go up and down with them: as high to within so much. */
function around(curve: Float64Array, counts: (i: number) => boolean, within: number): Uint8Array {
  const n = curve.length,
    near = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    if (!counts(i)) continue;
    for (const way of [-1, 1])
      for (let j = i; j >= 0 && j < n && (Math.abs(j - i) <= AROUND || Math.abs(curve[j]! - curve[i]!) <= within); j += way) near[j] = 1;
  }
  return near;
}
