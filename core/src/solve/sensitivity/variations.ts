/**
 * How a run changes with numbers of its model: the variational equations, integrated beside it, step for step by the same method. Of each number there are two
 * machines with a little less and a little more of it. A change s of the state for a change x of the number follows ṡ = ∂f/∂y s + ∂f/∂x, in the direction of
 * both, by central differences of f at fixed times; at the ends of steps s is brought onto the derivative of the constraints; at events the times at which they
 * happen change as well, and with them what follows (Rozenvasser, Automation and Remote Control 28, 1967). Steps, and the modes of frictions, stops and
 * switches, are those of the run: what its own accuracy leaves open cancels.
 */
import { Refusal } from '../../diagnosis';
import { KIND, type StateLayout } from '../../equations/layout';
import type { Mechanism } from '../../system/mechanism';
import { type Derivative, Dop853 } from '../dop853';
import { fireAt } from '../fire';
import { DenseNewton, SparseNewton } from '../newton';
import { Radau5 } from '../radau';
import type { RunOptions } from '../run-events';
import type { Companion } from './companion';
import { Many } from './many';
import { Neighbour, OTHER_WAYS } from './neighbour';

/** Change of a state, in parts of the machine's size or rad, beyond which that of the number alone and that of the state alone are looked at apart. */
const FAR = 3;
/** A step that its iteration does not solve is parted, at most so often. */
const PARTINGS = 6;
/** Changes of the times of two events that are the same, in parts of themselves. */
const SAME_TIME = 1e-6;
/** What less and more do differs by more than this part of what they do where there is a kink; and by this part of what moves the machine where there is none. */
const KINK = 0.05;
const SMOOTH = 1e-3;
/** Rounding of accelerations, in parts of what joints hold. */
const ROUNDING = 1e-13;
/** Part of a step by which the run must have gone on before it is gone through. */
const ALIKE = 0.1;
/** Part of a step by which its length may change with a number. */
const STEEP = 1e-3;
/** Part of a step, or of how much later an event comes, that is none; and rounds in which less and more of a number are brought to an event together. */
const MET = 1e-8;
const ROUNDS = 6;
/** An event whose time would move by more than this part of the time or of its step is only just touched. */
const GRAZING = 1e-2;

/** Two machines with one number less and more. */
export interface Pair {
  readonly less: Mechanism;
  readonly more: Mechanism;
}
/** What cannot be said of a number, and why. */
export interface Unsaid {
  /** Where the number stands among those asked. */
  readonly nth: number;
  readonly code: string;
  readonly why: string;
  readonly time?: number;
}

/**
 * What is known of one number. Changes are not those at a time: less and more of the number are looked at that much earlier and later, so that both are at
 * an event, or at a kink of a formula, when the run is there, and on the same side of it before and after.
 */
interface Side {
  readonly nth: number;
  readonly less: Neighbour;
  readonly more: Neighbour;
  /** How the state changes with it, at the end of the last step. */
  readonly s: Float64Array;
  /** How time does, at both ends of the step at hand, and at the end of the segment. */
  before: number;
  after: number;
  last: number;
}
type Why = Omit<Unsaid, 'nth' | 'time'>;
type Left = Map<Side, Why>;

/** A recorded state. */
interface Recorded {
  readonly t: number;
  readonly y: Float64Array;
  readonly ends: boolean;
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
const empty: Float64Array = new Float64Array(0);

/** The machine next to that of a run, or why there is none that goes the same way. */
function neighbourOf(of: Mechanism, m: Mechanism, options: RunOptions, stops: readonly number[]): Neighbour | string {
  try {
    const made = new Neighbour(of, m, options);
    return made.differsFrom(m, stops) ?? made;
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    return `it cannot start: ${e.diagnoses[0]?.message ?? ''}`;
  }
}

export class Variations implements Companion {
  /** What turned out to have no derivative, or to be another machine. */
  readonly unsaid: Unsaid[] = [];
  /** Numbers that make bodies move in other ways than the run lets them, by their place among those asked: of them a run tells of which nothing is left out. */
  readonly otherwise: number[] = [];
  /** Numbers that stand at a kink of what moves the machine: of them less and more do different things. */
  readonly kinked = new Set<number>();
  private run!: Mechanism;
  private own!: Neighbour;
  private sides: Side[] = [];
  private stops: readonly number[] = [];
  private layout!: StateLayout;
  private many!: Many;
  private explicit!: Dop853;
  private implicit: Radau5 | undefined;
  /** State and changes: at the start of a step, and anywhere in it. */
  private Y = empty;
  private within = empty;
  private rates = empty;
  private state = empty;
  private flow = empty;
  private change = empty;
  /** End of the segment at hand; time of the changes; where the last step starts, its length, and whether its polynomial is at hand. */
  private ends = 0;
  private at = 0;
  private start = 0;
  private length = 1;
  private dense = false;
  private wasImplicit = false;
  /** The state at the end of the last step, and what fires there. */
  private before = empty;
  private fired: readonly number[] = [];
  /** Steps of the run that were not yet gone through, whether an event ends them, and what was wrong there. */
  private pending: Step[] = [];
  private event = false;
  private readonly wrong: Left = new Map();

