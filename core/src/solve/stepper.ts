/** The two methods behind one face: explicit of order 8 as long as the system is not stiff, implicit of order 5 when it is. */
import type { Diagnosis } from '../diagnosis';
import { eighthRoot } from '../quantity/elementary';
import type { Vectors } from '../kernel/vectors';
import type { Method } from '../model/run-settings';
import type { RecordsTogether } from '../system/compiled/together';
import type { System } from '../system/system';
import { type Derivative, Dop853 } from './dop853';
import { DenseNewton, SparseNewton } from './newton';
import { Radau5 } from './radau';
import type { ErrorScale } from './tolerance';

/** Steps held by stability in a row after which the implicit method takes over, and steps after which that may end. */
const HELD = 15;
const RELEASED = 10;
/** Beyond this product of step and rate the explicit method is held by stability. */
const STABLE = 6.1;
/** A step is left as long as it is where it could be so many times as long. */
const SAME = 1.2;
/** Errors that are allowed in a step, so many of which are no motion. */
const STILL = 10;
/** Largest number of steering states for which dense Jacobians are taken, of bodies with coordinates of their own. */
const DENSE_LIMIT = 700;

export class Stepper {
  implicit: boolean;
  /** Whether nothing is to be let pass: near a singular position. */
  careful = false;
  private readonly explicitMethod: Dop853;
  private implicitMethod: Radau5 | undefined;
  private held = 0;
  private free = 0;
  /** Steps in a row in which next to nothing moved. */
  private still = 0;
  private readonly change: Float64Array;
  private dense = false;
  private readonly steering: number;

  constructor(
    private readonly system: System,
    private readonly f: Derivative,
    private readonly scale: ErrorScale,
    private readonly method: Method,
    private readonly vectors: Vectors,
    /** Whether a derivative is that of the system and no more. */
    bare: () => boolean,
  ) {
    this.explicitMethod = new Dop853(system.size, f, vectors, {
      stages: (nodes, sums) => (bare() ? system.stages(nodes, sums) : undefined),
      passed: (count) => system.passed(count),
    });
    this.steering = system.size - system.extras.reduce((s, e) => s + (e.ledger ? e.states : 0), 0);
    this.implicit = method === 'implicit' && this.possible;
    this.change = new Float64Array(system.size);
  }

  /** Derivative at the start of the step: to be set before `attempt`. */
  get f0(): Float64Array {
    return this.implicit ? this.radau.f0 : this.explicitMethod.k[0]!;
  }
  get y1(): Float64Array {
    return this.implicit ? this.radau.y1 : this.explicitMethod.y1;
  }
  get jacobians(): number {
    return this.implicitMethod?.jacobians ?? 0;
  }
  /** Whether derivatives are known exactly. */
  private get exact(): boolean {
    return this.system.own.list.length === 0;
  }
  private get possible(): boolean {
    return this.exact || this.steering <= DENSE_LIMIT;
  }
  private get radau(): Radau5 {
    const { system, steering, f, scale, vectors } = this;
    return (this.implicitMethod ??= new Radau5(
      system.size,
      steering,
      f,
      this.exact ? new SparseNewton(system, steering) : new DenseNewton(system.size, steering, f),
      { estimate: (e, y) => scale.estimated(e, y), change: (e, y) => scale.size(e, y) },
      vectors,
    ));
  }

  /** @returns the local error against what is allowed */
  attempt(t: number, y: Float64Array, h: number): number {
    this.dense = false;
    if (this.implicit) {
      const { radau, scale } = this;
      scale.careful = this.careful || h * radau.rate() < STABLE / 2;
      radau.attempt(t, y, h);
      return this.radau.error;
    }
    const m = this.explicitMethod;
    m.attempt(t, y, h);
    return this.scale.measure(h, m.error5, m.error3, y);
  }

  interpolate(t: number, out: Float64Array): void {
    if (this.implicit) {
      this.radau.interpolate(t, out);
      return;
    }
    if (!this.dense) this.explicitMethod.prepareDense();
    this.dense = true;
    this.explicitMethod.interpolate(t, out);
  }

  /** Where records of the last attempt may be had in one call: how. */
  recording(): RecordsTogether | undefined {
    return this.implicit ? undefined : this.system.records(this.explicitMethod.within);
  }
  /** Makes so many of them, at the times that stand there. */
  record(how: RecordsTogether, count: number): void {
    if (!this.dense) this.explicitMethod.prepareDense();
    this.dense = true;
    this.explicitMethod.record(how, count);
  }

  /** Factor by which the step may change after an error. */
  factor(error: number): number {
    const e = Math.max(error, 1e-10);
    if (this.implicit) {
      const by = Math.min(6, Math.max(0.2, 0.9 / Math.sqrt(Math.sqrt(e))));
      // a step as long as the last needs no new factors
      return by >= 1 && by <= SAME && this.radau.goesOn ? 1 : by;
    }
    return Math.min(6, Math.max(0.333, 0.9 / eighthRoot(e)));
  }
  /** The same after a rejected step. */
  cut(error: number): number {
    if (!(error > 1) || !Number.isFinite(error)) return 0.25;
    return Math.max(0.2, this.implicit ? 0.9 / Math.sqrt(Math.sqrt(error)) : 0.9 / eighthRoot(error));
  }

  /** After an accepted step: changes the method when that pays. @param capped whether others bounded its length @returns whether stability held it */
  judge(h: number, capped: boolean): boolean {
    if (this.implicit) {
      this.held = 0;
      if (this.method === 'auto' && h * this.radau.rate() < STABLE / 2) this.free++;
      else this.free = 0;
      if (this.free >= RELEASED) {
        this.implicit = false;
        this.free = 0;
      }
      return false;
    }
    const held = this.explicitMethod.stiffness() > STABLE;
    // what is at rest but for errors could go in steps of any length: the fastest of its motions, which hold these, are too small to be seen
    this.explicitMethod.moved(this.change);
    this.still = !capped && this.scale.size(this.change, this.explicitMethod.y1) < STILL ? this.still + 1 : 0;
    if (held) this.held++;
    else if (this.still > HELD) this.held = HELD;
    else if (this.held > 0) this.held -= 0.25;
    if (this.held >= HELD && this.method === 'auto' && this.possible) {
      this.implicit = true;
      this.held = this.still = 0;
      this.radau.restart();
    }
    return held;
  }

  /** What was asked for and cannot be done. */
  refused(): Diagnosis[] {
    if (this.method !== 'implicit' || this.possible) return [];
    return [
      {
        code: 'method-explicit',
        severity: 'warning',
        message: `Implicit steps were asked for, but all steps were explicit: the machine has ${this.steering} states, and implicit steps are made for up to ${DENSE_LIMIT}.`,
        why: 'The results are those of the explicit method, at the accuracy asked for.',
        remedy: 'Choose the automatic method, or make the machine smaller.',
      },
    ];
  }

  /** After an event: nothing of the past counts. */
  restart(): void {
    this.still = 0;
    this.implicitMethod?.restart();
  }
}
