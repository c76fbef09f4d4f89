/**
 * Forth through a run: how its states change with numbers of its model. The variational equations, exactly derived, are integrated step for step by the run's
 * own method, and changes are brought onto the derivative of the constraints where the run was brought onto these. Where modes change at an event a change
 * jumps, for the state does and the time of the event changes with it (Rozenvasser, Automation and Remote Control 28, 1967).
 */
import { KIND } from '../../equations/layout';
import { type Besides, Forwards } from '../../system/adjoint/forwards';
import { Variation } from '../../system/adjoint/variation';
import { type After, type Changed, NONE, OFTEN, Retrace, dot } from './retrace';
import type { Many } from './many';
import { type Changing, Steps } from './steps';
import type { Change, Stretch, Trail } from './trail';
import { RALSTON } from './ralston';

/** A number on its way. */
interface Side {
  readonly of: Changed;
  /** How the state changes with it, and what elements remember. */
  s: Float64Array;
  memory: Float64Array;
  readonly besides: Besides;
}

export class Forth extends Retrace implements Changing {
  private readonly forwards: Forwards;
  private readonly steps: Steps;
  private readonly state: Float64Array;
  private readonly change: Float64Array;
  private readonly rated: Float64Array;
  private sides: Side[] = [];

  constructor(trail: Trail) {
    super(trail);
    const { own } = this,
      { system } = own.m,
      vector = () => new Float64Array(own.y.length);
    this.forwards = new Forwards(new Variation(system), system);
    [this.state, this.change, this.rated] = [vector(), vector(), vector()];
    this.steps = new Steps(own, trail.stops.at(-1)!, this);
  }

  rates(many: Many, t: number, Y: Float64Array, dY: Float64Array): void {
    const { own, forwards, sides, state, change, rated } = this;
    many.read(Y, 0, state);
    own.at(state);
    many.write(own.rates(t), dY, 0);
    forwards.look();
    sides.forEach(({ besides }, p) => {
      many.read(Y, p + 1, change);
      forwards.rates(state, change, besides, rated);
      many.write(rated, dY, p + 1);
    });
  }

  /**
   * @param times of states that are asked for
   * @param take gets of each number how the state changes there, in the order in which they are asked: good until the next
   * @yields how far it has come, from 0 to 1 @returns those of which nothing can be said so
   */
  *through(
    numbers: readonly Changed[],
    times: readonly number[],
    take: (nth: number, changes: readonly Float64Array[]) => void,
  ): Generator<number, Set<Changed>, void> {
    const { trail, steps, part } = this,
      whole = trail.stops.at(-1)!,
      left = new Set<Changed>(),
      between = (x: Float64Array, y: Float64Array) => x.map((v, j) => (y[j]! - v) / (2 * part));
    this.sides = numbers.map((of) => this.side(of, between(of.first[0].y, of.first[1].y), between(of.first[0].memory, of.first[1].memory)));
    const changes = this.sides.map(({ s }) => s),
      within = changes.map((s) => s.slice());
    steps.of(numbers.length);
    let next = 0;
    for (const [nth, stretch] of trail.stretches.entries()) {
      this.enter(stretch);
      steps.restart();
      if (nth === 0) this.onto(0, stretch.steps[0]!.y);
      for (const [i, { from, until, y, end, implicit }] of stretch.steps.entries()) {
        for (; next < times.length && times[next]! <= from; next++) take(next, changes);
        const corner = this.corner(stretch, i),
          begun = corner > 0 ? steps.through(from, y, until - from - corner, implicit, changes) : undefined;
        if (!begun) steps.through(from, y, until - from, implicit, changes);
        for (; next < times.length && times[next]! < until; next++) {
          const read = steps.at(times[next]!);
          within.forEach((s, p) => read(p + 1, s));
          take(next, within);
        }
        if (begun) this.short(until - corner, begun.slice(), corner);
        this.onto(until, end);
        if (i % OFTEN === 0) yield until / whole;
      }
      for (; next < times.length && times[next]! <= stretch.steps.at(-1)!.until; next++) take(next, changes);
      const after = trail.stretches[nth + 1];
      if (!after) break;
      if (stretch.change) this.across(stretch, stretch.change, after, left);
      else if (after.nth !== stretch.nth) this.later(stretch, after);
    }
    if (steps.stuck) numbers.forEach((x) => left.add(x));
    return left;
  }

