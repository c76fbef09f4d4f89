import type { Force } from '../equations/forces';
import { StatedForce, isKnown } from '../equations/laws/stated-force';
import type { Kinematics } from '../equations/kinematics';
import type { Carried } from '../equations/watch';

/** The applied forces of a machine: their sum, and the power of each, taken where it is applied. */
export class AppliedForces {
  /** Forces that follow from those of constraints; and whether all such are stated. */
  readonly reacting: boolean;
  readonly reactingStated: boolean;
  /** Of one force alone. */
  private readonly own: Float64Array;
  /** Bodies of each, once each. */
  private readonly bodies: readonly Int32Array[];
  /** Loads that are stated and take something in; and those that are not stated, by their numbers. */
  private readonly taking: readonly StatedForce[];
  private readonly coded: Int32Array;
  /** Powers without what follows from constraint forces. */
  private readonly before: Float64Array;

  constructor(
    private readonly forces: readonly Force[],
    /** Six numbers to a body and to the ground: their sum. */
    private readonly F: Float64Array,
    /** Power of each on all bodies, W, at what was last applied. */
    readonly powers: Float64Array,
  ) {
    this.before = new Float64Array(forces.length);
    this.bodies = forces.map((f) => Int32Array.from(new Set(f.bodies)));
    this.own = new Float64Array(F.length);
    this.reacting = forces.some((f) => f.react);
    this.reactingStated = forces.every((f) => !f.react || (f instanceof StatedForce && f.inputs.every(isKnown)));
    this.taking = forces.filter((f) => f instanceof StatedForce).filter((f) => !f.inputs.every(isKnown));
    this.coded = Int32Array.from(forces.keys()).filter((i) => !(forces[i] instanceof StatedForce) && !forces[i]!.byRow);
  }

  /** All that does not follow from constraint forces. */
  apply(K: Kinematics, t: number): void {
    const { forces, powers } = this;
    this.F.fill(0);
    for (let i = 0; i < forces.length; i++) this.add(i, K, t);
    this.before.set(powers);
  }
  /** The same where compiled equations apply loads that are stated: these only take in what they need. */
  applyOthers(K: Kinematics, t: number): void {
    const { taking, coded } = this;
    for (let i = 0; i < taking.length; i++) taking[i]!.take(K, t);
    if (coded.length === 0) return;
    this.F.fill(0);
    for (let i = 0; i < coded.length; i++) this.add(coded[i]!, K, t);
  }
  /** The same where stated loads are looped over. @param loads adds them and their powers */
  applyAround(K: Kinematics, t: number, loads: () => void): void {
    const { taking, coded, F, powers } = this;
    F.fill(0);
    powers.fill(0);
    for (let i = 0; i < taking.length; i++) taking[i]!.take(K, t);
    loads();
    for (let i = 0; i < coded.length; i++) this.add(coded[i]!, K, t);
    this.before.set(powers);
  }
  private add(i: number, K: Kinematics, t: number): void {
    this.clear(i);
    this.forces[i]!.apply(K, t, this.own);
    this.powers[i] = this.take(i, K);
  }

  /** Adds what follows from constraint forces. */
  react(K: Kinematics, t: number, { multipliers, G }: Carried): void {
    const { forces, own, powers, before } = this;
    for (let i = 0; i < forces.length; i++) {
      const f = forces[i]!;
      if (!f.react) continue;
      this.clear(i);
      f.react(K, t, multipliers, G, own);
      powers[i] = before[i]! + this.take(i, K);
    }
  }

  /** Whether compiled equations of loads that are stated, those that react among them, leave nothing to do. */
  get quiet(): boolean {
    return this.reactingStated && this.taking.length === 0 && this.coded.length === 0;
  }

  private clear(i: number): void {
    const { own } = this,
      bodies = this.bodies[i]!;
    for (let j = 0; j < bodies.length; j++) {
      const p = 6 * bodies[j]!;
      for (let k = 0; k < 6; k++) own[p + k] = 0;
    }
  }

  /** Adds a force to the others. @returns its power, W */
  private take(i: number, { v, w }: Kinematics): number {
    const { own, F } = this,
      bodies = this.bodies[i]!;
    let power = 0;
    for (let j = 0; j < bodies.length; j++) {
      const b = bodies[j]!;
      for (let k = 0; k < 3; k++) {
        const f = own[6 * b + k]!,
          m = own[6 * b + 3 + k]!;
        F[6 * b + k] = F[6 * b + k]! + f;
        F[6 * b + 3 + k] = F[6 * b + 3 + k]! + m;
        power += f * v[3 * b + k]! + m * w[3 * b + k]!;
      }
    }
    return power;
  }
}
