/**
 * The variational equations over a step: a state and its changes with numbers of the model, integrated together. A change s for a change x of a number follows
 * ṡ = ∂f/∂y s + ∂f/∂x, which is the derivative of f in the direction of both, by central differences.
 */
import { KIND } from '../../equations/layout';
import type { Many } from './many';
import type { Neighbour } from './neighbour';
import { type Side, both } from './side';
import { type Changing, Steps } from './steps';

/** Change of a state, in parts of the machine's size or rad, beyond which that of the number alone and that of the state alone are looked at apart. */
const FAR = 3;
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

export class Flow implements Changing {
  /** Numbers that stand at a kink of what moves the machine: of them less and more do different things. */
  readonly kinked = new Set<number>();
  private readonly steps: Steps;
  private sides: readonly Side[] = [];
  private readonly change: Float64Array;
  private readonly rated: Float64Array;
  private readonly state: Float64Array;
  private readonly moving: Float64Array;
  /** Where the step at hand starts, and its length. */
  private start = 0;
  private length = 1;

  /** @param own the machine of the run @param part by which less and more differ from it @param until length of the run, s */
  constructor(
    private readonly own: Neighbour,
    private readonly part: number,
    until: number,
  ) {
    const vector = () => new Float64Array(own.y.length);
    [this.rated, this.state, this.change, this.moving] = [vector(), vector(), vector(), vector()];
    this.steps = new Steps(own, until, this);
  }

  /** From now on these are its changes. */
  of(sides: readonly Side[]): void {
    this.sides = sides;
    this.steps.of(sides.length);
  }
  /** Nothing of the past counts. */
  restart(): void {
    this.steps.restart();
  }
  /** Whether an implicit step could not be solved. */
  get stuck(): boolean {
    return this.steps.stuck;
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

  rates(many: Many, t: number, Y: Float64Array, dY: Float64Array): void {
    const { sides, rated, state, change } = this;
    many.read(Y, 0, state);
    many.write(this.rate(t, state), dY, 0);
    sides.forEach((side, p) => {
      many.read(Y, p + 1, change);
      this.along(side, t, state, change, rated, (n, at) => n.rates(at), (side.after - side.before) / this.length);
      many.write(rated, dY, p + 1);
    });
  }

  /** Takes the changes of all sides from the start of a step at (t, y) to its end. */
  through(t: number, y: Float64Array, length: number, implicit: boolean): void {
    this.start = t;
    this.length = length;
    this.steps.through(
      t,
      y,
      length,
      implicit,
      this.sides.map(({ s }) => s),
    );
  }

  /** Takes note of numbers of which a little more does not undo what a little less does. @param dY the derivative there */
  begins(many: Many, t: number, Y: Float64Array, dY: Float64Array): void {
    const { sides, state, moving, change, rated: rates, part, own } = this,
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
    const read = this.steps.at(t);
    return (p, out) => read(p + 1, out);
  }
}
