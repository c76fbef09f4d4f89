/**
 * How a run changes with numbers of its model: the variational equations, integrated beside it, step for step by the same method. Of each number there are two
 * machines with a little less and a little more of it. A change s of the state for a change x of the number follows ṡ = ∂f/∂y s + ∂f/∂x, in the direction of
 * both, by central differences of f at fixed times; at the ends of steps s is brought onto the derivative of the constraints; at events the times at which they
 * happen change as well, and with them what follows (Rozenvasser, Automation and Remote Control 28, 1967). Steps, and the modes of frictions, stops and
 * switches, are those of the run: what its own accuracy leaves open cancels.
 */
import { Refusal } from '../../diagnosis';
import { Chart } from '../../equations/chart';
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
/** Changes of the times of two events that are the same, and times that are, in parts of themselves. */
const SAME_TIME = 1e-6;
const SAME = 1e-14;
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

/** What is known of one number. */
interface Side {
  readonly nth: number;
  readonly less: Neighbour;
  readonly more: Neighbour;
  /** How the state changes with it, at the end of the last step. */
  s: Float64Array;
  /** How the ends of the segment at hand change. */
  from: number;
  to: number;
  /** How the time of the event at hand does. */
  late: number;
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
  private run!: Mechanism;
  private own!: Neighbour;
  private sides: Side[] = [];
  private stops: readonly number[] = [];
  private layout!: StateLayout;
  private chart!: Chart;
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
  private x = empty;
  private parts!: Readonly<Record<'displacement' | 'velocity' | 'length', Float64Array>>;
  /** Ends of the segment at hand; time of the changes; length of the last step, and whether its polynomial is at hand. */
  private begins = 0;
  private ends = 0;
  private at = 0;
  private length = 0;
  private dense = false;
  private wasImplicit = false;
  /** Whether the machine of the run itself was looked at for the last derivative. */
  private looked = false;
  /** The event at hand: the state before it, and what fires. */
  private before = empty;
  private fired: readonly number[] = [];

  /** @param pairs of numbers of a model @param part by which less and more differ from what it is */
  constructor(
    private readonly pairs: readonly Pair[],
    private readonly options: RunOptions,
    private readonly part: number,
  ) {}

  /** The numbers of which all could be said, by their place among those asked, with their machines and records. */
  get said(): readonly { nth: number; less: Neighbour; more: Neighbour }[] {
    for (const { less, more } of this.sides) for (const n of [less, more]) n.flush();
    return this.sides;
  }

