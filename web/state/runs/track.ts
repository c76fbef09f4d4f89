/** Postures of a run, for playing it. */
import { type RecordLayout, RecordedStates } from '@vim-pivot/core/page';

/**
 * Postures of some records on end: times, s; places of the centres of mass, m, three numbers a body a record; turns, four (w x y z).
 * Turns stand in single precision: 6e-8 of a turn is far below what can be drawn, and a run takes 40 bytes a body and record instead of 56.
 */
export interface Postures {
  times: Float64Array;
  places: Float64Array;
  turns: Float32Array;
}

export const posturesOf = (data: Float64Array, layout: RecordLayout): Postures => {
  const n = data.length / layout.width,
    { bodies } = layout,
    states = new RecordedStates(layout),
    state = new Float64Array(states.size);
  const out: Postures = { times: new Float64Array(n), places: new Float64Array(3 * bodies * n), turns: new Float32Array(4 * bodies * n) };
  for (let i = 0; i < n; i++) {
    const p = i * layout.width;
    out.times[i] = data[p]!;
    states.read(data, p, state);
    for (let b = 0, q = 0; b < bodies; b++, q += 7) {
      for (let k = 0; k < 3; k++) out.places[3 * (i * bodies + b) + k] = state[q + k]!;
      for (let k = 0; k < 4; k++) out.turns[4 * (i * bodies + b) + k] = state[q + 3 + k]!;
    }
  }
  return out;
};

/** The last entry of an increasing list that is not above x; the first, when all are. */
function below(list: { readonly [i: number]: number }, n: number, x: number): number {
  let lo = 0,
    hi = n - 1;
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1;
    if (list[mid]! <= x) lo = mid;
    else hi = mid - 1;
  }
  return lo;
}

/** The postures of a run as they arrive, part by part; nothing of them is copied when it grows. */
export class Track {
  private readonly parts: Postures[] = [];
  /** The first record of each part, and its time. */
  private readonly firsts: number[] = [];
  private readonly begins: number[] = [];
  count = 0;
  constructor(private readonly layout: RecordLayout) {}
  /** @param data records as the solver gives them @returns their postures */
  add(data: Float64Array): Postures {
    const p = posturesOf(data, this.layout);
    this.append(p);
    return p;
  }
  append(p: Postures): void {
    if (p.times.length === 0) return;
    this.parts.push(p);
    this.firsts.push(this.count);
    this.begins.push(p.times[0]!);
    this.count += p.times.length;
  }
  get bodies(): number {
    return this.layout.bodies;
  }
  get end(): number {
    return this.parts.at(-1)?.times.at(-1) ?? 0;
  }
  /** Index of the record at or before a time. */
  recordAt(t: number): number {
    if (this.count === 0) return 0;
    const part = below(this.begins, this.begins.length, t + 1e-12),
      { times } = this.parts[part]!;
    return this.firsts[part]! + below(times, times.length, t + 1e-12);
  }
  timeOf(record: number): number {
    const part = below(this.firsts, this.firsts.length, record);
    return this.parts[part]!.times[record - this.firsts[part]!]!;
  }
  /** Posture at time t into `out`, straight between the two records round it (rotations normalised). */
  at(t: number, out: Float64Array): void {
    if (this.count === 0) return;
    const { bodies } = this.layout,
      lo = this.recordAt(t),
      hi = Math.min(lo + 1, this.count - 1);
    const part = below(this.firsts, this.firsts.length, lo),
      a = this.parts[part]!;
    const over = hi - this.firsts[part]! >= a.times.length,
      b = over ? this.parts[part + 1]! : a;
    const i = lo - this.firsts[part]!,
      j = over ? 0 : hi - this.firsts[part]!;
    const span = b.times[j]! - a.times[i]!,
      x = span > 0 ? Math.min(1, Math.max(0, (t - a.times[i]!) / span)) : 0;
    for (let n = 0; n < bodies; n++) {
      const p = 3 * (i * bodies + n),
        q = 3 * (j * bodies + n),
        u = 4 * (i * bodies + n),
        v = 4 * (j * bodies + n),
        o = 7 * n;
      for (let k = 0; k < 3; k++) out[o + k] = (1 - x) * a.places[p + k]! + x * b.places[q + k]!;
      let dot = 0,
        norm = 0;
      for (let k = 0; k < 4; k++) dot += a.turns[u + k]! * b.turns[v + k]!;
      for (let k = 0; k < 4; k++) {
        const c = (1 - x) * a.turns[u + k]! + (dot < 0 ? -x : x) * b.turns[v + k]!;
        out[o + 3 + k] = c;
        norm += c * c;
      }
      norm = Math.sqrt(norm) || 1;
      for (let k = 3; k < 7; k++) out[o + k]! /= norm;
    }
  }
}
