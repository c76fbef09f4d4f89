/**
 * Back through a run: how one number that follows from some of its states changes with all numbers of its model at once. Each step is gone through by the
 * discrete adjoint of its method (`back-step.ts`), and brought off the constraints where it was brought onto them. Where modes change at an event the
 * derivative jumps, for the state does and the time of the event changes with it (Rozenvasser, Automation and Remote Control 28, 1967; backwards: Galán,
 * Feehery & Barton, Applied Numerical Mathematics 31, 1999).
 */
import { Adjoint } from '../../system/adjoint/adjoint';
import { Backwards } from '../../system/adjoint/backwards';
import { isLength } from '../../equations/layout';
import { cos } from '../../quantity/elementary';
import { fireAt } from '../fire';
import { BackStep, type Within, add } from './back-step';
import type { Cells } from './cells';
import { ROUNDING, isKink } from './flow';
import type { Neighbour } from './neighbour';
import type { Change, Step, Stretch, Trail } from './trail';

/** Part of the size of a state's numbers by which it is changed at an event. */
const ASIDE = 1e-6;
/** Part of how much a number changes what moves the machine, and of that itself, to which both ways of finding it agree. */
const AGREE = 1e-5;
/** Steps after which it is told how far it has come. */
const OFTEN = 8;
/** Part of a step before an event that is gone through by itself. */
const LAST = 1e-2;
/** Part of it below which a jump is none. */
const NONE = 1e-11;

/** A number with machines on both sides of it, and how what is read and where the run starts change with it. */
export interface Changed {
  readonly less: Neighbour;
  readonly more: Neighbour;
  readonly cells: Cells;
  /** First states of both, with what is remembered. */
  readonly first: readonly [less: After, more: After];
  /** Of the ends of segments, s. */
  readonly stops: readonly number[];
}

export class Sweep {
  readonly own: Neighbour;
  private readonly adjoint: Adjoint;
  private readonly backwards: Backwards;
  private readonly step: BackStep;
  private readonly by: Float64Array;
  /** By what elements remember: where a friction sticks, where a joint has closed again; and where each of that is read. */
  private readonly byMemory: Float64Array;
  private readonly readAt: readonly number[];
  private readonly rates: readonly [Float64Array, Float64Array];

  /** @param part by which machines with less and more of a number differ from it */
  constructor(
    private readonly trail: Trail,
    private readonly part: number,
  ) {
    const own = (this.own = trail.own),
      { system } = own.m;
    this.adjoint = new Adjoint(system);
    this.backwards = new Backwards(this.adjoint, system);
    this.step = new BackStep(own, this.backwards);
    this.by = new Float64Array(own.y.length);
    this.byMemory = new Float64Array(own.m.memories.cells);
    this.readAt = this.placesOfMemory();
    this.rates = [this.by.slice(), this.by.slice()];
  }

  /** Where in the machine's own numbers each of what is remembered stands; −1 for modes and the like. */
  private placesOfMemory(): number[] {
    const { system, memories } = this.own.m,
      { room } = system,
      { own } = room.places,
      [first] = this.trail.stretches,
      known = first!.memory.slice(),
      seen = (['courses', 'offsets'] as const).map((key) => ({ from: own[key], view: room.view(key) })),
      look = () => {
        memories.recall(known);
        system.residual(first!.from);
        return seen.map(({ view }) => view.slice());
      },
      before = look();
    return Array.from(known, (x, cell) => {
      // a mode is a whole number, always
      if (this.trail.stretches.every(({ memory }) => Number.isInteger(memory[cell]))) return -1;
      known[cell] = x + 0.5;
      const after = look();
      known[cell] = x;
      const places = seen.flatMap(({ from }, k) =>
        [...after[k]!.keys()].filter((i) => Math.abs(after[k]![i]! - before[k]![i]! - 0.5) < 1e-9).map((i) => from + i),
      );
      return places.length === 1 ? places[0]! : -1;
    });
  }

