/**
 * Rigid end stops on a joint coordinate. An impact turns the coordinate's speed round at once by Newton's law of restitution, q̇⁺ = −e q̇⁻, with impulses in
 * every joint that carries it; bounces that would lead nowhere end at rest, where a row of its own holds the coordinate as long as it is pressed on.
 */
import type { Constraint } from './constraint';
import type { Force } from './forces';
import type { Hold } from './friction';
import type { Kinematics } from './kinematics';
import { type LoadReadings, onFreedom } from './load-readings';
import type { Memory } from './memory';
import type { Tracked } from './tracked';
import type { Carried, Fired, Settled, Watch } from './watch';
import { refuse } from '../diagnosis';

/** Sides: the lower end, none, the upper end. */
type Side = -1 | 0 | 1;

/** Distance (m or rad) and speed (per s) that count as none at the start. */
const NONE = 1e-9;
/** Depth at which an end is struck, beside the height of a bounce that leads nowhere. */
const DEPTH = 1e-4;

export class ImpactStop implements Force, Watch, Memory {
  readonly cells = 3;
  readonly bodies: readonly number[];
  readonly readings: LoadReadings;
  readonly watches: readonly Watch[];
  readonly memory: Memory = this;
  readonly byRow = true;
  readonly holding: NonNullable<Force['holding']>;
  /** At which end it is held. */
  private held: Side = 0;
  /** From which end it rebounds, while that is being settled. */
  private leaving: Side = 0;

  constructor(
    private readonly name: string,
    joint: string,
    private readonly coordinate: Tracked,
    private readonly limits: readonly [lower: number | undefined, upper: number | undefined],
    private readonly restitution: number,
    /** Height of a bounce, m or rad, that leads nowhere. */
    private readonly least: number,
    private readonly constraint: Constraint,
    private readonly hold: Hold,
    private readonly switchRow: (on: boolean) => void,
  ) {
    this.bodies = coordinate.freedom.bodies;
    this.watches = [this];
    const held = () => this.held !== 0;
    this.holding = {
      constraint,
      joint,
      get on() {
        return held();
      },
      release: () => this.letGo(),
    };
    this.readings = onFreedom(coordinate.freedom, {
      effort: (_K, _t, _part, carried) => (this.held === 0 ? 0 : -carried!.multipliers[constraint.row]!),
      deflection: () => 0,
      rate: (K) => coordinate.freedom.rate(K),
    });
  }

  get carried(): true | undefined {
    return this.held === 0 ? undefined : true;
  }

  /** @throws Refusal when it starts beyond an end */
  begin(K: Kinematics): void {
    this.leaving = this.held = 0;
    this.hold.f1 = 0;
    this.switchRow(false);
    for (const side of [-1, 1] as const) {
      const room = this.room(K, side);
      if (room < -NONE)
        refuse({
          code: 'stop-beyond',
          message: `It starts beyond its ${end(side)} end.`,
          remedy: 'Move the start inside, or the end outside; or let a spring and damper push back.',
          element: { family: 'loads', name: this.name },
        });
      if (room < NONE && Math.abs(this.speed(K, side)) < NONE) this.stopAt(K, side, 0);
    }
  }

  value(K: Kinematics, _t: number, c: Carried): number {
    if (this.held !== 0) return this.pressed(this.held, c);
    let least = Infinity;
    for (const side of [-1, 1] as const) {
      // what lies at an end without being held there may be beyond it by rounding errors
      const room = this.room(K, side) + DEPTH * this.least;
      // on its way back it may still be beyond
      if (room > 0) least = Math.min(least, room);
      else if (this.speed(K, side) > 0) least = Math.min(least, room, -Number.MIN_VALUE);
    }
    return least === Infinity ? NaN : least;
  }

  fire(K: Kinematics): Fired {
    const { held } = this;
    if (held !== 0) {
      this.letGo();
      return { kind: 'releases', message: `${this.name} leaves its ${end(held)} end.` };
    }
    const side = this.room(K, -1) <= this.room(K, 1) ? -1 : 1,
      speed = this.coordinate.freedom.rate(K);
    this.stopAt(K, side, -this.restitution * speed);
    return { kind: 'struck', message: `${this.name} is struck at its ${end(side)} end.`, values: { speed } };
  }

  /** The impact is over: what rebounds is let go. */
  rebound(): void {
    if (this.hold.f1 === 0) return;
    const { held } = this;
    this.letGo();
    this.leaving = held;
  }

  changeMode(K: Kinematics, _t: number, c: Settled): boolean {
    const side = this.leaving;
    this.leaving = 0;
    if (side !== 0) {
      const back = side * this.coordinate.freedom.acceleration(K, c.acceleration),
        speed = this.speed(K, side);
      if (!(back > 0 && speed * speed < 2 * back * this.least)) return false;
      this.stopAt(K, side, 0);
      return true;
    }
    if (this.held === 0 || this.pressed(this.held, c) >= 0) return false;
    this.letGo();
    return true;
  }

  keep(out: Float64Array, at: number): void {
    out[at] = this.held;
    out[at + 1] = this.hold.f;
    out[at + 2] = this.hold.f1;
  }
  recall(from: Float64Array, at: number): void {
    this.held = from[at]! as Side;
    this.hold.f = from[at + 1]!;
    this.hold.f1 = from[at + 2]!;
  }

  apply(): void {}
  beyond(K: Kinematics): boolean {
    return Math.min(this.room(K, -1), this.room(K, 1)) < -NONE;
  }

  /** Room left before an end, m or rad. */
  private room(K: Kinematics, side: -1 | 1): number {
    const limit = this.limits[side < 0 ? 0 : 1];
    return limit === undefined ? Infinity : side * (limit - this.coordinate.value(K));
  }
  /** Speed towards an end. */
  private speed(K: Kinematics, side: -1 | 1): number {
    return side * this.coordinate.freedom.rate(K);
  }
  /** What an end carries; negative where it would have to pull. */
  private pressed(side: -1 | 1, { multipliers }: Carried): number {
    return side * multipliers[this.constraint.row]!;
  }
  /** @param speed of the coordinate from now on */
  private stopAt(K: Kinematics, side: -1 | 1, speed: number): void {
    this.held = side;
    this.hold.f = this.coordinate.freedom.value(K) + side * this.room(K, side);
    this.hold.f1 = speed;
    this.switchRow(true);
  }
  private letGo(): void {
    this.held = 0;
    this.hold.f1 = 0;
    this.switchRow(false);
  }
}

const end = (side: Side): string => (side < 0 ? 'lower' : 'upper');