  /** @param pairs of numbers of a model @param part by which less and more differ from what it is */
  constructor(
    private readonly pairs: readonly Pair[],
    private readonly options: RunOptions,
    private readonly part: number,
  ) {}

  /** The numbers of which all could be said, by their place among those asked, with their machines and records. */
  get said(): readonly { nth: number; less: Neighbour; more: Neighbour }[] {
    this.finish();
    for (const { less, more } of this.sides) for (const n of [less, more]) n.flush();
    return this.sides;
  }

  begin(m: Mechanism, y: Float64Array, stops: readonly number[]): void {
    const { options, part } = this,
      { system } = m,
      n = system.size;
    this.run = m;
    this.stops = stops;
    this.own = new Neighbour(m.apart(), m, options);
    this.take(y);
    this.remember();
    this.pairs.forEach((pair, nth) => {
      const made = [pair.less, pair.more].map((of) => neighbourOf(of, m, options, stops)),
        why = made.find((x) => typeof x === 'string');
      if (why === OTHER_WAYS) return void this.otherwise.push(nth);
      if (why) return void this.unsaid.push({ nth, code: 'sensitivity-structure', why: `With a little more or less of it, ${why}` });
      const [less, more] = made as [Neighbour, Neighbour];
      this.sides.push({ nth, less, more, s: more.y.map((x, j) => (x - less.y[j]!) / (2 * part)), before: 0, after: 0, last: 0 });
    });
    this.layout = system.K.layout;
    [this.rates, this.state, this.flow, this.change, this.before] = [0, 1, 2, 3, 4].map(() => new Float64Array(n)) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    this.layOut();
    this.onto(0, y);
  }
  /** Room for the state and its changes. */
  private layOut(): void {
    const { sides, own } = this,
      { size, extras } = own.m.system,
      ledgers = extras.reduce((sum, e) => sum + (e.ledger ? e.states : 0), 0);
    this.many = new Many(size, size - ledgers, sides.length);
    [this.Y, this.within] = [this.many.vector(), this.many.vector()];
    this.explicit = new Dop853(this.many.size, this.derivative);
    this.implicit = undefined;
  }
  /** Nothing is said of some numbers from now on. */
  private leave(which: Left): void {
    if (which.size === 0) return;
    for (const [{ nth }, why] of which) this.unsaid.push({ nth, ...why, time: this.at });
    this.sides = this.sides.filter((x) => !which.has(x));
    this.layOut();
  }
  /** The machine of the run itself, at a state. */
  private take(y: Float64Array): void {
    const { own } = this;
    own.y.set(y);
    own.m.system.K.load(own.y);
  }
  /** All remember what the run does. */
  private remember(): void {
    const { run, own } = this,
      { cells } = run.memories,
      known = new Float64Array(cells);
    run.memories.keep(known);
    own.m.memories.recall(known);
  }

  segment(t: number, nth: number): void {
    this.finish();
    const { own, stops, part } = this;
    this.ends = stops[nth]!;
    own.m.system.segment(t, this.ends);
    for (const side of this.sides) {
      const { less, more, after } = side;
      side.last = (more.stops[nth]! - less.stops[nth]!) / (2 * part);
      less.m.system.segment(t - part * after, this.ends - part * side.last);
      more.m.system.segment(t + part * after, this.ends + part * side.last);
    }
  }
  /** How time changes with a number within the step at hand. */
  private late({ before, after }: Side, t: number): number {
    return before === after ? after : before + ((after - before) * (t - this.start)) / this.length;
  }

