/** Finding the first event inside a step, on the step's interpolation. */
import type { Fired, Watch } from '../equations/watch';
import type { System } from '../system/system';
import { Dips } from './dips';

export interface Happening {
  t: number;
  kind: Fired['kind'] | 'singular' | 'stiff' | 'not stiff';
  element: { family: string; name: string };
  message: string;
  /** Numbers that belong to it, SI. */
  values?: Readonly<Record<string, number>>;
}

/** Parts into which a step is looked at, so that two crossings in one step are not missed. */
const PARTS = 4;
/** States looked at to locate an event, at most: as many halvings come down to the last digit of any time. */
const MOST = 80;
/** Digits of time to which an event is located, and the part of a step that is as little. */
const LAST_DIGITS = 4 * Number.EPSILON;
const OF_STEP = 1e-12;
/** Secants that have not halved a bracket together, after which it is halved on. */
const SLOW = 3;

export class Events {
  readonly watching: boolean;
  /** Those that fired last. */
  fired: readonly number[] = [];
  /** Watches below zero at the last look, and just after the event that was last located. */
  private readonly found: number[] = [];
  private due: readonly number[] = [];
  /** Of each watch, at the last look; and all that they are the least of, at the last look and at both ends of the bracket. */
  private readonly values: Float64Array;
  private readonly now: Float64Array;
  private readonly before: Float64Array;
  private readonly after: Float64Array;
  private readonly dips: Dips;
  private readonly lasting: readonly Watch[];
  constructor(
    private readonly system: System,
    private readonly watches: readonly { element: { family: string; name: string }; watch: Watch }[],
  ) {
    this.watching = watches.length > 0;
    this.dips = new Dips(watches.map((w) => w.watch));
    this.lasting = watches.map((w) => w.watch).filter((w) => w.lasts);
    this.values = new Float64Array(watches.length);
    const slots = watches.reduce((sum, { watch }) => sum + (watch.several?.length ?? 1), 0);
    [this.now, this.before, this.after] = [0, 1, 2].map(() => new Float64Array(slots)) as [Float64Array, Float64Array, Float64Array];
  }

  /** Values of all watches at the state in K, and which of them are below zero: good until the next look. */
  at(t: number): { values: Float64Array; below: readonly number[] } {
    this.look(t);
    return { values: this.values, below: this.found };
  }

  /** Values of all watches at the state in K; whether one is below zero. */
  private look(t: number): boolean {
    const { system, watches, values, now, found } = this;
    let at = 0;
    found.length = 0;
    if (watches.some((w) => w.watch.carried)) system.accelerate(t);
    for (let i = 0; i < watches.length; i++) {
      const { watch } = watches[i]!;
      values[i] = watch.value(system.K, t, system);
      if (watch.several) now.set(watch.several, at);
      else now[at] = values[i]!;
      at += watch.several?.length ?? 1;
      if (values[i]! < 0) found.push(i);
    }
    return found.length > 0;
  }

  /**
   * The time just after the first change of sign in (t0, t1], or undefined.
   * @param at puts the state at a time of the step into the system
   */
  first(t0: number, t1: number, at: (t: number) => void): number | undefined {
    const { dips, system } = this;
    let lo = t0;
    if (dips.any && dips.time !== t0) {
      at(t0);
      dips.look(system.K, t0);
    }
    for (let i = 1; i <= PARTS; i++) {
      const hi = i === PARTS ? t1 : t0 + ((t1 - t0) * i) / PARTS;
      at(hi);
      if (this.look(hi)) return this.located(lo, hi, t1 - t0, i > 1, at);
      if (dips.any) {
        dips.look(system.K, hi);
        const found = dips.between(system.K, lo, at);
        if (found !== undefined) {
          at(found);
          if (this.look(found)) return this.located(lo, found, t1 - t0, i > 1, at);
          at(hi);
          this.look(hi);
        }
      }
      this.before.set(this.now);
      lo = hi;
    }
    return undefined;
  }

