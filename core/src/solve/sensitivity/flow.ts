/**
 * The variational equations over a step: a state and its changes with numbers of the model, integrated together. A change s for a change x of a number follows
 * ṡ = ∂f/∂y s + ∂f/∂x, which is the derivative of f in the direction of both, by central differences.
 */
import { KIND } from '../../equations/layout';
import { type Derivative, Dop853 } from '../dop853';
import { DenseNewton, SparseNewton } from '../newton';
import { Radau5 } from '../radau';
import { Many } from './many';
import type { Neighbour } from './neighbour';
import { type Side, both } from './side';

/** Change of a state, in parts of the machine's size or rad, beyond which that of the number alone and that of the state alone are looked at apart. */
const FAR = 3;
/** A step that its iteration does not solve is parted, at most so often. */
const PARTINGS = 6;
/** What less and more do differs by more than this part of it where there is a kink; by less than this part of what moves the machine where there is none. */
const KINK = 0.05;
const SMOOTH = 1e-3;
/** Rounding of accelerations, in parts of what joints hold. */
export const ROUNDING = 1e-13;

/**
 * Whether less and more of a number do different things: a little more does not undo what a little less does.
 * @param unlike what both do together @param apart what they do differently @param whole part of what moves the machine by which they differ
 */
export const isKink = (unlike: number, apart: number, whole: number, rounding: number): boolean =>
  unlike > KINK * apart + SMOOTH * whole + rounding;

export class Flow {
  /** Numbers that stand at a kink of what moves the machine: of them less and more do different things. */
  readonly kinked = new Set<number>();
  /** Whether an implicit step could not be solved. */
  stuck = false;
  private many!: Many;
  private sides: readonly Side[] = [];
  private explicit!: Dop853;
  private implicit: Radau5 | undefined;
  /** State and changes: at the start of a step, and anywhere in it. */
  private Y!: Float64Array;
  private within!: Float64Array;
  private readonly rates: Float64Array;
  private readonly state: Float64Array;
  private readonly change: Float64Array;
  private readonly moving: Float64Array;
  /** Where the step at hand starts, its length; whether it is implicit, and its polynomial at hand. */
  private start = 0;
  private length = 1;
  private byImplicit = false;
  private dense = false;

  /** @param own the machine of the run @param part by which less and more differ from it @param until length of the run, s */
  constructor(
    private readonly own: Neighbour,
    private readonly part: number,
    private readonly until: number,
  ) {
    const vector = () => new Float64Array(own.y.length);
    [this.rates, this.state, this.change, this.moving] = [vector(), vector(), vector(), vector()];
  }

  /** From now on these are its changes. */
  of(sides: readonly Side[]): void {
    const { system } = this.own.m,
      ledgers = system.extras.reduce((sum, e) => sum + (e.ledger ? e.states : 0), 0);
    this.sides = sides;
    this.many = new Many(system.size, system.size - ledgers, sides.length);
    [this.Y, this.within] = [this.many.vector(), this.many.vector()];
    this.explicit = new Dop853(this.many.size, this.derivative);
    this.implicit = undefined;
  }
  /** Nothing of the past counts. */
  restart(): void {
    this.implicit?.restart();
  }

  /** How time changes with a number within the step at hand. */
  late({ before, after }: Side, t: number): number {
    return before === after ? after : before + ((after - before) * (t - this.start)) / this.length;
  }
  /** How far a change moves the bodies, in parts of the machine's size or rad. */
  extent(s: Float64Array): number {
    const { system, size } = this.own.m,
      { kind, further } = system.K.layout;
    let most = this.turn(s);
    for (let j = 0; j < further; j++) if (kind[j] === KIND.place) most = Math.max(most, Math.abs(s[j]!) / size);
    return most;
  }
  /** How far it turns them, rad. */
  turn(s: Float64Array): number {
    const { kind, further } = this.own.m.system.K.layout;
    let most = 0;
    for (let j = 0; j < further; j++) if (kind[j] === KIND.turn) most = Math.max(most, Math.abs(s[j]!));
    return most;
  }
  /** The rates of a state in the machine of the run: good until the next. */
  rate(t: number, y: Float64Array): Float64Array {
    this.own.y.set(y);
    return this.own.rates(t);
  }

