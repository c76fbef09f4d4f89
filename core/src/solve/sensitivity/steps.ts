/** A state and changes of it, taken together through the steps of a run, each by the method by which the run took it. */
import { type Derivative, Dop853 } from '../dop853';
import { DenseNewton, SparseNewton } from '../newton';
import { Radau5 } from '../radau';
import { Many } from './many';
import type { Neighbour } from './neighbour';

/** A step that its iteration does not solve is parted, at most so often. */
const PARTINGS = 6;

/** How state and changes change, of which the first stands at 0 of `many`. */
export interface Changing {
  rates(many: Many, t: number, Y: Float64Array, dY: Float64Array): void;
  /** A step, or a part of it, begins: how they change there is known. */
  begins?(many: Many, t: number, Y: Float64Array, dY: Float64Array): void;
}

export class Steps {
  /** Whether an implicit step could not be solved. */
  stuck = false;
  private many!: Many;
  private explicit!: Dop853;
  private implicit: Radau5 | undefined;
  /** State and changes: at the start of a step, and anywhere in it. */
  private Y!: Float64Array;
  private within!: Float64Array;
  private readonly one: Float64Array;
  /** Whether the step at hand is implicit, and whether its polynomial is at hand. */
  private byImplicit = false;
  private dense = false;

  /** @param own the machine of the run @param until length of the run, s */
  constructor(
    private readonly own: Neighbour,
    private readonly until: number,
    private readonly changing: Changing,
  ) {
    this.one = new Float64Array(own.y.length);
    this.of(0);
  }

  /** From now on there are so many changes. */
  of(count: number): void {
    const { system } = this.own.m,
      ledgers = system.extras.reduce((sum, e) => sum + (e.ledger ? e.states : 0), 0);
    this.many = new Many(system.size, system.size - ledgers, count);
    [this.Y, this.within] = [this.many.vector(), this.many.vector()];
    this.explicit = new Dop853(this.many.size, this.derivative);
    this.implicit = undefined;
  }
  /** Nothing of the past counts. */
  restart(): void {
    this.implicit?.restart();
  }

  private readonly derivative: Derivative = (t, Y, dY) => this.changing.rates(this.many, t, Y, dY);

  /** Takes a state y and its changes, which are replaced, from the start of a step to its end. @returns the state there: good until the next */
  through(t: number, y: Float64Array, length: number, implicit: boolean, changes: readonly Float64Array[]): Float64Array {
    const { many, Y } = this;
    if (implicit !== this.byImplicit) this.restart();
    this.byImplicit = implicit;
    this.dense = false;
    many.write(y, Y, 0);
    changes.forEach((s, p) => many.write(s, Y, p + 1));
    const out = implicit ? this.implicitStep(t, Y, length) : this.explicitStep(t, Y, length);
    changes.forEach((s, p) => many.read(out, p + 1, s));
    return many.read(out, 0, this.one);
  }
  private begin(t: number, Y: Float64Array, dY: Float64Array): void {
    this.derivative(t, Y, dY);
    this.changing.begins?.(this.many, t, Y, dY);
  }
  private explicitStep(t: number, Y: Float64Array, h: number): Float64Array {
    const { explicit } = this;
    this.begin(t, Y, explicit.k[0]!);
    explicit.attempt(t, Y, h);
    return explicit.y1;
  }
  /** @param partings how often it may still be parted */
  private implicitStep(t: number, Y: Float64Array, h: number, partings = PARTINGS): Float64Array {
    const radau = (this.implicit ??= this.radau());
    this.begin(t, Y, radau.f0);
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
      alone: Derivative = (t, y, dy) => {
        own.at(y);
        dy.set(own.rates(t));
      },
      newton = system.own.list.length === 0 ? new SparseNewton(system, many.free) : new DenseNewton(system.size, many.free, alone);
    return new Radau5(many.size, many.free * (many.count + 1), this.derivative, many.newton(newton), {
      estimate: () => 0,
      change: many.norms(system.K.layout, size, until),
    });
  }

  /** State and changes at a time of the last step. @returns how to read the state (0), or a change (from 1 on) */
  at(t: number): (p: number, out: Float64Array) => void {
    const { within, many } = this;
    if (this.byImplicit) this.implicit!.interpolate(t, within);
    else {
      if (!this.dense) this.explicit.prepareDense();
      this.dense = true;
      this.explicit.interpolate(t, within);
    }
    return (p, out) => void many.read(within, p, out);
  }
}