  begin(m: Mechanism, y: Float64Array, stops: readonly number[]): void {
    const { options, part } = this,
      { system } = m,
      n = system.size;
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
      const [less, more] = made as [Neighbour, Neighbour];
      this.sides.push({ nth, less, more, s: more.y.map((x, j) => (x - less.y[j]!) / (2 * part)), from: 0, to: 0, late: 0 });
    });
    this.layout = system.K.layout;
    this.chart = new Chart(own.m.system.K);
    this.parts = {
      displacement: new Float64Array(system.motions),
      velocity: new Float64Array(system.motions),
      length: new Float64Array(this.chart.lengths),
    };
    this.x = new Float64Array(system.motions + system.rows);
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
  private leave(which: ReadonlyMap<Side, Omit<Unsaid, 'nth' | 'time'>>): void {
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
    const { own, stops, part } = this;
    this.begins = nth === 0 ? 0 : stops[nth - 1]!;
    this.ends = stops[nth]!;
    own.m.system.segment(t, this.ends);
    for (const side of this.sides) {
      const { less, more } = side,
        change = (k: number) => (k < 0 ? 0 : (more.stops[k]! - less.stops[k]!) / (2 * part));
      side.from = change(nth - 1);
      side.to = change(nth);
      const now = part * this.later(side, t);
      less.m.system.segment(t - now, this.ends - part * side.to);
      more.m.system.segment(t + now, this.ends + part * side.to);
    }
  }
  /** How a time changes where the ends of its segment do. */
  private later({ from, to }: Side, t: number): number {
    return from === 0 && to === 0 ? 0 : from + ((to - from) * (t - this.begins)) / (this.ends - this.begins);
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
      later = part * this.later(side, t),
      far = this.extent(s),
      near = far <= FAR,
      half = 0.5 / part;
    const add = (n: Neighbour, at: number, by: number, weight: number) => {
      n.near(y, s, by);
      const x = look(n, at);
      for (let j = 0; j < out.length; j++) out[j] = out[j]! + weight * x[j]!;
    };
    out.fill(0);
    this.looked = !near;
    add(more, t + later, near ? part : 0, half * (1 + part * slower));
    add(less, t - later, near ? -part : 0, -half * (1 - part * slower));
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
      this.along(side, t, y, change, rates, (n, at) => n.rates(at), (side.to - side.from) / (this.ends - this.begins));
      many.write(rates, dY, p + 1);
    });
  };

  /** Brings all changes onto the derivative of the constraints, at a state. */
  private onto(t: number, y: Float64Array): void {
    const { own, chart, x, parts } = this,
      { system } = own.m,
      { rows, motions } = system,
      residual = new Float64Array(rows);
    chart.take(y);
    this.take(y);
    system.linearise();
    for (const side of this.sides)
      for (const of of ['position', 'velocity'] as const) {
        this.along(side, t, y, side.s, residual, (n, at) => n.residuals(at, of));
        x.fill(0);
        for (let r = 0; r < rows; r++) x[motions + r] = -residual[r]!;
        if (this.looked) {
          // what was at hand is no longer
          this.take(y);
          system.linearise();
        }
        system.solve(x);
        chart.read(side.s, parts.displacement, parts.velocity, parts.length);
        const to = of === 'position' ? parts.displacement : parts.velocity;
        for (let i = 0; i < motions; i++) to[i] = to[i]! + x[i]!;
        chart.write(parts.displacement, parts.velocity, parts.length, side.s);
      }
  }

  step(t: number, y: Float64Array, h: number, implicit: boolean, until: number, end: Float64Array): void {
    const { many, Y, sides, own } = this,
      whole = Math.abs(until - (t + h)) <= SAME * Math.max(1, Math.abs(until));
    many.write(y, Y, 0);
    sides.forEach(({ s }, p) => many.write(s, Y, p + 1));
    this.length = h;
    this.dense = false;
    if (implicit && !this.wasImplicit) this.implicit?.restart();
    this.wasImplicit = implicit;
    const out = implicit ? this.implicitStep(t, Y, h) : this.explicitStep(t, Y, h);
    if (!whole) this.interpolate(until);
    sides.forEach(({ s }, p) => many.read(whole ? out : this.within, p + 1, s));
    this.at = until;
    this.onto(until, end);
    for (const { less, more, s } of sides)
      this.both({ less, more }, (n, by) => {
        n.near(end, s, by);
        n.m.system.K.load(n.y);
        n.m.memories.follow(n.m.system.K);
      });
    this.take(end);
    own.m.memories.follow(own.m.system.K);
  }
  private both({ less, more }: Pick<Side, 'less' | 'more'>, look: (n: Neighbour, by: number) => void): void {
    look(less, -this.part);
    look(more, this.part);
  }
  private explicitStep(t: number, Y: Float64Array, h: number): Float64Array {
    const { explicit } = this;
    this.derivative(t, Y, explicit.k[0]!);
    explicit.attempt(t, Y, h);
    return explicit.y1;
  }
  /** @param partings how often it may still be parted */
  private implicitStep(t: number, Y: Float64Array, h: number, partings = PARTINGS): Float64Array {
    const radau = (this.implicit ??= this.radau());
    this.derivative(t, Y, radau.f0);
    radau.attempt(t, Y, h);
    if (Number.isFinite(radau.error) || partings === 0) return radau.y1;
    const middle = this.implicitStep(t, Y, h / 2, partings - 1).slice();
    return this.implicitStep(t + h / 2, middle, h / 2, partings - 1);
  }
  private radau(): Radau5 {
    const { many, own, layout } = this,
      { system, size } = own.m,
      alone: Derivative = (t, y, dy) => {
        own.y.set(y);
        dy.set(own.rates(t));
      },
      newton = system.own.list.length === 0 ? new SparseNewton(system, many.free) : new DenseNewton(system.size, many.free, alone);
    return new Radau5(many.size, many.free * (many.count + 1), this.derivative, many.newton(newton), {
      estimate: () => 0,
      change: many.norms(layout, size),
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
    const { sides, many, own, change } = this,
      now = t === this.at;
    if (!now) this.interpolate(t);
    sides.forEach((side, p) => {
      if (now) change.set(side.s);
      else many.read(this.within, p + 1, change);
      // a change at a time that stands still, or at one that moves
      const by = (ends ? side.late : 0) - this.later(side, t);
      if (by !== 0) {
        own.y.set(y);
        const f = own.rates(t);
        for (let j = 0; j < change.length; j++) change[j] = change[j]! + by * f[j]!;
      }
      this.both(side, (n, h) => {
        n.near(y, change, h);
        n.record(ends ? t + h * side.late : t);
      });
    });
  }

  event(t: number, y: Float64Array): void {
    const { own, flow, length, part } = this;
    this.before.set(y);
    own.y.set(y);
    flow.set(own.rates(t));
    this.take(y);
    const fired = (this.fired = [...own.watched.at(t).below]),
      small = part * Math.min(1 / Math.max(1e-300, this.extent(flow)), length),
      values = (by: number) => {
        own.near(y, flow, by);
        own.m.system.K.load(own.y);
        return own.watched.at(t + by).values.slice();
      },
      [after, earlier] = [values(small), values(-small)],
      rate = after.map((x, i) => (x - earlier[i]!) / (2 * small)),
      change = new Float64Array(rate.length),
      left = new Map<Side, Omit<Unsaid, 'nth' | 'time'>>();
    for (const side of this.sides) {
      this.along(side, t, y, side.s, change, (n, at) => {
        n.m.system.K.load(n.y);
        return n.watched.at(at).values;
      });
      const late = fired.map((i) => -change[i]! / rate[i]!),
        [first = 0] = late;
      side.late = first;
      if (!late.every((x) => Number.isFinite(x) && Math.abs(part * x) < GRAZING * Math.max(length, t)))
        left.set(side, {
          code: 'sensitivity-grazing',
          why: 'An event of the run is only just touched: with a little more or less of it there is none.',
        });
      else if (!late.every((x) => Math.abs(x - first) <= SAME_TIME * Math.max(t, Math.abs(first))))
        left.set(side, {
          code: 'sensitivity-together',
          why: 'Two events of the run come at the same time: with more of it one comes first, with less the other.',
        });
    }
    this.leave(left);
  }

  changed(t: number, y: Float64Array): void {
    const { own, before, fired, part, flow } = this,
      left = new Map<Side, Omit<Unsaid, 'nth' | 'time'>>();
    for (const side of this.sides) {
      const { less, more, s, late } = side;
      for (let j = 0; j < s.length; j++) s[j] = s[j]! + late * flow[j]!;
      this.both(side, (n, by) => {
        const at = t + by * (this.later(side, t) + late);
        n.near(before, s, by);
        n.m.system.K.load(n.y);
        fireAt(n.m, n.watched, at, () => n.exactly(at), fired);
        n.m.system.K.store(n.y);
      });
      for (let j = 0; j < s.length; j++) s[j] = (more.y[j]! - less.y[j]!) / (2 * part);
    }
    this.take(before);
    fireAt(own.m, own.watched, t, () => own.exactly(t), fired);
    this.remember();
    own.y.set(y);
    const f = own.rates(t);
    for (const side of this.sides) {
      const { less, more, s, late } = side;
      for (let j = 0; j < s.length; j++) s[j] = s[j]! - late * f[j]!;
      if (less.modes !== own.modes || more.modes !== own.modes)
        left.set(side, {
          code: 'sensitivity-modes',
          why: 'After an event of the run its frictions, stops or switches go on otherwise with a little more or less of it.',
        });
    }
    this.leave(left);
    this.onto(t, y);
    this.implicit?.restart();
  }
}