  /** How far a change moves the bodies, in parts of the machine's size or rad. */
  private extent(s: Float64Array): number {
    const { kind, further } = this.layout,
      { size } = this.own.m;
    let most = 0;
    for (let j = 0; j < further; j++)
      if (kind[j] === KIND.place) most = Math.max(most, Math.abs(s[j]!) / size);
      else if (kind[j] === KIND.turn) most = Math.max(most, Math.abs(s[j]!));
    return most;
  }

  /**
   * The derivative of something in the direction of a number and a change of the state, by central differences.
   * @param look of a machine with a state in its `y`, at a time; what it gives is good until the next look
   * @param slower how much longer a second lasts, by which what it gives is multiplied
   */
  private along(
    side: Side,
    t: number,
    y: Float64Array,
    s: Float64Array,
    out: Float64Array,
    look: (n: Neighbour, t: number) => ArrayLike<number>,
    slower = 0,
  ): void {
    const { own, part } = this,
      { less, more } = side,
      late = part * this.late(side, t),
      far = this.extent(s),
      near = far <= FAR,
      half = 0.5 / part;
    const add = (n: Neighbour, at: number, by: number, weight: number) => {
      n.near(y, s, by);
      const x = look(n, at);
      for (let j = 0; j < out.length; j++) out[j] = out[j]! + weight * x[j]!;
    };
    out.fill(0);
    add(more, t + late, near ? part : 0, half * (1 + part * slower));
    add(less, t - late, near ? -part : 0, -half * (1 - part * slower));
    if (near) return;
    const small = (part * FAR) / far;
    add(own, t, small, 0.5 / small);
    add(own, t, -small, -0.5 / small);
  }

  private readonly derivative: Derivative = (t, Y, dY) => {
    const { own, many, sides, rates, state: y, change } = this;
    many.read(Y, 0, y);
    own.y.set(y);
    many.write(own.rates(t), dY, 0);
    sides.forEach((side, p) => {
      many.read(Y, p + 1, change);
      this.along(side, t, y, change, rates, (n, at) => n.rates(at), (side.after - side.before) / this.length);
      many.write(rates, dY, p + 1);
    });
  };

