/** Through a run once more, from its trail: what it did at each step, and how what follows an event follows from the state before it and from numbers. */
import { isLength } from '../../equations/layout';
import { fireAt } from '../fire';
import type { Cells } from './cells';
import type { Neighbour } from './neighbour';
import { Steps } from './steps';
import type { Change, Stretch, Trail } from './trail';

/** Part of the size of a state's numbers by which it is changed at an event. */
const ASIDE = 1e-6;
/** Steps after which it is told how far it has come. */
export const OFTEN = 8;
/** Part of a step before an event that is gone through by itself. */
const LAST = 1e-2;
/** Part of it below which a jump is none. */
export const NONE = 1e-11;

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

/** A state, and what is remembered with it. */
export interface After {
  readonly y: Float64Array;
  readonly memory: Float64Array;
}

/** How what is told of after an event changes, once time is let change so that the event comes when it does. */
export interface Jump {
  /** With each number of the state, and of the model: that, and what the watch shows. */
  readonly byState: readonly After[];
  readonly byNumber: readonly After[];
  readonly shown: Float64Array;
  readonly shownBy: Float64Array;
  /** With the time at which it comes, while the run goes on as after it. */
  readonly later: After;
  /** How what the watch shows changes as the run goes on; undefined where the event comes at the end of a segment, whatever it shows. */
  readonly rate: number | undefined;
  /** Which of the memory it changes. */
  readonly changes: readonly boolean[];
}

export abstract class Retrace {
  readonly own: Neighbour;
  /** Where each of what elements remember (where a friction sticks, where a joint has closed again) is read; −1 for modes and the like. */
  protected readonly readAt: readonly number[];
  /** Derivatives of the state before an event, and after. */
  protected readonly around: readonly [before: Float64Array, after: Float64Array];

  /** By which part machines with less and more of a number differ from it. */
  part = NaN;

