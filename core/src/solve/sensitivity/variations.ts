/**
 * How a run changes with numbers of its model: the variational equations, integrated beside it, step for step by the same method (`flow.ts`). Of each number
 * there are two machines with a little less and a little more of it. At the ends of steps a change is brought onto the derivative of the constraints; at
 * events the times at which they happen change as well, and with them what follows (Rozenvasser, Automation and Remote Control 28, 1967). Steps, and the
 * modes of frictions, stops and switches, are those of the run: what its own accuracy leaves open cancels.
 */
import type { Mechanism } from '../../system/mechanism';
import { fireAt } from '../fire';
import type { RunOptions } from '../run-events';
import type { Companion } from './companion';
import { Flow } from './flow';
import { meet } from './meet';
import { Neighbour, OTHER_WAYS, neighbourOf } from './neighbour';
import { type Left, type Pair, type Side, type Why, both, difference } from './side';

/** Part of a step by which the run must have gone on before it is gone through. */
const ALIKE = 0.1;
/** Part of a step by which its length may change with a number. */
const STEEP = 1e-3;
/** Rounds in which less and more of a number are brought to an event together, at most. */
const ROUNDS = 6;

/** What cannot be said of a number, and why. */
export interface Unsaid extends Why {
  /** Where the number stands among those asked. */
  readonly nth: number;
  readonly time?: number;
}
/** A recorded state. @see Companion.record */
interface Recorded {
  readonly t: number;
  readonly y: Float64Array;
  readonly ends: boolean;
  /** Angles that count whole turns. */
  readonly angles: Float64Array;
}
/** What is known of the records of the run: which are asked for, all where that is left out; and the angles that each counts. */
export interface Wanted {
  readonly which: Uint8Array | undefined;
  angles(record: number): Float64Array;
}
/** A step of the run, with what is recorded in it. */
interface Step {
  readonly from: number;
  readonly until: number;
  readonly y: Float64Array;
  readonly end: Float64Array;
  readonly implicit: boolean;
  readonly records: Recorded[];
}

export class Variations implements Companion {
  /** What turned out to have no derivative, or to be another machine. */
  readonly unsaid: Unsaid[] = [];
  /** Numbers that make bodies move in other ways than the run lets them, by their place among those asked: of them a run tells of which nothing is left out. */
  readonly otherwise: number[] = [];
  private run!: Mechanism;
  private own!: Neighbour;
  private flow!: Flow;
  private sides: Side[] = [];
  private stops: readonly number[] = [];
  private change!: Float64Array;
  /** End of the segment at hand; time of the changes, and the state of the run there. */
  private ends = 0;
  private at = 0;
  private before!: Float64Array;
  /** How many states were recorded. */
  private recorded = 0;
  /** Steps of the run that were not yet gone through, and whether an event ends them. */
  private pending: Step[] = [];
  private event = false;

  /** @param pairs of numbers of a model @param part by which less and more differ from what it is */
  constructor(
    private readonly pairs: readonly Pair[],
    private readonly options: RunOptions,
    private readonly part: number,
    private readonly wanted: Wanted,
  ) {}

  /** The numbers of which all could be said, by their place among those asked, with their machines and records. */
  get said(): readonly Pick<Side, 'nth' | 'less' | 'more' | 'farthest'>[] {
    this.finish();
    for (const { less, more } of this.sides) for (const n of [less, more]) n.flush();
    return this.sides;
  }
  /** Numbers that stand at a kink of what moves the machine. */
  get kinked(): ReadonlySet<number> {
    return this.flow.kinked;
  }

  begin(m: Mechanism, y: Float64Array, stops: readonly number[]): void {
    const { options, part } = this;
    this.run = m;
    this.stops = stops;
    const own = (this.own = new Neighbour(m.apart(), m, options));
    this.take(y);
    this.remember();
    this.pairs.forEach((pair, nth) => {
      const made = [pair.less, pair.more].map((of) => neighbourOf(of, m, options, stops)),
        why = made.find((x) => typeof x === 'string');
      if (why === OTHER_WAYS) return void this.otherwise.push(nth);
      if (why) return void this.unsaid.push({ nth, code: 'sensitivity-structure', why: `With a little more or less of it, ${why}` });
      const [less, more] = made as [Neighbour, Neighbour],
        side: Side = { nth, less, more, s: new Float64Array(y.length), before: 0, after: 0, last: 0, farthest: 0 };
      difference(side, part);
      this.sides.push(side);
    });
    this.change = new Float64Array(y.length);
    this.before = y.slice();
    this.flow = new Flow(own, part, options.until);
    this.flow.of(this.sides);
    this.onto(0, y);
  }
  /** Nothing is said of some numbers from now on. */
  private leave(which: Left): void {
    if (which.size === 0) return;
    for (const [{ nth }, why] of which) this.unsaid.push({ nth, ...why, time: this.at });
    this.sides = this.sides.filter((x) => !which.has(x));
    this.flow.of(this.sides);
  }
  /** The machine of the run itself, at a state. */
  private take(y: Float64Array): void {
    const { own } = this;
    own.y.set(y);
    own.m.system.K.load(own.y);
  }
  /** It remembers what the run does. */
  private remember(): void {
    const { run, own } = this,
      known = new Float64Array(run.memories.cells);
    run.memories.keep(known);
    own.m.memories.recall(known);
  }

  segment(t: number, nth: number): void {
    this.finish();
    const { own, stops, part } = this;
    this.ends = stops[nth]!;
    own.m.system.segment(t, this.ends);
    for (const side of this.sides) {
      side.last = (side.more.stops[nth]! - side.less.stops[nth]!) / (2 * part);
      both(side, part, (n, by) => n.m.system.segment(t + by * side.after, this.ends + by * side.last));
    }
  }