  private side(of: Changed, s: Float64Array, memory: Float64Array): Side {
    const { readAt } = this,
      side: Side = {
        of,
        s,
        memory,
        besides: (to) => {
          of.cells.put(to);
          readAt.forEach((place, cell) => place >= 0 && (to.numbers[place] = side.memory[cell]!));
        },
      };
    return side;
  }
  private onto(t: number, y: Float64Array): void {
    const { forwards, own, sides } = this,
      state = own.at(y);
    forwards.at(t, state);
    for (const { s, besides } of sides) forwards.onto(state, s, besides);
  }
  /** A short step of a method that looks at nothing at its end: there a load may have a corner, and its derivative be another already. */
  private short(t: number, y: Float64Array, h: number): void {
    const { own, forwards, sides, state } = this,
      from = sides.map(({ s }) => s.slice()),
      sum = from.map((s) => s.slice()),
      before = y.slice();
    RALSTON.nodes.forEach((node, i) => {
      state.set(before);
      own.at(state);
      const f = own.rates(t + node * h),
        following = (RALSTON.nodes[i + 1] ?? 0) * h;
      forwards.look();
      sides.forEach(({ s, besides }, p) => {
        forwards.rates(state, s, besides, this.rated);
        for (let j = 0; j < s.length; j++) {
          sum[p]![j] = sum[p]![j]! + RALSTON.weights[i]! * h * this.rated[j]!;
          s[j] = from[p]![j]! + following * this.rated[j]!;
        }
      });
      for (let j = 0; j < y.length; j++) before[j] = y[j]! + following * f[j]!;
    });
    sides.forEach(({ s }, p) => s.set(sum[p]!));
  }

  /** Where a segment ends that would end a little later with more of a number. */
  private later(before: Stretch, after: Stretch): void {
    const { around, sides } = this,
      { end } = before.steps.at(-1)!;
    if (sides.every(({ of }) => of.stops[before.nth] === 0)) return;
    this.rateIn(before, before.ends, end, around[0]);
    this.rateIn(after, before.ends, end, around[1]);
    for (const { of, s } of sides)
      for (let j = 0; j < s.length; j++) s[j] = s[j]! + of.stops[before.nth]! * (around[0][j]! - around[1][j]!);
  }

  /** Modes change: what is after follows from what is before. */
  private across(stretch: Stretch, change: Change, after: Stretch, left: Set<Changed>): void {
    const { sides } = this,
      numbers = sides.map(({ of }) => of),
      { kind } = this.own.m.system.K.layout,
      jump = this.jump(stretch, change, after, numbers, left, (f0, f1) => {
        const size = new Float64Array(KIND.further + 1);
        f0.forEach((x, j) => (size[kind[j]!] = Math.max(size[kind[j]!]!, Math.abs(x))));
        return f0.every((x, j) => Math.abs(x - f1[j]!) <= NONE * size[kind[j]!]!);
      });
    if (jump === 'none') return;
    if (!jump) return numbers.forEach((x) => left.add(x));
    const { byState, byNumber, shown, shownBy, later, rate, changes } = jump;
    sides.forEach(({ of, s, memory }, p) => {
      const late = rate === undefined ? of.stops[stretch.nth]! : -(dot(shown, s) + shownBy[p]!) / rate,
        sum = (of: (x: After) => number) => byState.reduce((t, x, j) => t + of(x) * s[j]!, of(byNumber[p]!) + late * of(later)),
        next = s.map((_, j) => sum((x) => x.y[j]!)),
        known = memory.map((x, cell) => (changes[cell] ? sum((y) => y.memory[cell]!) : x));
      s.set(next);
      memory.set(known);
    });
  }
}
