/**
 * Dry friction in a joint, with a true stick: while it sticks, a row of its own holds the coordinate; it slips when that row carries more
 * than the static limit, and sticks again when the speed comes to zero and the limit suffices. While it slips, the effort −sign(q̇) T with
 * T = μ N r + T₀ follows from the joint's own load in the same solve (System.iterateReactions).
 */
import type { Constraint } from './constraint';
import type { Force } from './forces';
import type { Freedom } from './freedom';
import type { Kinematics } from './kinematics';
import type { Reaction } from './reaction';
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

/** The course of a stuck coordinate: it stays where it stuck. */
export class Hold {
  f = 0;
  f1 = 0;
  f2 = 0;
  at(): void {}
}

export class JointFriction implements Force, Watch, Memory {
  readonly bodies: readonly number[];
  readonly readings: LoadReadings;
  /** Mode, and where it sticks. */
  readonly cells = 2;
  readonly holding: NonNullable<Force['holding']>;
  readonly watches: readonly Watch[];
  readonly memory: Memory = this;
  /** 0 while it sticks, else the direction of slip. */
  private slipping = 0;

  constructor(
    private readonly name: string,
    joint: string,
    private readonly freedom: Freedom,
    private readonly reaction: Reaction,
    /** Axis in the first body. */
    private readonly axis: ArrayLike<number>,
    private readonly data: FrictionData,
    private readonly constraint: Constraint,
    private readonly hold: Hold,
    private readonly switchRow: (on: boolean) => void,
  ) {
    this.bodies = freedom.bodies;
    const stuck = () => this.slipping === 0;
    this.holding = {
      constraint,
      joint,
      get on() {
        return stuck();
      },
      release: (K, acceleration) => {
        this.slipping = freedom.acceleration(K, acceleration) < 0 ? -1 : 1;
        switchRow(false);
      },
    };
    this.watches = [this];
    this.readings = onFreedom(freedom, { effort: (K, _t, _part, carried) => this.effort(K, carried!) });
  }

  get carried(): true | undefined {
    return this.slipping === 0 ? true : undefined;
  }
  value(K: Kinematics, _t: number, c: Carried): number {
    return this.slipping === 0
      ? this.limit(K, c, this.data.static) - Math.abs(c.multipliers[this.constraint.row]!)
      : this.slipping * this.freedom.rate(K);
  }
  fire(K: Kinematics): undefined {
    if (this.slipping === 0) this.slip();
    else this.stick(K);
  }
  mode(): Fired {
    return this.slipping === 0
      ? { kind: 'sticks', message: `${this.name} sticks.` }
      : { kind: 'slips', message: `${this.name} slips.`, values: { direction: this.slipping } };
  }

  begin(K: Kinematics): void {
    const rate = this.freedom.rate(K);
    if (Math.abs(rate) > 1e-9) {
      this.slipping = Math.sign(rate);
      this.switchRow(false);
    } else this.stick(K);
  }

  /** Friction effort for the load at hand and a coefficient, N·m or N. */
  private limit(K: Kinematics, { multipliers, G }: Carried, mu: number): number {
    const { reaction, axis, data } = this;
    reaction.measure(K, G, multipliers);
    const { force: f, moment: m } = reaction;
    const p = 9 * this.constraint.a,
      A = K.A;
    let along = 0,
      turned = 0,
      f2 = 0,
      m2 = 0;
    for (let k = 0; k < 3; k++) {
      const z = A[p + 3 * k]! * axis[0]! + A[p + 3 * k + 1]! * axis[1]! + A[p + 3 * k + 2]! * axis[2]!;
      along += f[k]! * z;
      turned += m[k]! * z;
      f2 += f[k]! * f[k]!;
      m2 += m[k]! * m[k]!;
    }
    const across = Math.sqrt(Math.max(0, f2 - along * along));
    const edges = data.length > 0 ? (2 * Math.sqrt(Math.max(0, m2 - turned * turned))) / data.length : 0;
    return mu * (data.radius * (across + edges) + data.collar * Math.abs(along)) + data.preload;
  }

  sticks(K: Kinematics, c: Carried): boolean {
    return Math.abs(c.multipliers[this.constraint.row]!) <= this.limit(K, c, this.data.static);
  }

  private stick(K: Kinematics): void {
    this.slipping = 0;
    this.hold.f = this.freedom.value(K);
    this.switchRow(true);
  }
  private slip(): void {
    this.slipping = Math.sign(this.carriedRow) || 1;
    this.switchRow(false);
  }
  /** Multiplier of the row when it last was looked at: the joint is pushed against −λ, so it gives way along +λ. */
  private carriedRow = 0;

  changeMode(K: Kinematics, _t: number, c: Carried): boolean {
    if (this.slipping !== 0) return false;
    this.carriedRow = c.multipliers[this.constraint.row]!;
    if (this.sticks(K, c)) return false;
    this.slip();
    return true;
  }

  keep(out: Float64Array, at: number): void {
    out[at] = this.slipping;
    out[at + 1] = this.hold.f;
  }
  recall(from: Float64Array, at: number): void {
    this.slipping = from[at]!;
    this.hold.f = from[at + 1]!;
  }

  /** Effort on the freedom, whether it slips or sticks, N·m or N. */
  private effort(K: Kinematics, c: Carried): number {
    return this.slipping === 0 ? -c.multipliers[this.constraint.row]! : -this.slipping * this.limit(K, c, this.data.sliding);
  }

  apply(): void {}
  react(K: Kinematics, _t: number, multipliers: Float64Array, G: Float64Array, F: Float64Array): void {
    if (this.slipping !== 0) this.freedom.push(K, F, this.effort(K, { multipliers, G }));
  }
}