  /**
   * Brings all changes onto the derivative of the constraints, at a state: less and more of a number each onto its own. The rows of both need not be alike,
   * since directions across an axis are chosen by its largest part.
   */
  private onto(t: number, y: Float64Array): void {
    const { own } = this;
    for (const side of this.sides) {
      const { s, after } = side;
      this.both(side, (n, by) => {
        n.near(y, s, by);
        n.m.system.K.load(n.y);
        n.exactly(t + by * after);
        n.m.memories.follow(n.m.system.K);
        n.m.system.K.store(n.y);
      });
      this.difference(side);
    }
    this.take(y);
    own.m.memories.follow(own.m.system.K);
  }
  private difference({ less, more, s }: Side): void {
    for (let j = 0; j < s.length; j++) s[j] = (more.y[j]! - less.y[j]!) / (2 * this.part);
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
    while (pending.length > 0 && last - pending[0]!.until >= ALIKE * (pending[0]!.until - pending[0]!.from))
      this.through(pending.shift()!, false);
  }
  /** Goes through all that is left. */
  private finish(): void {
    const { pending, event } = this;
    if (event) {
      const first = pending[0]!,
        last = pending.at(-1)!;
      this.through({ ...first, until: last.until, end: last.end, records: pending.flatMap((x) => x.records) }, true);
    } else for (const x of pending) this.through(x, false);
    this.pending = [];
    this.event = false;
  }
  private through({ from: t, until, y, end, implicit, records }: Step, event: boolean): void {
    const { sides } = this;
    this.start = t;
    this.length = until - t;
    if (implicit !== this.wasImplicit) this.implicit?.restart();
    this.wasImplicit = implicit;
    this.fired = event ? this.firing(until, end) : [];
    for (const side of sides) {
      side.before = side.after;
      if (until === this.ends) side.after = side.last;
    }
    const begun = sides.map(({ s, before }) => ({ s: s.slice(), before }));
    for (let round = 0; ; round++) {
      this.shift(t, y);
      this.integrate(t, y);
      if (!event || this.meet(until, end) || round === ROUNDS) break;
      sides.forEach((side, p) => {
        side.s.set(begun[p]!.s);
        side.before = begun[p]!.before;
      });
    }
    this.at = until;
    this.before.set(end);
    for (const r of records) if (r.t < until) this.put(r);
    this.onto(until, end);
    for (const r of records) if (r.t >= until) this.put(r);
    this.leave(this.wrong);
    this.wrong.clear();
  }
  /** Which watches fire at a state. */
  private firing(t: number, y: Float64Array): readonly number[] {
    this.take(y);
    return [...this.own.watched.at(t).below];
  }
  /** The changes over the step at hand. */
  private integrate(t: number, y: Float64Array): void {
    const { many, Y, sides, length } = this;
    many.write(y, Y, 0);
    sides.forEach(({ s }, p) => many.write(s, Y, p + 1));
    this.dense = false;
    const out = this.wasImplicit ? this.implicitStep(t, Y, length) : this.explicitStep(t, Y, length);
    sides.forEach(({ s }, p) => many.read(out, p + 1, s));
  }
  /** Where time would have to change too much within a step, it changes at its start. */
  private shift(t: number, y: Float64Array): void {
    const { own, sides, part, length, flow } = this,
      far = sides.filter((x) => part * Math.abs(x.after - x.before) > STEEP * length);
    if (far.length === 0) return;
    own.y.set(y);
    flow.set(own.rates(t));
    for (const side of far) {
      for (let j = 0; j < flow.length; j++) side.s[j] = side.s[j]! + (side.after - side.before) * flow[j]!;
      side.before = side.after;
    }
  }
  private both({ less, more }: Pick<Side, 'less' | 'more'>, look: (n: Neighbour, by: number) => void): void {
    look(less, -this.part);
    look(more, this.part);
  }
  private explicitStep(t: number, Y: Float64Array, h: number): Float64Array {
    const { explicit } = this;
    this.derivative(t, Y, explicit.k[0]!);
    this.lookForKinks(t, Y, explicit.k[0]!);
    explicit.attempt(t, Y, h);
    return explicit.y1;
  }
  /** @param partings how often it may still be parted */
  private implicitStep(t: number, Y: Float64Array, h: number, partings = PARTINGS): Float64Array {
    const radau = (this.implicit ??= this.radau());
    this.derivative(t, Y, radau.f0);
    this.lookForKinks(t, Y, radau.f0);
    radau.attempt(t, Y, h);
    if (Number.isFinite(radau.error)) return radau.y1;
    if (partings === 0) {
      // it does not come to rest: nothing can be said of any number from here on
      for (const side of this.sides)
        this.wrong.set(side, { code: 'sensitivity-stiff', why: 'An implicit step of the changes could not be solved.' });
      return radau.y1;
    }
    const middle = this.implicitStep(t, Y, h / 2, partings - 1).slice();
    return this.implicitStep(t + h / 2, middle, h / 2, partings - 1);
  }
  private radau(): Radau5 {
    const { many, own, layout, options } = this,
      { system, size } = own.m,
      alone: Derivative = (t, y, dy) => {
        own.y.set(y);
        dy.set(own.rates(t));
      },
      newton = system.own.list.length === 0 ? new SparseNewton(system, many.free) : new DenseNewton(system.size, many.free, alone);
    return new Radau5(many.size, many.free * (many.count + 1), this.derivative, many.newton(newton), {
      estimate: () => 0,
      change: many.norms(layout, size, options.until),
    });
  }