  /**
   * Recorded states of the run, as it has them: at the ends of steps, and by their polynomials between.
   * @param take gets each in turn: good until the next @yields how far it has come, from 0 to 1
   */
  *states(times: readonly number[], take: (t: number, y: Float64Array, memory: Float64Array) => void): Generator<number, void, void> {
    const { trail, step, own } = this,
      y = new Float64Array(own.y.length),
      { system } = own.m;
    let next = 0;
    for (const s of trail.stretches) {
      this.enter(s);
      for (const [i, { from, until, y: begin, end }] of s.steps.entries()) {
        if (next === 0 && i === 0 && times[0] === from) take(times[next++]!, begin, s.memory);
        const inside = next < times.length && times[next]! < until;
        if (inside) step.forward(from, begin, until - from, true);
        for (; next < times.length && times[next]! < until; next++) {
          step.interpolate(times[next]!, y);
          own.at(y);
          system.K.load(own.y);
          own.exactly(times[next]!);
          system.K.store(y);
          take(times[next]!, y, s.memory);
        }
        if (next < times.length && times[next] === until) take(times[next++]!, end, s.memory);
        if (i % OFTEN === 0) yield next / times.length;
      }
    }
  }
  /**
   * Those numbers of which, at some states of the run, the same is known so as differences of less and more say, and which stand at no kink where it starts:
   * what the machine reads elsewhere than in its memory shows here.
   */
  sure(numbers: readonly Changed[]): readonly Changed[] {
    const { trail } = this,
      steps = trail.stretches.flatMap((stretch) => stretch.steps.map((step) => ({ stretch, step }))),
      some = [0, 0.37, 0.81].map((part) => steps[Math.floor(part * steps.length)]!);
    let list: readonly Changed[] = numbers.filter((x) => this.isSmooth(x));
    for (const { stretch, step } of some) list = this.agreeing(list, stretch, step);
    return list;
  }
  private agreeing(numbers: readonly Changed[], stretch: Stretch, { from: t, y }: Step): readonly Changed[] {
    const { own, adjoint, backwards, by, part } = this,
      /** Brought onto the constraints: of a machine whose rows are redundant nothing is known beside them. */
      rates = (n: Neighbour) => {
        this.enter(stretch, n);
        n.m.system.K.load(n.at(y));
        n.exactly(t);
        n.m.system.K.store(n.y);
        return n.rates(t);
      },
      here = rates(own),
      weights = Float64Array.from(here, (x, j) => cos(1 + j) / (1 + Math.abs(x)) / here.length),
      value = dot(here, weights),
      state = own.y.slice();
    adjoint.clear();
    by.fill(0);
    backwards.rates(state, weights, by);
    backwards.onto(t, own.at(state), by);
    const rounding = ROUNDING * own.held;
    return numbers.filter(({ less, more, cells }) => {
      const [a, b] = [dot(rates(less), weights), dot(rates(more), weights)],
        difference = (b - a) / (2 * part),
        known = cells.times(adjoint);
      if (isKink(Math.abs(a + b - 2 * value), Math.abs(b - a), part, rounding)) return false;
      return Math.abs(difference - known) <= AGREE * (Math.abs(known) + 1) + rounding / part;
    });
  }
  /** Whether less and more of a number undo each other where the run starts. */
  private isSmooth({ less, more, first }: Changed): boolean {
    if (!first.every((x) => this.isAlike(x.memory, this.trail.stretches[0]!.memory))) return false;
    const { own, trail, part } = this,
      { further } = own.m.system.K.layout,
      [stretch] = trail.stretches as [Stretch],
      rate = (n: Neighbour, y: Float64Array) => {
        this.enter(stretch, n);
        n.at(y);
        return n.rates(0).slice(0, further);
      },
      [a, o, b] = [rate(less, first[0].y), rate(own, stretch.steps[0]!.y), rate(more, first[1].y)] as const,
      largest = (x: Float64Array) => x.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
    return !isKink(
      largest(o.map((x, j) => a[j]! + b[j]! - 2 * x)),
      largest(a.map((x, j) => b[j]! - x)),
      part * largest(o),
      ROUNDING * own.held,
    );
  }
  /** The machine, or one next to it, as it is in a part of the run. */
  private enter({ from, ends, memory }: Stretch, { m }: Neighbour = this.own): void {
    m.memories.recall(memory);
    m.system.segment(from, ends);
  }

