/**
 * Back through a run: how one number that follows from some of its states changes with all numbers of its model at once. Each step is gone through by the
 * discrete adjoint of its method (`back-step.ts`), and brought off the constraints where it was brought onto them. Where modes change at an event the
 * derivative jumps, for the state does and the time of the event changes with it (Rozenvasser, Automation and Remote Control 28, 1967; backwards: Galán,
 * Feehery & Barton, Applied Numerical Mathematics 31, 1999).
 */
import { Adjoint } from '../../system/adjoint/adjoint';
import { Backwards } from '../../system/adjoint/backwards';
import { cos } from '../../quantity/elementary';
import { BackStep, type Within, add } from './back-step';
import { ROUNDING, isKink } from './flow';
import type { Neighbour } from './neighbour';
import { type After, type Changed, NONE, OFTEN, Retrace, dot } from './retrace';
import type { Change, Step, Stretch, Trail } from './trail';

/** Part of how much a number changes what moves the machine, and of that itself, to which both ways of finding it agree. */
const AGREE = 1e-5;

export class Back extends Retrace {
  private readonly adjoint: Adjoint;
  private readonly backwards: Backwards;
  private readonly step: BackStep;
  private readonly by: Float64Array;
  /** By what elements remember. */
  private readonly byMemory: Float64Array;

  constructor(trail: Trail) {
    super(trail);
    const { own } = this,
      { system } = own.m;
    this.adjoint = new Adjoint(system);
    this.backwards = new Backwards(this.adjoint, system);
    this.step = new BackStep(own, this.backwards);
    this.by = new Float64Array(own.y.length);
    this.byMemory = new Float64Array(own.m.memories.cells);
  }

  /**
   * Those numbers of which, at some states of the run, the same is known so as differences of less and more say, and which stand at no kink where it starts:
   * what the machine reads elsewhere than in its memory shows here.
   * @param kinked takes those of which less and more do different things
   */
  sure(numbers: readonly Changed[], kinked: Set<Changed>): readonly Changed[] {
    const { trail } = this,
      steps = trail.stretches.flatMap((stretch) => stretch.steps.map((step) => ({ stretch, step }))),
      some = [0, 0.37, 0.81].map((part) => steps[Math.floor(part * steps.length)]!);
    let list: readonly Changed[] = numbers.filter(({ first }) => first.every((x) => this.isAlike(x.memory, trail.stretches[0]!.memory)));
    for (const x of list) if (!this.isSmooth(x)) kinked.add(x);
    for (const { stretch, step } of some) {
      list = list.filter((x) => !kinked.has(x));
      list = this.agreeing(list, stretch, step, kinked);
    }
    return list;
  }
  private agreeing(numbers: readonly Changed[], stretch: Stretch, { from: t, y }: Step, kinked: Set<Changed>): readonly Changed[] {
    const { own, adjoint, backwards, by, part } = this,
      /** Brought onto the constraints: of a machine whose rows are redundant nothing is known beside them. */
      rates = (n: Neighbour) => {
        this.enter(stretch, n);
        n.m.system.K.load(n.at(y));
        n.exactly(t);
        n.m.system.K.store(n.y);
        return n.rates(t);
      },
      here = rates(own).slice(),
      weights = Float64Array.from(here, (x, j) => cos(1 + j) / (1 + Math.abs(x)) / here.length),
      state = own.y.slice();
    adjoint.clear();
    by.fill(0);
    backwards.rates(state, weights, by);
    backwards.onto(t, own.at(state), by);
    const rounding = ROUNDING * own.held;
    return numbers.filter((x) => {
      const { less, more, cells } = x,
        a = rates(less).slice(),
        b = rates(more),
        largest = (of: (j: number) => number) => weights.reduce((most, w, j) => Math.max(most, Math.abs(w * of(j))), 0),
        apart = weights.reduce((sum, w, j) => sum + Math.abs(w * (b[j]! - a[j]!)), 0),
        difference = (dot(b, weights) - dot(a, weights)) / (2 * part);
      // each by itself: what smooth changes do may cancel in the sum
      if (
        isKink(
          largest((j) => a[j]! + b[j]! - 2 * here[j]!),
          largest((j) => b[j]! - a[j]!),
          part / here.length,
          rounding,
        )
      ) {
        kinked.add(x);
        return false;
      }
      return Math.abs(difference - cells.times(adjoint)) <= AGREE * (apart / (2 * part) + 1) + rounding / part;
    });
  }
  /** Whether less and more of a number undo each other where the run starts. */
  private isSmooth({ less, more, first }: Changed): boolean {
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
        const corner = this.corner(stretch, i),
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
  /** Where a segment ends that would end a little later with more of a number. */
  private later(before: Stretch, after: Stretch, numbers: readonly Changed[], out: Float64Array): void {
    if (numbers.every((n) => n.stops[before.nth] === 0)) return;
    const { by, around } = this,
      { end } = before.steps.at(-1)!,
      t = before.ends;
    this.rateIn(before, t, end, around[0]);
    this.rateIn(after, t, end, around[1]);
    const jump = dot(by, around[0]) - dot(by, around[1]);
    numbers.forEach((n, k) => (out[k] = out[k]! + jump * n.stops[before.nth]!));
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
    const { by, byMemory } = this,
      jump = this.jump(stretch, change, after, numbers, left, (f0, f1) => {
        const size = by.reduce((s, x, j) => s + Math.abs(x * f0[j]!), 0);
        return Math.abs(dot(by, f0) - dot(by, f1)) <= NONE * size;
      });
    if (jump === 'none') return;
    if (!jump) return numbers.forEach((x) => left.add(x));
    const { byState, byNumber, shown, shownBy, later, rate, changes } = jump,
      weighed = ({ y, memory }: After) => dot(by, y) + dot(byMemory, memory),
      along = weighed(later),
      late = rate === undefined ? 0 : -along / rate;
    numbers.forEach((x, k) => {
      out[k] = out[k]! + weighed(byNumber[k]!) + late * shownBy[k]! + (rate === undefined ? along * x.stops[stretch.nth]! : 0);
    });
    by.set(byState.map((x, j) => weighed(x) + late * shown[j]!));
    changes.forEach((is, cell) => is && (byMemory[cell] = 0));
  }
}
