/** All that may meet: pairs of forms, of which each is looked into when it first comes near. */
import type { Form } from '../../geometry/contact/form';
import type { Side } from './contacts';
import { type Meeting, meetingsOf } from './meeting';

/** Numbers of what geometry several forms share. */
const shared = new WeakMap<object, number>();
let count = 0;
function sharedBy(geometry: object): number {
  if (!shared.has(geometry)) shared.set(geometry, count++);
  return shared.get(geometry)!;
}

export class Meetings {
  /** Of each pair the number of its first probe, counted through all; and how many there are. */
  readonly firsts: Int32Array;
  readonly probes: number;
  private readonly made: (readonly Meeting[] | undefined)[];

  constructor(readonly pairs: readonly (readonly [Side, Side])[]) {
    this.made = new Array<undefined>(pairs.length).fill(undefined);
    this.firsts = new Int32Array(pairs.length);
    const known = new Map<string, number>(),
      alike = new Map<Form, number>(),
      told = new Map<string, number>(),
      kindOf = (form: Form) => {
        const id = alike.get(form);
        if (id !== undefined) return id;
        const text = form.type === 'facets' ? `facets ${sharedBy(form.positions)}` : JSON.stringify(form);
        if (!told.has(text)) told.set(text, told.size);
        alike.set(form, told.get(text)!);
        return told.get(text)!;
      };
    let count = 0;
    pairs.forEach(([a, b], i) => {
      this.firsts[i] = count;
      // forms that are alike have as many probes
      const key = `${kindOf(a.form)} ${kindOf(b.form)}`;
      if (!known.has(key)) known.set(key, this.of(i).reduce((n, m) => n + m.probes.length, 0)); // prettier-ignore
      count += known.get(key)!;
    });
    this.probes = count;
  }
  of(pair: number): readonly Meeting[] {
    return (this.made[pair] ??= meetingsOf(...this.pairs[pair]!));
  }
  /** The meeting to which a probe belongs, and its number there. */
  find(probe: number): readonly [Meeting, number] {
    let lo = 0,
      hi = this.pairs.length - 1;
    while (lo < hi) {
      const middle = (lo + hi + 1) >> 1;
      if (this.firsts[middle]! <= probe) lo = middle;
      else hi = middle - 1;
    }
    let k = probe - this.firsts[lo]!;
    for (const m of this.of(lo)) {
      if (k < m.probes.length) return [m, k];
      k -= m.probes.length;
    }
    throw new RangeError(`probe ${probe} of ${this.probes}`);
  }
  /** Whether anything touches by facets. */
  get faceted(): boolean {
    return this.pairs.some((pair) => pair.some(({ form }) => form.type === 'facets'));
  }
  /** Pairs of bodies, each once. */
  get bodies(): (readonly [number, number])[] {
    const out = new Map<number, readonly [number, number]>(),
      most = this.pairs.reduce((n, [a, b]) => Math.max(n, a.body, b.body), 0) + 1;
    for (const [{ body: a }, { body: b }] of this.pairs) out.set(Math.min(a, b) * most + Math.max(a, b), [a, b]);
    return [...out.values()];
  }
}