  constructor(protected readonly trail: Trail) {
    const own = (this.own = trail.own),
      vector = () => new Float64Array(own.y.length);
    this.readAt = this.placesOfMemory();
    this.around = [vector(), vector()];
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
    const { trail, own } = this,
      y = new Float64Array(own.y.length),
      { system } = own.m,
      steps = new Steps(own, trail.stops.at(-1)!, {
        rates: (many, t, Y, dY) => {
          many.read(Y, 0, own.y);
          many.write(own.rates(t), dY, 0);
        },
      });
    let next = 0;
    for (const s of trail.stretches) {
      this.enter(s);
      steps.restart();
      for (const [i, { from, until, y: begin, end, implicit }] of s.steps.entries()) {
        if (next === 0 && i === 0 && times[0] === from) take(times[next++]!, begin, s.memory);
        // an implicit step begins with what the one before it knew
        const inside = next < times.length && times[next]! < until;
        if (inside || implicit) steps.through(from, begin, until - from, implicit, []);
        for (; next < times.length && times[next]! < until; next++) {
          steps.at(times[next]!)(0, y);
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
  /** The machine, or one next to it, as it is in a part of the run. */
  protected enter({ from, ends, memory }: Stretch, { m }: Neighbour = this.own): void {
    m.memories.recall(memory);
    m.system.segment(from, ends);
  }

  /** How much of a step is gone through by itself before an event. */
  protected corner({ change, steps }: Stretch, nth: number): number {
    const { from, until } = steps[nth]!;
    return change && nth === steps.length - 1 ? LAST * (until - from) : 0;
  }
  /** The derivative of the state in a part of the run. */
  protected rateIn(stretch: Stretch, t: number, y: Float64Array, out: Float64Array): void {
    const { own } = this;
    this.enter(stretch);
    own.at(y);
    out.set(own.rates(t));
  }
  /**
   * What a watch shows, and the state that follows with what is then remembered, of a machine in the state before an event.
   */
  private fire(n: Neighbour, before: Stretch, { fired }: Change, at: number, y: Float64Array): Fired {
    const { m } = n,
      { system, memories } = m;
    memories.recall(before.memory);
    system.segment(Math.min(before.from, at), Math.max(before.ends, at));
    n.at(y);
    system.K.load(n.y);
    const shown = n.watched.at(at).values[fired[0]!]!;
    fireAt(m, n.watched, at, () => n.exactly(at), fired);
    system.K.store(n.y);
    const memory = new Float64Array(memories.cells);
    memories.keep(memory);
    return { y: n.y.slice(), memory, shown };
  }
  /** Whether frictions, stops and switches are in the same modes. */
  protected isAlike(memory: Float64Array, other: Float64Array): boolean {
    return this.readAt.every((place, cell) => place >= 0 || memory[cell] === other[cell]);
  }
  /**
   * @param numbers those asked, of which it takes those out of which nothing can be said here
   * @param smooth whether nothing changes, by the derivatives of the state before and after
   * @returns undefined where nothing can be said of any; 'none' where it is a corner of what pushes alone
   */
  protected jump(
    stretch: Stretch,
    change: Change,
    after: Stretch,
    numbers: readonly Changed[],
    left: Set<Changed>,
    smooth: (before: Float64Array, after: Float64Array) => boolean,
  ): Jump | 'none' | undefined {
    const { own, around, readAt, part } = this,
      { t, before, fired } = change,
      [f0, f1] = around,
      { size, system } = own.m,
      { kind } = system.K.layout,
      changes = readAt.map((_, cell) => after.memory[cell] !== stretch.memory[cell]);
    if (fired.length !== 1) return undefined;
    this.rateIn(stretch, t, before, f0);
    this.rateIn(after, t, change.after, f1);
    const then = own.modes;
    if (!before.some((x, j) => x !== change.after[j]) && !changes.includes(true) && smooth(f0, f1)) return 'none';
    // something is remembered that is read nobody knows where
    if (readAt.some((place, cell) => place < 0 && changes[cell] && !Number.isInteger(after.memory[cell]))) return undefined;
    const dt = ASIDE * Math.min(1, size / Math.max(1e-300, ...f0.map((x, j) => (kind[j]! < 2 ? Math.abs(x) : 0)))),
      look = (y: Float64Array, n = own, at = t) => this.fire(n, stretch, change, at, y),
      seen = [-1, 1, -0.5, 0.5].map((h) =>
        look(
          before.map((x, j) => x + h * dt * f0[j]!),
          own,
          t + h * dt,
        ),
      ) as [Fired, Fired, Fired, Fired],
      atEnd = Math.abs(t - stretch.ends) <= NONE * Math.abs(t),
      later = slope(seen[2], seen[3], dt);
    later.y.forEach((x, j) => (later.y[j] = x - f1[j]!));
    // a condition that is met or not says nothing of when; it is known where a segment ends with it
    if (!atEnd && !isPassed(seen.map((x) => x.shown) as [number, number, number, number])) return undefined;
    const y = before.slice(),
      beside = Array.from(before, (x, j) => {
        const h = ASIDE * (isLength(kind[j]!) ? size : 1);
        y[j] = x + h;
        const more = look(y);
        y[j] = x - h;
        const less = look(y);
        y[j] = x;
        return slope(less, more, 2 * h);
      }),
      with_ = numbers.map((x) => {
        const more = look(before, x.more),
          same = x.more.modes === then,
          less = look(before, x.less);
        if (!same || x.less.modes !== then || ![less, more].every(({ memory }) => this.isAlike(memory, after.memory))) left.add(x);
        return slope(less, more, 2 * part);
      });
    return {
      byState: beside,
      byNumber: with_,
      shown: Float64Array.from(beside, (x) => x.shown),
      shownBy: Float64Array.from(with_, (x) => x.shown),
      later,
      rate: atEnd ? undefined : (seen[1].shown - seen[0].shown) / (2 * dt),
      changes,
    };
  }
}

/** What a watch shows, and what follows where it fires. */
interface Fired extends After {
  readonly shown: number;
}
/** How that changes between two, by how far they are apart. */
function slope(less: Fired, more: Fired, apart: number): Fired {
  const between = (a: Float64Array, b: Float64Array) => a.map((x, j) => (b[j]! - x) / apart);
  return { y: between(less.y, more.y), memory: between(less.memory, more.memory), shown: (more.shown - less.shown) / apart };
}
/** Whether something passes zero as a smooth function does. @param seen so much before and after, then half as much */
const isPassed = ([before, after, earlier, later]: readonly [number, number, number, number]): boolean =>
  Math.abs(after + before) < 0.1 * Math.abs(after - before) &&
  Math.abs(2 * (later - earlier) - (after - before)) < 0.1 * Math.abs(after - before);

/** Σ x y */
export function dot(x: Float64Array, y: Float64Array): number {
  let sum = 0;
  for (let j = 0; j < x.length; j++) sum += x[j]! * y[j]!;
  return sum;
}
