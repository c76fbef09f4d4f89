/**
 * The only freedom of a machine followed all the way, each piece of it proved (`piece.ts`): pieces lie one behind the other, since the place where two meet,
 * known to rounding, lies within the bounds of both. In a piece the push has no zero where its bounds have none; where it rises or falls all along, it has
 * one if it has other signs at both ends, else none (certified continuation; Martin, Goldsztejn, Granvilliers & Jermann, SIAM J. Numer. Anal. 51, 2013).
 */
import { TWO_PI, square } from '../../quantity/elementary';
import type { Mechanism } from '../../system/mechanism';
import { EquationBounds, notBounded } from '../../system/tangent/equation-bounds';
import { FARTHEST, FAR } from '../along';
import { extent, freeBasis, freedomCount, massTimes, move } from '../reduced';
import { type Between, sign } from './around';
import { Piece, type Proved } from './piece';
import { LONG, OTHERWISE, UNTOLD, Unproved, WORK } from './why';

/** Steps at first, at most and at least, in parts of the machine's size or rad. */
const STEP = 0.05;
const LARGEST = 0.5;
const SMALLEST = 1e-6;
/** By how many times more a step is tried than the one before; and the part of what is proved that it may go. */
const GROWS = 1.3;
const NEARLY = 0.98;
/** Part of the machine's size, or rad, to which the joints close at a place. */
const CLOSED = 1e-14;
/** Operations on matrices of n rows, in parts of n², that a piece takes. */
const DENSE = 8;
/** How often a piece is halved in which the push vanishes. */
const HALVINGS = 40;
/** How far beside the posture at hand, which may well be an equilibrium, it begins. */
const BESIDE = 0.0387;
const BEGINNINGS = 3;

/** An equilibrium that is known to be there, and to be the only one nearby. */
export interface Zero {
  /** A state next to it. */
  readonly start: Float64Array;
  /** Whether the posture in K is within the bounds in which it is. */
  holds(): boolean;
}
export interface ProvedWay {
  readonly zeros: readonly Zero[];
  /** How far it was followed, in words; and whether it came round. */
  readonly how: string;
  readonly round: boolean;
}

/** A place of the way, what pushes there, and as much to both sides as could be proved. */
interface Place {
  readonly y: Float64Array;
  readonly piece: Piece;
  readonly push: Between;
}
interface Known extends Place {
  readonly far: number;
  readonly about: Proved;
  readonly slope: Between;
}
type Half = readonly [Known, far: number];

/** @param start a state on the constraints, at rest @yields how far it has come, from 0 to 1 @returns why it cannot be proved, where that is so */
export function* provedWay(m: Mechanism, t: number, start: Float64Array): Generator<number, ProvedWay | string, void> {
  const why = notBounded(m.system);
  if (why !== undefined) return why;
  try {
    return yield* new Way(m, t).follow(start);
  } catch (e) {
    if (e instanceof Unproved) return e.message;
    throw e;
  }
}

class Way {
  private readonly bounds: EquationBounds;
  private readonly zeros: Zero[] = [];
  private readonly z: Float64Array;
  private pieces = 0;

  constructor(
    private readonly m: Mechanism,
    private readonly t: number,
  ) {
    this.bounds = new EquationBounds(m.system);
    this.z = new Float64Array(6 * m.system.bodies);
  }

  *follow(start: Float64Array): Generator<number, ProvedWay | string, void> {
    const { K } = this.m.system;
    K.load(start);
    K.rest();
    const posture = this.place(undefined),
      home = posture && this.begin(posture);
    if (!posture) return OTHERWISE;
    if (!home) return UNTOLD;
    const forward = yield* this.onward(home, home),
      { zeros } = this;
    if (forward === 'untold') return this.why;
    if (forward === 'round') return { zeros, how: 'on the whole way round', round: true };
    K.load(home.y);
    const other = this.place(home.piece.way.map((x) => -x)),
      back = other && this.known(other, home.far);
    if (!back) return UNTOLD;
    return (yield* this.onward(back, undefined)) === 'untold' ? this.why : { zeros, how: FAR, round: false };
  }
  /** Beside the posture at hand, where something pushes. */
  private begin(posture: Place): Known | undefined {
    for (let k = 1; k <= BEGINNINGS; k++) {
      const here = this.go(posture, k * BESIDE);
      if (here && sign(here.push) !== 0)
        for (let far = STEP; far > SMALLEST; far *= 0.5) {
          const known = this.known(here, far);
          if (known) return known;
        }
    }
    return undefined;
  }

  /** The place in K. @param before the way it comes */
  private place(before: Float64Array | undefined): Place | undefined {
    const { m, t, bounds } = this,
      { system, size } = m,
      { K } = system;
    this.exactly();
    if (freedomCount(system) !== 1) return undefined;
    const way = freeBasis(system, 1)[0]!,
      far = extent(system, way, size),
      sense = before && way.reduce((s, x, i) => s + x * before[i]! * (i % 6 < 3 ? 1 / size / size : 1), 0) < 0 ? -1 : 1;
    if (!(far > 0)) return undefined;
    // across it, lengths told by the size of the machine
    const weighed = (x: number, i: number) => (i % 6 < 3 ? x / size / size : x),
      plane = way.map((x, i) => (sense * weighed(x, i) * far) / way.reduce((s, v, k) => s + v * weighed(v, k), 0)),
      piece = new Piece(m, bounds, t, plane),
      push = piece.push(),
      y = new Float64Array(system.size);
    this.pieces++;
    K.store(y);
    return push && { y, piece, push };
  }
  private known(place: Place, far: number): Known | undefined {
    const { piece, y } = place;
    this.m.system.K.load(y);
    const about = piece.about(far);
    this.pieces++;
    return about && { ...place, far, about, slope: about.slope };
  }
  /** So far along from a place, into K, as near to the constraints as rounding allows. @returns whether it can be reached */
  private move({ y, piece }: Place, far: number): boolean {
    const { m, t } = this;
    m.system.K.load(y);
    m.system.linearise();
    const reached = move(m, piece.way, far, t) < 1e-8;
    if (reached) this.exactly();
    return reached;
  }
  private exactly(): void {
    const { system, size } = this.m;
    system.linearise();
    system.projectPositions(this.t, CLOSED * Math.max(1, size));
  }
  private go(from: Place, far: number): Place | undefined {
    return this.move(from, far) ? this.place(from.piece.way) : undefined;
  }