  /**
   * How the number changes with each number of the model, beside what these do to what is read of the states.
   * @param seeds by time @param numbers those asked, of which `left` are found that nothing can be said of so @yields how far it has come, from 0 to 1
   */
  *back(seeds: readonly Within[], numbers: readonly Changed[]): Generator<number, { by: Float64Array; left: Set<Changed> }, void> {
    const { trail, adjoint, by, step, part } = this,
      out = new Float64Array(numbers.length),
      left = new Set<Changed>();
    const whole = trail.stops.at(-1)!;
    adjoint.clear();
    by.fill(0);
    this.byMemory.fill(0);
    let next = seeds.length - 1;
    for (let s = trail.stretches.length - 1; s >= 0; s--) {
      const stretch = trail.stretches[s]!,
        after = trail.stretches[s + 1];
      if (after) {
        if (stretch.change) this.across(stretch, stretch.change, after, numbers, out, left);
        else if (after.nth !== stretch.nth) this.later(stretch, after, numbers, out);
      }
      this.enter(stretch);
      for (let i = stretch.steps.length - 1; i >= 0; i--) {
        const { from, until, y, end } = stretch.steps[i]!,
          within: Within[] = [];
        for (; next >= 0 && seeds[next]!.t >= until; next--) add(by, seeds[next]!.by);
        for (; next >= 0 && seeds[next]!.t > from; next--) within.push(seeds[next]!);
        this.onto(until, end);
        const corner = stretch.change && i === stretch.steps.length - 1 ? LAST * (until - from) : 0,
          h = until - from - corner;
        step.forward(from, y, h, within.length > 0);
        if (corner > 0) step.short(from + h, step.end.slice(), corner, by);
        step.through(from, y, h, by, within);
        if (i % OFTEN === 0) yield 1 - until / whole;
      }
    }
    for (; next >= 0; next--) add(by, seeds[next]!.by);
    // the run starts on the constraints
    const first = trail.stretches[0]!;
    this.onto(0, first.steps[0]!.y);
    numbers.forEach((n, k) => (out[k] = out[k]! + this.differ(...n.first) / (2 * part) + n.cells.times(adjoint)));
    return { by: out, left };
  }

  private onto(t: number, y: Float64Array): void {
    const { backwards, own, by, byMemory, readAt, adjoint } = this;
    backwards.onto(t, own.at(y), by);
    readAt.forEach((place, cell) => {
      if (place >= 0) byMemory[cell] = byMemory[cell]! + adjoint.numbers[place]!;
    });
  }
  /** The derivative of the state in a part of the run. */
  private rateIn(stretch: Stretch, t: number, y: Float64Array, out: Float64Array): void {
    const { own } = this;
    this.enter(stretch);
    own.at(y);
    out.set(own.rates(t));
  }
  /** Where a segment ends that would end a little later with more of a number. */
  private later(before: Stretch, after: Stretch, numbers: readonly Changed[], out: Float64Array): void {
    if (numbers.every((n) => n.stops[before.nth] === 0)) return;
    const { by, rates } = this,
      { end } = before.steps.at(-1)!,
      t = before.ends;
    this.rateIn(before, t, end, rates[0]);
    this.rateIn(after, t, end, rates[1]);
    const jump = dot(by, rates[0]) - dot(by, rates[1]);
    numbers.forEach((n, k) => (out[k] = out[k]! + jump * n.stops[before.nth]!));
  }

  /**
   * What a watch shows, and the state that follows with what is then remembered, of a machine in the state before an event.
   * @returns what it shows
   */
  private fire(n: Neighbour, before: Stretch, { fired }: Change, at: number, y: Float64Array, out: After): number {
    const { m } = n,
      { system, memories } = m;
    memories.recall(before.memory);
    system.segment(Math.min(before.from, at), Math.max(before.ends, at));
    n.at(y);
    system.K.load(n.y);
    const value = n.watched.at(at).values[fired[0]!]!;
    fireAt(m, n.watched, at, () => n.exactly(at), fired);
    system.K.store(n.y);
    out.y.set(n.y);
    memories.keep(out.memory);
    return value;
  }
  /** Whether frictions, stops and switches are in the same modes. */
  private isAlike(memory: Float64Array, other: Float64Array): boolean {
    return this.readAt.every((place, cell) => place >= 0 || memory[cell] === other[cell]);
  }
  /** How what is told of after an event differs between two such states. */
  private differ(low: After, high: After): number {
    const { by, byMemory } = this;
    return dot(by, high.y) - dot(by, low.y) + dot(byMemory, high.memory) - dot(byMemory, low.memory);
  }

