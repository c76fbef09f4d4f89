/**
 * Dry friction in a joint, with a true stick: while it sticks, a row of its own holds the coordinate; it slips when that row carries more
 * than the static limit, and sticks again when the speed comes to zero and the limit suffices. While it slips, the effort −sign(q̇) T with
 * T = μ N r + T₀ follows from the joint's own load in the same solve (System.iterateReactions).
 */
import type { KernelMemory } from '../kernel/memory';
import type { Constraint, Prescription } from './constraint';
import type { Force } from './forces';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import { effortLaw, partsOn } from './laws/on-coordinate';
import { type Input, StatedForce, held } from './laws/stated-force';
import { type Reaction, bearing } from './reaction';
import { type LoadReadings, onFreedom } from './load-readings';
import type { Memory } from './memory';
import type { Carried, Fired, Watch } from './watch';

export interface FrictionData {
  /** Coefficients. */
  static: number;
  sliding: number;
  /** Radius at which the load across the axis and along it rubs, m; for travel both are 1. */
  radius: number;
  collar: number;
  /** Length over which a moment is borne by two edges, m; zero: moments do not rub. */
  length: number;
  /** Effort that is there without any load, N·m or N. */
  preload: number;
}

/** The course of a coordinate that is held where it is, or sent off at a speed: it changes at events alone. */
export class Hold implements Prescription {
  private numbers: Float64Array = new Float64Array(2);
  readonly f2 = 0;
  get f(): number {
    return this.numbers[0]!;
  }
  set f(x: number) {
    this.numbers[0] = x;
  }
  get f1(): number {
    return this.numbers[1]!;
  }
  set f1(x: number) {
    this.numbers[1] = x;
  }
  at(): void {}
  settle({ numbers }: KernelMemory, at: number): void {
    numbers.fill(0, at, at + 3);
    numbers.set(this.numbers, at);
    this.numbers = numbers.subarray(at, at + 2);
  }
}

/**
 * The effort in a sense: what the load across the axis, along it, and across it as a moment (on two edges) rub, and what is there besides. No effort while
 * it sticks: the sense is 0.
 */
const rubbing = effortLaw({
  name: 'joint friction',
  numbers: { radius: 'number', collar: 'number', edges: 'number', preload: 'number' },
  inputs: 5,
  does(g, _q, _rate, { radius, collar, edges, preload }, [sense, coefficient, along, across, tilting]) {
    const borne = g.add(g.multiply(radius, g.add(across!, g.multiply(edges, tilting!))), g.multiply(collar, g.size(along!)));
    return { effort: g.multiply(sense!, g.add(g.multiply(coefficient!, borne), preload)) };
  },
});

/** A speed, or its change in a second, that is none, rad/s or m/s. */
const AT_REST = 1e-9;
/** How it is kept that it lies idle. */
const IDLE = 0.5;

export class JointFriction extends StatedForce implements Watch, Memory {
  /** Mode, and where it sticks. */
  readonly cells = 2;
  readonly holding: NonNullable<Force['holding']>;
  override readonly watches: readonly Watch[] = [this];
  override readonly readings: LoadReadings;
  readonly memory: Memory = this;
  readonly across: boolean;
  /** 0 while it sticks, else the direction of slip. */
  private slipping = 0;
  /** It slips because its coordinate is held, or moved, by others: at rest as well. */
  private released = false;
  /** It is held there, and carries nothing. */
  private idle = false;
  /** What its law takes in. */
  private readonly taken: { sense: number; coefficient: number };
  private readonly reaction: Reaction;
  private readonly freedom: Freedom;

  constructor(
    private readonly name: string,
    joint: string,
    freedom: Freedom,
    reaction: Reaction,
    /** Axis in the first body. */
    axis: readonly number[],
    private readonly data: FrictionData,
    private readonly constraint: Constraint,
    private readonly hold: Hold,
    private readonly switchRow: (on: boolean) => void,
  ) {
    const taken = { sense: 0, coefficient: data.sliding },
      carried: Input = { ...bearing(reaction, axis), count: 3 };
    super(
      ...partsOn(
        { freedom, value: (K) => freedom.value(K) },
        rubbing,
        [data.radius, data.collar, data.length > 0 ? 2 / data.length : 0, data.preload],
        [held(() => taken.sense), held(() => taken.coefficient), carried],
      ),
    );
    this.taken = taken;
    this.reaction = reaction;
    this.freedom = freedom;
    // the load across a pin that is square to the plane lies in it
    this.across = freedom.type !== 'rotation' || data.collar !== 0 || data.length !== 0;
    const stuck = () => this.slipping === 0;
    this.holding = {
      constraint,
      joint,
      get on() {
        return stuck();
      },
      release: (K, acceleration) => this.giveWay(freedom.acceleration(K, acceleration)),
      again: (K) => this.released && Math.abs(freedom.rate(K)) <= AT_REST && this.stick(K),
    };
    this.readings = onFreedom(freedom, { effort: (K, _t, _part, carried) => this.effortOf(K, carried!) });
  }