  private located(lo: number, hi: number, step: number, begun: boolean, at: (t: number) => void): number {
    this.dips.time = NaN;
    return this.locate(lo, hi, step, begun, at);
  }

  /** Longest step from the state in K, with the accelerations at hand there, that none of them can pass unseen, s. */
  get lasts(): number {
    const { system, lasting } = this;
    return lasting.reduce((least, w) => Math.min(least, w.lasts!(system.K, system.acceleration)), Infinity);
  }

  /**
   * Closes in on the first change of sign in (lo, hi] by secants that keep it between them (the Illinois method; Dowell, Jarratt, BIT 11, 1971), the
   * earliest of all watches leading, and by halves where a secant says nothing.
   */
  private locate(lo: number, hi: number, step: number, begun: boolean, at: (t: number) => void): number {
    const { before, after, now } = this;
    after.set(now);
    this.due = [...this.found];
    if (!begun) {
      // the event of before may just have been there, where nothing was looked at since
      at(lo);
      if (this.look(lo)) before.fill(NaN);
      else before.set(now);
    }
    let side = 0,
      width = hi - lo,
      slow = 0;
    for (let i = 0; i < MOST; i++) {
      const least = Math.max(OF_STEP * step, LAST_DIGITS * Math.max(Math.abs(lo), Math.abs(hi)));
      if (hi - lo <= least) break;
      // what bends sharply or jumps, where secants are slow, is closed in on by halves
      if (slow <= SLOW) slow = hi - lo > width / 2 ? slow + 1 : 0;
      if (slow === 0) width = hi - lo;
      const guess = slow > SLOW ? lo + (hi - lo) / 2 : this.secant(lo, hi),
        middle = Math.min(hi - least / 2, Math.max(lo + least / 2, guess));
      if (middle <= lo || middle >= hi) break;
      at(middle);
      if (this.look(middle)) {
        hi = middle;
        after.set(now);
        this.due = [...this.found];
        if (side > 0) halve(before);
        side = 1;
      } else {
        lo = middle;
        before.set(now);
        if (side < 0) halve(after);
        side = -1;
      }
    }
    return hi;
  }

  /** Where the first of the watches that are below zero at the end of a bracket passes it, straight between both ends. */
  private secant(lo: number, hi: number): number {
    let first = hi;
    for (let i = 0; i < this.after.length; i++) {
      const b = this.after[i]!,
        a = this.before[i]!;
      if (!(b < 0)) continue;
      // one that had nothing to watch before, or jumps, is closed in on by halves
      if (!(a > 0 && a < Infinity && b > -Infinity && a - b > 0)) return lo + (hi - lo) / 2;
      first = Math.min(first, lo + (hi - lo) * (a / (a - b)));
    }
    return first;
  }

  /**
   * Lets every watch that is below zero at the state in K fire; where none is, those that were as the event was found: a step that is made anew to end there
   * may end a little before.
   * @param project brings the machine onto the rows that now hold @param which those that fire instead, whatever they are
   */
  fire(t: number, project: () => void, which?: readonly number[]): Happening[] {
    const { system, watches } = this;
    this.look(t);
    const before = watches.map((w) => w.watch.mode?.().kind);
    this.fired = [...(which ?? (this.found.length > 0 ? this.found : this.due))];
    this.due = [];
    const told = this.fired.flatMap((i): Happening[] => {
      const { watch, element } = watches[i]!,
        fired = watch.fire(system.K, t);
      return fired ? [{ t, element, ...fired }] : [];
    });
    project();
    watches.forEach(({ watch, element }, i) => {
      const now = watch.mode?.();
      if (now && now.kind !== before[i]) told.push({ t, element, ...now });
    });
    return told;
  }
}

function halve(list: Float64Array): void {
  for (let i = 0; i < list.length; i++) list[i] = list[i]! / 2;
}