  /**
   * The derivative of something in the direction of a number and a change of the state, by central differences.
   * @param look of a machine with a state in its `y`, at a time; what it gives is good until the next look
   * @param slower how much longer a second lasts, by which what it gives is multiplied
   */
  along(
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
    const { many, sides, rates, state, change } = this;
    many.read(Y, 0, state);
    many.write(this.rate(t, state), dY, 0);
    sides.forEach((side, p) => {
      many.read(Y, p + 1, change);
      this.along(side, t, state, change, rates, (n, at) => n.rates(at), (side.after - side.before) / this.length);
      many.write(rates, dY, p + 1);
    });
  };

  /** Takes the changes of all sides from the start of a step at (t, y) to its end. */
  through(t: number, y: Float64Array, length: number, implicit: boolean): void {
    const { many, Y, sides } = this;
    this.start = t;
    this.length = length;
    if (implicit !== this.byImplicit) this.restart();
    this.byImplicit = implicit;
    this.dense = false;
    many.write(y, Y, 0);
    sides.forEach(({ s }, p) => many.write(s, Y, p + 1));
    const out = implicit ? this.implicitStep(t, Y, length) : this.explicitStep(t, Y, length);
    sides.forEach(({ s }, p) => many.read(out, p + 1, s));
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
      this.stuck = true;
      return radau.y1;
    }
    const middle = this.implicitStep(t, Y, h / 2, partings - 1).slice();
    return this.implicitStep(t + h / 2, middle, h / 2, partings - 1);
  }
  private radau(): Radau5 {
    const { many, own, until } = this,
      { system, size } = own.m,
      alone: Derivative = (t, y, dy) => dy.set(this.rate(t, y)),
      newton = system.own.list.length === 0 ? new SparseNewton(system, many.free) : new DenseNewton(system.size, many.free, alone);
    return new Radau5(many.size, many.free * (many.count + 1), this.derivative, many.newton(newton), {
      estimate: () => 0,
      change: many.norms(system.K.layout, size, until),
    });
  }

  /** Takes note of numbers of which a little more does not undo what a little less does. @param dY the derivative there */
  private lookForKinks(t: number, Y: Float64Array, dY: Float64Array): void {
    const { many, sides, state, moving, change, rates, part, own } = this,
      { free } = many,
      size = (x: Float64Array) => {
        let most = 0;
        for (let j = 0; j < free; j++) most = Math.max(most, Math.abs(x[j]!));
        return most;
      };
    many.read(Y, 0, state);
    many.read(dY, 0, moving);
    const whole = size(moving),
      rounding = ROUNDING * own.held;
    sides.forEach((side, p) => {
      if (this.kinked.has(side.nth)) return;
      many.read(Y, p + 1, change);
      if (this.extent(change) > FAR) return;
      const late = this.late(side, t);
      rates.fill(0);
      both(side, part, (n, by) => {
        n.near(state, change, by);
        const f = n.rates(t + by * late);
        for (let j = 0; j < free; j++) rates[j] = rates[j]! + f[j]! - moving[j]!;
      });
      const unlike = size(rates);
      many.read(dY, p + 1, change);
      if (isKink(unlike, 2 * part * size(change), part * whole, rounding)) this.kinked.add(side.nth);
    });
  }

  /** The changes at a time of the last step. @returns how to read that of each side */
  at(t: number): (p: number, out: Float64Array) => void {
    const { within, many } = this;
    if (this.byImplicit) this.implicit!.interpolate(t, within);
    else {
      if (!this.dense) this.explicit.prepareDense();
      this.dense = true;
      this.explicit.interpolate(t, within);
    }
    return (p, out) => void many.read(within, p + 1, out);
  }
}