  get carried(): true | undefined {
    return this.slipping === 0 ? true : undefined;
  }
  value(K: Kinematics, _t: number, c: Carried): number {
    return this.slipping === 0 ? this.grip(K, c) - Math.abs(c.multipliers[this.constraint.row]!) : this.sliding(this.freedom.rate(K));
  }
  /** Falls below zero where it would slide the other way; or, where it lies idle, at all. */
  private sliding(rate: number): number {
    if (this.idle) return AT_REST - Math.abs(rate);
    return this.slipping * rate + (this.released ? AT_REST : 0);
  }
  fire(K: Kinematics): undefined {
    if (this.slipping === 0) this.slip(Math.sign(this.carriedRow) || 1);
    else this.stick(K);
  }
  mode(): Fired {
    return this.slipping === 0
      ? { kind: 'sticks', message: `${this.name} sticks.` }
      : { kind: 'slips', message: `${this.name} slips.`, values: { direction: this.slipping } };
  }

  override begin(K: Kinematics): void {
    const rate = this.freedom.rate(K);
    if (Math.abs(rate) > AT_REST) this.slip(Math.sign(rate));
    else this.stick(K);
  }

  /** What it can hold at the load at hand, N·m or N. */
  private grip(K: Kinematics, { multipliers, G }: Carried): number {
    const { taken, data } = this,
      { sense } = taken;
    this.reaction.measure(K, G, multipliers);
    taken.sense = 1;
    taken.coefficient = data.static;
    const most = this.effort(K, 0);
    taken.sense = sense;
    taken.coefficient = data.sliding;
    this.tellHeld();
    return most;
  }
  sticks(K: Kinematics, c: Carried): boolean {
    return Math.abs(c.multipliers[this.constraint.row]!) <= this.grip(K, c);
  }

  private stick(K: Kinematics): void {
    this.released = false;
    this.hold.f = this.freedom.value(K);
    this.turnTo(0);
    this.switchRow(true);
  }
  private slip(direction: number): void {
    this.released = false;
    this.turnTo(direction);
    this.switchRow(false);
  }
  /** To what moves its coordinate: it rubs against the way that is being accelerated. Where it is just held, how much friction carries is open: nothing. */
  private giveWay(acceleration: number): void {
    const moves = Math.abs(acceleration) > AT_REST;
    this.turnTo(moves ? Math.sign(acceleration) : this.slipping || 1, !moves);
    this.switchRow(false);
    this.released = true;
  }
  private turnTo(direction: number, idle = false): void {
    this.slipping = direction;
    this.idle = idle;
    this.taken.sense = direction === 0 || idle ? 0 : -direction;
    this.tellHeld();
  }
  /** Multiplier of the row when it last was looked at: the joint is pushed against −λ, so it gives way along +λ. */
  private carriedRow = 0;

  changeMode(K: Kinematics, _t: number, c: Carried): boolean {
    if (this.slipping !== 0) return false;
    this.carriedRow = c.multipliers[this.constraint.row]!;
    if (this.sticks(K, c)) return false;
    this.slip(Math.sign(this.carriedRow) || 1);
    return true;
  }

  keep(out: Float64Array, at: number): void {
    out[at] = this.idle ? IDLE * this.slipping : this.slipping;
    out[at + 1] = this.hold.f;
  }
  recall(from: Float64Array, at: number): void {
    const kept = from[at]!;
    this.turnTo(Math.sign(kept), Math.abs(kept) === IDLE);
    this.released = this.idle;
    this.hold.f = from[at + 1]!;
  }

  /** Effort on the freedom, whether it slips or sticks, N·m or N. */
  private effortOf(K: Kinematics, { multipliers, G }: Carried): number {
    if (this.slipping === 0) return -multipliers[this.constraint.row]!;
    this.reaction.measure(K, G, multipliers);
    return this.effort(K, 0);
  }

  override apply(): void {}
  override readonly react: NonNullable<Force['react']> = (K, t, multipliers, G, F) => {
    if (this.slipping === 0) return;
    this.reaction.measure(K, G, multipliers);
    super.apply(K, t, F);
  };
}