  /** Modes change: what is before follows from what is after. */
  private across(
    stretch: Stretch,
    change: Change,
    after: Stretch,
    numbers: readonly Changed[],
    out: Float64Array,
    left: Set<Changed>,
  ): void {
    const { own, by, byMemory, rates, readAt, part } = this,
      { t, before, fired } = change,
      [f0, f1] = rates,
      { size, memories, system } = own.m,
      { kind } = system.K.layout,
      [low, high] = [0, 1].map(() => ({ y: by.slice(), memory: new Float64Array(memories.cells) })) as [After, After],
      all = () => numbers.forEach((x) => left.add(x)),
      changed = (cell: number) => after.memory[cell] !== stretch.memory[cell],
      forgotten = () => readAt.forEach((_, cell) => changed(cell) && (byMemory[cell] = 0));
    if (fired.length !== 1) return all();
    this.rateIn(stretch, t, before, f0);
    this.rateIn(after, t, change.after, f1);
    const then = own.modes,
      jumps = before.some((x, j) => x !== change.after[j]) || readAt.some((_, cell) => changed(cell)),
      kink = dot(by, f0) - dot(by, f1);
    // a corner of what pushes, where it stays what it is
    if (!jumps && Math.abs(kink) <= NONE * by.reduce((s, x, j) => s + Math.abs(x * f0[j]!), 0)) return;
    // something is remembered that is read nobody knows where
    if (readAt.some((place, cell) => place < 0 && changed(cell) && !Number.isInteger(after.memory[cell]))) return all();
    const dt = ASIDE * Math.min(1, size / Math.max(1e-300, ...f0.map((x, j) => (kind[j]! < 2 ? Math.abs(x) : 0)))),
      look = (y: Float64Array, to: After, n = own, at = t) => this.fire(n, stretch, change, at, y, to),
      seen = [-1, 1, -0.5, 0.5].map((h) =>
        look(
          before.map((x, j) => x + h * dt * f0[j]!),
          h < 0 ? low : high,
          own,
          t + h * dt,
        ),
      ) as [number, number, number, number],
      // low and high are those of half the time now
      along = this.differ(low, high) / dt - dot(by, f1),
      atEnd = Math.abs(t - stretch.ends) <= NONE * Math.abs(t),
      // a condition that is met or not says nothing of when; it is known where a segment ends with it
      late = atEnd ? 0 : (-along * 2 * dt) / (seen[1] - seen[0]);
    if (!atEnd && !isPassed(seen)) return all();
    const y = before.slice(),
      next = before.map((x, j) => {
        const h = ASIDE * (isLength(kind[j]!) ? size : 1);
        y[j] = x + h;
        const a = look(y, high);
        y[j] = x - h;
        const b = look(y, low);
        y[j] = x;
        return (late * (a - b) + this.differ(low, high)) / (2 * h);
      });
    numbers.forEach((x, k) => {
      const b = look(before, high, x.more),
        same = x.more.modes === then,
        a = look(before, low, x.less);
      if (!same || x.less.modes !== then || ![low, high].every(({ memory }) => this.isAlike(memory, after.memory))) left.add(x);
      out[k] = out[k]! + (late * (b - a) + this.differ(low, high)) / (2 * part) + (atEnd ? along * x.stops[stretch.nth]! : 0);
    });
    by.set(next);
    forgotten();
  }
}

/** A state, and what is remembered with it. */
export interface After {
  readonly y: Float64Array;
  readonly memory: Float64Array;
}
/** Whether something passes zero as a smooth function does. @param seen so much before and after, then half as much */
const isPassed = ([before, after, earlier, later]: readonly [number, number, number, number]): boolean =>
  Math.abs(after + before) < 0.1 * Math.abs(after - before) &&
  Math.abs(2 * (later - earlier) - (after - before)) < 0.1 * Math.abs(after - before);

function dot(x: Float64Array, y: Float64Array): number {
  let sum = 0;
  for (let j = 0; j < x.length; j++) sum += x[j]! * y[j]!;
  return sum;
}