  /** Where the posture in K lies along a piece, if it lies within its bounds. */
  private within({ piece, far, about: { near, z } }: Known): number | undefined {
    const at = near.of(this.z),
      fine = 100 * CLOSED * Math.max(1, this.m.size),
      along = piece.along(at);
    return Math.abs(along) < far && at.every((x, i) => Math.abs(x) + fine < z.rad[i]!) ? along : undefined;
  }

  /** What the bounds took, and matrices beside them. */
  private get isLong(): boolean {
    return this.bounds.work + this.pieces * DENSE * square(6 * this.m.system.bodies) > WORK;
  }
  /** Why it came to an end. */
  private get why(): string {
    return this.isLong ? LONG : this.lost ? OTHERWISE : UNTOLD;
  }
  /** Whether the last place could not be gone on from. */
  private lost = false;
  /** @param home where it would come round */
  private *onward(from: Known, home: Known | undefined): Generator<number, 'round' | 'far' | 'untold', void> {
    let here = from,
      step = 2 * from.far,
      gone = 0;
    while (gone < FARTHEST) {
      yield gone / FARTHEST;
      if (step < SMALLEST || this.isLong) return 'untold';
      const far = Math.min(step, 2 * NEARLY * here.far),
        place = this.go(here, far),
        next = place && (this.known(place, 0.5 * GROWS * far) ?? this.known(place, (0.5 / NEARLY) * far)),
        // where bounds of this place and of the next meet
        meet = next && this.move(here, 0.5 * far) ? [this.within(here), this.within(next)] : [],
        [before, behind] = meet,
        meets = next && before !== undefined && behind !== undefined && before > 0 && behind < 0,
        round = meets && home && gone > STEP ? this.isHome(home, here, next) : false,
        end = round ? home : next,
        count = meets && end ? this.count([here, before], [next, -behind], end) : undefined;
      this.lost = !meets;
      if (!next || !end || count === undefined) {
        // where it ends in an equilibrium it is made to end elsewhere
        step = far * (place && sign(place.push) === 0 ? 0.7 : 0.5);
        // bounds of less tell more of it
        here = this.known(here, Math.min(here.far, (0.5 / NEARLY) * step)) ?? here;
        continue;
      }
      if (count > 0) this.zero(here, next, far);
      if (round) return 'round';
      gone += far;
      here = next;
      step = Math.min(LARGEST, GROWS * far);
    }
    return 'far';
  }
  /**
   * How many zeros the push has between two places; undefined where that cannot be said.
   * @param here,next as far as they go towards each other @param end the second, or one between them
   */
  private count(here: Half, next: Half, end: Place): 0 | 1 | undefined {
    if (sign(end.push) === 0) return undefined;
    const unsure = [here, next].filter(([{ push, about, slope }, far]) => {
      if (sign(about.push) !== 0) return false;
      // from what it is there by the mean of how it changes
      const most = far * Math.max(Math.abs(slope.lo), Math.abs(slope.hi));
      return about.jumps || !(push.lo > most || push.hi < -most);
    });
    if (unsure.length === 0) return 0;
    const slopes = new Set(unsure.map(([{ about, slope }]) => (about.jumps ? 0 : sign(slope))));
    if (slopes.has(0) || slopes.size > 1) return undefined;
    return sign(here[0].push) === sign(end.push) ? 0 : 1;
  }
  private zero(here: Known, next: Known, far: number): void {
    const { m, t } = this,
      { system } = m,
      { K } = system,
      start = new Float64Array(system.size),
      force = new Float64Array(system.motions),
      /** The push so far along, with the sign that it has in this direction. */
      push = (part: number): number => {
        this.move(here, part * far);
        K.store(start);
        system.linearise();
        system.accelerate(t);
        massTimes(system, system.acceleration, force);
        const way = freeBasis(system, 1)[0]!,
          along = (v: Float64Array) => v.reduce((s, x, i) => s + x * way[i]!, 0);
        return along(force) * along(here.piece.plane);
      };
    let [lo, hi] = [0, 1];
    for (let k = 0; k < HALVINGS; k++) {
      const middle = 0.5 * (lo + hi);
      if (push(middle) * sign(here.push) > 0) lo = middle;
      else hi = middle;
    }
    this.zeros.push({ start, holds: () => [here, next].some((x) => this.within(x) !== undefined) });
  }
  /** Whether the place where it began lies between two others. */
  private isHome(home: Known, here: Known, next: Known): boolean {
    const { m, bounds } = this,
      { K } = m.system,
      // a spring that is wound up knows how often
      counters = m.counters.filter((c) => c.states > 0 && bounds.reads(c.first)),
      wound = () => counters.map((c) => K.z[c.first]!);
    K.load(here.y);
    const now = wound();
    K.load(home.y);
    const [before, behind] = [this.within(here), this.within(next)];
    return ((before ?? -1) > 0 || (behind ?? 1) < 0) && wound().every((x, i) => Math.abs(x - now[i]!) < 0.5 * TWO_PI);
  }
}
