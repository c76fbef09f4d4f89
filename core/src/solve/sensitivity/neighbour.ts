/** A machine of which one number is a little more, or less, than in the machine of a run, and which goes the same way. */
import type { Fold } from '../../equations/fold';
import { Refusal } from '../../diagnosis';
import type { Vectors } from '../../kernel/vectors';
import { type RecordLayout, recordLayout } from '../../results/record';
import { COMPILER } from '../../system/compiler';
import type { Mechanism } from '../../system/mechanism';
import { assemble } from '../assemble';
import { breakTimes } from '../break-times';
import { Events } from '../events';
import { leaveOutLike } from '../leave-out';
import { Recorder } from '../recorder';
import { leastInertia } from '../reduced';
import { resume } from '../resume';
import { type RunOptions, noStatistics } from '../run-events';
import { StopLimits } from '../stop-limits';
import { Turns } from '../turns';

/** Residual that is rounding alone, in parts of the machine's size. */
const EXACTLY = 1e-14;

/** Why a machine differs of which other things than of the run's are left out. */
export const OTHER_WAYS = 'its bodies can move in other ways.';

export class Neighbour {
  /** A state and its derivative, where its code works. */
  readonly y: Float64Array;
  readonly dy: Float64Array;
  /** Room for more of them. */
  readonly vectors: Vectors;
  readonly watched: Events;
  /** Ends of the segments in which no formula has a kink. */
  readonly stops: readonly number[];
  readonly layout: RecordLayout;
  readonly chunks: Float64Array[] = [];
  private readonly turns: Turns;
  private readonly recorder: Recorder;

  /**
   * Assembles it, with what is left out of the run.
   * @param of the machine of the run @param seldom whether it is evaluated a few times alone, and needs no code of its own
   * @throws Refusal when it cannot start
   */
  constructor(
    readonly m: Mechanism,
    of: Mechanism,
    options: RunOptions,
    seldom = false,
  ) {
    const { system } = m;
    system.interpret();
    system.fold(undefined);
    if (options.start) resume(m, options.start);
    else assemble(m);
    this.turns = new Turns(system, 0);
    const limits = new StopLimits(m, this.turns);
    if (of.system.leftOut) leaveOutLike(m, of.system);
    if (alike(system.leftOut, of.system.leftOut)) system.K.tellLike(of.system.K);
    if (!seldom) system.compile(COMPILER);
    system.segment(0, options.until);
    this.exactly(0);
    this.vectors = system.vectors();
    [this.y, this.dy] = this.vectors.row(2) as [Float64Array, Float64Array];
    system.K.store(this.y);
    this.watched = new Events(system, [...m.watches, ...limits.watches]);
    this.stops = [...breakTimes(m, options.until, limits.times(options.until)), options.until];
    this.layout = recordLayout(m, system.told);
    this.recorder = new Recorder(this.layout, m, noStatistics());
  }

  /** Why it does not go the way of the machine of the run, or undefined. */
  differsFrom(of: Mechanism, stops: readonly number[]): string | undefined {
    const { m } = this,
      { system } = m;
    if (system.rows !== of.system.rows || system.bodies !== of.system.bodies || system.K.extra !== of.system.K.extra)
      return 'it has other bodies or joints.';
    if (!alike(system.leftOut, of.system.leftOut)) return OTHER_WAYS;
    if (this.stops.length !== stops.length) return 'its formulas have other kinks.';
    return this.modes !== modesOf(of) ? 'its frictions, stops or switches begin otherwise.' : undefined;
  }
  /** Which modes its frictions, stops and switches are in. */
  get modes(): string {
    return modesOf(this.m);
  }

  /** Brings the state in K onto the constraints, as near as rounding allows. */
  exactly(t: number): void {
    const { system, size } = this.m,
      enough = EXACTLY * Math.max(1, size);
    system.linearise();
    system.projectPositions(t, enough);
    system.projectVelocities(t, 3 * enough);
  }

  /** Puts a state into `y`. */
  at(y: Float64Array): Float64Array {
    this.y.set(y);
    return this.y;
  }
  /** Puts a state next to another into `y`: that one, and so much of a change. */
  near(y: Float64Array, change: Float64Array, by: number): Float64Array {
    const out = this.y;
    for (let j = 0; j < out.length; j++) out[j] = y[j]! + by * change[j]!;
    return out;
  }
  /** The derivative of the state in `y`, in `dy`. */
  rates(t: number): Float64Array {
    this.m.system.evaluate(t, this.y, this.dy);
    return this.dy;
  }
  /** What the joints hold would accelerate the lightest body by, at the last `rates`, m/s² or rad/s²: accelerations are known to the rounding of that. */
  get held(): number {
    const { system } = this.m;
    return system.multipliers.reduce((most, x) => Math.max(most, Math.abs(x)), 0) / leastInertia(system);
  }

  /** Records the state in `y`. @param angles of the run there, counting whole turns @returns false where a number of it is not finite */
  record(t: number, angles: Float64Array): boolean {
    const { m, turns, recorder, y } = this;
    m.system.K.load(y);
    turns.nextTo(angles, t);
    const good = recorder.put(t, turns);
    if (recorder.full) this.flush();
    return good;
  }
  flush(): void {
    for (const e of this.recorder.flush(0)) if (e.type === 'records') this.chunks.push(e.data);
  }
}

/** The machine next to that of a run, or why there is none that goes the same way. @param seldom as of `Neighbour` */
export function neighbourOf(
  of: Mechanism,
  m: Mechanism,
  options: RunOptions,
  stops: readonly number[],
  seldom = false,
): Neighbour | string {
  try {
    const made = new Neighbour(of, m, options, seldom);
    return made.differsFrom(m, stops) ?? made;
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    return `it cannot start: ${e.diagnoses[0]?.message ?? ''}`;
  }
}

/** Whether the same is left out. */
const alike = (one: Fold | undefined, other: Fold | undefined): boolean =>
  one && other ? one.moves.join() === other.moves.join() && one.idle.join() === other.idle.join() : one === other;

/** The modes that its frictions, stops and switches are in, and which rows hold, as one word. */
export const modesOf = ({ watches, system }: Mechanism): string =>
  [...watches.map((w) => w.watch.mode?.().kind ?? ''), ...Array.from(system.ldlt.off)].join();