  step(t: number, y: Float64Array, until: number, end: Float64Array, implicit: boolean, event: boolean): void {
    this.pending.push({ from: t, until, y: y.slice(), end: end.slice(), implicit, records: [] });
    if (event) this.event = true;
    else this.catchUp();
  }
  /**
   * Goes through steps of the run once it has gone on without an event by a part of them: before an event its steps become shorter and shorter, and are gone
   * through as one.
   */
  private catchUp(): void {
    const { pending } = this,
      last = pending.at(-1)!.until;
    while (pending.length > 0 && last - pending[0]!.until >= ALIKE * (pending[0]!.until - pending[0]!.from)) this.through(pending.shift()!);
  }
  /** Goes through all that is left. @param fired which watches, where an event ends it */
  private finish(fired?: readonly number[]): void {
    const { pending, event } = this;
    if (event) {
      const first = pending[0]!,
        last = pending.at(-1)!;
      this.through({ ...first, until: last.until, end: last.end, records: pending.flatMap((x) => x.records) }, fired ?? []);
    } else for (const x of pending) this.through(x);
    this.pending = [];
    this.event = false;
  }
  private through({ from: t, until, y, end, implicit, records }: Step, fired?: readonly number[]): void {
    const { sides, flow, own, part } = this,
      length = until - t;
    for (const side of sides) {
      side.before = side.after;
      if (until === this.ends) side.after = side.last;
    }
    const begun = sides.map(({ s, before }) => ({ s: s.slice(), before }));
    let left: Left = new Map();
    for (let round = 0; ; round++) {
      this.shift(t, y, length);
      flow.through(t, y, length, implicit);
      if (!fired) break;
      const now = meet(flow, own, sides, part, { t: until, y: end, length, fired });
      left = now.left;
      if (now.met || round === ROUNDS) break;
      sides.forEach((side, p) => {
        side.s.set(begun[p]!.s);
        side.before = begun[p]!.before;
      });
    }
    if (flow.stuck)
      for (const side of sides) left.set(side, { code: 'sensitivity-stiff', why: 'An implicit step of its changes could not be solved.' });
    for (const side of sides) side.farthest = Math.max(side.farthest, flow.turn(side.s));
    this.at = until;
    this.before.set(end);
    for (const r of records) if (r.t < until) this.put(r);
    this.onto(until, end);
    for (const r of records) if (r.t >= until) this.put(r);
    this.leave(left);
  }
  /** Where time would have to change too much within a step, it changes at its start. */
  private shift(t: number, y: Float64Array, length: number): void {
    const far = this.sides.filter((x) => this.part * Math.abs(x.after - x.before) > STEEP * length);
    if (far.length === 0) return;
    const f = this.flow.rate(t, y);
    for (const side of far) {
      for (let j = 0; j < f.length; j++) side.s[j] = side.s[j]! + (side.after - side.before) * f[j]!;
      side.before = side.after;
    }
  }
  /**
   * Brings all changes onto the derivative of the constraints, at a state: less and more of a number each onto its own. The rows of both need not be alike,
   * since directions across an axis are chosen by its largest part.
   */
  private onto(t: number, y: Float64Array): void {
    const { own, part } = this;
    for (const side of this.sides) {
      both(side, part, (n, by) => {
        n.near(y, side.s, by);
        n.m.system.K.load(n.y);
        n.exactly(t + by * side.after);
        n.m.memories.follow(n.m.system.K);
        n.m.system.K.store(n.y);
      });
      difference(side, part);
    }
    this.take(y);
    own.m.memories.follow(own.m.system.K);
  }

  record(t: number, y: Float64Array, ends = false): void {
    const { which, angles } = this.wanted,
      nth = this.recorded++;
    if (which && !which[nth] && !ends) return;
    const r = { t, y: y.slice(), ends, angles: angles(nth) },
      last = this.pending.at(-1);
    if (last) last.records.push(r);
    else this.put(r);
  }
  private put({ t, y, ends, angles }: Recorded): void {
    const { flow, change } = this,
      read = t === this.at ? undefined : flow.at(t),
      left: Left = new Map();
    this.sides.forEach((side, p) => {
      if (read) read(p, change);
      else change.set(side.s);
      const late = read ? flow.late(side, t) : side.after;
      if (late !== 0 && !ends) {
        // what changes at a time that stands still
        const f = flow.rate(t, y);
        for (let j = 0; j < change.length; j++) change[j] = change[j]! - late * f[j]!;
      }
      both(side, this.part, (n, by) => {
        n.near(y, change, by);
        if (!n.record(ends ? t + by * late : t, angles))
          left.set(side, { code: 'sensitivity-not-finite', why: 'How the machine changes with it grows beyond all bounds.' });
      });
    });
    this.leave(left);
  }

  changed(t: number, y: Float64Array, fired: readonly number[]): void {
    this.finish(fired);
    const { own, sides, before, part } = this,
      left: Left = new Map();
    for (const side of sides) {
      both(side, part, (n, by) => {
        const at = t + by * side.after;
        n.near(before, side.s, by);
        n.m.system.K.load(n.y);
        fireAt(n.m, n.watched, at, () => n.exactly(at), fired);
        n.m.system.K.store(n.y);
      });
      difference(side, part);
    }
    this.take(before);
    fireAt(own.m, own.watched, t, () => own.exactly(t), fired);
    this.remember();
    for (const side of sides)
      if ([side.less, side.more].some((n) => n.modes !== own.modes))
        left.set(side, {
          code: 'sensitivity-modes',
          why: 'After an event of the run its frictions, stops or switches go on otherwise with a little more or less of it.',
        });
    this.leave(left);
    this.onto(t, y);
    this.flow.restart();
  }
}