  /** Takes note of numbers of which a little more does not undo what a little less does. @param dY the derivative there */
  private lookForKinks(t: number, Y: Float64Array, dY: Float64Array): void {
    const { many, sides, state: y, flow, change, rates, part } = this,
      { free } = many,
      size = (x: Float64Array) => {
        let most = 0;
        for (let j = 0; j < free; j++) most = Math.max(most, Math.abs(x[j]!));
        return most;
      };
    many.read(Y, 0, y);
    many.read(dY, 0, flow);
    const whole = size(flow),
      rounding = ROUNDING * this.own.held;
    sides.forEach((side, p) => {
      if (this.kinked.has(side.nth)) return;
      many.read(Y, p + 1, change);
      if (this.extent(change) > FAR) return;
      const late = part * this.late(side, t);
      rates.fill(0);
      this.both(side, (n, by) => {
        n.near(y, change, by);
        const f = n.rates(t + Math.sign(by) * late);
        for (let j = 0; j < free; j++) rates[j] = rates[j]! + f[j]! - flow[j]!;
      });
      const unlike = size(rates);
      many.read(dY, p + 1, change);
      if (unlike > KINK * 2 * part * size(change) + SMOOTH * part * whole + rounding) this.kinked.add(side.nth);
    });
  }

  private interpolate(t: number): void {
    const { within } = this;
    if (this.wasImplicit) return this.implicit!.interpolate(t, within);
    if (!this.dense) this.explicit.prepareDense();
    this.dense = true;
    this.explicit.interpolate(t, within);
  }

  record(t: number, y: Float64Array, ends = false): void {
    const r = { t, y: y.slice(), ends },
      last = this.pending.at(-1);
    if (last) last.records.push(r);
    else this.put(r);
  }
  private put({ t, y, ends }: Recorded): void {
    const { sides, many, own, change } = this,
      now = t === this.at;
    if (!now) this.interpolate(t);
    sides.forEach((side, p) => {
      if (now) change.set(side.s);
      else many.read(this.within, p + 1, change);
      const late = now ? side.after : this.late(side, t);
      if (late !== 0 && !ends) {
        // what changes at a time that stands still
        own.y.set(y);
        const f = own.rates(t);
        for (let j = 0; j < change.length; j++) change[j] = change[j]! - late * f[j]!;
      }
      this.both(side, (n, by) => {
        n.near(y, change, by);
        n.record(ends ? t + by * late : t);
      });
    });
  }

  /**
   * Whether less and more of each number are at the event when the run is there; if not, time is let change so that they will be. Takes note of those of which
   * that cannot be said.
   */
  private meet(t: number, y: Float64Array): boolean {
    const { own, flow, length, part, fired } = this;
    own.y.set(y);
    flow.set(own.rates(t));
    const small = part * Math.min(1 / Math.max(1e-300, this.extent(flow)), length),
      values = (by: number) => {
        own.near(y, flow, by);
        own.m.system.K.load(own.y);
        return own.watched.at(t + by).values.slice();
      },
      [after, earlier] = [values(small), values(-small)],
      rate = after.map((x, i) => (x - earlier[i]!) / (2 * small)),
      change = new Float64Array(rate.length),
      left = this.wrong;
    left.clear();
    let met = true;
    for (const side of this.sides) {
      this.along(side, t, y, side.s, change, (n, at) => {
        n.m.system.K.load(n.y);
        return n.watched.at(at).values;
      });
      const late = fired.map((i) => -change[i]! / rate[i]!),
        by = late[0] ?? 0;
      if (!late.every((x) => Number.isFinite(x) && part * Math.abs(side.after + x) < GRAZING * Math.max(length, t)))
        left.set(side, {
          code: 'sensitivity-grazing',
          why: 'An event of the run is only just touched: with a little more or less of it there is none.',
        });
      else if (!late.every((x) => Math.abs(x - by) <= SAME_TIME * Math.max(t, Math.abs(side.after + by))))
        left.set(side, {
          code: 'sensitivity-together',
          why: 'Two events of the run come at the same time: with more of it one comes first, with less the other.',
        });
      else if (Math.abs(by) > MET * Math.max(length, Math.abs(side.after))) {
        met = false;
        side.after += by;
      }
    }
    return met;
  }

  changed(t: number, y: Float64Array): void {
    this.finish();
    const { own, sides, before, fired } = this,
      left = new Map<Side, Why>();
    for (const side of sides) {
      const { s, after } = side;
      this.both(side, (n, by) => {
        const at = t + by * after;
        n.near(before, s, by);
        n.m.system.K.load(n.y);
        fireAt(n.m, n.watched, at, () => n.exactly(at), fired);
        n.m.system.K.store(n.y);
      });
      this.difference(side);
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
    this.implicit?.restart();
  }
}
